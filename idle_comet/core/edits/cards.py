"""Cards: two clips as the two sides of one thing that turns over."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..moment.course import visible_spans
from ..motion import Ease, Fixed, Key, Moving, Property, Strengths, ease_progress
from ..project.model import Clip, Frames, Frozen, Id, Name, Project, Step, Track
from ..project.timeline import timeline_of
from .aligning import box_at
from .base import EditError, clip_of, rule
from .clips import trimmed_to
from .groups import GatherClips, gather_clips
from .lanes import with_clips


class TurnInto(Frozen):
    """Two clips become one card, called `group`: the first is its front, the second its back, and it turns over about
    the middle of the first. Where it turns half round, it is edge-on exactly at `frame` of their timeline, and the one
    hands over to the other; where it turns further, that is the middle of the turn.

    Without a frame it is the second one's head, or the middle of the time they share. Both are made longer there, so
    that neither leaves before it is out of sight, nor comes while it is seen."""

    kind: Literal["turn_into"] = "turn_into"
    front: Id
    back: Id
    group: Annotated[Id, Field(max_length=56)]
    name: Name = "Card"
    frame: Frames | None = None
    length: Annotated[int, Field(ge=2, le=100_000)] = 20
    half_turns: Annotated[int, Field(ge=1, le=1000)] = 1
    axis: Annotated[float, Field(ge=-36000, le=36000, allow_inf_nan=False)] = 90
    ease: Ease = Strengths(start=0.5, end=0.5)


@rule(TurnInto)
def turn_into(project: Project, edit: TurnInto) -> tuple[Project, str]:
    front, back = clip_of(project, edit.front), clip_of(project, edit.back)
    if front is back:
        raise EditError("A card has two sides; nothing was changed. Take another clip in hand with this one.")
    blind = next((each for each in (front, back) if each.content.kind in ("sound", "treatment")), None)
    if blind is not None:
        raise EditError(f"“{blind.name}” has no picture of its own to be a side; nothing was changed.")
    if timeline_of(project, front) != timeline_of(project, back):
        raise EditError(f"“{back.name}” lies on another timeline than “{front.name}”; nothing was changed.")
    frame = _handed_over(front, back) if edit.frame is None else edit.frame
    begin = frame - round(_half(edit.ease) * edit.length)
    if begin < front.head or begin + edit.length > back.end:
        raise EditError(
            f"A turn of {edit.length} frames about frame {frame} has no room between the head of “{front.name}” and "
            f"the end of “{back.name}”; nothing was changed. Turn it faster, or move them."
        )
    before, after = _out_of_sight(project, front, back, frame, edit)
    middle = box_at(project, front, frame)
    # On tracks of their own: now they overlap.
    lanes = {before.id: f"{edit.group}-front", after.id: f"{edit.group}-back"}
    taken = next((id for id in lanes.values() if any(track.id == id for track in project.tracks)), None)
    if taken:
        raise EditError(f"There is already a track “{taken}”; nothing was changed.")
    project, _ = gather_clips(project, GatherClips(clips=(front.id, back.id), group=edit.group, name=edit.name))
    group = project.clips[edit.group]
    head = min(before.head, after.head, group.head)
    sides = [each.model_copy(update={"track": lanes[each.id], "head": each.head - head}) for each in (before, after)]
    tracks = tuple(track for track in project.tracks if track.within != group.id)
    tracks += (
        Track(id=lanes[before.id], name="Front", within=group.id, side="front"),
        Track(id=lanes[after.id], name="Back", within=group.id, side="back"),
    )
    turn = _turning(edit, frame - head)
    place: dict[str, Property] = {
        "turn": turn,
        "axis": Fixed(value=edit.axis),
        "x": Fixed(value=round((middle.x0 + middle.x1 - project.settings.width) / 2, 2)),
        "y": Fixed(value=round((middle.y0 + middle.y1 - project.settings.height) / 2, 2)),
    }
    end = max(before.end, after.end, group.end)
    made = group.model_copy(
        update={
            "head": head,
            "length": end - head,
            "steps": (Step(id="turn", kind="turn_over", values=place), Step(id="placement", kind="placement")),
        }
    )
    after_all = with_clips(project, [made, *sides]).model_copy(update={"tracks": tracks})
    return after_all, f"turn {front.name} into {back.name}"


def _handed_over(front: Clip, back: Clip) -> int:
    if back.head >= front.end or front.head >= back.end:
        if back.head == front.end:
            return back.head
        raise EditError(
            f"“{front.name}” and “{back.name}” are not there at the same time, nor one right after the other; nothing "
            "was changed. Move them together, or say at which frame it turns over."
        )
    return back.head if back.head > front.head else (max(front.head, back.head) + min(front.end, back.end)) // 2


def _half(ease: Ease) -> float:
    """The share of its time at which an ease is half-way (the first, by bisection)."""
    low, high = 0.0, 1.0
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if ease_progress(ease, middle) < 0.5 else (low, middle)
    return (low + high) / 2


def _turning(edit: TurnInto, frame: int) -> Moving:
    """From the front on, half-way at a frame of the card."""
    share = _half(edit.ease) if edit.half_turns == 1 else 0.5
    begin = frame - share * edit.length
    keys = (Key(at=begin, value=0.0, ease=edit.ease), Key(at=begin + edit.length, value=180.0 * edit.half_turns))
    return Moving(keys=keys)


def _out_of_sight(project: Project, front: Clip, back: Clip, frame: int, edit: TurnInto) -> tuple[Clip, Clip]:
    """The sides, so much longer that the front goes and the back comes while it is turned away; as far as a shot has
    the frames."""
    long = 1 if edit.half_turns == 1 else edit.length
    leaves, comes = frame + long + visible_spans(front)[1], frame - long - visible_spans(back)[0]
    # Within the time of both, where there is room for the card.
    end, head = max(front.end, min(leaves, back.end)), min(back.head, max(comes, front.head))
    return (
        _as_far(project, front, [(front.head, length - front.head) for length in range(end, front.end, -1)]),
        _as_far(project, back, [(at, back.end - at) for at in range(head, back.head)]),
    )


def _as_far(project: Project, clip: Clip, ends: list[tuple[int, int]]) -> Clip:
    """The clip with the first of these heads and lengths that its source has the frames for."""
    for head, length in ends:
        try:
            return trimmed_to(project, clip, head, length)
        except EditError:
            continue
    return clip
