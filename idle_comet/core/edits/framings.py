"""One framing of a move: placed, sized and turned."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from ..motion import Framing
from ..motion.numbered import ItemId
from ..motion.outlines import Number
from ..project.model import Frames, Frozen, Id, Project
from ..steps import MOVE
from .base import EditError, changed, clip_of, rule, step_of, with_clip
from .keys import seen_value
from .values import SetValue, property_of, set_value, with_property


class ChangeFraming(Frozen):
    """Parts of one framing of a move; what is None stays.

    `key` names the framing by its key. Without it the framing at `frame`, in frames of the clip, is changed as a value
    is. `x` and `y` are px of the project's frame, `scale` a factor 0.01 to 100, `roll` degrees clockwise.
    """

    kind: Literal["change_framing"] = "change_framing"
    clip: Id
    step: Id
    key: ItemId | None = None
    frame: Frames = 0
    x: Number | None = None
    y: Number | None = None
    scale: float | None = Field(default=None, ge=0.01, le=100, allow_inf_nan=False)
    roll: float | None = Field(default=None, ge=-36000, le=36000, allow_inf_nan=False)


@rule(ChangeFraming)
def change_framing(project: Project, edit: ChangeFraming) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    step = step_of(clip, edit.step)
    if step.kind != MOVE.kind:
        raise EditError("Only a move has framings; nothing was changed.")
    given = {name: value for name in ("x", "y", "scale", "roll") if (value := getattr(edit, name)) is not None}

    def done(value: Any) -> Framing:
        return changed(value, **given)

    if edit.key is None:
        frame = min(edit.frame, clip.length - 1)
        value = done(seen_value(project, clip, step.id, "framing", frame))
        return set_value(project, SetValue(clip=clip.id, step=step.id, name="framing", value=value, frame=frame))
    prop = property_of(clip, step.id, "framing")
    if prop.state != "moving" or all(key.id != edit.key for key in prop.keys):
        raise EditError(f"The move of “{clip.name}” no longer has that framing; nothing was changed.")
    keys = (key.model_copy(update={"value": done(key.value)}) if key.id == edit.key else key for key in prop.keys)
    return with_clip(project, with_property(clip, step.id, "framing", prop.with_keys(tuple(keys)))), "framing"
