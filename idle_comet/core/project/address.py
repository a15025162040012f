"""Where a value lives: in the content of a clip, in one of its steps, or in a mask of a step.

An owner is "content", a step's id, or "STEP/MASK". Everything that shows, keys, follows or scales values finds them
here."""

from __future__ import annotations

from typing import Annotated, Iterator, NamedTuple

from pydantic import StringConstraints

from ..contents import parameters_of, property_in, with_properties
from ..motion import Fixed, Property
from ..steps import KINDS, MIX, Parameter
from .mask import MASK_PARAMETERS, Mask
from .model import Clip, Step

CONTENT = "content"

Owner = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,63}(/[a-z0-9][a-z0-9-]{0,63})?$")]


class NotThere(LookupError):
    """There is no such owner, or it has no such value; the words say which."""


class Place(NamedTuple):
    """One value of a clip: its owner, its declaration, and the property as it stands."""

    owner: str
    parameter: Parameter
    property: Property


def mask_owner(step: str, mask: str) -> str:
    """How a mask is named where a step is."""
    return f"{step}/{mask}"


def step_at(clip: Clip, owner: str) -> Step:
    """The step an owner is, or belongs to. Raises NotThere."""
    id = owner.partition("/")[0]
    for step in clip.steps:
        if step.id == id:
            return step
    raise NotThere(f"“{clip.name}” has no step “{id}”")


def mask_at(clip: Clip, owner: str) -> Mask:
    """The mask that an owner "STEP/MASK" is. Raises NotThere."""
    step, id = step_at(clip, owner), owner.partition("/")[2]
    for mask in step.masks:
        if mask.id == id:
            return mask
    raise NotThere(f"This step of “{clip.name}” has no mask “{id}”")


def parameters_at(clip: Clip, owner: str) -> tuple[Parameter, ...]:
    """Everything that can be set at an owner, in order. Raises NotThere."""
    if owner == CONTENT:
        return parameters_of(clip.content)
    if "/" in owner:
        return MASK_PARAMETERS[mask_at(clip, owner).form]
    step = step_at(clip, owner)
    return (*(KINDS[step.kind].parameters if step.kind in KINDS else ()), MIX)


def place_at(clip: Clip, owner: str, name: str) -> Place:
    """One value; one never set has its default. Raises NotThere."""
    parameter = next((each for each in parameters_at(clip, owner) if each.name == name), None)
    if parameter is None:
        raise NotThere(f"{_called(clip, owner)} has no value “{name}”")
    return Place(owner, parameter, _property(clip, owner, parameter))


def places(clip: Clip) -> Iterator[Place]:
    """Every value of a clip, content first, then its steps in order, each followed by its masks. What this version does
    not know is left out."""
    for owner in owners(clip):
        for parameter in parameters_at(clip, owner):
            yield Place(owner, parameter, _property(clip, owner, parameter))


def owners(clip: Clip) -> Iterator[str]:
    """Everything of a clip that has values."""
    yield CONTENT
    for step in clip.steps:
        if step.kind in KINDS:
            yield step.id
            yield from (mask_owner(step.id, mask.id) for mask in step.masks)


def put(clip: Clip, owner: str, name: str, prop: Property) -> Clip:
    """The clip with a property in its place. Raises NotThere."""
    if owner == CONTENT:
        return clip.model_copy(update={"content": with_properties(clip.content, {name: prop})})
    step = step_at(clip, owner)
    if "/" in owner:
        mask = mask_at(clip, owner)
        now = mask.model_copy(update={"values": {**mask.values, name: prop}})
        changed = step.model_copy(update={"masks": tuple(now if each.id == mask.id else each for each in step.masks)})
    elif name == MIX.name:
        changed = step.model_copy(update={"mix": prop})
    else:
        changed = step.model_copy(update={"values": {**step.values, name: prop}})
    return clip.model_copy(update={"steps": tuple(changed if each.id == step.id else each for each in clip.steps)})


def _property(clip: Clip, owner: str, parameter: Parameter) -> Property:
    if owner == CONTENT:
        return property_in(clip.content, parameter)
    if "/" in owner:
        given = mask_at(clip, owner).values.get(parameter.name)
    else:
        step = step_at(clip, owner)
        if parameter.name == MIX.name:
            return step.mix
        given = step.values.get(parameter.name)
    return given or Fixed(value=parameter.default)


def _called(clip: Clip, owner: str) -> str:
    if owner == CONTENT:
        return clip.content.kind
    if "/" in owner:
        return mask_at(clip, owner).form
    step = step_at(clip, owner)
    return KINDS[step.kind].label if step.kind in KINDS else step.kind
