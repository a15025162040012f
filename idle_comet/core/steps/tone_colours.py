"""Tone colours: every tone of a picture takes its colour from a run of two to five."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from ..picture import LUMA, Patch, deepened, field, parse_colour, steps_of_tone, tone
from .axis import Axis, axis_across
from .kind import Rest, StepContext, StepKind, Values
from .parameter import Choice, Parameter, colour, share

_NUMBERS = ("two", "three", "four", "five")


class ToneColours(StepKind):
    """By lightness the darkest tone has the first colour and the brightest the last; across the picture the run lies
    along an angle over its box, and what is dark stays dark. Colours are mixed on encoded values."""

    kind = "tone_colours"
    label = "Tone colours"
    group = "colour"
    synonyms = ("gradient map", "duotone", "tritone", "map tones", "split tone")
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

    def keeps_cover(self, values: Values) -> bool:
        return True

    def changes_pixels(self, values: Values) -> bool:
        return values["strength"] > 0

    def axis(self, values: Values, rest: Rest) -> Axis | None:
        if values["along"] == "lightness":
            return None
        return Axis(*axis_across(rest.box, values["angle"]), turn="angle")

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        count = _NUMBERS.index(values["number"]) + 2
        names = ("first", "second", "third", "fourth", "fifth")[:count]
        run = np.array([parse_colour(values[name]) for name in names], np.float32) / 255
        pixels = deepened(patch)
        stops = np.linspace(0, 1, count)
        if values["along"] == "lightness":
            steps = steps_of_tone()
            table = np.stack([np.interp(steps, stops, run[:, c]) for c in range(3)], axis=-1)
            tone(pixels, table, values["strength"])
            return replace(patch, pixels=pixels, colour=None)
        cover = pixels[..., 3]
        light = np.clip(pixels[..., :3] @ np.asarray(LUMA, np.float32) / np.maximum(cover, 1e-3), 0, 1)
        across, down = field(patch, context.matrix)
        box = context.rest.box
        cos, sin = math.cos(math.radians(values["angle"])), math.sin(math.radians(values["angle"]))
        wide, high = (box.x1 - box.x0) / 2, (box.y1 - box.y0) / 2
        along = (across - (box.x0 + box.x1) / 2) * cos + (down - (box.y0 + box.y1) / 2) * sin
        place = np.clip(along / max(1e-6, abs(wide * cos) + abs(high * sin)) / 2 + 0.5, 0, 1)
        toned = np.stack([np.interp(place, stops, run[:, c]) for c in range(3)], axis=-1).astype(np.float32)
        toned *= light[..., None]
        pixels[..., :3] += (toned * cover[..., None] - pixels[..., :3]) * np.float32(values["strength"])
        return replace(patch, pixels=pixels, colour=None)
