"""Grain: the fine unrest of film, new at every frame."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import lru_cache

import cv2
import numpy as np

from ..picture import Patch, deepened
from .kind import StepContext, StepKind, Values
from .parameter import Choice, Parameter, whole

_SIDE = 1021
"""Px of the field of noise; a prime, so that no two frames begin at the same place soon."""


@lru_cache(maxsize=4)
def _noise(seed: int) -> np.ndarray:
    """(1021, 1021, 3) float32: even white noise of mean 0 and deviation 1."""
    found = np.random.Generator(np.random.PCG64(seed)).standard_normal((_SIDE, _SIDE, 3), np.float32)
    found -= found.mean((0, 1))
    return found / found.std((0, 1))


class Grain(StepKind):
    """`strength` is the standard deviation of what is added, in code values, where the grain is at least a painted px
    large; a smaller one is averaged as a lens would. Grain lies in the picture, not on it: it moves with it."""

    kind = "grain"
    label = "Grain"
    group = "texture"
    synonyms = ("film grain", "noise", "texture", "iso")
    says = "{strength} of 255, {size} px"
    restless = True
    parameters = (
        Parameter("strength", "Strength", "", 6, 0, 40, 0, 255, neutral=0, digits=1),
        Parameter("size", "Size", "px", 1.5, 0.5, 8, 0.3, 100, neutral=1.5, digits=1),
        Parameter("holds", "Holds", "f", 1, 1, 12, 1, 1000, neutral=1, may_move=False),
        whole("seed", "Try another", 1, 1, 999),
    )
    choices = (Choice("tone", "Tone", ("one", "coloured")),)

    def keeps_cover(self, values: Values) -> bool:
        return True

    def changes_pixels(self, values: Values) -> bool:
        return values["strength"] > 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        noise = _noise(int(values["seed"]))
        if values["tone"] == "one":
            noise = np.ascontiguousarray(noise[..., 0])
        turn = int(values["frame"] // max(1.0, values["holds"]))
        # Another part of the field at every frame, turned over by chance.
        chance = np.random.Generator(np.random.PCG64([int(values["seed"]), turn & 0xFFFFFFFF])).integers(0, _SIDE, 3)
        by = max(values["size"], 1e-3)
        finer = max(1.0, 1 / (by * max(1e-6, context.scale)))
        if finer > 1:
            # What is finer than a px is averaged over it; white noise over n × n px deviates by 1/n.
            noise = cv2.blur(noise, (math.ceil(finer),) * 2, borderType=cv2.BORDER_REFLECT)
        back = context.matrix.inverse()
        x = (np.arange(patch.width, dtype=np.float64) + patch.x + 0.5)[None, :]
        y = (np.arange(patch.height, dtype=np.float64) + patch.y + 0.5)[:, None]
        across, down = back.a * x + back.c * y + back.e, back.b * x + back.d * y + back.f
        if not back.flat:
            w = back.g * x + back.h * y + back.i
            across, down = across / w, down / w
        u = np.mod(across / by + chance[0], _SIDE)
        v = np.mod(down / by + chance[1], _SIDE)
        if chance[2] % 2:
            u, v = v, u
        size = patch.height, patch.width
        added = self._sampled(noise, np.broadcast_to(u, size), np.broadcast_to(v, size))
        if added.ndim == 2:
            added = added[..., None]
        pixels = deepened(patch)
        cover = pixels[..., 3:]
        pixels[..., :3] = np.clip(pixels[..., :3] + added * (cover * np.float32(values["strength"] / 255)), 0, cover)
        return replace(patch, pixels=pixels, colour=None)

    def _sampled(self, noise: np.ndarray, u: np.ndarray, v: np.ndarray) -> np.ndarray:
        """The field between its samples, with the deviation of the samples themselves: four weighted parts of it would
        deviate less."""
        i, j = np.floor(u).astype(np.int32), np.floor(v).astype(np.int32)
        a, b = (u - i).astype(np.float32), (v - j).astype(np.float32)
        deviates = np.sqrt(((1 - a) ** 2 + a**2) * ((1 - b) ** 2 + b**2))
        at = u.astype(np.float32), v.astype(np.float32)
        found = cv2.remap(noise, *at, cv2.INTER_LINEAR, borderMode=cv2.BORDER_WRAP)
        return found / (deviates if found.ndim == 2 else deviates[..., None])
