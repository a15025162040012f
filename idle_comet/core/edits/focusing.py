"""Focus: a camera's lens is set to what is seen at a point of the picture."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..contents import with_properties
from ..moment.placed import around_matrix
from ..moment.space import told_of
from ..moment.surroundings import distance_at, stood_at
from ..motion import Key, Moving, Strengths
from ..project.model import Clip, Frames, Frozen, Id, Project, fixed
from ..project.timeline import timeline_of
from .base import EditError, rule, with_clip
from .space import camera_of
from .values import SetValue, set_value

_Place = Annotated[float, Field(ge=-100_000, le=100_000, allow_inf_nan=False)]


class FocusOn(Frozen):
    """A camera is set to what stands in space and is seen at a point of the picture, px, at a frame of its clip.

    `pulls` takes it there: over as many frames before, from what it was set to."""

    kind: Literal["focus_on"] = "focus_on"
    clip: Id
    frame: Frames
    at: tuple[_Place, _Place]
    pulls: Annotated[int, Field(ge=0, le=100_000)] = 0


@rule(FocusOn)
def focus_on(project: Project, edit: FocusOn) -> tuple[Project, str]:
    clip, content = camera_of(project, edit.clip)
    if edit.frame >= clip.length:
        raise EditError(f"“{clip.name}” is not there at this frame; nothing was changed.")
    focus = round(_distance(project, clip, edit) - told_of(project, clip, edit.frame).far, 2)
    clip = clip.model_copy(
        update={"content": content.model_copy(update={"choices": {**content.choices, "sharp": "by the lens"}})}
    )
    before = content.values.get("focus") or fixed(0.0)
    begins = max(0, edit.frame - edit.pulls)
    if before.state == "fixed" and begins < edit.frame:
        soft = Strengths(start=0.4, end=0.6)
        keys = (
            Key(counts_from="head", at=begins, value=before.value, ease=soft),
            Key(counts_from="head", at=edit.frame, value=focus, ease=soft),
        )
        clip = clip.model_copy(update={"content": with_properties(clip.content, {"focus": Moving(keys=keys)})})
        return with_clip(project, clip), "pull focus"
    project = with_clip(project, clip)
    if before.state == "moving" and begins < edit.frame:
        # What it is set to until then stays until then.
        held = told_of(project, clip, begins).values["focus"]
        project, _ = set_value(project, SetValue(clip=clip.id, step="content", name="focus", value=held, frame=begins))
    value = SetValue(clip=clip.id, step="content", name="focus", value=focus, frame=edit.frame)
    return set_value(project, value)[0], "focus" if begins == edit.frame else "pull focus"


def _distance(project: Project, clip: Clip, edit: FocusOn) -> float:
    """How far ahead lies the nearest of what is seen at the point."""
    around = around_matrix(project, clip, edit.frame)
    if around.scale < 1e-9:
        raise EditError(f"What “{clip.name}” sees is not seen in the film; nothing was changed.")
    at = around.inverse().map(*edit.at)
    stood = stood_at(project, timeline_of(project, clip), clip.head + edit.frame)
    found = [far for far in (distance_at(each, at) for each in stood) if far is not None]
    if not found:
        raise EditError(
            "Nothing that stands in space is seen there: there is nothing to focus on, and nothing was changed. Point "
            "at a clip that has the step “place in 3D”."
        )
    return min(found)
