"""Snapping on the timeline: heads, tails, the playhead, markers, keys and the moments words appear."""

from __future__ import annotations

from typing import Iterable, Iterator, NamedTuple

from ..modelled import Model
from ..motion import resolve_keys
from ..project.hits import frame_of, hit_frames
from ..project.model import Clip, Project
from ..project.timeline import lanes
from ..project.times import clock_of
from ..wording import in_text
from .course import clip_properties, presence


class Target(NamedTuple):
    """A frame that ends are drawn to, and what stands there."""

    frame: int
    what: str


class Meeting(Model):
    """A frame at which an end of a clip in hand meets something."""

    frame: int
    what: str


def targets(project: Project, leave: set[str], low: float, high: float, playhead: int | None) -> Iterator[Target]:
    """What there is to snap to between two frames, clips in hand left out."""
    fixed = [
        Target(0, "start of the film"),
        *(Target(each.frame, f"marker {each.name}".strip()) for each in project.marks.markers),
    ]
    fixed += [Target(frame, "playhead") for frame in [playhead] if frame is not None]
    fixed += [
        Target(frame, "range")
        for frame in (project.range.first, None if project.range.last is None else project.range.last + 1)
        if frame is not None
    ]
    yield from (each for each in fixed if low <= each.frame <= high)
    for lane in lanes(project):
        for clip in lane.clips:
            if clip.id in leave or clip.end < low or clip.head > high:
                continue
            yield from (each for each in _of(project, clip) if low <= each.frame <= high)


def _of(project: Project, clip: Clip) -> Iterator[Target]:
    yield Target(clip.head, f"head of {clip.name}")
    yield Target(clip.end, f"end of {clip.name}")
    if clip.content.kind == "text":
        onset = words_onset(project, clip)
        if onset:
            yield Target(clip.head + onset, f"words of {clip.name}")
    for place in hit_frames(project, clip):
        yield Target(frame_of(place), f"hit of {clip.name}")
    clock = clock_of(clip)
    for _, parameter, prop in clip_properties(clip):
        if prop.state == "moving":
            for item in resolve_keys(prop, clock):
                if 0 < item.frame < clip.length - 1:
                    yield Target(clip.head + round(item.frame), f"key of {in_text(parameter.label)}")


def words_onset(project: Project, clip: Clip) -> int:
    """The first frame at which half of the words' resting ink is visible, counted from the clip's head; 0 if from the
    start."""
    arrival = min(clip.length, clock_of(clip).spans.arrival + 1)
    shares = presence(project, clip, [float(frame) for frame in range(min(arrival, 200))])
    return next((int(frame) for frame, share in shares if share >= 0.5), 0)


def pull(project: Project, edges: Iterable[int], leave: set[str], reach: float, playhead: int | None) -> int:
    """The smallest shift that brings one of the edges onto a target no further than `reach`; 0 when there is none."""
    ends = sorted(set(edges))
    best: int | None = None
    for end in ends:
        for target in targets(project, leave, end - reach, end + reach, playhead):
            by = target.frame - end
            if best is None or abs(by) < abs(best):
                best = by
    return best or 0


def meetings(project: Project, clips: list[str], playhead: int | None) -> list[Meeting]:
    """Where ends of these clips stand exactly on something."""
    held = set(clips)
    found: dict[int, str] = {}
    for id in clips:
        clip = project.clips.get(id)
        if clip is None:
            continue
        for frame in (clip.head, clip.end):
            for target in targets(project, held, frame, frame, playhead):
                found.setdefault(frame, target.what)
    return [Meeting(frame=frame, what=what) for frame, what in sorted(found.items())]
