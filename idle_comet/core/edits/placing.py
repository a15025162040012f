"""Moving, scaling and turning a clip by hand on the picture."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..moment.snapping import snap_offset
from ..motion import value_at
from ..motion.outlines import Number
from ..project.model import Clip, Frames, Frozen, Id, Project, Step
from ..steps import BY_HAND
from .base import EditError, clip_of, clock_of, rule, with_clip
from .values import SetValue, property_of, set_value

Pull = Annotated[float, Field(ge=0, le=200)]


class PlaceClip(Frozen):
    """New values of a clip's placement at a frame of the clip; what is None stays.

    With `snap` px, the clip's box is drawn to the frame's middle and to the title safe
    area when it comes that near. A clip without a placement gets one.
    """

    kind: Literal["place_clip"] = "place_clip"
    clip: Id
    frame: Frames
    x: Number | None = None
    y: Number | None = None
    scale: Number | None = None
    rotation: Number | None = None
    pivot_x: Number | None = None
    pivot_y: Number | None = None
    snap: Pull = 0


def placement_of(clip: Clip) -> Step | None:
    return next((step for step in reversed(clip.steps) if step.kind == BY_HAND.kind), None)


@rule(PlaceClip)
def place_clip(project: Project, edit: PlaceClip) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    step = placement_of(clip)
    if step is None:
        if len(clip.steps) >= 100:
            raise EditError(f"“{clip.name}” already has 100 steps; it can't be given a placement.")
        taken = {each.id for each in clip.steps}
        name = next(name for name in ["placement", *(f"placement-{i}" for i in range(2, 102))] if name not in taken)
        step = Step(id=name, kind=BY_HAND.kind)
        project = with_clip(project, clip.model_copy(update={"steps": (*clip.steps, step)}))
    names = ("x", "y", "scale", "rotation", "pivot_x", "pivot_y")
    values = {name: getattr(edit, name) for name in names if getattr(edit, name) is not None}
    if edit.snap and "x" in values and "y" in values:
        values |= _snapped(project, clip, step, edit, values)
    for name, value in values.items():
        project, _ = set_value(project, SetValue(clip=clip.id, step=step.id, name=name, value=value, frame=edit.frame))
    what = "move" if "x" in values else "scale" if "scale" in values else "turn" if "rotation" in values else "pivot of"
    return project, f"{what} {clip.name}"


def _snapped(project: Project, clip: Clip, step: Step, edit: PlaceClip, values: dict[str, float]) -> dict[str, float]:
    # Standing is the compose room's business; it is asked late, since it knows documents itself.

    now = clip_of(project, clip.id)
    clock = clock_of(now)
    here = tuple(value_at(property_of(now, step.id, name), edit.frame, clock) for name in ("x", "y"))
    dx, dy = snap_offset(project, now, edit.frame, values["x"] - here[0], values["y"] - here[1], edit.snap)
    return {"x": values["x"] + dx, "y": values["y"] + dy}
