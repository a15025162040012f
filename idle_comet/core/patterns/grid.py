"""Grid: lines across and down, every few of them stronger."""

from __future__ import annotations

import math

import numpy as np

from ..steps import Choice, Parameter, colour, share, whole
from .kind import LOOP, Ground, Pattern, Values, turns
from .tints import inked


class Grid(Pattern):
    """Every line covers a px as far as it lies in it, so that thin ones fade and do not flicker when they move."""

    kind = "grid"
    label = "Grid"
    synonyms = ("lines", "squares", "graph paper", "blueprint", "dots")
    restless = True
    parameters = (
        Parameter("across", "Apart, across", "px", 64, 4, 400, 1, 8000, neutral=64, digits=1),
        Parameter("down", "Apart, down", "px", 64, 4, 400, 1, 8000, neutral=64, digits=1),
        Parameter("width", "Width", "px", 1.2, 0.2, 20, 0, 2000, neutral=1.2, digits=1),
        whole("strong", "Strong, every", 5, 1, 20),
        Parameter("angle", "Angle", "°", 0, -90, 90, -36000, 36000, gentle=2),
        Parameter("drift", "Drift, across", "px/s", 0, -200, 200, -8000, 8000),
        Parameter("fall", "Drift, down", "px/s", 0, -200, 200, -8000, 8000),
        share("opacity", "Opacity", 0.35, 0.0),
        colour("colour", "Colour", "#e9e2d2"),
        LOOP,
    )
    choices = (Choice("form", "Form", ("lines", "dots")),)

    def paint(self, values: Values, ground: Ground) -> np.ndarray:
        across, down = ground.places
        x, y = across - np.float32(ground.wide / 2), down - np.float32(ground.high / 2)
        turn = math.radians(values["angle"])
        cos, sin = np.float32(math.cos(turn)), np.float32(math.sin(turn))
        px = 1 / max(1e-6, ground.scale)
        strong = int(values["strong"])
        far = []
        for place, apart, speed in (
            (x * cos + y * sin, values["across"], values["drift"]),
            (y * cos - x * sin, values["down"], values["fall"]),
        ):
            period = apart * strong
            gone = turns(speed / period, values, ground.seconds) * period
            number = (place - np.float32(gone % period)) / np.float32(apart)
            nearest = np.rint(number)
            wide = np.where(np.mod(nearest, strong) < 0.5, 2.0, 1.0) if strong > 1 else np.ones_like(number)
            far.append(((number - nearest) * np.float32(apart), wide * values["width"]))
        if values["form"] == "dots":
            (dx, wide), (dy, high) = far
            radius = np.minimum(wide, high) * 1.6
            small = np.minimum(1, radius / (0.75 * px)) ** 2
            cover = np.clip(0.5 + (np.maximum(radius, 0.75 * px) - np.hypot(dx, dy)) / px, 0, 1) * small
        else:
            lines = [
                np.clip(np.minimum(d + px / 2, wide / 2) - np.maximum(d - px / 2, -wide / 2), 0, px) / px
                for d, wide in far
            ]
            cover = 1 - (1 - lines[0]) * (1 - lines[1])
        return inked((cover * values["opacity"]).astype(np.float32), values["colour"])
