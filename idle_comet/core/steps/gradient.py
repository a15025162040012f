"""Gradient: the ink takes its colour from a gradient across the words."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from ..picture import Patch, Rect, deepened, field, parse_colour, ramp
from .axis import Axis, axis_across
from .kind import Rest, StepContext, StepKind, Values
from .parameter import Choice, Parameter, colour, share


class Gradient(StepKind):
    """Colours are mixed on their encoded values. `middle` is where both are there in equal parts."""

    kind = "gradient"
    label = "Gradient"
    of_ink = True
    synonyms = ("gradient fill", "ramp", "two colours", "metal", "sunset")
    says = "{first} to {second}"
    keeps_means = True
    dresses = True
    parameters = (
        colour("first", "From", "#ffe9b8"),
        colour("second", "To", "#d98e32"),
        Parameter("angle", "Angle", "°", 90, -180, 180, -36000, 36000, neutral=0, gentle=4).only("form", "straight"),
        share("middle", "Midpoint", 0.5, 0.5),
        share("strength", "Opacity", 1, 0),
    )
    choices = (Choice("form", "Form", ("straight", "round")), Choice("over", "Over", ("the block", "each line")))

    def changes_pixels(self, values: Values) -> bool:
        return values["strength"] > 0

    def axis(self, values: Values, rest: Rest) -> Axis:
        box = rest.box
        if values["over"] == "each line" and rest.layout is not None and rest.layout.units["line"]:
            line = rest.layout.units["line"][0].box.through(rest.to_frame)
            box = Rect(box.x0, line.y0, box.x1, line.y1)
        if values["form"] == "round":
            middle = ((box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2)
            return Axis(middle, (box.x1, middle[1]), places=("middle",))
        return Axis(*axis_across(box, values["angle"]), turn="angle", places=("middle",))

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        across, down = field(patch, context.matrix)
        box, rest = context.rest.box, context.rest
        if values["over"] == "each line" and rest.layout is not None:
            rows = [one.box.through(rest.to_frame) for one in rest.layout.units["line"]]
            number = np.clip(
                np.searchsorted([(a.y1 + b.y0) / 2 for a, b in zip(rows, rows[1:])], down), 0, len(rows) - 1
            )
            top, foot = np.array([row.y0 for row in rows])[number], np.array([row.y1 for row in rows])[number]
        else:
            top, foot = np.asarray(box.y0), np.asarray(box.y1)
        x, y = (across - (box.x0 + box.x1) / 2), (down - (top + foot) / 2)
        wide, high = (box.x1 - box.x0) / 2, (foot - top) / 2
        if values["form"] == "round":
            place = np.sqrt((x / max(wide, 1e-6)) ** 2 + (y / np.maximum(high, 1e-6)) ** 2)
        else:
            cos, sin = math.cos(math.radians(values["angle"])), math.sin(math.radians(values["angle"]))
            place = (x * cos + y * sin) / np.maximum(abs(wide * cos) + abs(high * sin), 1e-6) / 2 + 0.5
        place = np.clip(place, 0, 1)
        middle = min(0.999, max(0.001, values["middle"]))
        share = np.where(place < middle, place / middle * 0.5, 0.5 + (place - middle) / (1 - middle) * 0.5)
        pixels = deepened(patch)
        ramp(pixels, share, parse_colour(values["first"]), parse_colour(values["second"]), values["strength"])
        return replace(patch, pixels=pixels, colour=None)
