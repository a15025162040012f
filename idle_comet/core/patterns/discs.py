"""Soft discs: lights far out of focus."""

from __future__ import annotations

import math

import numpy as np

from ..picture import lay_spots, parse_colour
from ..steps import Parameter, colour, share, whole
from .kind import LOOP, Ground, Pattern, Values
from .lives import chance, lives, onto


class Discs(Pattern):
    """Each light is a disc as an open lens draws it, a little brighter at its rim; it swells up, drifts and goes."""

    kind = "discs"
    label = "Soft discs of light"
    synonyms = ("bokeh", "lights", "out of focus", "circles of confusion", "night lights")
    restless = True
    blend = "screen"
    parameters = (
        whole("count", "Count", 26, 1, 300),
        Parameter("size", "Size", "px", 62, 4, 300, 1, 4000, neutral=62),
        share("spread", "Sizes apart", 0.6, 0.0),
        share("softness", "Soft edge", 0.18, 0.18),
        share("rim", "Bright rim", 0.35, 0.0),
        Parameter("speed", "Drift", "px/s", 10, 0, 120, 0, 4000),
        Parameter("lasts", "Lasts", "s", 7, 1, 30, 0.1, 600, neutral=7, digits=1, may_move=False),
        share("opacity", "Opacity", 0.5, 0.0),
        colour("first", "Colour, one", "#ffca7a"),
        colour("second", "Colour, other", "#f08a4b"),
        whole("seed", "Seed", 1, 1, 999),
        LOOP,
    )

    def paint(self, values: Values, ground: Ground) -> np.ndarray:
        pixels = np.zeros((*ground.shape, 4), np.float32)
        seed, count = int(values["seed"]), int(values["count"])
        n = np.arange(count)
        age, lap = lives(
            count, values["lasts"] * (0.6 + 0.8 * chance(seed, 9, n)), ground.seconds, values["loop"], seed
        )
        way = 2 * math.pi * chance(seed, 1, n, lap)
        gone = values["speed"] * values["lasts"] * (age - 0.5)
        spots = np.zeros((count, 9))
        spots[:, 0] = (1.1 * chance(seed, 2, n, lap) - 0.05) * ground.wide + np.cos(way) * gone
        spots[:, 1] = (1.1 * chance(seed, 3, n, lap) - 0.05) * ground.high + np.sin(way) * gone * 0.5
        spots[:, 2] = values["size"] * (1 + values["spread"] * (1.6 * chance(seed, 4, n, lap) - 0.9))
        spots[:, 3] = values["softness"]
        spots[:, 4] = values["rim"]
        part = chance(seed, 5, n, lap)[:, None]
        first, second = (np.asarray(parse_colour(values[name]), float) for name in ("first", "second"))
        spots[:, 5:8] = first + (second - first) * part
        spots[:, 8] = values["opacity"] * np.sin(math.pi * age) ** 2 * (0.35 + 0.65 * chance(seed, 6, n, lap))
        lay_spots(pixels, onto(spots, ground))
        return pixels
