"""Transitions at a clip's two ends."""

from __future__ import annotations

from typing import Literal

from ..project.model import Clip, Frozen, Id, Project, Transition
from ..project.source import spare_frames
from .base import EditError, Offer, clip_of, rule, with_clip
from .clips import TrimClip, trim_clip


class SetTransition(Frozen):
    """A transition at a clip's head or end, or (None) a cut. Between neighbours the later clip's opening is
    meant."""

    kind: Literal["set_transition"] = "set_transition"
    clip: Id
    end: Literal["opening", "closing"]
    transition: Transition | None
    fits: bool = False
    """As much shorter as there is room for."""
    trims: bool = False
    """Both clips lose the frames that the other ones lack, and what follows on the track closes up."""


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
    if edit.trims:
        project, clip = _with_room(project, clip, end, transition.length)
    most, why = room_for(project, clip, end)
    if edit.fits and 0 < most < transition.length:
        transition = transition.model_copy(update={"length": most})
    if transition.length > most:
        raise EditError(
            f"There is room for {most} {'frame' if most == 1 else 'frames'} here ({why}); a transition of "
            f"{transition.length} was not made. "
            "Make it shorter, or trim the clips first.",
            None if edit.trims else _trimming(project, clip, edit),
        )
    return with_clip(
        project, clip.model_copy(update={end: transition})
    ), f"{transition.kind} of {transition.length} frames"


def _lacking(project: Project, before: Clip, clip: Clip, length: int) -> tuple[int, int]:
    """Spare frames that a transition lacks after the clip before it, and before the clip after it."""
    ends, begins = spare_frames(project, before), spare_frames(project, clip)
    return max(0, length // 2 - ends[1]) if ends else 0, max(0, -(-length // 2) - begins[0]) if begins else 0


def _with_room(project: Project, clip: Clip, end: str, length: int) -> tuple[Project, Clip]:
    """The film with both clips trimmed, as far as they lack spare frames for a transition."""
    before = _touching(project, clip, -1) if end == "opening" else None
    if before is None:
        return project, clip
    back, on = _lacking(project, before, clip, length)
    ends = (
        TrimClip(clip=clip.id, head=clip.head + on, length=max(1, clip.length - on), ripple=True),
        TrimClip(clip=before.id, head=before.head, length=max(1, before.length - back), ripple=True),
    )
    for lacks, trim in zip((on, back), ends):
        project = trim_clip(project, trim)[0] if lacks else project
    return project, project.clips[clip.id]


def _trimming(project: Project, clip: Clip, edit: SetTransition) -> Offer | None:
    """The same with both clips trimmed, where that makes room."""
    before = _touching(project, clip, -1)
    if before is None or edit.transition is None:
        return None
    trimmed = edit.model_copy(update={"trims": True})
    try:
        set_transition(project, trimmed)
    except EditError:
        return None
    count = sum(_lacking(project, before, clip, edit.transition.length))
    return Offer(f"trim {count} {'frame' if count == 1 else 'frames'} at the cut", trimmed)


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
