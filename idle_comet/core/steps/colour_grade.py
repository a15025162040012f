"""Colour: how bright, how contrasted, how warm and how colourful a picture is."""

from __future__ import annotations

import numpy as np

from ..picture import GAMMA, LUMA, Grading, parse_colour, saturating, steps_of_tone
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
        colour("tone", "Tint", "#c98a4b"),
        share("tint", "Tinted", 0.0, 0.0),
    )

    def changes_pixels(self, values: Values) -> bool:
        return any(values[each.name] != each.neutral for each in self.parameters if each.sort == "number")

    def grading(self, values: Values) -> Grading:
        tone = np.minimum(1.0, (steps_of_tone() ** GAMMA * 2 ** values["exposure"])) ** (1 / GAMMA)
        tone = (tone + values["brightness"] - 0.5) * (1 + values["contrast"]) + 0.5
        tone = np.clip(tone, 0, 1) ** (1 / values["gamma"])
        return Grading(np.tile(tone, (3, 1)), self._matrix(values))

    def _matrix(self, values: Values) -> np.ndarray | None:
        if values["temperature"] == 0 and values["saturation"] == 1 and values["tint"] == 0:
            return None
        warm = np.sqrt(np.array([1.5, 1.0, 1 / 1.5])) ** values["temperature"]
        warm /= float(np.dot(warm, LUMA))
        whole = saturating(values["saturation"]) @ np.diag(warm)
        if values["tint"] > 0:
            tone = np.array(parse_colour(values["tone"])) / 255
            tinted = np.outer(tone / max(1e-3, float(np.dot(tone, LUMA))), LUMA)
            whole = (1 - values["tint"]) * whole + values["tint"] * tinted @ whole
        return np.hstack([whole, np.zeros((3, 1))])
