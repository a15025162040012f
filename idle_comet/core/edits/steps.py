"""The ordered steps of a clip: add, remove, reorder, switch."""

from __future__ import annotations

from typing import Any, Literal, Mapping, Sequence

from pydantic import Field

from ..moment.evaluate import evaluate_clip
from ..moment.gathered import ink_of_group
from ..moment.standing import stand
from ..motion import Cascade, Fixed, Key, Linear, Moving, Property, Repeat, mirrored
from ..project.model import Clip, Frozen, Id, Project, Step, Units
from ..steps import BY_HAND, KINDS, STAND, Ready, StepKind
from .base import EditError, clip_of, rule, step_of, with_clip, with_step


class AddStep(Frozen):
    """A step at a place counted from the first to the last done, or (None) where its kind belongs; `ready` names a
    motion it comes with."""

    kind: Literal["add_step"] = "add_step"
    clip: Id
    step: Step
    at: int | None = Field(default=None, ge=0, le=100)
    ready: str | None = Field(default=None, max_length=60)


class RemoveStep(Frozen):
    kind: Literal["remove_step"] = "remove_step"
    clip: Id
    step: Id


class MoveStep(Frozen):
    kind: Literal["move_step"] = "move_step"
    clip: Id
    step: Id
    to: int = Field(ge=0, le=100)


class SwitchStep(Frozen):
    kind: Literal["switch_step"] = "switch_step"
    clip: Id
    step: Id
    on: bool


def _label(step: Step) -> str:
    return KINDS[step.kind].label if step.kind in KINDS else step.kind


@rule(AddStep)
def add_step(project: Project, edit: AddStep) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    if edit.step.kind not in KINDS:
        raise EditError(f"There is no step called “{edit.step.kind}”; nothing was added.")
    if any(step.id == edit.step.id for step in clip.steps):
        raise EditError(f"“{clip.name}” already has a step “{edit.step.id}”; nothing was added.")
    if len(clip.steps) >= 100:
        raise EditError(f"“{clip.name}” already has 100 steps; nothing was added.")
    step, label, ready = edit.step, _label(edit.step), None
    if edit.ready is not None:
        ready = next((each for each in KINDS[step.kind].ready if each.name == edit.ready), None)
        if ready is None:
            raise EditError(f"{label} has no ready-made motion “{edit.ready}”; nothing was added.")
        step, label = (
            step.model_copy(update={"values": {**step.values, **motion_of(clip, step.kind, ready)}}),
            ready.label,
        )
        step = step.model_copy(
            update={
                "choices": {**ready.choices, **step.choices},
                "units": _units(ready) if clip.content.kind == "text" else None,
            }
        )
        if ready.away and not clip.arrival and not clip.departure:
            span = max(1, min(clip.length // 3, round(0.6 * float(project.settings.rate.fraction))))
            clip = clip.model_copy(update={"arrival": span, "departure": span})
            step = step.model_copy(update={"values": {**step.values, **motion_of(clip, step.kind, ready)}})
    if KINDS[step.kind].turns_over:
        step = step.model_copy(update={"values": {**_about_what_is_seen(project, clip), **step.values}})
    steps = list(clip.steps)
    if ready is not None and _hides(KINDS[step.kind], ready.away):
        steps = [_unfaded(clip, each) for each in steps]
    steps.insert(place_for(clip.steps, step.kind) if edit.at is None else edit.at, step)
    steps = with_place(steps, KINDS[step.kind])
    return with_clip(project, clip.model_copy(update={"steps": tuple(steps)})), f"add {label}"


def _about_what_is_seen(project: Project, clip: Clip) -> dict[str, Property]:
    """The line that a new turn is about goes through the middle of what is to be seen, and not of the frame."""
    layer = evaluate_clip(project, clip, clip.length // 2, placing=True)
    if layer is None:
        return {}
    standing = stand(layer.content, project.settings.width, project.settings.height)
    cell = ink_of_group(project, clip) if clip.content.kind == "group" else standing.cell
    if cell is None:
        return {}
    middle = (cell.x0 + cell.x1) / 2, (cell.y0 + cell.y1) / 2
    shifts = (round(at - anchor, 2) for at, anchor in zip(middle, standing.anchor))
    return {name: Fixed(value=shift) for name, shift in zip("xy", shifts)}


def place_for(steps: Sequence[Step], kind: str) -> int:
    """Where a new step goes: before the last placement, so that it works in the clip's own space. What belongs to the
    ink goes before what blurs or lights it, or lies behind it, and after what belongs to it already."""
    last = len(steps) - bool(steps and steps[-1].kind == BY_HAND.kind and kind != BY_HAND.kind)
    if not KINDS[kind].of_ink:
        return last
    # A step of a kind that is not known here may be of any group.
    known = (KINDS.get(each.kind) for each in steps[:last])
    return next((n for n, each in enumerate(known) if each and each.group != "arrival" and not each.of_ink), last)


def _hides(kind: StepKind, away: Mapping[str, Any]) -> bool:
    """Whether nothing is there while a motion is away: what arrives by itself needs no fade."""
    return bool(away) and kind.presence({**{each.name: each.default for each in kind.parameters}, **away}) <= 0


def _unfaded(clip: Clip, step: Step) -> Step:
    """A placement without the fade in and out that a new title has; any other step as it is."""
    fade = step.values.get("opacity")
    if step.kind != BY_HAND.kind or fade is None or fade.state != "moving":
        return step
    plain = [("head", 0, 0), ("head", clip.arrival, 1), ("tail", -clip.departure, 1), ("tail", 0, 0)]
    if [(key.counts_from, key.at, key.value) for key in fade.keys] != plain:
        return step
    return step.model_copy(update={"values": {name: each for name, each in step.values.items() if name != "opacity"}})


def with_place(steps: list[Step], kind: StepKind) -> list[Step]:
    """Steps, with one that stands the clip in space where the kind makes a body of it: then a camera sees that from all
    sides. Without a camera it stands where it did."""
    if not kind.makes_bodies or len(steps) >= 100 or any(step.kind == STAND.kind for step in steps):
        return steps
    taken = {step.id for step in steps}
    id = next(name for name in ("stand", *(f"stand-{n}" for n in range(2, 200))) if name not in taken)
    return [*steps, Step(id=id, kind=STAND.kind)]


def motion_of(clip: Clip, kind: str, ready: Ready) -> dict[str, Property]:
    """The keys of a ready-made motion, fitted to the clip's spans."""
    rest = {parameter.name: parameter.default for parameter in KINDS[kind].parameters}
    ease: dict[str, Any] = {"ease": ready.ease} if ready.ease else {}
    back: dict[str, Any] = {"ease": mirrored(ready.ease)} if ready.ease else {}
    made: dict[str, Property] = {name: Fixed(value=value) for name, value in ready.fixed.items()}
    for name, away in ready.away.items():
        begins, ends = ready.during.get(name, (0.0, 1.0))
        made[name] = Moving(
            keys=(
                Key(at=round(clip.arrival * begins), value=away, **ease),
                Key(at=round(clip.arrival * ends), value=rest[name]),
                Key(counts_from="tail", at=-round(clip.departure * ends), value=rest[name], **back),
                Key(counts_from="tail", at=-round(clip.departure * begins), value=away),
            )
        )
    for name, beats in ready.beats.items():
        out = tuple(Key(counts_from="tail", at=-at, value=value, **ease) for at, value in reversed(beats))
        keys = tuple(Key(at=at, value=value, **ease) for at, value in beats)
        made[name] = Moving(keys=(*keys, *out) if ready.comes_back else keys)
    for name, pulse in ready.pulse.items():
        times = max(1, round((clip.length - 1) / pulse.period))
        beats = ((0.0, pulse.low), (pulse.rise, pulse.peak), (pulse.rise + pulse.fall, pulse.low))
        rests = ((pulse.period, pulse.low),) if pulse.rise + pulse.fall < pulse.period else ()
        made[name] = Moving(
            keys=tuple(
                Key(counts_from="proportion", at=at / pulse.period / times, value=value, **ease)
                for at, value in (*beats, *rests)
            ),
            repeat=Repeat() if times > 1 else None,
        )
    for name, (first, last) in ready.through.items():
        made[name] = Moving(
            keys=(
                Key(counts_from="proportion", at=0, value=first, ease=Linear()),
                Key(counts_from="proportion", at=1, value=last),
            )
        )
    return made


def _units(ready: Ready) -> Units | None:
    if ready.unit == "all" and ready.pivot == "own":
        return None
    return Units(arrival=Cascade(unit=ready.unit, order=ready.order, delay=ready.delay, by=ready.by), pivot=ready.pivot)


@rule(RemoveStep)
def remove_step(project: Project, edit: RemoveStep) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    gone = step_of(clip, edit.step)
    steps = tuple(step for step in clip.steps if step.id != gone.id)
    return with_clip(project, clip.model_copy(update={"steps": steps})), f"remove {_label(gone)}"


@rule(MoveStep)
def move_step(project: Project, edit: MoveStep) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    moved = step_of(clip, edit.step)
    steps = [step for step in clip.steps if step.id != moved.id]
    steps.insert(edit.to, moved)
    return with_clip(project, clip.model_copy(update={"steps": tuple(steps)})), f"reorder {_label(moved)}"


@rule(SwitchStep)
def switch_step(project: Project, edit: SwitchStep) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    step = step_of(clip, edit.step)
    after = with_step(clip, step.model_copy(update={"on": edit.on}))
    return with_clip(project, after), f"switch {_label(step)} {'on' if edit.on else 'off'}"
