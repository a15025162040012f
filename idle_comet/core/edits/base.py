"""What all edits share: finding what they name, and saying why they do not fit."""

from __future__ import annotations

from typing import Any, Callable, NamedTuple, Protocol, TypeVar

from ..project.model import Clip, Frozen, Project, Step
from ..project.times import clock_of

Rule = Callable[[Project, Any], tuple[Project, str]]
"""What an edit does: from the document before to the one after, and what undo will say it undoes. Raises EditError."""

RULES: dict[type[Frozen], Rule] = {}
"""Every kind of edit and its rule. A kind is registered by `rule` beside it."""

Ruled = TypeVar("Ruled", bound=Rule)
Model = TypeVar("Model", bound=Frozen)


class OfProperty(Protocol):
    """An edit of one property of a clip."""

    @property
    def clip(self) -> str: ...
    @property
    def step(self) -> str: ...
    @property
    def name(self) -> str: ...


class OfKey(OfProperty, Protocol):
    """An edit of one key of a property."""

    @property
    def key(self) -> int: ...


def rule(kind: type[Frozen]) -> Callable[[Ruled], Ruled]:
    """Register what a kind of edit does."""

    def register(work: Ruled) -> Ruled:
        RULES[kind] = work
        return work

    return register


class Offer(NamedTuple):
    """An edit that does what a refused one was made for, and what it does."""

    says: str
    edit: Frozen


class EditError(ValueError):
    """An edit that does not fit the document. The document is as it was."""

    def __init__(self, message: str, offer: Offer | None = None) -> None:
        super().__init__(message)
        self.offer = offer


def clip_of(project: Project, clip_id: str) -> Clip:
    try:
        return project.clips[clip_id]
    except KeyError:
        raise EditError(f"There is no clip “{clip_id}” in this project; nothing was changed.") from None


def step_of(clip: Clip, step_id: str) -> Step:
    for step in clip.steps:
        if step.id == step_id:
            return step
    raise EditError(f"“{clip.name}” has no step “{step_id}”; nothing was changed.")


__all__ = [
    "EditError",
    "Offer",
    "OfKey",
    "OfProperty",
    "RULES",
    "changed",
    "clip_of",
    "clock_of",
    "rule",
    "step_of",
    "with_clip",
    "with_step",
]


def with_clip(project: Project, clip: Clip) -> Project:
    return project.model_copy(update={"clips": {**project.clips, clip.id: clip}})


def with_step(clip: Clip, step: Step) -> Clip:
    steps = tuple(step if old.id == step.id else old for old in clip.steps)
    return clip.model_copy(update={"steps": steps})


def changed(model: Model, **values: Any) -> Model:
    """A copy with these fields, checked as on reading."""
    return type(model).model_validate({**{name: getattr(model, name) for name in type(model).model_fields}, **values})
