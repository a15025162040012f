"""Mixing: every sound of the film at its place, to the sample."""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Iterator, NamedTuple, Protocol

import numpy as np

from ..contents.sound import SILENT
from ..moment.compiled import sample_of
from ..moment.joins import Joining, closing_of, opening_of
from ..motion import Ease, Property, ease_progress, number
from ..project.model import Clip, Footage, Group, Project, Sound
from ..project.retiming import Retiming, retiming
from ..project.timeline import lanes, neighbour
from ..remember import Remembered
from .pace import paced
from .retimed import retimed, retimed_with_pitch

SOUND_RATE = 48_000
"""Samples a second of all that is mixed."""

_DEEPEST = 24
"""Groups within groups that are heard, as many as are painted."""


class SoundSources(Protocol):
    """Where the samples of a film's media come from."""

    def samples(self, media: str, first: int, count: int) -> np.ndarray:
        """(count, 2) float32 at 48 kHz, 1.0 full scale: from sample `first` of a media on; nothing before its first and
        past its last, and nothing of what has no sound."""

    def stretched(self, media: str, pace: float, first: int, count: int) -> np.ndarray:
        """The same of a media that runs `pace` times as fast and keeps its pitch; `first` counts its own samples."""

    def stretched_part(self, media: str, pace: float, place: float, count: int) -> np.ndarray:
        """So many samples at a pace and with their pitch as it was, from a place of the media on: made of no more than
        what lies around them."""


class Heard(NamedTuple):
    """A clip that is heard: where its head lies on the film, in seconds, how long a frame of it lasts there, the part
    of the film in which it can be heard, in seconds, and the gain of the tracks it lies on, in dB."""

    clip: Clip
    head: float
    frame: float
    begins: float
    ends: float
    gain: float


def heard_at(project: Project) -> list[Heard]:
    """Every clip that is heard, in order of time: sounds, and shots that have a sound, in groups too."""
    return list(_score(project).clips)


class _Score(NamedTuple):
    """What is heard of a film; from when to when each clip is, in seconds, as arrays of their own to look through."""

    clips: tuple[Heard, ...]
    begins: np.ndarray
    ends: np.ndarray


_scores: Remembered[Project, _Score] = Remembered()


def _score(project: Project) -> _Score:
    known = _scores.find(project)
    if known is not None:
        return known
    rate = float(project.settings.rate.fraction)
    found = list(_heard(project, None, _Within(0.0, 1 / rate, -math.inf, math.inf, 0.0), 0))
    clips = tuple(sorted(found, key=lambda each: (each.begins, each.clip.id)))
    begins, ends = (np.array([getattr(each, side) for each in clips], float) for side in ("begins", "ends"))
    return _scores.keep(project, _Score(clips, begins, ends))


class _Within(NamedTuple):
    """A timeline on the film: where its frame 0 lies and how long a frame lasts, in seconds; from where to where it is
    heard; the gain of what it lies on, in dB."""

    origin: float
    frame: float
    begins: float
    ends: float
    gain: float


def _heard(project: Project, within: str | None, on: _Within, depth: int) -> Iterator[Heard]:
    """The clips of a timeline that are heard."""
    if depth > _DEEPEST:
        return
    own = [lane for lane in lanes(project, within) if not lane.track.hidden]
    track_alone = any(lane.track.alone for lane in own)
    clips = [
        (clip, on.gain + lane.track.gain)
        for lane in own
        if not lane.track.muted and lane.track.gain > SILENT and (lane.track.alone or not track_alone)
        for clip in lane.clips
    ]
    alone = any(clip.seen == "alone" for clip, _ in clips if isinstance(clip.content, Sound))
    for clip, gain in clips:
        head = on.origin + clip.head * on.frame
        begin, end = _over(project, clip)
        first, last = max(on.begins, head + begin * on.frame), min(on.ends, head + end * on.frame)
        if first >= last or clip.seen == "hidden":
            continue
        content = clip.content
        if isinstance(content, Group):
            if content.speed > 0:
                inner = on.frame / content.speed
                inside = _Within(head - content.start * inner, inner, first, last, gain)
                yield from _heard(project, clip.id, inside, depth + 1)
        elif isinstance(content, (Sound, Footage)) and not content.muted:
            media = project.media.get(content.media)
            silent = alone and not (isinstance(content, Sound) and clip.seen == "alone")
            speed = retiming(clip).fixed
            runs = speed is None or speed > 0
            if media is not None and media.sound is not None and runs and not silent:
                yield Heard(clip, head, on.frame, first, last, gain)


def _joins(project: Project, clip: Clip) -> list[tuple[Joining, bool]]:
    """The transitions at a clip's ends, each with whether the clip comes in with it."""
    after = neighbour(project, clip, 1)
    following = opening_of(project, after) if after else None
    found = [(opening_of(project, clip), True), (following or closing_of(project, clip), False)]
    return [(join, comes) for join, comes in found if join is not None]


def _over(project: Project, clip: Clip) -> tuple[int, int]:
    """From which to which of its own frames a clip is heard: longer than itself where it crosses over with another."""
    first, last = 0, clip.length
    if isinstance(clip.content, (Sound, Footage)):
        for join, comes in _joins(project, clip):
            if comes:
                first = min(first, join.first - clip.head)
            else:
                last = max(last, join.first + join.length - clip.head)
    return first, last


def mixed(project: Project, sources: SoundSources, first: int, count: int) -> np.ndarray:
    """(count, 2) float64 of the film from sample `first` on, at 48 kHz, 1.0 full scale; it may go past that."""
    out = np.zeros((count, 2))
    score = _score(project)
    within = (score.begins < (first + count) / SOUND_RATE) & (score.ends > first / SOUND_RATE)
    for place in np.flatnonzero(within):
        each = score.clips[place]
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
    way = retiming(clip)
    pace = 0.0 if way.fixed is None else float(way.fixed) / (rate * heard.frame)
    place = way.at(frames[0]) / rate * SOUND_RATE
    if way.fixed is None:
        samples = _retimed(way, heard, sources, begin, end - begin, rate)
    elif abs(pace - 1) < 1e-9:
        # Whole samples: a shift below one can't be heard, and what is copied is not filtered.
        samples = sources.samples(content.media, round(place), end - begin).astype(np.float64)
    elif content.keeps_pitch:
        samples = sources.stretched(content.media, pace, round(place / pace), end - begin).astype(np.float64)
    else:
        places = place + pace * np.arange(end - begin)
        samples = paced(lambda at, many: sources.samples(content.media, at, many), places, pace)
    level = level_at(project, clip, frames) * 10 ** ((heard.gain + _pan_law(project, content.media)) / 20)
    if isinstance(content, Sound):
        samples = samples * panned(_envelope(project, clip, "pan", content.pan, frames))
    return samples * level[:, None]


def _retimed(way: Retiming, heard: Heard, sources: SoundSources, begin: int, count: int, rate: float) -> np.ndarray:
    """(count, 2) what is heard of a clip whose speed moves, from a sample of the film on."""
    content = heard.clip.content
    assert isinstance(content, (Sound, Footage))
    media = content.media

    def places(samples: np.ndarray) -> np.ndarray:
        return way.many((samples / SOUND_RATE - heard.head) / heard.frame) / rate * SOUND_RATE

    if content.keeps_pitch:
        return retimed_with_pitch(places, lambda *part: sources.stretched_part(media, *part), begin, count)
    return retimed(places, lambda first, many: sources.samples(media, first, many), begin, count)


def _pan_law(project: Project, media: str) -> float:
    """dB by which a source is lower on each side, in a film of two: a mono one, by the film's pan law."""
    source = project.media.get(media)
    mono = source is not None and source.sound is not None and source.sound.channels == 1
    return float(project.settings.sound.pan_law.removesuffix(" dB")) if mono else 0.0


def level_at(project: Project, clip: Clip, frames: np.ndarray) -> np.ndarray:
    """(n,) what a clip's sound is multiplied by at moments of it, in its own frames: gain, fades, crossings."""
    content = clip.content
    assert isinstance(content, (Sound, Footage))
    level = _envelope(project, clip, "gain", content.gain, frames)
    level = np.where(level > SILENT, 10 ** (level / 20), 0.0)
    if isinstance(content, Sound):
        level = level * faded(frames, clip.length, content)
    for join, comes in _joins(project, clip):
        share = _eased(join.transition.ease, (frames + clip.head - join.first) / join.length)
        level = level * np.sin((share if comes else 1 - share) * (np.pi / 2))
    return level


def _envelope(project: Project, clip: Clip, name: str, prop: Property, frames: np.ndarray) -> np.ndarray:
    """(n,) a value at moments of a clip: known at every frame, straight between two."""
    if prop.state == "fixed":
        return np.full(len(frames), number(prop.value))
    sample = sample_of(project, clip, "content", name)
    first, last = math.floor(frames[0]), math.floor(frames[-1]) + 1
    known = np.arange(first, last + 1)
    # A clip that was cut goes on past its ends as the whole does.
    begin, end = -clip.skipped, clip.length - 1 + clip.cut_off
    values = [number(sample(float(min(max(at, begin), end)))) for at in known]
    return np.interp(frames, known, values)


def faded(frames: np.ndarray, length: int, content: Sound) -> np.ndarray:
    """(n,) the share that is heard at moments of a sound of so many frames: along an ease, or without one along the
    sine of a quarter turn, so that two sounds that cross have one power."""
    share = np.ones(len(frames))
    if content.fade_in:
        share *= _fade(content.fade_in_ease, (frames + content.fade_before) / content.fade_in)
    if content.fade_out:
        share *= _fade(content.fade_out_ease, (length + content.fade_after - frames) / content.fade_out)
    return share


def _fade(ease: Ease | None, u: np.ndarray) -> np.ndarray:
    return np.sin(np.clip(u, 0, 1) * (np.pi / 2)) if ease is None else np.clip(_eased(ease, u), 0, 4)


_STEPS = 1024


def _eased(ease: Ease, u: np.ndarray) -> np.ndarray:
    """(n,) an ease at many moments, straight between 1024 of it."""
    known = np.linspace(0, 1, _STEPS + 1)
    return np.interp(np.clip(u, 0, 1), known, [ease_progress(ease, float(each)) for each in known])


def panned(pan: np.ndarray) -> np.ndarray:
    """(n, 2) what is heard left and right: in the middle all of both; towards a side the other goes down by a
    cosine."""
    return np.stack([np.cos(np.clip(pan, 0, 1) * (np.pi / 2)), np.cos(np.clip(-pan, 0, 1) * (np.pi / 2))], 1)


def samples_of(frames: int, rate: Fraction) -> int:
    """The samples that so many frames of the film last, to the nearest."""
    return round(frames * SOUND_RATE / rate)
