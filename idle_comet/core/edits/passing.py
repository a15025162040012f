"""How a step is passed on from unit to unit of a text, and its choices."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import StringConstraints

from ..contents import BY_NAME, choices_of
from ..motion import Cascade
from ..picture import outline_path
from ..project.address import CONTENT
from ..project.model import Frozen, Id, Project, Units
from ..steps import KINDS
from ..wording import in_text
from .base import EditError, clip_of, rule, step_of, with_clip, with_step


class SetUnits(Frozen):
    """A step's arrival or departure cascade, or the point each unit turns and grows about; what is None stays.

    `as_arrival` lets the departure go as the arrival goes.
    """

    kind: Literal["set_units"] = "set_units"
    clip: Id
    step: Id
    arrival: Cascade | None = None
    departure: Cascade | None = None
    as_arrival: bool = False
    pivot: (
        Literal["own", "centre", "baseline-left", "baseline-centre", "baseline-right", "top", "bottom", "left", "right"]
        | None
    ) = None


class SetChoice(Frozen):
    """One of a step's choices, or (`step` is "content") of a generated picture's or a shape's."""

    kind: Literal["set_choice"] = "set_choice"
    clip: Id
    step: Id
    name: Annotated[str, StringConstraints(max_length=60)]
    value: Annotated[str, StringConstraints(max_length=200)]


class GiveStep(Frozen):
    """A step is given an outline of its own (SVG path data), or a picture of the film; what is None stays."""

    kind: Literal["give_step"] = "give_step"
    clip: Id
    step: Id
    drawing: Annotated[str, StringConstraints(max_length=100_000)] | None = None
    media: Id | None = None


@rule(SetUnits)
def set_units(project: Project, edit: SetUnits) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    step = step_of(clip, edit.step)
    if clip.content.kind != "text":
        raise EditError(
            f"“{clip.name}” has no words, so nothing can be passed on from one to the next. It is as it was."
        )
    units = step.units or Units()
    changes = {
        name: getattr(edit, name) for name in ("arrival", "departure", "pivot") if getattr(edit, name) is not None
    }
    if edit.as_arrival:
        changes["departure"] = None
    units = units.model_copy(update=changes)
    unit = units.arrival.unit
    label = "all at once" if unit == "all" else f"{unit} by {unit}, {units.arrival.order}"
    return with_clip(
        project, with_step(clip, step.model_copy(update={"units": None if units == Units() else units}))
    ), label


@rule(SetChoice)
def set_choice(project: Project, edit: SetChoice) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    content = clip.content
    own = edit.step == CONTENT and isinstance(content, BY_NAME)
    step = None if own else step_of(clip, edit.step)
    kind = KINDS.get(step.kind) if step is not None else None
    offered = choices_of(content) if step is None else kind.choices if kind is not None else ()
    choice = next((each for each in offered if each.name == edit.name), None)
    if choice is None:
        said = kind.label if kind else clip.name if own else edit.step
        raise EditError(f"{said} has no choice “{edit.name}”; nothing was changed.")
    if edit.value not in choice.options:
        raise EditError(
            f"{choice.label} is one of {', '.join(choice.options)}; “{edit.value}” was not taken and it is as it was."
        )
    label = f"{in_text(choice.label)} {edit.value}"
    if step is not None:
        choices = {**step.choices, edit.name: edit.value}
        return with_clip(project, with_step(clip, step.model_copy(update={"choices": choices}))), label
    assert isinstance(content, BY_NAME)
    made = content.model_copy(update={"choices": {**content.choices, edit.name: edit.value}})
    return with_clip(project, clip.model_copy(update={"content": made})), label


@rule(GiveStep)
def give_step(project: Project, edit: GiveStep) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    step = step_of(clip, edit.step)
    kind = KINDS.get(step.kind)
    if edit.drawing is not None:
        if kind is None or kind.takes != "drawing":
            raise EditError(f"{kind.label if kind else step.kind} takes no drawing; nothing was changed.")
        if outline_path(edit.drawing).isEmpty():
            raise EditError("That outline can't be read as SVG path data; nothing was changed.")
        step = step.model_copy(update={"drawing": edit.drawing, "choices": {**step.choices, "form": "drawing"}})
    if edit.media is not None:
        if kind is None or kind.takes not in ("picture", "table"):
            raise EditError(f"{kind.label if kind else step.kind} takes no picture; nothing was changed.")
        if edit.media not in project.media:
            raise EditError(f"The picture “{edit.media}” is not in this project; nothing was changed.")
        given = project.media[edit.media]
        fits = ("table",) if kind.takes == "table" else ("video", "still")
        if given.kind not in fits:
            wanted = "a LUT" if kind.takes == "table" else "a shot or still"
            raise EditError(f"{kind.label} takes {wanted}; “{given.name}” is none. Nothing was changed.")
        step = step.model_copy(update={"media": edit.media})
    return with_clip(
        project, with_step(clip, step)
    ), "drawing" if edit.media is None else f"{kind.takes if kind else 'picture'} {project.media[edit.media].name}"
