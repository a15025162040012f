"""Setting numbers: fixed, or with a key at the playhead when they move."""

from __future__ import annotations

from typing import Literal

from ...motion import Fixed, Key, Moving, Property, resolve_keys
from ...motion.property import Number
from ...steps import CONTENT_PARAMETERS, KINDS, MIX, Parameter
from ..model import Clip, Frames, Frozen, Id, Project
from .base import EditError, clip_of, clock_of, step_of, with_clip, with_step


class SetProperty(Frozen):
    """A whole property: its fixed value or all of its keys. `step` is a step's id or "content"."""

    kind: Literal["set_property"] = "set_property"
    clip: Id
    step: Id
    name: str
    property: Property


class SetValue(Frozen):
    """A value at a frame of the clip: fixed properties change as a whole, moving ones get a key there."""

    kind: Literal["set_value"] = "set_value"
    clip: Id
    step: Id
    name: str
    value: Number
    frame: Frames = 0


def parameter_of(clip: Clip, step_id: str, name: str) -> Parameter:
    """The declaration of a property of a clip's content or of one of its steps."""
    if step_id == "content":
        known, owner = CONTENT_PARAMETERS.get(clip.content.kind, ()), clip.content.kind
    else:
        step = step_of(clip, step_id)
        if name == "mix":
            return MIX
        kind = KINDS.get(step.kind)
        known, owner = (kind.parameters, kind.label) if kind else ((), step.kind)
    for parameter in known:
        if parameter.name == name:
            return parameter
    raise EditError(f"{owner} has no value “{name}”; nothing was changed.")


def property_of(clip: Clip, step_id: str, name: str) -> Property:
    """The property as it stands; one never set has its default."""
    parameter = parameter_of(clip, step_id, name)
    if step_id == "content":
        return getattr(clip.content, name)
    step = step_of(clip, step_id)
    if name == "mix":
        return step.mix
    return step.values.get(name) or Fixed(value=parameter.default)


def with_property(clip: Clip, step_id: str, name: str, prop: Property) -> Clip:
    if step_id == "content":
        return clip.model_copy(update={"content": clip.content.model_copy(update={name: prop})})
    step = step_of(clip, step_id)
    if name == "mix":
        return with_step(clip, step.model_copy(update={"mix": prop}))
    return with_step(clip, step.model_copy(update={"values": {**step.values, name: prop}}))


def check_value(parameter: Parameter, value: float) -> None:
    if not parameter.least <= value <= parameter.most:
        times = parameter.shown_times
        raise EditError(
            f"{parameter.label} goes from {parameter.least * times:g} to {parameter.most * times:g} {parameter.unit}; "
            f"{value * times:g} was not taken and the value is as it was.")


def set_property(project: Project, edit: SetProperty) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    parameter = parameter_of(clip, edit.step, edit.name)
    prop = edit.property
    if prop.state == "moving":
        if not parameter.may_move:
            raise EditError(f"{parameter.label} can't move; it has one value for the whole clip.")
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
    else:
        check_value(parameter, prop.value)
    return with_clip(project, with_property(clip, edit.step, edit.name, prop)), f"{parameter.label.lower()} keys"


def _end_for(clip: Clip, prop: Property, frame: float) -> str:
    """What a new key counts from: the end whose span it lies in, in the stay the nearer end."""
    clock, last = clock_of(clip), clip.length - 1
    if prop.state == "moving" and all(key.counts_from == "proportion" for key in prop.keys):
        return "proportion"
    if frame <= clock.spans.arrival or (frame <= last / 2 and frame < last - clock.spans.departure):
        return "head"
    return "tail"


def _key_for(clip: Clip, prop: Property, frame: int, value: float) -> Key:
    """A new key at a frame, with the ease of the segment it falls into."""
    end = _end_for(clip, prop, frame)
    ease = {}
    if prop.state == "moving":
        before = [item.key for item in resolve_keys(prop, clock_of(clip)) if item.frame < frame]
        ease = {"ease": before[-1].ease} if before else {}
    return Key(counts_from=end, at=clock_of(clip).counted(end, frame), value=value, **ease)


def with_key(clip: Clip, prop: Property, frame: int, value: float) -> Moving:
    """The property with this value at a frame: a key there changes, or a new one stands."""
    if prop.state == "fixed":
        return Moving(keys=(_key_for(clip, prop, frame, value),))
    timed = resolve_keys(prop, clock_of(clip))
    here = next((item for item in timed if round(item.frame) == frame), None)
    keys = list(prop.keys)
    if here:
        keys[here.index] = here.key.model_copy(update={"value": value})
    else:
        after = sum(item.frame < frame for item in timed)
        order = [item.key for item in timed]
        keys = order[:after] + [_key_for(clip, prop, frame, value)] + order[after:]
    return prop.model_copy(update={"keys": tuple(keys)})


def set_value(project: Project, edit: SetValue) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    parameter = parameter_of(clip, edit.step, edit.name)
    check_value(parameter, edit.value)
    prop = property_of(clip, edit.step, edit.name)
    times = parameter.shown_times
    label = f"{parameter.label.lower()} {round(edit.value * times, parameter.digits):g} {parameter.unit}".strip()
    if prop.state == "fixed":
        return with_clip(project, with_property(clip, edit.step, edit.name, Fixed(value=edit.value))), label
    moving = with_key(clip, prop, min(edit.frame, clip.length - 1), edit.value)
    return with_clip(project, with_property(clip, edit.step, edit.name, moving)), label
