"""Transitions: where they lie, and how far they have come."""

from __future__ import annotations

from typing import NamedTuple

from ..motion import ease_progress
from ..project.model import Clip, Project, Transition
from ..project.timeline import neighbour


class Joining(NamedTuple):
    """A transition on the timeline: frames first ≤ f < first + length, from one clip (or nothing) to another."""

    transition: Transition
    before: Clip | None
    after: Clip | None
    first: int
    length: int

    def progress(self, frame: float) -> float:
        """Eased; the middle of frame k of n stands at (k + ½)/n, so that both ends are alike."""
        u = (frame - self.first + 0.5) / self.length
        return ease_progress(self.transition.ease, min(1.0, max(0.0, u)))


def opening_of(project: Project, clip: Clip) -> Joining | None:
    """The transition at a clip's head. Between neighbours it is centred on the cut: ⌈n/2⌉ frames before, ⌊n/2⌋
    after."""
    transition = clip.opening
    if transition is None:
        return None
    before = neighbour(project, clip, -1)
    if before is None:
        return Joining(transition, None, clip, clip.head, min(transition.length, clip.length))
    length = min(transition.length, 2 * before.length, 2 * clip.length)
    return Joining(transition, before, clip, clip.head - (length + 1) // 2, length)


def closing_of(project: Project, clip: Clip) -> Joining | None:
    """The transition to nothing at a clip's end; a neighbour that opens with one of its own takes its place."""
    transition = clip.closing
    if transition is None:
        return None
    after = neighbour(project, clip, 1)
    if after is not None and after.opening is not None:
        return None
    length = min(transition.length, clip.length)
    return Joining(transition, clip, None, clip.end - length, length)


def joining_at(project: Project, clip: Clip, frame: float) -> Joining | None:
    """The transition a live clip is in at a frame. Its own opening comes first, then what follows it."""
    opening = opening_of(project, clip)
    if opening and frame < opening.first + opening.length:
        return opening
    after = neighbour(project, clip, 1)
    following = opening_of(project, after) if after else None
    if following is None:
        following = closing_of(project, clip)
    return following if following and frame >= following.first else None
