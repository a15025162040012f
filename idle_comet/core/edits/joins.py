"""Transitions at a clip's two ends."""

from __future__ import annotations

from typing import Literal

from ..project.model import Clip, Frozen, Id, Project, Transition
from ..project.source import spare_frames
from .base import EditError, clip_of, rule, with_clip


class SetTransition(Frozen):
    """A transition at a clip's head or end, or (None) a plain cut. Between neighbours the later clip's opening is
    meant."""

    kind: Literal["set_transition"] = "set_transition"
    clip: Id
    end: Literal["opening", "closing"]
    transition: Transition | None
    fits: bool = False
    """As much shorter as there is room for."""


@rule(SetTransition)
def set_transition(project: Project, edit: SetTransition) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    end = edit.end
    if end == "closing":
        after = _touching(project, clip, 1)
        if after:
            clip, end = after, "opening"
    transition = edit.transition
    if transition is None:
        return with_clip(project, clip.model_copy(update={end: None})), f"cut at {clip.name}"
    most, why = room_for(project, clip, end)
    if edit.fits and 0 < most < transition.length:
        transition = transition.model_copy(update={"length": most})
    if transition.length > most:
        raise EditError(
            f"There is room for {most} {'frame' if most == 1 else 'frames'} here ({why}); a transition of "
            f"{transition.length} was not made. "
            "Make it shorter, or trim the clips first."
        )
    return with_clip(
        project, clip.model_copy(update={end: transition})
    ), f"{transition.kind} of {transition.length} frames"


def _touching(project: Project, clip: Clip, side: int) -> Clip | None:
    for other in project.clips.values():
        if other.track == clip.track and (other.end == clip.head if side < 0 else other.head == clip.end):
            return other
    return None


def room_for(project: Project, clip: Clip, end: str) -> tuple[int, str]:
    """The longest transition that fits, in frames, and what holds it: ⌊n/2⌋ spare frames after a cut, ⌈n/2⌉ before
    it."""
    before = _touching(project, clip, -1) if end == "opening" else None
    if before is None:
        return clip.length, f"“{clip.name}” is {clip.length} frames long"
    # Each clip gives up no more than half of itself, so that its other end can have a transition too.
    bounds = [
        (2 * max(1, clip.length // 2), f"“{clip.name}” is {clip.length} frames long"),
        (2 * max(1, before.length // 2), f"“{before.name}” is {before.length} frames long"),
    ]
    spare = spare_frames(project, before)
    if spare:
        bounds.append((2 * spare[1] + 1, f"“{before.name}” has {spare[1]} spare frames after its end"))
    spare = spare_frames(project, clip)
    if spare:
        bounds.append((2 * spare[0], f"“{clip.name}” has {spare[0]} spare frames before its head"))
    return min(bounds)
