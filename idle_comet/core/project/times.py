"""A clip's own time."""

from __future__ import annotations

from ..clock import LocalClock
from .model import Clip
from .retiming import retiming


def clock_of(clip: Clip) -> LocalClock:
    """How the clip's keys find their frames."""
    return LocalClock.of(clip.length, clip.arrival, clip.departure, clip.skipped, clip.cut_off)


def origin_of(clip: Clip) -> float:
    """The film's frame at which the clip's source begins (or would): it stays put while a clip is trimmed in place."""
    if clip.content.kind not in ("footage", "sound"):
        return clip.head
    way = retiming(clip)
    # Before a motion begins, its speed is the first.
    begins = -clip.skipped if way.fixed is None else 0
    speed = way.speed(begins)
    return clip.head + begins - float(way.exact(begins)) / speed if speed else clip.head


def handles_of(clip: Clip) -> tuple[int, int]:
    """Frames before the head and after the end of a whole clip, or of the one that a clip was cut from, at which a
    transition shows it."""
    before = clip.opening.length if clip.opening else 0
    after = clip.closing.length if clip.closing else 0
    return clip.handles[0] if clip.skipped else before, clip.handles[1] if clip.cut_off else after


def uncut(clip: Clip) -> Clip:
    """The clip with all of the motion of which it is a part, as it was before it was cut; itself where it was not."""
    if not (clip.skipped or clip.cut_off):
        return clip
    content = clip.content
    if content.kind in ("footage", "sound", "group"):
        content = content.model_copy(update={"start": float(retiming(clip).exact(-clip.skipped))})
    return clip.model_copy(
        update={
            "head": clip.head - clip.skipped,
            "length": clip.skipped + clip.length + clip.cut_off,
            "skipped": 0,
            "cut_off": 0,
            "content": content,
        }
    )
