"""Keys: setting properties moving, adding a key and moving it in time and value."""

from __future__ import annotations

from typing import Any, Literal

from ..moment.compiled import Surroundings
from ..moment.meeting import pull
from ..motion import Fixed, Key, Moving, resolve_keys, value_at
from ..motion.numbered import ItemId
from ..motion.values import Value
from ..project.address import Owner
from ..project.model import Clip, Frames, Frozen, Id, Project
from ..steps import BY_HAND
from ..wording import in_text
from .base import EditError, OfKey, OfProperty, clip_of, clock_of, rule, step_of, with_clip
from .clips import Reach
from .values import at_frames, check_value, parameter_of, property_of, with_key, with_property


class SetMoving(Frozen):
    """Moving from now on, with a key at the frame; or fixed, at the value it has there."""

    kind: Literal["set_moving"] = "set_moving"
    clip: Id
    step: Owner
    name: str
    moving: bool
    frame: Frames


class AddKey(Frozen):
    """A key at the frame with the value the property has there."""

    kind: Literal["add_key"] = "add_key"
    clip: Id
    step: Owner
    name: str
    frame: Frames


class MoveKey(Frozen):
    """One key to another frame, and to another value if one is given. It keeps the end it counts from. With `snap` it
    is drawn to what stands no more than so many frames away: an end, a marker, a hit of a sound."""

    kind: Literal["move_key"] = "move_key"
    clip: Id
    step: Owner
    name: str
    key: ItemId
    frame: Frames
    value: Value | None = None
    snap: Reach = 0


class KeyPlacement(Frozen):
    """A key at the frame for position, scale, rotation and opacity of a placement, in one act."""

    kind: Literal["key_placement"] = "key_placement"
    clip: Id
    step: Owner
    frame: Frames


def _at(clip: Clip, frame: int) -> int:
    return min(frame, clip.length - 1)


def seen_value(project: Project, clip: Clip, step: str, name: str, frame: float) -> Any:
    """The value a property has at a frame of the clip, its motor and what it follows included."""
    parameter = parameter_of(clip, step, name)
    prop = property_of(clip, step, name)
    return parameter.clamp(value_at(prop, frame, clock_of(clip), Surroundings(project, clip).at(step, name)))


def _moving(project: Project, edit: OfKey) -> tuple[Clip, Moving, int]:
    """The clip, the moving property and where in it the key stands that an edit names."""
    clip = clip_of(project, edit.clip)
    prop = property_of(clip, edit.step, edit.name)
    keys = prop.keys if prop.state == "moving" else ()
    place = next((place for place, each in enumerate(keys) if each.id == edit.key), None)
    if prop.state != "moving" or place is None:
        raise EditError(f"{parameter_of(clip, edit.step, edit.name).label} has no such key; nothing was changed.")
    return clip, prop, place


def _with_keys(project: Project, clip: Clip, edit: OfProperty, keys: list[Key]) -> Project:
    """The document with these keys, put in playing order."""
    prop = property_of(clip, edit.step, edit.name)
    ordered = tuple(item.key for item in resolve_keys(Moving(keys=tuple(keys)), clock_of(clip)))
    return with_clip(project, with_property(clip, edit.step, edit.name, prop.model_copy(update={"keys": ordered})))


@rule(SetMoving)
def set_moving(project: Project, edit: SetMoving) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    parameter = parameter_of(clip, edit.step, edit.name)
    prop = property_of(clip, edit.step, edit.name)
    frame = _at(clip, edit.frame)
    value = seen_value(project, clip, edit.step, edit.name, frame)
    if edit.moving and not parameter.may_move:
        raise EditError(f"{parameter.label} can't move; it has one value for the whole clip.")
    if edit.moving == (prop.state == "moving") and prop.state != "driven":
        return project, f"{in_text(parameter.label)} as it was"
    after = with_key(clip, prop, frame, value) if edit.moving else Fixed(value=value)
    return with_clip(project, with_property(clip, edit.step, edit.name, after)), (
        f"{in_text(parameter.label)} {'moving' if edit.moving else 'fixed'}"
    )


@rule(AddKey)
def add_key(project: Project, edit: AddKey) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    parameter = parameter_of(clip, edit.step, edit.name)
    if not parameter.may_move:
        raise EditError(f"{parameter.label} can't move; it has one value for the whole clip.")
    frame = _at(clip, edit.frame)
    prop = property_of(clip, edit.step, edit.name)
    after = with_key(clip, prop, frame, seen_value(project, clip, edit.step, edit.name, frame))
    return with_clip(project, with_property(clip, edit.step, edit.name, after)), f"key of {in_text(parameter.label)}"


@rule(MoveKey)
def move_key(project: Project, edit: MoveKey) -> tuple[Project, str]:
    clip, prop, place = _moving(project, edit)
    key = prop.keys[place]
    parameter = parameter_of(clip, edit.step, edit.name)
    value = key.value if edit.value is None else edit.value
    check_value(parameter, value)
    clock, frame = clock_of(clip), _at(clip, edit.frame)
    if edit.snap:
        drawn = frame + pull(project, [clip.head + frame], {clip.id}, edit.snap, None)
        others = {round(item.frame) for item in resolve_keys(prop, clock) if item.index != place}
        frame = drawn if 0 <= drawn < clip.length and drawn not in others else frame
    for item in resolve_keys(prop, clock):
        if item.index != place and round(item.frame) == frame:
            raise EditError(f"{parameter.label} already has a key at that frame; this one stays where it was.")
    keys = list(at_frames(clip, prop, {place: frame}).keys)
    keys[place] = keys[place].model_copy(update={"value": value})
    return _with_keys(project, clip, edit, keys), f"move key of {in_text(parameter.label)}"


@rule(KeyPlacement)
def key_placement(project: Project, edit: KeyPlacement) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    step = step_of(clip, edit.step)
    if step.kind != BY_HAND.kind:
        raise EditError("Only a placement can be keyed as a whole; nothing was changed.")
    frame = _at(clip, edit.frame)
    for parameter in BY_HAND.parameters:
        if parameter.sort == "number" and not parameter.name.startswith("pivot"):
            prop = property_of(clip, step.id, parameter.name)
            value = seen_value(project, clip, step.id, parameter.name, frame)
            clip = with_property(clip, step.id, parameter.name, with_key(clip, prop, frame, value))
    return with_clip(project, clip), "key the placement"
