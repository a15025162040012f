"""Whole runs of a property: smooth through, repeated, driven by a motor, baked to keys, tangents of a path."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..motion import Driven, Fixed, Key, Linear, Moving, Property, Repeat
from ..motion.motors import Motor
from ..motion.numbered import ItemId
from ..motion.outlines import Point
from ..project.address import Owner
from ..project.model import Clip, Frozen, Id, Project
from ..wording import in_text
from .base import EditError, OfProperty, clip_of, clock_of, rule, with_clip
from .keys import seen_value
from .values import at_frames, check_driven, parameter_of, property_of, with_property


class SetThrough(Frozen):
    """Smoothly through all keys, without overshoot; or eased from key to key."""

    kind: Literal["set_through"] = "set_through"
    clip: Id
    step: Owner
    name: str
    through: bool


class SetRepeat(Frozen):
    """The run of keys again after its last, or (None) once."""

    kind: Literal["set_repeat"] = "set_repeat"
    clip: Id
    step: Owner
    name: str
    repeat: Repeat | None


class SetMotor(Frozen):
    """Driven by a motor from now on, or (None) fixed at what it was before."""

    kind: Literal["set_motor"] = "set_motor"
    clip: Id
    step: Owner
    name: str
    motor: Motor | None


class BakeMotion(Frozen):
    """A key every so many frames in place of a motor, a repeat or a smooth run; between them even speed."""

    kind: Literal["bake_motion"] = "bake_motion"
    clip: Id
    step: Owner
    name: str
    every: Annotated[int, Field(ge=1, le=1000)] = 1


class SetTangents(Frozen):
    """How a path comes into one of its points and goes out of it; None leads smoothly through by itself."""

    kind: Literal["set_tangents"] = "set_tangents"
    clip: Id
    step: Owner
    name: str
    key: ItemId
    into: Point | None = None
    out: Point | None = None


def _moving(project: Project, edit: OfProperty) -> tuple[Clip, Moving]:
    clip = clip_of(project, edit.clip)
    prop = property_of(clip, edit.step, edit.name)
    if prop.state != "moving":
        raise EditError(f"{parameter_of(clip, edit.step, edit.name).label} has no keys; set it moving first.")
    return clip, prop


def _label(clip: Clip, edit: OfProperty) -> str:
    return parameter_of(clip, edit.step, edit.name).label.lower()


@rule(SetThrough)
def set_through(project: Project, edit: SetThrough) -> tuple[Project, str]:
    clip, prop = _moving(project, edit)
    after = with_property(clip, edit.step, edit.name, prop.model_copy(update={"through": edit.through}))
    return with_clip(project, after), f"{_label(clip, edit)} {'smooth through' if edit.through else 'from key to key'}"


@rule(SetRepeat)
def set_repeat(project: Project, edit: SetRepeat) -> tuple[Project, str]:
    clip, prop = _moving(project, edit)
    parameter = parameter_of(clip, edit.step, edit.name)
    if edit.repeat and parameter.integrated:
        raise EditError(f"{parameter.label} does not repeat; it can have keys. Nothing was changed.")
    if edit.repeat and len(prop.keys) < 2:
        raise EditError(f"{parameter.label} has one key; a run to repeat has two or more.")
    after = with_property(clip, edit.step, edit.name, prop.model_copy(update={"repeat": edit.repeat}))
    return with_clip(project, after), f"{_label(clip, edit)} {'repeats' if edit.repeat else 'plays once'}"


@rule(SetMotor)
def set_motor(project: Project, edit: SetMotor) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    parameter, prop = parameter_of(clip, edit.step, edit.name), property_of(clip, edit.step, edit.name)
    if prop.state == "driven":
        rest = prop.rest
    else:
        rest = prop.value if prop.state == "fixed" else prop.keys[0].value
    if edit.motor is None:
        after: Property = Fixed(value=rest) if prop.state == "driven" else prop
    else:
        after = driven = Driven(motor=edit.motor, rest=rest)
        check_driven(project, clip, edit.step, parameter, driven)
    what = "no motor" if edit.motor is None else edit.motor.kind
    return with_clip(project, with_property(clip, edit.step, edit.name, after)), f"{in_text(parameter.label)}: {what}"


@rule(BakeMotion)
def bake_motion(project: Project, edit: BakeMotion) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    parameter, prop = parameter_of(clip, edit.step, edit.name), property_of(clip, edit.step, edit.name)
    if prop.state == "fixed":
        raise EditError(f"{parameter.label} does not move; there is nothing to bake.")
    frames = sorted({*range(0, clip.length, edit.every), clip.length - 1})
    if len(frames) > 2000:
        raise EditError(
            f"That would be {len(frames)} keys; 2,000 is the most. Take a key every {-(-clip.length // 1999)} "
            f"frames or more."
        )
    clock = clock_of(clip)
    straight = _FLAT if parameter.sort == "point" else None
    keys = tuple(
        Key(
            at=clock.counted("head", frame),
            value=seen_value(project, clip, edit.step, edit.name, frame),
            ease=Linear(),
            into=straight,
            out=straight,
        )
        for frame in frames
    )
    baked = at_frames(clip, Moving(keys=keys), dict(enumerate(frames)))
    return with_clip(project, with_property(clip, edit.step, edit.name, baked)), f"bake {in_text(parameter.label)}"


_FLAT = (0.0, 0.0)
"""A path baked frame by frame goes straight from point to point."""


@rule(SetTangents)
def set_tangents(project: Project, edit: SetTangents) -> tuple[Project, str]:
    clip, prop = _moving(project, edit)
    place = next((n for n, each in enumerate(prop.keys) if each.id == edit.key), None)
    if place is None or parameter_of(clip, edit.step, edit.name).sort != "point":
        raise EditError(f"{parameter_of(clip, edit.step, edit.name).label} has no such point; nothing was changed.")
    keys = list(prop.keys)
    keys[place] = keys[place].model_copy(update={"into": edit.into, "out": edit.out})
    return with_clip(
        project, with_property(clip, edit.step, edit.name, prop.model_copy(update={"keys": tuple(keys)}))
    ), "bend the path"
