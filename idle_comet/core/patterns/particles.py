"""Particles: small lights that drift through the air."""

from __future__ import annotations

import math

import numpy as np

from ..picture import lay_spots, parse_colour
from ..steps import Parameter, colour, share, whole
from .kind import LOOP, Ground, Pattern, Values
from .lives import chance, lives, onto


class Particles(Pattern):
    """Each comes, drifts its own way for about `lasts` seconds, and goes; near ones are larger, quicker and softer."""

    kind = "particles"
    label = "Drifting particles"
    synonyms = ("sparks", "motes", "fireflies", "floating", "embers")
    restless = True
    blend = "screen"
    parameters = (
        whole("count", "Count", 90, 1, 1000),
        Parameter("size", "Size", "px", 4.5, 0.5, 20, 0.1, 400, neutral=4.5, digits=1),
        share("spread", "Sizes apart", 0.7, 0.0),
        Parameter("speed", "Speed", "px/s", 28, 0, 300, 0, 8000),
        Parameter("angle", "Towards", "°", -70, -180, 180, -36000, 36000, gentle=4),
        Parameter("fan", "Fan", "°", 60, 0, 360, 0, 360),
        Parameter("lasts", "Lasts", "s", 5, 0.5, 20, 0.1, 600, neutral=5, digits=1, may_move=False),
        share("twinkle", "Twinkle", 0.4, 0.0),
        share("softness", "Softness", 0.8, 0.8),
        share("opacity", "Opacity", 0.95, 0.0),
        colour("colour", "Colour", "#ffe2a6"),
        whole("seed", "Seed", 1, 1, 999),
        LOOP,
    )

    def paint(self, values: Values, ground: Ground) -> np.ndarray:
        pixels = np.zeros((*ground.shape, 4), np.float32)
        seed, count = int(values["seed"]), int(values["count"])
        n = np.arange(count)
        age, lap = lives(count, values["lasts"], ground.seconds, values["loop"], seed)
        near = chance(seed, 1, n, lap)
        way = np.radians(values["angle"] + values["fan"] * (chance(seed, 2, n, lap) - 0.5))
        gone = values["speed"] * (0.4 + 1.2 * near) * (age - 0.5) * values["lasts"]
        spots = np.zeros((count, 9))
        spots[:, 0] = (1.2 * chance(seed, 3, n, lap) - 0.1) * ground.wide + np.cos(way) * gone
        spots[:, 1] = (1.2 * chance(seed, 4, n, lap) - 0.1) * ground.high + np.sin(way) * gone
        spots[:, 2] = values["size"] * (1 + values["spread"] * (3 * near**3 - 0.6))
        spots[:, 3] = np.clip(values["softness"] + 0.3 * (near - 0.5), 0, 1)
        spots[:, 5:8] = parse_colour(values["colour"])
        beat = 0.5 + 0.5 * np.sin(2 * math.pi * (age * (2 + np.floor(5 * chance(seed, 5, n, lap))) + near))
        fade = np.sin(math.pi * age) ** 0.8
        spots[:, 8] = values["opacity"] * fade * (1 - values["twinkle"] * beat) * (1 - 0.35 * near)
        lay_spots(pixels, onto(spots[np.argsort(near, kind="stable")], ground))
        return pixels
