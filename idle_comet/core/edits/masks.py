"""Masks: where a step is done."""

from __future__ import annotations

from typing import Literal

from ..project.mask import OF_ANOTHER, Form, Joining, Mask
from ..project.model import Clip, Frozen, Id, Project
from ..steps import KINDS
from ..wording import in_text
from .base import EditError, changed, clip_of, rule, step_of, with_clip, with_step
from .looks import check_looks


class AddMask(Frozen):
    """A new mask on a step, after those it has. Its values are set like any others, at "STEP/MASK"."""

    kind: Literal["add_mask"] = "add_mask"
    clip: Id
    step: Id
    mask: Mask


class ChangeMask(Frozen):
    """What a mask is made of; what is None stays."""

    kind: Literal["change_mask"] = "change_mask"
    clip: Id
    step: Id
    mask: Id
    form: Form | None = None
    looks_at: Id | None = None
    by: Literal["shape", "brightness"] | None = None
    held: bool | None = None
    invert: bool | None = None
    joined: Joining | None = None


class SetMaskRun(Frozen):
    """Let a step's masks hold for a run of steps: from `first`, a step before it, down to it; None is itself alone."""

    kind: Literal["set_mask_run"] = "set_mask_run"
    clip: Id
    step: Id
    first: Id | None = None


class RemoveMask(Frozen):
    """Take a mask away: the step is done where the others let it."""

    kind: Literal["remove_mask"] = "remove_mask"
    clip: Id
    step: Id
    mask: Id


@rule(AddMask)
def add_mask(project: Project, edit: AddMask) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    step = step_of(clip, edit.step)
    kind = KINDS.get(step.kind)
    if kind is not None and not kind.can_be_masked:
        raise EditError(
            f"{kind.label} changes words or letters, which have no place for a mask; nothing was changed. "
            "Mask a step that changes the picture."
        )
    if any(mask.id == edit.mask.id for mask in step.masks):
        raise EditError(f"This step already has a mask “{edit.mask.id}”; nothing was added.")
    if len(step.masks) >= 20:
        raise EditError("This step already has 20 masks; nothing was added. Take one away first.")
    _check(project, clip, edit.mask)
    return with_clip(
        project, with_step(clip, step.model_copy(update={"masks": (*step.masks, edit.mask)}))
    ), f"mask {_called(step.kind)}"


@rule(ChangeMask)
def change_mask(project: Project, edit: ChangeMask) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    step = step_of(clip, edit.step)
    mask = _mask_of(step.masks, edit.mask)
    asked = {
        "form": edit.form,
        "clip": edit.looks_at,
        "by": edit.by,
        "held": edit.held,
        "invert": edit.invert,
        "joined": edit.joined,
    }
    now = changed(mask, **{name: value for name, value in asked.items() if value is not None})
    _check(project, clip, now)
    masks = tuple(now if each.id == mask.id else each for each in step.masks)
    return with_clip(
        project, with_step(clip, step.model_copy(update={"masks": masks}))
    ), f"mask of {_called(step.kind)}"


@rule(SetMaskRun)
def set_mask_run(project: Project, edit: SetMaskRun) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    step = step_of(clip, edit.step)
    ids = [each.id for each in clip.steps]
    if edit.first is not None:
        first = step_of(clip, edit.first)
        if ids.index(first.id) >= ids.index(step.id):
            raise EditError(
                f"{_called(first.kind).capitalize()} comes after {_called(step.kind)}; nothing was changed. "
                "A run begins with a step before the one that has the masks."
            )
    return with_clip(
        project, with_step(clip, step.model_copy(update={"masked_from": edit.first}))
    ), f"what the masks of {_called(step.kind)} hold for"


@rule(RemoveMask)
def remove_mask(project: Project, edit: RemoveMask) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    step = step_of(clip, edit.step)
    gone = _mask_of(step.masks, edit.mask)
    masks = tuple(each for each in step.masks if each.id != gone.id)
    return with_clip(
        project, with_step(clip, step.model_copy(update={"masks": masks}))
    ), f"remove mask of {_called(step.kind)}"


def _mask_of(masks: tuple[Mask, ...], id: str) -> Mask:
    for mask in masks:
        if mask.id == id:
            return mask
    raise EditError(f"This step has no mask “{id}”; nothing was changed.")


def _check(project: Project, clip: Clip, mask: Mask) -> None:
    if mask.form not in OF_ANOTHER:
        return
    if mask.clip is None:
        raise EditError("This mask looks at no clip yet; nothing was changed. Choose the clip whose shape it takes.")
    check_looks(project, clip, mask.clip, "mask")


def _called(kind: str) -> str:
    return in_text(KINDS[kind].label) if kind in KINDS else kind
