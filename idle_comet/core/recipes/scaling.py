"""A recipe's lengths and times in another film's frame and rate."""

from __future__ import annotations

from typing import Any, Mapping, Sequence

from ..contents import CONTENT_PARAMETERS
from ..motion import Cascade, Fixed, Framing, Outline, Property, Value
from ..project.mask import MASK_PARAMETERS, Mask
from ..project.model import Step, Text, Units
from ..steps import KINDS, Parameter


def scaled(prop: Property, length: float, time: float) -> Property:
    """A property with its values × `length` and its keys' times × `time`, to whole frames."""

    def larger(value: Value) -> Value:
        if isinstance(value, tuple):
            return value[0] * length, value[1] * length
        if isinstance(value, (Outline, Framing)):
            return value.scaled(length)
        return value * length if isinstance(value, (int, float)) and length != 1 else value

    if prop.state == "fixed":
        return prop.model_copy(update={"value": larger(prop.value)})
    if prop.state == "moving":
        return prop.model_copy(
            update={
                "keys": tuple(
                    key.model_copy(
                        update={
                            "value": larger(key.value),
                            "at": key.at if key.counts_from == "proportion" else float(round(key.at * time)),
                        }
                    )
                    for key in prop.keys
                )
            }
        )
    motor = prop.motor
    changes: dict[str, Any] = {
        name: getattr(motor, name) * length
        for name in ("offset", "centre", "amplitude", "start")
        if hasattr(motor, name)
    }
    if motor.kind == "follow":
        # What it follows is scaled where that is.
        changes = {}
    if motor.kind == "on_point" and motor.second is None:
        changes["aside"] = (motor.aside[0] * length, motor.aside[1] * length)
    if motor.kind == "sound_level":
        changes["gain"] = motor.gain * length
    if motor.kind == "steady":
        changes["rate"] = motor.rate * length
    return prop.model_copy(update={"motor": motor.model_copy(update=changes), "rest": larger(prop.rest)})


def scaled_values(
    values: Mapping[str, Property], parameters: Sequence[Parameter], length: float, time: float
) -> dict[str, Property]:
    """Values × `length` where they are lengths; one that was never set, and is as long as ever, is set then."""
    px = {each.name for each in parameters if each.unit in ("px", "px/s")}
    made = {name: scaled(prop, length if name in px else 1.0, time) for name, prop in values.items()}
    if length != 1:
        for each in parameters:
            if each.name in px and each.name not in made and each.sort in ("number", "outline") and each.default != 0:
                made[each.name] = scaled(Fixed(value=each.default), length, time)
    return made


def scaled_step(step: Step, length: float, time: float) -> Step:
    kind = KINDS.get(step.kind)
    values = scaled_values(step.values, kind.parameters if kind else (), length, time)
    masks = tuple(_scaled_mask(mask, length, time) for mask in step.masks)
    return step.model_copy(
        update={
            "values": values,
            "masks": masks,
            "mix": scaled(step.mix, 1.0, time),
            "since": round(step.since * time),
            "until": round(step.until * time),
            "units": step.units and _scaled_units(step.units, time),
        }
    )


def _scaled_mask(mask: Mask, length: float, time: float) -> Mask:
    return mask.model_copy(update={"values": scaled_values(mask.values, MASK_PARAMETERS[mask.form], length, time)})


def _scaled_units(units: Units, time: float) -> Units:
    def slower(cascade: Cascade | None) -> Cascade | None:
        return cascade and cascade.model_copy(
            update={"delay": cascade.delay * time, "times": tuple(each * time for each in cascade.times)}
        )

    return units.model_copy(update={"arrival": slower(units.arrival), "departure": slower(units.departure)})


def scaled_text(content: Text, length: float, time: float) -> Text:
    names = {each.name: each.unit == "px" for each in CONTENT_PARAMETERS["text"]}
    return content.model_copy(
        update={name: scaled(getattr(content, name), length if px else 1.0, time) for name, px in names.items()}
    )
