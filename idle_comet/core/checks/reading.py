"""Whether there is time to read what stands on the screen."""

from __future__ import annotations

from typing import Iterable

from ..captions.reading_time import reading_seconds
from ..modelled import Model
from ..moment.compiled import held_frames
from ..moment.course import looks_around, presence_of
from ..project.model import Clip, Project, Settings
from ..project.times import clock_of
from ..remember import Remembered

LEGIBLE = 0.5
"""Share of the resting ink from which on words can be read."""


class Words(Model):
    """One text of a clip: as set, or (with the id of the key) as a key holds it from `first` on. Frames of the film,
    half-open."""

    clip: str
    key: int | None
    text: str
    first: int
    end: int
    reading: float
    """Seconds it takes to read."""
    shown: float
    """Seconds in which it can be read."""


def words_of(project: Project, clip: Clip) -> list[Words]:
    """Every text of a title in the order in which it is shown."""
    head = clip.head
    return [
        Words(clip=clip.id, key=key, text=text, first=head + first, end=head + end, reading=reading, shown=shown)
        for key, text, first, end, reading, shown in _texts(project, clip)
    ]


_Text = tuple[int | None, str, int, int, float, float]
"""The id of its key, the words, first frame and end within the clip, seconds to read it and seconds there are."""

_known: Remembered[Clip, tuple[Settings, list[_Text]]] = Remembered()


def _texts(project: Project, clip: Clip) -> list[_Text]:
    """The texts of a title, kept as long as the clip is what it was: a film may have thousands."""
    known = _known.find(clip)
    if known is not None and known[0] is project.settings:
        return known[1]
    content = clip.content
    assert content.kind == "text"
    rate = float(project.settings.rate.fraction)
    starts: list[tuple[float, int | None, str]] = [(0.0, None, content.text)]
    keys = content.held.get("text", ())
    for frame, place, value in held_frames(keys, clock_of(clip)):
        starts.append((max(0.0, frame), keys[place].id, str(value)))
    course = presence_of(project, clip)
    found: list[_Text] = []
    for (first, key, text), following in zip(starts, [*(start for start, _, _ in starts[1:]), float(clip.length)]):
        end = min(following, clip.length)
        if end <= first and key is None and len(starts) > 1:
            continue
        shown = round(_legible(course, first, end) / rate, 2)
        found.append((key, text, round(first), round(end), round(reading_seconds(text), 2), shown))
    if looks_around(clip):
        return found
    return _known.keep(clip, (project.settings, found))[1]


def _legible(presence: list[tuple[float, float]], first: float, end: float) -> float:
    """Frames within [first, end) in which the presence is high enough, between samples in a straight line."""
    frames = 0.0
    for (f0, s0), (f1, s1) in zip(presence, [*presence[1:], (presence[-1][0] + 1, presence[-1][1])]):
        a, b = max(f0, first), min(f1, end)
        if b <= a or f1 <= f0:
            continue
        # The part of this stretch on which the line lies above the border.
        at = [s0 + (s1 - s0) * (f - f0) / (f1 - f0) for f in (a, b)]
        if min(at) >= LEGIBLE:
            frames += b - a
        elif max(at) >= LEGIBLE:
            frames += (b - a) * (max(at) - LEGIBLE) / (max(at) - min(at))
    return frames


def texts_of(project: Project, ids: Iterable[str] | None = None) -> list[Words]:
    """All texts of a film, or those of some clips, in time order."""
    some = project.clips.values() if ids is None else [project.clips[id] for id in ids if id in project.clips]
    clips = sorted((clip for clip in some if clip.content.kind == "text"), key=lambda clip: (clip.head, clip.id))
    return sorted((words for clip in clips for words in words_of(project, clip)), key=lambda words: words.first)
