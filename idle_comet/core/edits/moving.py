"""Moves: one put on clips in one act, and its ends and eases."""

from __future__ import annotations

import math
from typing import Annotated, Any, Callable, Literal

from pydantic import Field, StringConstraints

from ..moment.evaluate import evaluate_clip
from ..moment.filling import filling
from ..moment.grips import space_of
from ..moment.standing import stand
from ..motion import Fixed, Framing, Moving, Property, Strengths, mixed_framing, resolve_keys
from ..motion.outlines import Point
from ..picture import Rect
from ..project.model import Clip, Frozen, Id, Project, Step
from ..project.times import clock_of
from ..recipes.moves import MOVES, Ground
from ..steps import BY_HAND, HANDHELD, MOVE
from ..wording import in_text
from .base import EditError, clip_of, rule, step_of, with_clip
from .clips import Clips
from .lanes import with_clips
from .values import SetProperty, set_property, with_property

_OWN = "move"
"""The id of the step that a one-click move makes."""


class UseMove(Frozen):
    """One of the ready moves on clips, in the place of the one they had; None takes it away: the shot as shot.

    `amount` is how strong it is, 1 as it was thought of. `at` is the point of the frame it goes to, in px of the
    project's frame, as it is seen `frame` frames after the head of each clip."""

    kind: Literal["use_move"] = "use_move"
    clips: Clips
    move: Annotated[str, StringConstraints(max_length=60)] | None
    amount: Annotated[float, Field(ge=0, le=4, allow_inf_nan=False)] = 1.0
    at: Point | None = None
    frame: Annotated[float, Field(ge=0, le=1e7)] = 0.0
    alternate: bool = False
    """Every second clip goes the other way: from the last framing to the first."""


class ChangeMove(Frozen):
    """Of a move: how many frames it rests at its head and at its tail, how strong its eases are, 0..1 at both ends, and
    whether its size goes by a constant ratio; what is None stays."""

    kind: Literal["change_move"] = "change_move"
    clip: Id
    step: Id
    head: Annotated[int, Field(ge=0, le=10_000_000)] | None = None
    tail: Annotated[int, Field(ge=0, le=10_000_000)] | None = None
    strength: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] | None = None
    zoom: Literal["ratio", "linear"] | None = None


class FillMove(Frozen):
    """Keep the frame filled without showing the picture larger: by shifting the framings onto the picture, or by going
    less far in the same time, as far as that goes."""

    kind: Literal["fill_move"] = "fill_move"
    clip: Id
    step: Id
    by: Literal["shift", "slow"]


@rule(UseMove)
def use_move(project: Project, edit: UseMove) -> tuple[Project, str]:
    move = MOVES.get(edit.move) if edit.move is not None else None
    if edit.move is not None and move is None:
        raise EditError(f"There is no move “{edit.move}”; nothing was changed.")
    clips = [clip_of(project, id) for id in dict.fromkeys(edit.clips)]
    settings, made = project.settings, []
    for number, clip in enumerate(clips):
        framing = None
        if move is not None:
            at = _pointed_at(project, clip, edit)
            rate = float(settings.rate.fraction)
            framing = move.makes(Ground(settings.width, settings.height, rate, edit.amount, at))
            if edit.alternate and number % 2:
                framing = _turned_round(framing)
        made.append(_moved(clip, framing))
    return with_clips(project, made), in_text(move.label) if move else "take the move away"


def _pointed_at(project: Project, clip: Clip, edit: UseMove) -> Point:
    """The picked point on the picture at rest, in px from the middle of the frame."""
    if edit.at is None:
        return (0.0, 0.0)
    number = _number(clip)
    space = space_of(project, clip, (_place(clip) if number is None else number) - 1, min(edit.frame, clip.length - 1))
    x, y = edit.at if space is None else space[1].inverse().map(*edit.at)
    return x - project.settings.width / 2, y - project.settings.height / 2


def _number(clip: Clip) -> int | None:
    """Which step of a clip is its move."""
    return next((number for number, step in enumerate(clip.steps) if step.kind == MOVE.kind), None)


def _place(clip: Clip) -> int:
    """Where a move goes: after all that is done to the picture itself, before the clip is placed by hand."""
    steps = clip.steps
    return len(steps) - bool(steps and steps[-1].kind == BY_HAND.kind)


_SHAKES = (MOVE.kind, HANDHELD.kind)
"""What moves the frame's view of a picture: both go where a move is removed."""


def _moved(clip: Clip, framing: Moving | None) -> Clip:
    number, steps = _number(clip), list(clip.steps)
    if framing is None:
        return clip.model_copy(update={"steps": tuple(step for step in steps if step.kind not in _SHAKES)})
    framing = _from_end_to_end(framing, clip)
    if number is not None:
        kept = steps[number]
        framing = _resting_as(kept.values.get("framing"), framing)
        steps[number] = kept.model_copy(update={"values": {**kept.values, "framing": framing}, "on": True})
    elif len(steps) >= 100:
        raise EditError(f"“{clip.name}” has no room for a move: 100 steps is the most; nothing was changed.")
    else:
        taken = {step.id for step in steps}
        id = next(name for n in range(101) if (name := f"{_OWN}-{n}" if n else _OWN) not in taken)
        steps.insert(_place(clip), Step(id=id, kind=MOVE.kind, values={"framing": framing}))
    return clip.model_copy(update={"steps": tuple(steps)})


def _from_end_to_end(framing: Moving, clip: Clip) -> Moving:
    """A move made for a whole clip, for one that was cut: from its own head to its own end."""
    past = {"head": clip.skipped, "tail": -clip.cut_off, "proportion": 0}
    keys = (key.model_copy(update={"at": key.at + past[key.counts_from]}) for key in framing.keys)
    return framing.model_copy(update={"keys": tuple(keys)})


def _resting_as(before: Property | None, after: Moving) -> Moving:
    """A move from head to tail that rests at both as the one before it did, where that went from head to tail too."""

    def ends(moving: Moving) -> bool:
        return len(moving.keys) > 1 and (moving.keys[0].counts_from, moving.keys[-1].counts_from) == ("head", "tail")

    if before is None or before.state != "moving" or not ends(before) or not ends(after):
        return after
    keys = list(after.keys)
    for place in (0, -1):
        keys[place] = keys[place].model_copy(update={"at": before.keys[place].at})
    return after.model_copy(update={"keys": tuple(keys)})


def _turned_round(moving: Moving) -> Moving:
    """The same times with the framings in the other order."""
    values = [key.value for key in moving.keys][::-1]
    keys = (key.model_copy(update={"value": value}) for key, value in zip(moving.keys, values))
    return moving.model_copy(update={"keys": tuple(keys)})


@rule(ChangeMove)
def change_move(project: Project, edit: ChangeMove) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    step = step_of(clip, edit.step)
    framing = step.values.get("framing")
    if step.kind != MOVE.kind:
        raise EditError("Only a move has framings that rest; nothing was changed.")
    if framing is None or framing.state != "moving" or len(framing.keys) < 2:
        if edit.zoom is not None and framing is not None and framing.state == "fixed":
            changed = framing.value.model_copy(update={"zoom": edit.zoom})  # type: ignore[union-attr]
            return with_clip(project, with_property(clip, step.id, "framing", Fixed(value=changed))), "zoom"
        raise EditError(f"The move of “{clip.name}” has one framing only; add a second where it shall end.")
    if max(edit.head or 0, edit.tail or 0) > clip.length - 1:
        raise EditError(f"“{clip.name}” is {clip.length} frames long; so long a rest was not taken.")
    keys = list(framing.keys)
    timed = resolve_keys(framing, clock_of(clip))
    first, last = timed[0].index, timed[-1].index
    if edit.head is not None:
        keys[first] = keys[first].model_copy(update={"counts_from": "head", "at": float(edit.head + clip.skipped)})
    if edit.tail is not None:
        keys[last] = keys[last].model_copy(update={"counts_from": "tail", "at": -float(edit.tail + clip.cut_off)})
    if keys[first].counts_from == keys[last].counts_from and keys[first].at >= keys[last].at:
        raise EditError("The move would begin after it has ended; it is as it was.")
    if edit.strength is not None:
        ease = Strengths(start=edit.strength, end=edit.strength)
        keys = [key.model_copy(update={"ease": ease}) for key in keys]
    if edit.zoom is not None:
        keys = [key.model_copy(update={"value": key.value.model_copy(update={"zoom": edit.zoom})}) for key in keys]  # type: ignore[union-attr]
    made = framing.model_copy(update={"keys": tuple(keys)})
    project, _ = set_property(project, SetProperty(clip=clip.id, step=step.id, name="framing", property=made))
    return project, "the move's ends and eases"


@rule(FillMove)
def fill_move(project: Project, edit: FillMove) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    step = step_of(clip, edit.step)
    framing = step.values.get("framing")
    layer = evaluate_clip(project, clip, 0)
    found = filling(project, clip, layer.content) if layer is not None else None
    if step.kind != MOVE.kind or found is None:
        raise EditError("Only a move over a picture can be kept filled; nothing was changed.")
    if found.uncovered:
        raise EditError(f"“{clip.name}” does not fill the frame at rest; fit it to fill first. Nothing was changed.")
    assert layer is not None
    box = stand(layer.content, project.settings.width, project.settings.height).box
    if edit.by == "shift":

        def shifted(value: Framing) -> Framing:
            return _onto(value, box, project.settings.width, project.settings.height)

        made = clip if framing is None else with_property(clip, step.id, "framing", _each(framing, shifted))
        return with_clip(project, made), "shift the framings onto the picture"
    if framing is None or framing.state != "moving" or len(framing.keys) < 2:
        raise EditError("A framing that stands still can't go less far; shift it instead. Nothing was changed.")
    timed = resolve_keys(framing, clock_of(clip))
    ends = timed[0].key.value, timed[-1].key.value
    middle = mixed_framing(*ends, 0.5)  # type: ignore[arg-type]

    def slower(share: float) -> Clip:
        less = _each(framing, lambda value: mixed_framing(middle, value, share))
        return with_property(clip, step.id, "framing", less)

    def needs(one: Clip) -> float:
        solved = filling(project, one, layer.content)
        return _LOST if solved is None or solved.lost is not None else solved.scale

    if needs(slower(0.0)) > 1 + _ENOUGH:
        raise EditError(
            "Half-way an edge is in sight already, so going less far does not hide it; shift the framings, or keep it "
            "filled by scaling. Nothing was changed."
        )
    low, high = 0.0, 1.0
    for _ in range(12):
        tried = (low + high) / 2
        low, high = (tried, high) if needs(slower(tried)) <= 1 + _ENOUGH else (low, tried)
    return with_clip(project, slower(low if low < 0.999 else 1.0)), "slow the move down"


_ENOUGH, _LOST = 2.5e-4, 1e9
"""What of an extra scale is nothing that is seen; that of a move that no scale fills."""


def _each(framing: Property, change: Callable[[Framing], Framing]) -> Property:
    """A property with all its framings changed."""

    def done(value: Any) -> Any:
        return change(value) if isinstance(value, Framing) else value

    if framing.state == "fixed":
        return framing.model_copy(update={"value": done(framing.value)})
    if framing.state == "moving":
        keys = (key.model_copy(update={"value": done(key.value)}) for key in framing.keys)
        return framing.model_copy(update={"keys": tuple(keys)})
    return framing


def _onto(framing: Framing, box: Rect, width: float, height: float) -> Framing:
    """The framing shifted by the least that brings all of it onto a picture; where it is larger than that, its
    middle."""
    turn = math.radians(framing.roll)
    cos, sin = abs(math.cos(turn)), abs(math.sin(turn))
    wide, high = (width * cos + height * sin) / framing.scale, (width * sin + height * cos) / framing.scale

    def held(at: float, low: float, high: float, side: float) -> float:
        room = (high - low - side) / 2
        middle = (low + high) / 2
        return middle if room <= 0 else min(max(at, middle - room), middle + room)

    x = held(framing.x, box.x0 - width / 2, box.x1 - width / 2, wide)
    y = held(framing.y, box.y0 - height / 2, box.y1 - height / 2, high)
    return framing.model_copy(update={"x": x, "y": y})
