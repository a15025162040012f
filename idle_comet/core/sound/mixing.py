"""Mixing: every sound of the film at its place, to the sample."""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Iterator, NamedTuple, Protocol

import numpy as np

from ..contents.sound import SILENT
from ..moment.compiled import sample_of
from ..moment.timeline import lanes
from ..motion import Property, number
from ..project.model import Clip, Footage, Group, Project, Sound
from .pace import paced

SOUND_RATE = 48_000
"""Samples a second of all that is mixed."""

_DEEPEST = 24
"""Groups within groups that are heard, as many as are painted."""


class SoundSources(Protocol):
    """Where the samples of a film's media come from."""

    def samples(self, media: str, first: int, count: int) -> np.ndarray:
        """(count, 2) float32 at 48 kHz, 1.0 full scale: from sample `first` of a media on; nothing before its first and
        past its last, and nothing of what has no sound."""


class Heard(NamedTuple):
    """A clip that is heard: where its head lies on the film, in seconds, how long a frame of it lasts there, and the
    part of the film in which it can be heard, in seconds."""

    clip: Clip
    head: float
    frame: float
    begins: float
    ends: float


def heard_at(project: Project) -> list[Heard]:
    """Every clip that is heard, in order of time: sounds, and shots that have a sound, in groups too."""
    rate = float(project.settings.rate.fraction)
    found = list(_heard(project, None, 0.0, 1 / rate, -math.inf, math.inf, 0))
    return sorted(found, key=lambda each: (each.begins, each.clip.id))


def _heard(
    project: Project, within: str | None, origin: float, frame: float, begins: float, ends: float, depth: int
) -> Iterator[Heard]:
    """The clips of a timeline whose frame 0 lies at `origin` on the film, and whose frames last so many seconds."""
    if depth > _DEEPEST:
        return
    own = lanes(project, within)
    clips = [clip for lane in own if not lane.track.hidden for clip in lane.clips]
    sounding = [clip for clip in clips if isinstance(clip.content, Sound)]
    alone = any(clip.seen == "alone" for clip in sounding)
    for clip in clips:
        head = origin + clip.head * frame
        first, last = max(begins, head), min(ends, head + clip.length * frame)
        if first >= last or clip.seen == "hidden":
            continue
        content = clip.content
        if isinstance(content, Group):
            if content.speed > 0:
                inner = frame / content.speed
                yield from _heard(project, clip.id, head - content.start * inner, inner, first, last, depth + 1)
        elif isinstance(content, (Sound, Footage)) and not content.muted:
            media = project.media.get(content.media)
            silent = alone and not (isinstance(content, Sound) and clip.seen == "alone")
            if media is not None and media.sound is not None and content.speed > 0 and not silent:
                yield Heard(clip, head, frame, first, last)


def mixed(project: Project, sources: SoundSources, first: int, count: int) -> np.ndarray:
    """(count, 2) float64 of the film from sample `first` on, at 48 kHz, 1.0 full scale; it may go past that."""
    out = np.zeros((count, 2))
    for each in heard_at(project):
        begin = max(first, math.ceil(each.begins * SOUND_RATE - 1e-6))
        end = min(first + count, math.ceil(each.ends * SOUND_RATE - 1e-6))
        if begin < end:
            out[begin - first : end - first] += _part(project, each, sources, begin, end)
    return out


def _part(project: Project, heard: Heard, sources: SoundSources, begin: int, end: int) -> np.ndarray:
    """What is heard of one clip at samples begin … end of the film."""
    clip, content = heard.clip, heard.clip.content
    assert isinstance(content, (Sound, Footage))
    # The clip's own frame at each sample, and seconds of the source.
    frames = (np.arange(begin, end) / SOUND_RATE - heard.head) / heard.frame
    rate = float(project.settings.rate.fraction)
    pace = content.speed / (rate * heard.frame)
    place = (content.start + frames[0] * content.speed) / rate * SOUND_RATE
    if abs(pace - 1) < 1e-9:
        # Whole samples: a shift below one can't be heard, and what is copied is not filtered.
        samples = sources.samples(content.media, round(place), end - begin).astype(np.float64)
    else:
        samples = paced(lambda at, many: sources.samples(content.media, at, many), place, pace, end - begin)
    level = _envelope(project, clip, "gain", content.gain, frames)
    level = np.where(level > SILENT, 10 ** (level / 20), 0.0)
    if isinstance(content, Sound):
        level = level * faded(
            frames + content.fade_before,
            clip.length + content.fade_before + content.fade_after,
            content.fade_in,
            content.fade_out,
        )
        samples = samples * panned(_envelope(project, clip, "pan", content.pan, frames))
    return samples * level[:, None]


def _envelope(project: Project, clip: Clip, name: str, prop: Property, frames: np.ndarray) -> np.ndarray:
    """(n,) a value at moments of a clip: known at every frame, straight between two."""
    if prop.state == "fixed":
        return np.full(len(frames), number(prop.value))
    sample = sample_of(project, clip, "content", name)
    first, last = math.floor(frames[0]), math.floor(frames[-1]) + 1
    known = np.arange(first, last + 1)
    values = [number(sample(float(min(max(at, 0), clip.length - 1)))) for at in known]
    return np.interp(frames, known, values)


def faded(frames: np.ndarray, length: int, fade_in: int, fade_out: int) -> np.ndarray:
    """(n,) the share that is heard at moments of a clip: sin of a quarter turn over each fade, so that two sounds that
    cross have one power."""
    share = np.ones(len(frames))
    if fade_in:
        share *= np.sin(np.clip(frames / fade_in, 0, 1) * (np.pi / 2))
    if fade_out:
        share *= np.sin(np.clip((length - frames) / fade_out, 0, 1) * (np.pi / 2))
    return share


def panned(pan: np.ndarray) -> np.ndarray:
    """(n, 2) what is heard left and right: in the middle all of both; towards a side the other goes down by a
    cosine."""
    return np.stack([np.cos(np.clip(pan, 0, 1) * (np.pi / 2)), np.cos(np.clip(-pan, 0, 1) * (np.pi / 2))], 1)


def samples_of(frames: int, rate: Fraction) -> int:
    """The samples that so many frames of the film last, to the nearest."""
    return round(frames * SOUND_RATE / rate)
