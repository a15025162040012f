"""Looks: putting one on clips, in the place of the one they had."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..project.model import Clip, Frozen, Project, Step
from ..recipes.looks import LOOKS
from ..steps import BY_HAND
from .base import EditError, clip_of, rule
from .clips import Clips
from .lanes import with_clips

_OWN = "look-"
"""What the ids of a look's steps begin with; by it the next look knows what to take the place of."""


class UseLook(Frozen):
    """A look's steps on clips, after all that they do before they are placed. None takes away the look they have."""

    kind: Literal["use_look"] = "use_look"
    clips: Clips
    look: str | None = Field(max_length=64)


@rule(UseLook)
def use_look(project: Project, edit: UseLook) -> tuple[Project, str]:
    look = LOOKS.get(edit.look) if edit.look is not None else None
    if edit.look is not None and look is None:
        raise EditError(f"There is no look “{edit.look}”; nothing was changed.")
    clips = [clip_of(project, id) for id in dict.fromkeys(edit.clips)]
    project = with_clips(project, [_looked(clip, look.steps if look else ()) for clip in clips])
    return project, f"look {look.name}" if look else "take the look away"


def _looked(clip: Clip, steps: tuple[Step, ...]) -> Clip:
    kept = [step for step in clip.steps if not step.id.startswith(_OWN)]
    if len(kept) + len(steps) > 100:
        raise EditError(f"“{clip.name}” has no room for the steps of the look: 100 is the most; nothing was changed.")
    at = len(kept) - 1 if kept and kept[-1].kind == BY_HAND.kind else len(kept)
    return clip.model_copy(update={"steps": (*kept[:at], *steps, *kept[at:])})
