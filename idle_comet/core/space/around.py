"""Surroundings that surfaces mirror: made here, or a picture that goes all around."""

from __future__ import annotations

from functools import lru_cache
from typing import Literal, get_args

import cv2
import numpy as np

from ..picture import GAMMA

Around = Literal["studio", "sky", "street at night", "nothing"]
AROUND: tuple[Around, ...] = get_args(Around)

_WIDE, _HIGH = 128, 64
_ROUGH = (0.0, 0.25, 0.5, 0.75, 1.0)
"""How rough a surface is that sees each level."""

NOTHING = np.zeros((0, 1, 1, 3), np.float32)


def _ways(wide: int, high: int) -> np.ndarray:
    """(high, wide, 3): the way each px of a picture that goes all around lies in; its middle lies ahead, its top up."""
    turn = (np.arange(wide) + 0.5) / wide * 2 * np.pi - np.pi
    fall = (np.arange(high) + 0.5) / high * np.pi
    turn, fall = np.meshgrid(turn, fall)
    return np.stack([np.sin(fall) * np.sin(turn), -np.cos(fall), np.sin(fall) * np.cos(turn)], -1)


def _soft(value: np.ndarray, low: float, high: float) -> np.ndarray:
    t = np.clip((value - low) / (high - low), 0, 1)
    return t * t * (3 - 2 * t)


@lru_cache(maxsize=8)
def around(name: Around) -> np.ndarray:
    """(levels, h, w, 3) float32 light, from sharp to blurred. Raises KeyError for a name there is not."""
    if name == "nothing":
        return NOTHING
    return blurred({"studio": _studio, "sky": _sky, "street at night": _night}[name](_ways(_WIDE, _HIGH)))


def _studio(ways: np.ndarray) -> np.ndarray:
    """A grey room: a wide soft light above, a bright strip at the left, a dimmer one at the right, a dark floor."""
    x, y, z = np.moveaxis(ways, -1, 0)
    light = 0.05 + 0.10 * _soft(-y, -0.7, 0.9)
    light += 2.2 * _soft(-y, 0.72, 0.86) * _soft(z, 0.75, 0.2)
    light += 1.7 * _soft(-x, 0.62, 0.76) * (1 - _soft(np.abs(y), 0.30, 0.55))
    light += 0.8 * _soft(x, 0.74, 0.88) * (1 - _soft(np.abs(y), 0.2, 0.5))
    # Before the viewer's back a large pale wall, which faces turned to the viewer mirror.
    light += 0.22 * _soft(-z, 0.3, 1.0)
    return light[..., None] * np.array([1.0, 0.97, 0.93])


def _sky(ways: np.ndarray) -> np.ndarray:
    """An evening: warm at the horizon, blue above, dark earth below, a low sun behind the viewer's left shoulder."""
    x, y, z = np.moveaxis(ways, -1, 0)
    up = _soft(-y, 0.0, 0.9)[..., None]
    above = (1 - up) * np.array([0.95, 0.62, 0.38]) + up * np.array([0.10, 0.22, 0.48])
    below = np.array([0.05, 0.045, 0.035]) * (1 + _soft(y, 0.6, 0.0))[..., None]
    light = np.where((y < 0)[..., None], above, below)
    sun = np.array([-0.62, -0.30, -0.72])
    near = ways @ (sun / np.linalg.norm(sun))
    return light + (6.0 * _soft(near, 0.955, 0.985) + 0.5 * _soft(near, 0.5, 1.0))[..., None] * np.array([1, 0.8, 0.55])


def _night(ways: np.ndarray) -> np.ndarray:
    """A dark street: rows of warm lamps on both sides, some cold windows, a wet road that gives them back dimly."""
    x, y, z = np.moveaxis(ways, -1, 0)
    light = np.zeros((*ways.shape[:2], 3)) + np.array([0.012, 0.014, 0.022])
    for side in (-1.0, 1.0):
        for number, deep in enumerate((-0.9, -0.55, -0.1, 0.45, 0.85)):
            lamp = np.array([side * (1.0 - 0.2 * abs(deep)), -0.42, deep])
            for share, fall in ((4.0, 1.0), (0.7, -1.0)):
                near = ways @ (lamp * [1, fall, 1] / np.linalg.norm(lamp))
                warm = np.array([1.0, 0.72, 0.38]) if number % 2 == 0 else np.array([0.55, 0.75, 1.0])
                light = light + (share * _soft(near, 0.975, 0.992))[..., None] * warm
    return light


def blurred(light: np.ndarray) -> np.ndarray:
    """(levels, h, w, 3) float32: a picture (h, w, 3) that goes all around, as surfaces of each roughness mirror it.

    Each level is the picture averaged over a lobe (Phong's, as wide as that of the microfacets of the roughness)."""
    sharp = cv2.resize(light.astype(np.float32), (_WIDE, _HIGH), interpolation=cv2.INTER_AREA)
    small = cv2.resize(sharp, (_WIDE // 2, _HIGH // 2), interpolation=cv2.INTER_AREA).reshape(-1, 3)
    ways = _ways(_WIDE // 2, _HIGH // 2).astype(np.float32)
    area = np.repeat(np.sin((np.arange(_HIGH // 2) + 0.5) / (_HIGH // 2) * np.pi), _WIDE // 2).astype(np.float32)
    cos = np.clip(ways.reshape(-1, 3) @ ways.reshape(-1, 3).T, 0, 1)
    levels = [sharp]
    for rough in _ROUGH[1:]:
        lobe = cos ** np.float32(max(1.0, 2 / rough**4 - 2)) * area
        mean = (lobe @ small) / lobe.sum(1, keepdims=True)
        wide = mean.reshape(_HIGH // 2, _WIDE // 2, 3).astype(np.float32)
        levels.append(cv2.resize(wide, (_WIDE, _HIGH), interpolation=cv2.INTER_LINEAR))
    return np.ascontiguousarray(levels, np.float32)


def around_of(picture: np.ndarray) -> np.ndarray:
    """Surroundings from a picture (h, w, 4) uint8 that goes all around, twice as wide as high."""
    return blurred((picture[..., :3].astype(np.float32) / 255) ** np.float32(GAMMA))
