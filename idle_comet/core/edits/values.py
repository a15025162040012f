"""Setting numbers: fixed, or with a key at the playhead when they move."""

from __future__ import annotations

from typing import Any, Iterable, Literal, Mapping

from ..moment.compiled import sample_of
from ..motion import CENTRES, Driven, Fixed, Key, Moving, Property, Strengths, number, resolve_keys
from ..motion.landing import end_for, landed
from ..motion.property import clock_for
from ..motion.values import Value
from ..project.address import NotThere, Owner, Place, place_at, put
from ..project.model import Clip, Frames, Frozen, Id, Project
from ..steps import Parameter
from ..wording import in_text
from .base import EditError, clip_of, clock_of, rule, with_clip
from .looks import check_level, check_looks, check_point


class SetProperty(Frozen):
    """A whole property: its fixed value or all of its keys. `step` is a step's id or "content"."""

    kind: Literal["set_property"] = "set_property"
    clip: Id
    step: Owner
    name: str
    property: Property


class SetValue(Frozen):
    """A value at a frame of the clip: fixed properties change as a whole, moving ones get a key there, driven ones a
    new centre."""

    kind: Literal["set_value"] = "set_value"
    clip: Id
    step: Owner
    name: str
    value: Value
    frame: Frames = 0


def parameter_of(clip: Clip, owner: str, name: str) -> Parameter:
    """The declaration of a property of a clip, by its address."""
    return _place(clip, owner, name).parameter


def property_of(clip: Clip, owner: str, name: str) -> Property:
    """The property as it stands; one never set has its default."""
    return _place(clip, owner, name).property


def _place(clip: Clip, owner: str, name: str) -> Place:
    try:
        return place_at(clip, owner, name)
    except NotThere as error:
        raise EditError(f"{error}; nothing was changed.") from None


def with_property(clip: Clip, owner: str, name: str, prop: Property) -> Clip:
    try:
        return put(clip, owner, name, prop)
    except NotThere as error:
        raise EditError(f"{error}; nothing was changed.") from None


def check_value(parameter: Parameter, value: Any) -> None:
    if not parameter.fits(value):
        raise EditError(
            f"{parameter.label} is {_called(parameter)}; {value!r} was not taken and the value is as it was."
        )
    for each in _numbers(parameter, value):
        _check_number(parameter, each)


def _called(parameter: Parameter) -> str:
    """What a parameter is, in words."""
    named = {"clear colour": "a colour with its opacity", "outline": "an outline"}
    if parameter.sort == "choice":
        return f"one of {', '.join(parameter.options)}"
    return named.get(parameter.sort, f"a {parameter.sort}")


def _numbers(parameter: Parameter, value: Any) -> Iterable[float]:
    """The numbers of a value that the parameter's ends are for."""
    if parameter.sort == "number":
        return (value,)
    if parameter.sort == "point":
        return tuple(value)
    return (each for corner in value.corners for each in corner.at) if parameter.sort == "outline" else ()


def _check_number(parameter: Parameter, value: float) -> None:
    if not parameter.least <= value <= parameter.most:
        times = parameter.shown_times
        raise EditError(
            f"{parameter.label} goes from {parameter.least * times:g} to {parameter.most * times:g} {parameter.unit}; "
            f"{value * times:g} was not taken and the value is as it was."
        )


@rule(SetProperty)
def set_property(project: Project, edit: SetProperty) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    parameter = parameter_of(clip, edit.step, edit.name)
    prop = edit.property
    if prop.state == "moving":
        if not parameter.may_move:
            raise EditError(f"{parameter.label} can't move; it has one value for the whole clip.")
        if parameter.integrated and prop.repeat is not None:
            raise EditError(f"{parameter.label} does not repeat; it can have keys. Nothing was changed.")
        for key in prop.keys:
            check_value(parameter, key.value)
            if key.counts_from == "proportion" and not 0 <= key.at <= 1:
                raise EditError(f"A key in proportion lies between 0 and 1; {key.at:g} was not taken.")
            if (key.counts_from == "head" and key.at < 0) or (key.counts_from == "tail" and key.at > 0):
                raise EditError(f"A key can't lie outside its clip ({key.at:g} frames from the {key.counts_from}).")
        clock = clock_of(clip)
        frames = [item.frame for item in resolve_keys(prop, clock)]
        if not clock.spans.shrunk and len(set(frames)) < len(frames):
            raise EditError(f"Two keys of {parameter.label} would stand at the same frame; nothing was changed.")
    elif prop.state == "driven":
        check_driven(project, clip, edit.step, parameter, prop)
    else:
        check_value(parameter, prop.value)
    what = {"moving": "keys", "driven": "motor", "fixed": "value"}[prop.state]
    return with_clip(project, with_property(clip, edit.step, edit.name, prop)), f"{in_text(parameter.label)} {what}"


def check_driven(project: Project, clip: Clip, step: str, parameter: Parameter, prop: Driven) -> None:
    """Raises EditError where a motor can't drive this property, or it would follow itself."""
    if not parameter.may_move:
        raise EditError(f"{parameter.label} can't be driven; it has one value for the whole clip.")
    if parameter.integrated:
        raise EditError(f"{parameter.label} can't be driven by a motor; it can have keys. Nothing was changed.")
    if not parameter.fits(prop.rest):
        raise EditError(f"{parameter.label} is a {parameter.sort}; its resting value is none. Nothing was changed.")
    if prop.motor.kind == "tether" and prop.motor.own is not None:
        side = "y" if prop.motor.side in ("top", "bottom", "middle-y", "anchor-y") else "x"
        if parameter.name != side:
            raise EditError(
                f"{parameter.label} can't bring an edge to the {prop.motor.side.replace('-', ', ')} of another clip; "
                f"only a place {'down' if side == 'y' else 'across'} can. Nothing was changed."
            )
    if prop.motor.kind == "tether":
        check_looks(project, clip, prop.motor.clip, f"{in_text(parameter.label)} of “{clip.name}”")
    if prop.motor.kind == "on_point":
        check_point(project, clip, prop.motor, f"{in_text(parameter.label)} of “{clip.name}”")
    if prop.motor.kind == "sound_level":
        check_level(project, clip, prop.motor, f"{in_text(parameter.label)} of “{clip.name}”")
    if prop.motor.kind != "follow":
        if parameter.sort != "number":
            raise EditError(
                f"{parameter.label} is a {parameter.sort}; only a number swings. It can follow another "
                f"{parameter.sort}."
            )
        return
    chain, here, motor = [f"{in_text(parameter.label)} of “{clip.name}”"], clip, prop.motor
    first = (clip.id, step, parameter.name)
    for _ in range(200):
        other = here if motor.clip is None else project.clips.get(motor.clip)
        if other is None:
            raise EditError(f"There is no clip “{motor.clip}” to follow; nothing was changed.")
        followed = parameter_of(other, motor.step, motor.name)
        if len(chain) == 1 and followed.sort != parameter.sort:
            raise EditError(
                f"{parameter.label} is a {parameter.sort} and can't follow {in_text(followed.label)}, "
                f"a {followed.sort}."
            )
        chain.append(f"{in_text(followed.label)} of “{other.name}”")
        if (other.id, motor.step, motor.name) == first:
            raise EditError(
                f"That would be a circle: {' follows '.join(chain)}. Nothing was changed; let one of them go its "
                f"own way."
            )
        own = property_of(other, motor.step, motor.name)
        if own.state != "driven" or own.motor.kind != "follow":
            return
        here, motor = other, own.motor
    raise EditError("This chain of values that follow each other is longer than 200; nothing was changed.")


def _key_for(clip: Clip, prop: Property, frame: int, value: Any) -> Key:
    """A new key at a frame, with the ease of the segment it falls into."""
    clock = clock_of(clip)
    if prop.state != "moving":
        end = end_for(None, clock, frame)
        return Key(counts_from=end, at=clock.counted(end, frame), value=value)
    end = end_for(prop, clock, frame)
    before = [item.key for item in resolve_keys(prop, clock) if item.frame < frame]
    return Key(
        counts_from=end,
        at=clock_for(prop.keys, clock).counted(end, frame),
        value=value,
        ease=before[-1].ease if before else Strengths(),
    )


def at_frames(
    clip: Clip, moving: Moving, frames: Mapping[int, float], stand: Mapping[int, float] | None = None
) -> Moving:
    """The property with these keys (by index) at these frames of the clip, all others where they stand; see
    `landed`."""
    found = landed(moving, clock_of(clip), frames, stand)
    if found is None:
        raise EditError(
            f"The keys of “{clip.name}” can't stand at these frames without moving others; all stay where they were."
        )
    return found


def with_key(clip: Clip, prop: Property, frame: int, value: Any) -> Moving:
    """The property with this value at a frame: a key there changes, or a new one stands."""
    if prop.state != "moving":
        return Moving(keys=(_key_for(clip, prop, frame, value),))
    clock = clock_of(clip)
    timed = resolve_keys(prop, clock)
    here = next((item for item in timed if round(item.frame) == frame), None)
    if here:
        keys = list(prop.keys)
        keys[here.index] = here.key.model_copy(update={"value": value})
        return prop.model_copy(update={"keys": tuple(keys)})
    after = sum(item.frame < frame for item in timed)
    order = [item.key for item in timed]
    frames = [item.frame for item in timed]
    made = prop.with_keys((*order[:after], _key_for(clip, prop, frame, value), *order[after:]))
    return at_frames(clip, made, {after: frame}, dict(enumerate([*frames[:after], frame, *frames[after:]])))


@rule(SetValue)
def set_value(project: Project, edit: SetValue) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    parameter = parameter_of(clip, edit.step, edit.name)
    check_value(parameter, edit.value)
    prop = property_of(clip, edit.step, edit.name)
    label = says_value(parameter, edit.value)
    if prop.state == "driven":
        centre = CENTRES.get(prop.motor.kind, "centre")
        if parameter.sort != "number":
            raise EditError(f"{parameter.label} follows another value; fix it or set it moving first.")
        given = number(edit.value)
        if prop.motor.kind == "on_point":
            # What goes with a point is shifted, so that it has this value at this frame.
            now = number(sample_of(project, clip, edit.step, edit.name)(min(edit.frame, clip.length - 1)))
            given = round(prop.motor.offset + given - now, 4)
        driven = prop.model_copy(update={"motor": prop.motor.model_copy(update={centre: given})})
        return with_clip(project, with_property(clip, edit.step, edit.name, driven)), label
    if prop.state == "fixed":
        return with_clip(project, with_property(clip, edit.step, edit.name, Fixed(value=edit.value))), label
    moving = with_key(clip, prop, min(edit.frame, clip.length - 1), edit.value)
    return with_clip(project, with_property(clip, edit.step, edit.name, moving)), label


def says_value(parameter: Parameter, value: Any) -> str:
    """A value in a few words, as undo says it."""
    if parameter.sort in ("colour", "clear colour", "choice"):
        return f"{in_text(parameter.label)} {value}"
    if parameter.sort == "outline":
        return f"{in_text(parameter.label)} of {len(value.corners)} corners"
    if parameter.sort == "framing":
        return f"{in_text(parameter.label)} at {100 * value.scale:.0f} %"
    times, digits = parameter.shown_times, parameter.digits
    if parameter.sort == "point":
        return f"{in_text(parameter.label)} {round(value[0], digits):g}, {round(value[1], digits):g}"
    return f"{in_text(parameter.label)} {round(value * times, digits):g} {parameter.unit}".strip()
