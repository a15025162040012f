"""Rays: light that fans out from a point."""

from __future__ import annotations

import math

import cv2
import numpy as np

from ..picture import as_light, noise, parse_colour
from ..steps import Parameter, colour, share, whole
from .kind import LOOP, Ground, Pattern, Values, looped
from .tints import shone_over_nothing

_PARTS = 8192
"""Angles of the full turn at which the rays are reckoned; between them lies a straight line."""


class Rays(Pattern):
    """Noise around the point, the same all along each ray; it is told on a circle, so that it has no seam."""

    kind = "rays"
    label = "Rays"
    synonyms = ("sunbeams", "god rays", "light shafts", "burst", "spotlight")
    restless = True
    blend = "screen"
    parameters = (
        Parameter("origin", "From", "px", (-260.0, -420.0), -1280, 1280, -20000, 20000, digits=1, sort="point"),
        share("strength", "Strength", 0.5, 0.0),
        Parameter("fineness", "Fineness", "", 9, 1, 40, 0.2, 400, neutral=9, digits=1),
        Parameter("length", "Length", "%", 0.9, 0.1, 3, 0.01, 20, neutral=0.9, shown_times=100),
        share("contrast", "Contrast", 0.35, 0.35),
        Parameter("speed", "Change", "/s", 0.25, 0, 2, 0, 20, digits=2),
        Parameter("turning", "Turns", "°/s", 1.5, -30, 30, -720, 720, digits=1),
        colour("near", "Colour, near", "#fff0cc"),
        colour("far", "Colour, far", "#e39a45"),
        whole("seed", "Seed", 1, 1, 999),
        LOOP,
    )

    def paint(self, values: Values, ground: Ground) -> np.ndarray:
        across, down = ground.places
        x = across - np.float32(ground.wide / 2 + values["origin"][0])
        y = down - np.float32(ground.high / 2 + values["origin"][1])
        far = np.hypot(x, y)
        angle = np.arctan2(y, x)
        fine, seed = values["fineness"], int(values["seed"])
        round_ = np.linspace(0, 2 * math.pi, _PARTS, endpoint=False, dtype=np.float32)[None, :]

        def beams(seconds: float) -> np.ndarray:
            turned = round_ + np.float32(math.radians(values["turning"]) * seconds)
            circle = np.cos(turned) * np.float32(fine / 2), np.sin(turned) * np.float32(fine / 2)
            return noise(*circle, seconds * values["speed"], 3, seed)

        table = looped(values, ground.seconds, beams)
        place = np.mod(angle / np.float32(2 * math.pi), 1) * np.float32(_PARTS)
        found = cv2.remap(table, place, np.zeros_like(place), cv2.INTER_LINEAR, borderMode=cv2.BORDER_WRAP)
        keen = np.float32(1 / max(0.04, 1.2 * (1 - values["contrast"])))
        bright = np.clip(0.5 + found * keen, 0, 1)
        share_ = far / np.float32(math.hypot(ground.wide, ground.high) * values["length"])
        fall = np.clip(1 - share_, 0, 1) ** 2
        # Close to the point all rays are one light.
        core = np.exp(-((far / np.float32(0.05 * ground.wide)) ** 2))
        light = np.maximum(bright * fall, core * np.float32(0.9)) * np.float32(values["strength"])
        near, away = (as_light(parse_colour(values[name])) for name in ("near", "far"))
        tone = near + (away - near) * np.clip(share_, 0, 1)[..., None]
        return shone_over_nothing(light[..., None] ** np.float32(1.6) * tone)
