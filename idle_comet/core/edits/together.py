"""Several steps added as one."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..project.model import Frozen, Id, Project
from ..recipes.scaling import scaled_step
from ..recipes.together import TOGETHER
from ..wording import in_text
from .base import EditError, clip_of, rule, with_clip
from .steps import place_for


class AddTogether(Frozen):
    """Steps that belong together, at a place counted from the first to the last done, or (None) where the first of them
    belongs; called `seed`-1 and so on."""

    kind: Literal["add_together"] = "add_together"
    clip: Id
    name: Annotated[str, StringConstraints(max_length=60)]
    at: int | None = Field(default=None, ge=0, le=100)
    seed: Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,55}$")]


_TALL = 720
"""Height of the frame in which their lengths are told."""


@rule(AddTogether)
def add_together(project: Project, edit: AddTogether) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    found = TOGETHER.get(edit.name)
    if found is None:
        raise EditError(f"There are no steps “{edit.name}” that go together; nothing was added.")
    if len(clip.steps) + len(found.steps) > 100:
        raise EditError(f"“{clip.name}” has no room for {len(found.steps)} more steps; nothing was added.")
    grown = project.settings.height / _TALL
    made = [
        scaled_step(step, grown, 1).model_copy(update={"id": f"{edit.seed}-{number}"})
        for number, step in enumerate(found.steps, 1)
    ]
    if {step.id for step in clip.steps} & {step.id for step in made}:
        raise EditError(f"“{clip.name}” already has steps called “{edit.seed}”; nothing was added.")
    at = place_for(clip.steps, made[0].kind) if edit.at is None else edit.at
    steps = (*clip.steps[:at], *made, *clip.steps[at:])
    return with_clip(project, clip.model_copy(update={"steps": steps})), f"add {in_text(found.label)}"
