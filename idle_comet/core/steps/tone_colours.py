"""Gradient map: every tone of a picture takes its colour from a run of two to five."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..picture import LUMA, Curve, Grading, Patch, deepened, field, parse_colour
from .axis import Axis, axis_across
from .grades import Grades
from .kind import Rest, StepContext, Values
from .parameter import Choice, Parameter, colour, share

_NUMBERS = ("two", "three", "four", "five")


class ToneColours(Grades):
    """By lightness the darkest tone has the first colour and the brightest the last; across the picture the run lies
    along an angle over its box, and what is dark stays dark. Colours are mixed on encoded values."""

    kind = "tone_colours"
    label = "Gradient map"
    synonyms = ("tone colours", "gradient map", "duotone", "tritone", "map tones", "split tone")
    says = "{strength} %"
    parameters = (
        colour("first", "First", "#1c1430"),
        colour("second", "Second", "#b5532e"),
        colour("third", "Third", "#ffe2a8").only("number", "three", "four", "five"),
        colour("fourth", "Fourth", "#ffffff").only("number", "four", "five"),
        colour("fifth", "Fifth", "#ffffff").only("number", "five"),
        share("strength", "Strength", 1.0, 0.0),
        Parameter("angle", "Angle", "°", 90, -180, 180, -36000, 36000, neutral=90, gentle=4).only(
            "along", "the picture"
        ),
    )
    choices = (
        Choice("number", "Colours", ("three", "two", "four", "five")),
        Choice("along", "Along", ("lightness", "the picture")),
    )

    def changes_pixels(self, values: Values) -> bool:
        return values["strength"] > 0

    def axis(self, values: Values, rest: Rest) -> Axis | None:
        if values["along"] == "lightness":
            return None
        return Axis(*axis_across(rest.box, values["angle"]), turn="angle")

    def grading(self, values: Values) -> Grading | None:
        if values["along"] != "lightness":
            return None
        run, stops = _run(values)
        red, green, blue = (Curve(tuple(zip(stops.tolist(), values))) for values in run.T.tolist())
        # All three channels are as bright as the picture is, then each has the colour of that tone.
        grey = np.hstack([np.tile(LUMA, (3, 1)), np.zeros((3, 1))])
        return Grading((red, green, blue), before=grey, share=values["strength"])

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty or values["along"] == "lightness":
            return super().render(patch, values, context)
        run, stops = _run(values)
        pixels = deepened(patch)
        cover = pixels[..., 3]
        light = np.clip(pixels[..., :3] @ np.asarray(LUMA, np.float32) / np.maximum(cover, 1e-3), 0, 1)
        across, down = field(patch, context.matrix)
        (x0, y0), (x1, y1) = axis_across(context.rest.box, values["angle"])
        far = max(1e-12, (x1 - x0) ** 2 + (y1 - y0) ** 2)
        place = np.clip(((across - x0) * (x1 - x0) + (down - y0) * (y1 - y0)) / far, 0, 1)
        toned = np.stack([np.interp(place, stops, run[:, c]) for c in range(3)], axis=-1).astype(np.float32)
        toned *= light[..., None]
        pixels[..., :3] += (toned * cover[..., None] - pixels[..., :3]) * np.float32(values["strength"])
        return replace(patch, pixels=pixels, colour=None)


def _run(values: Values) -> tuple[np.ndarray, np.ndarray]:
    """The colours of the run, (n, 3) 0..1, and where each stands."""
    count = _NUMBERS.index(values["number"]) + 2
    names = ("first", "second", "third", "fourth", "fifth")[:count]
    return np.array([parse_colour(values[name]) for name in names], np.float64) / 255, np.linspace(0, 1, count)
