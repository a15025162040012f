"""Grain: the fine unrest of film, new at every frame."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import lru_cache

import cv2
import numpy as np

from ..picture import Patch, add_grain, deepened, field, in_strips
from .kind import StepContext, StepKind, Values
from .parameter import Choice, Parameter, whole

_SIDE = 1021
"""Px of the field of noise; a prime, so that no two frames begin at the same place soon."""


@lru_cache(maxsize=4)
def _noise(seed: int, coloured: bool) -> np.ndarray:
    """(1 or 3, 1021, 1021) float32: even white noise of mean 0 and deviation 1."""
    size = (_SIDE, _SIDE, 3 if coloured else 1)
    found = np.random.Generator(np.random.PCG64(seed)).standard_normal(size, np.float32)
    found -= found.mean((0, 1))
    return np.ascontiguousarray(np.moveaxis(found / found.std((0, 1)), 2, 0))


@lru_cache(maxsize=4)
def _averaged(seed: int, coloured: bool, over: int) -> np.ndarray:
    """The noise as a px sees it that is so many of it wide: white noise over n × n deviates by 1/n."""
    return np.stack([cv2.blur(each, (over, over), borderType=cv2.BORDER_REFLECT) for each in _noise(seed, coloured)])


def _seen(seed: int, coloured: bool, over: int) -> np.ndarray:
    """The noise as a px sees it that is so many of it wide, or narrower than one."""
    return _noise(seed, coloured) if over <= 1 else _averaged(seed, coloured, over)


@lru_cache(maxsize=4)
def _in_strips(seed: int, coloured: bool, over: int) -> np.ndarray:
    return in_strips(_seen(seed, coloured, over))


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
        Parameter("holds", "Hold frames", "f", 1, 1, 12, 1, 1000, neutral=1, may_move=False),
        whole("seed", "Seed", 1, 1, 999),
    )
    choices = (Choice("tone", "Tone", ("one", "coloured")),)

    def keeps_cover(self, values: Values) -> bool:
        return True

    def changes_pixels(self, values: Values) -> bool:
        return values["strength"] > 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        turn = int(values["frame"] // max(1.0, values["holds"]))
        # Another part of the field at every frame.
        chance = np.random.Generator(np.random.PCG64([int(values["seed"]), turn & 0xFFFFFFFF])).random(2) * _SIDE
        by = max(values["size"], 1e-3)
        finer = max(1.0, 1 / (by * max(1e-6, context.scale)))
        noise = int(values["seed"]), values["tone"] != "one", math.ceil(finer)
        back = context.matrix.inverse()
        x, y = np.arange(patch.width) + patch.x + 0.5, np.arange(patch.height) + patch.y + 0.5
        if back.flat and abs(back.b) < 1e-12 and abs(back.c) < 1e-12:
            across = np.mod((back.a * x + back.e) / by + chance[0], _SIDE)
            down = np.mod((back.d * y + back.f) / by + chance[1], _SIDE)
            pixels = np.ascontiguousarray(patch.pixels) if patch.colour is None else deepened(patch)
            pixels = add_grain(pixels, _in_strips(*noise), _SIDE, across, down, values["strength"] / 255)
            return replace(patch, pixels=pixels, colour=None)
        # Turned or in perspective it lies as the picture does; every px then has a place of its own in the field.
        u, v = (np.mod(each / by + start, _SIDE) for each, start in zip(field(patch, context.matrix), chance))
        a, b = u % 1, v % 1
        deviates = np.sqrt(((1 - a) ** 2 + a**2) * ((1 - b) ** 2 + b**2))[..., None]
        at = u.astype(np.float32), v.astype(np.float32)
        found = np.dstack(
            [cv2.remap(each, *at, cv2.INTER_LINEAR, borderMode=cv2.BORDER_WRAP) for each in _seen(*noise)]
        )
        pixels = deepened(patch)
        added = found / deviates * (pixels[..., 3:] * np.float32(values["strength"] / 255))
        pixels[..., :3] = np.clip(pixels[..., :3] + added, 0, pixels[..., 3:])
        return replace(patch, pixels=pixels, colour=None)
