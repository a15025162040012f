"""Colour: how bright, how contrasted, how warm and how colourful a picture is."""

from __future__ import annotations

import numpy as np

from ..picture import GAMMA, LUMA, Grading, line, parse_colour, saturating
from ..remember import kept
from .grades import Grades
from .kind import Values
from .parameter import Parameter, colour, share


class ColourGrade(Grades):
    """In this order: exposure (in light, stops), brightness and contrast about the middle, gamma (all encoded),
    temperature, saturation, tint.

    A temperature of 100 % makes red one and a half times as strong beside blue, at the same luminance. A tint keeps the
    luminance of what it tints.
    """

    kind = "colour_grade"
    label = "Colour"
    synonyms = ("exposure", "brightness", "contrast", "gamma", "saturation", "temperature", "tint", "black and white")
    says = "{exposure} stops, {saturation} %"
    parameters = (
        Parameter("exposure", "Exposure", "st", 0, -3, 3, -10, 10, digits=2, gentle=0.1),
        Parameter("brightness", "Brightness", "%", 0, -0.5, 0.5, -1, 1, shown_times=100),
        Parameter("contrast", "Contrast", "%", 0, -1, 1, -1, 4, shown_times=100),
        Parameter("gamma", "Gamma", "", 1, 0.3, 3, 0.1, 10, neutral=1, digits=2, gentle=0.03),
        Parameter("temperature", "Temperature", "%", 0, -1, 1, -2, 2, shown_times=100),
        Parameter("saturation", "Saturation", "%", 1, 0, 2, 0, 5, neutral=1, shown_times=100),
        colour("tone", "Tint colour", "#c98a4b"),
        share("tint", "Tint amount", 0.0, 0.0),
    )

    def changes_pixels(self, values: Values) -> bool:
        return any(values[each.name] != each.neutral for each in self.parameters if each.sort == "number")

    def grading(self, values: Values) -> Grading:
        return _grading(*(values[each.name] for each in self.parameters))


@kept
def _grading(
    exposure: float,
    brightness: float,
    contrast: float,
    gamma: float,
    temperature: float,
    saturation: float,
    tone: str,
    tint: float,
) -> Grading:
    # So many times the light are these times the encoded value.
    lighter, steeper = 2 ** (exposure / GAMMA), 1 + contrast
    curve = line(lighter * steeper, (brightness - 0.5) * steeper + 0.5, 1 / gamma, end=1 / lighter)
    curves = (curve, curve, curve)
    if temperature == 0 and saturation == 1 and tint == 0:
        return Grading(curves)
    warm = np.sqrt(np.array([1.5, 1.0, 1 / 1.5])) ** temperature
    warm /= float(np.dot(warm, LUMA))
    whole = saturating(saturation) @ np.diag(warm)
    if tint > 0:
        colour = np.array(parse_colour(tone)) / 255
        tinted = np.outer(colour / max(1e-3, float(np.dot(colour, LUMA))), LUMA)
        whole = (1 - tint) * whole + tint * tinted @ whole
    return Grading(curves, np.hstack([whole, np.zeros((3, 1))]))
