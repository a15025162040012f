"""A clip's own time."""

from __future__ import annotations

from ..clock import LocalClock
from .model import Clip


def clock_of(clip: Clip) -> LocalClock:
    """How the clip's keys find their frames."""
    return LocalClock.of(clip.length, clip.arrival, clip.departure, clip.skipped, clip.cut_off)


def origin_of(clip: Clip) -> float:
    """The film's frame at which the clip's source begins (or would): it stays put while a clip is trimmed in place."""
    content = clip.content
    if content.kind not in ("footage", "sound") or content.speed == 0:
        return clip.head
    return clip.head - content.start / content.speed
