"""Paper: a sheet with its grain, fibres and stains, to be multiplied over a picture."""

from __future__ import annotations

import math
from dataclasses import replace

import cv2
import numpy as np

from ..picture import Matrix, Rect, parse_colour, sampled_noise
from ..steps import Parameter, colour, share, whole
from .kind import Ground, Pattern, Values

_FINEST = 4
"""Times as large as asked for it is painted at most."""


class Paper(Pattern):
    """Its surface is lit from the upper left: what the light sees is the slope of its height along that way. Waves
    finer than one and a half painted px are left out."""

    kind = "paper"
    label = "Paper"
    synonyms = ("texture", "parchment", "card", "canvas", "watercolour sheet")
    covers = True
    blend = "multiply"
    over_all = True
    parameters = (
        colour("colour", "Colour", "#f1e6d0"),
        share("grain", "Grain", 0.5, 0.0),
        share("fibres", "Fibres", 0.4, 0.0),
        share("stains", "Stains", 0.4, 0.0),
        Parameter("scale", "Scale", "%", 1, 0.3, 4, 0.05, 40, neutral=1, shown_times=100),
        share("edges", "Dark edges", 0.25, 0.0),
        whole("seed", "Seed", 1, 1, 999),
    )

    def paint(self, values: Values, ground: Ground) -> np.ndarray:
        # Fibres are finer than a px of a small picture: they are painted larger and averaged, as a lens would.
        finer = min(_FINEST, math.ceil(0.99 / max(1e-3, ground.scale)))
        if finer == 1:
            return self._sheet(values, ground)
        x0, y0, x1, y1 = ground.area.whole()
        area = Rect(x0 * finer, y0 * finer, x1 * finer, y1 * finer)
        large = self._sheet(values, replace(ground, matrix=Matrix.grow(finer) @ ground.matrix, area=area))
        return cv2.resize(large, ground.shape[::-1], interpolation=cv2.INTER_AREA)

    def _sheet(self, values: Values, ground: Ground) -> np.ndarray:
        across, down = ground.places
        by, seed = values["scale"], int(values["seed"])
        shade = np.zeros(ground.shape, np.float32)
        if values["grain"] > 0:
            # Coarse to fine; each wave is seen as far as the painted px can show it.
            for size, weight in ((14.0, 0.1), (6.0, 0.2), (3.0, 0.42), (2.1, 0.4)):
                shade += _lit(across, down, size * by, seed + int(size * 10)) * np.float32(
                    weight * 0.34 * values["grain"] * _shown(size * by, ground.scale)
                )
        if values["fibres"] > 0:
            for number, (cos, sin) in enumerate(((0.94, 0.34), (0.77, -0.64), (0.26, 0.97))):
                along, aside = across * cos + down * sin, down * cos - across * sin
                bend = sampled_noise(across, down, 150 * by, 1, 0.0, seed + 71 + number) * np.float32(40 * by)
                thread = sampled_noise(along * 0.07, aside + bend, 3.6 * by, 1, 0.0, seed + 83 + number)
                shade += (np.maximum(thread - 0.3, 0) - 0.01) * np.float32(
                    0.5 * values["fibres"] * (1 if number % 2 else -1) * _shown(3.6 * by, ground.scale)
                )
        if values["stains"] > 0:
            broad = sampled_noise(across, down, 260 * by, 3, 0.0, seed + 131)
            shade += np.minimum(broad, 0.05) * np.float32(0.3 * values["stains"])
        if values["edges"] > 0:
            x, y = across / np.float32(ground.wide), down / np.float32(ground.high)
            inward = np.minimum(np.minimum(x, 1 - x), np.minimum(y, 1 - y))
            ragged = inward + sampled_noise(across, down, 110 * by, 3, 0.0, seed + 151) * np.float32(0.06)
            dark = np.clip(1 - ragged / np.float32(0.22), 0, 1)
            shade -= dark * dark * np.float32(0.42 * values["edges"])
        out = np.full((*ground.shape, 4), 255, np.float32)
        base = np.asarray(parse_colour(values["colour"]), np.float32)
        # Stains are warmer than the sheet.
        warmth = np.asarray((1.0, 1.12, 1.35), np.float32)
        out[..., :3] = np.clip(base * (1 + shade[..., None] * warmth), 0, 255)
        return out


def _lit(across: np.ndarray, down: np.ndarray, size: float, seed: int) -> np.ndarray:
    """The slope of a height of one wave length, lit from the upper left."""
    step = np.float32(size * 0.16)
    near = sampled_noise(across - step, down - step, size, 1, 0.0, seed)
    return near - sampled_noise(across + step, down + step, size, 1, 0.0, seed)


def _shown(size: float, scale: float) -> float:
    """How much of a wave of so many px of the frame is left when it is painted: all of it from three painted px on,
    none below one and a half."""
    return min(1.0, max(0.0, size * scale / 1.5 - 1))
