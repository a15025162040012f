"""Pollen: grains that rain down softly and sway, near and far."""

from __future__ import annotations

import math

import numpy as np

from ..picture import lay_spots, parse_colour
from ..steps import Parameter, colour, share, whole
from .kind import LOOP, Ground, Pattern, Values
from .lives import chance, lives, onto


class Pollen(Pattern):
    """Far grains are small, slow and sharp; near ones large, quick and out of focus."""

    kind = "pollen"
    label = "Rain of pollen"
    synonyms = ("snow", "rain", "petals", "confetti", "falling", "ash")
    restless = True
    parameters = (
        whole("count", "Count", 160, 1, 1500),
        Parameter("size", "Size", "px", 3.4, 0.5, 24, 0.1, 400, neutral=3.4, digits=1),
        Parameter("speed", "Falls", "px/s", 90, 5, 600, 0.5, 8000),
        Parameter("wind", "Wind", "px/s", 16, -300, 300, -8000, 8000),
        Parameter("sway", "Sway", "px", 22, 0, 160, 0, 4000),
        share("depth", "Depth", 0.75, 0.0),
        share("opacity", "Opacity", 0.9, 0.0),
        colour("colour", "Colour", "#f2c84b"),
        colour("far", "Colour, far", "#a8854a"),
        whole("seed", "Seed", 1, 1, 999),
        LOOP,
    )

    def paint(self, values: Values, ground: Ground) -> np.ndarray:
        pixels = np.zeros((*ground.shape, 4), np.float32)
        seed, count = int(values["seed"]), int(values["count"])
        n = np.arange(count)
        # Many are far and few near; each stays as far as it is.
        near = chance(seed, 1, n) ** 1.8
        deep = values["depth"] * (near - 0.4)
        margin = 8 * values["size"] + 4
        way = ground.high + 2 * margin
        length = way / (values["speed"] * np.maximum(0.15, 1 + 1.1 * deep))
        age, lap = lives(count, length, ground.seconds, values["loop"], seed)
        sways = 1 + np.floor(3 * chance(seed, 2, n, lap))
        spots = np.zeros((count, 9))
        blown = values["wind"] * length * (age - 0.5)
        swung = values["sway"] * (1 + deep) * np.sin(2 * math.pi * (sways * age + chance(seed, 3, n, lap)))
        wide = ground.wide + 2 * margin + abs(values["wind"]) * 2
        spots[:, 0] = (chance(seed, 4, n, lap) - 0.5) * wide + ground.wide / 2 + blown + swung
        spots[:, 1] = way * age - margin
        spots[:, 2] = values["size"] * np.maximum(0.2, 0.7 + 2.2 * deep)
        blurred = np.clip((near - 0.62) / 0.38, 0, 1) * values["depth"]
        spots[:, 3] = 0.35 + 0.65 * blurred
        spots[:, 2] *= 1 + 1.6 * blurred
        first, second = (np.asarray(parse_colour(values[name]), float) for name in ("far", "colour"))
        spots[:, 5:8] = first + (second - first) * np.clip(near * 2.2, 0, 1)[:, None]
        spots[:, 8] = values["opacity"] * (1 - 0.6 * blurred)
        lay_spots(pixels, onto(spots[np.argsort(near, kind="stable")], ground))
        return pixels
