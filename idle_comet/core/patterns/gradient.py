"""Gradient: two to five colours along a line, outwards, or around a point."""

from __future__ import annotations

import math

import numpy as np

from ..picture import Rect
from ..steps import Axis, Choice, Parameter, axis_across, colour, point, share
from .kind import LOOP, Ground, Pattern, Values, turns
from .tints import run

_COUNT = {"two": 2, "three": 3, "four": 4, "five": 5}
_NAMES = ("first", "second", "third", "fourth", "fifth")


class Gradient(Pattern):
    """The run of colours is as long as the frame in its direction (outwards: as half its diagonal) times `length`. One
    that is shown once swings by a quarter of itself; one that repeats travels."""

    kind = "gradient"
    label = "Gradient"
    synonyms = ("ramp", "backdrop", "sky", "radial", "conic", "linear")
    covers = True
    restless = True
    parameters = (
        colour("first", "First", "#1d2733"),
        colour("second", "Second", "#7a5a3c"),
        colour("third", "Third", "#e8c07a").only("colours", "three", "four", "five"),
        colour("fourth", "Fourth", "#f6e7c4").only("colours", "four", "five"),
        colour("fifth", "Fifth", "#ffffff").only("colours", "five"),
        share("second_at", "Second at", 0.55, 0.5).only("colours", "three", "four", "five"),
        share("third_at", "Third at", 0.8, 0.8).only("colours", "four", "five"),
        share("fourth_at", "Fourth at", 0.9, 0.9).only("colours", "five"),
        Parameter("angle", "Angle", "°", 90, -180, 180, -36000, 36000, gentle=4).only("form", "straight", "around"),
        Parameter("length", "Length", "%", 1, 0.1, 3, 0.01, 100, neutral=1, shown_times=100),
        point("middle", "Middle", 640),
        Parameter("speed", "Speed", "/s", 0, -1, 1, -60, 60, digits=2),
        LOOP,
    )
    choices = (
        Choice("colours", "Colours", ("three", "two", "four", "five")),
        Choice("form", "Form", ("straight", "round", "around")),
        Choice("repeats", "Repeats", ("once", "again", "to and fro")),
    )

    def paint(self, values: Values, ground: Ground) -> np.ndarray:
        across, down = ground.places
        x = across - np.float32(ground.wide / 2 + values["middle"][0])
        y = down - np.float32(ground.high / 2 + values["middle"][1])
        turn = math.radians(values["angle"])
        if values["form"] == "straight":
            cos, sin = math.cos(turn), math.sin(turn)
            whole = abs(ground.wide * cos) + abs(ground.high * sin)
            place = 0.5 + (x * cos + y * sin) / np.float32(whole * values["length"])
        elif values["form"] == "round":
            place = np.hypot(x, y) / np.float32(math.hypot(ground.wide, ground.high) / 2 * values["length"])
        else:
            place = np.mod(np.arctan2(y, x) - turn, 2 * math.pi) / np.float32(2 * math.pi * values["length"])
        gone = turns(values["speed"], values, ground.seconds)
        if values["repeats"] == "once":
            place = np.clip(place + np.float32(0.25 * math.sin(2 * math.pi * gone)), 0, 1)
        else:
            place = np.mod(place - np.float32(gone % 2), 1 if values["repeats"] == "again" else 2)
            place = np.minimum(place, 2 - place)
        return run(place, _stops(values))

    def axis(self, values: Values, box: Rect) -> Axis | None:
        places = tuple(f"{name}_at" for name in _NAMES[1 : _COUNT[values["colours"]] - 1])
        x, y = (box.x0 + box.x1) / 2 + values["middle"][0], (box.y0 + box.y1) / 2 + values["middle"][1]
        if values["form"] == "around":
            return None
        if values["form"] == "round":
            far = math.hypot(box.x1 - box.x0, box.y1 - box.y0) / 2 * values["length"]
            return Axis((x, y), (x + far, y), reach="length", places=places)
        ends = axis_across(box, values["angle"], values["middle"], values["length"])
        return Axis(*ends, turn="angle", reach="length", places=places)


def _stops(values: Values) -> list[tuple[float, str]]:
    """The colours that are used and where they stand; the last is at the end."""
    names = _NAMES[: _COUNT[values["colours"]]]
    places = [0.0, *(values[f"{name}_at"] for name in names[1:-1]), 1.0]
    return list(zip(places, (values[name] for name in names)))
