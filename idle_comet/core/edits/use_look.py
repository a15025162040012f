"""Looks: putting one on clips, in the place of the one they had."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..motion import Fixed
from ..project.mask import OF_ANOTHER
from ..project.model import Clip, Frozen, Id, KeptLook, Name, Project, Step
from ..recipes.looks import LOOKS
from ..steps import BY_HAND, KINDS, StepKind
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
    brought: KeptLook | None = None
    """The look itself where it is one of another film; this film then keeps it too."""


class SaveLook(Frozen):
    """A look of the film from what a clip does without motion; one of that id changes."""

    kind: Literal["save_look"] = "save_look"
    clip: Id
    look: Id
    name: Name


class RemoveLook(Frozen):
    """Clips keep the steps they had from it."""

    kind: Literal["remove_look"] = "remove_look"
    look: Id


@rule(SaveLook)
def save_look(project: Project, edit: SaveLook) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    steps = [_still(step) for step in clip.steps if _finishes(step)]
    if not steps:
        raise EditError(
            f"“{clip.name}” has no step that finishes a picture without moving; nothing was kept. "
            "Add light, colour or texture first."
        )
    if edit.look in LOOKS:
        raise EditError(f"“{edit.look}” is a look that ships with the product; keep yours under another id.")
    numbered = tuple(step.model_copy(update={"id": f"{_OWN}{number}"}) for number, step in enumerate(steps[:40], 1))
    kept = KeptLook(id=edit.look, name=edit.name, steps=numbered)
    return _keeping(project, kept), f"keep look {kept.name}"


@rule(RemoveLook)
def remove_look(project: Project, edit: RemoveLook) -> tuple[Project, str]:
    gone = next((each for each in project.settings.looks if each.id == edit.look), None)
    if gone is None:
        raise EditError(f"There is no look “{edit.look}” of this film; nothing was removed.")
    looks = tuple(each for each in project.settings.looks if each.id != edit.look)
    return _with_looks(project, looks), f"remove look {gone.name}"


def _keeping(project: Project, kept: KeptLook) -> Project:
    looks = project.settings.looks
    if any(each.id == kept.id for each in looks):
        return _with_looks(project, tuple(kept if each.id == kept.id else each for each in looks))
    if len(looks) >= 100:
        raise EditError("There are 100 looks already; remove one first. Nothing was kept.")
    return _with_looks(project, (*looks, kept))


def _brought(project: Project, look: KeptLook) -> KeptLook:
    """A look of another film as this one can have it: finishing steps, with no picture or clip that is not here."""
    steps = [
        _still(step).model_copy(update={"media": step.media if step.media in project.media else None})
        for step in look.steps
        if _finishes(step)
    ]
    if not steps or look.id in LOOKS:
        raise EditError(f"“{look.name}” is no look of a film: nothing in it finishes a picture. Nothing was changed.")
    numbered = tuple(step.model_copy(update={"id": f"{_OWN}{number}"}) for number, step in enumerate(steps, 1))
    return look.model_copy(update={"steps": numbered})


def _with_looks(project: Project, looks: tuple[KeptLook, ...]) -> Project:
    return project.model_copy(update={"settings": project.settings.model_copy(update={"looks": looks})})


def _finishes(step: Step) -> bool:
    """Whether a step is part of a look: it changes pixels, is on, and goes by no other clip."""
    kind = KINDS.get(step.kind)
    if kind is None or not step.on or kind.places or kind.group == "arrival":
        return False
    return type(kind).render is not StepKind.render and not any(mask.form in OF_ANOTHER for mask in step.masks)


def _still(step: Step) -> Step:
    """The step with what moves in it left at its default, and done all the time."""
    values = {name: prop for name, prop in step.values.items() if prop.state == "fixed"}
    masks = tuple(
        mask.model_copy(update={"values": {n: p for n, p in mask.values.items() if p.state == "fixed"}})
        for mask in step.masks
    )
    mix = step.mix if step.mix.state == "fixed" else Fixed(value=1)
    changes = {"values": values, "masks": masks, "mix": mix, "units": None, "since": 0, "until": 0}
    return step.model_copy(update={**changes, "masked_from": None})


@rule(UseLook)
def use_look(project: Project, edit: UseLook) -> tuple[Project, str]:
    own = {each.id: each for each in project.settings.looks}
    if edit.brought is not None and edit.brought.id == edit.look and edit.look not in own:
        project = _keeping(project, _brought(project, edit.brought))
        own = {each.id: each for each in project.settings.looks}
    look = (own.get(edit.look) or LOOKS.get(edit.look)) if edit.look is not None else None
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
