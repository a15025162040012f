"""Textures made here: how a surface is worked, as shades of its colour and of its roughness."""

from __future__ import annotations

from functools import lru_cache
from typing import Literal, get_args

import numpy as np

from ..picture import noise

Worked = Literal["smooth", "brushed", "stone", "worn"]
WORKED: tuple[Worked, ...] = get_args(Worked)

_SIDE = 256


@lru_cache(maxsize=8)
def worked(how: Worked) -> tuple[np.ndarray, np.ndarray]:
    """Two pictures (512, 512, 4) uint8 that go on as they begin: what a colour is multiplied by, and (in green) what a
    roughness is. Raises KeyError for "smooth", which needs none."""
    y, x = np.mgrid[0:_SIDE, 0:_SIDE].astype(np.float32) / _SIDE
    shade, rough = {"brushed": _brushed, "stone": _stone, "worn": _worn}[how](x, y)
    colour = _tiled(np.repeat(shade[..., None], 3, -1))
    surface = _tiled(np.stack([np.ones_like(rough), rough, np.ones_like(rough)], -1))
    return colour, surface


def _brushed(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Fine scratches along, some of them long."""
    fine = noise(x * 3, y * 120, 0.0, 2, 11)
    long = noise(x * 1.2, y * 40, 0.0, 2, 12)
    return 0.9 + 0.1 * fine, np.clip(0.72 + 0.22 * fine + 0.16 * long, 0.2, 1)


def _stone(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Clouds, and specks of darker and lighter grains."""
    clouds = noise(x * 4, y * 4, 0.0, 4, 21)
    specks = noise(x * 60, y * 60, 0.0, 1, 22)
    shade = 0.82 + 0.12 * clouds + 0.22 * np.maximum(specks - 0.35, 0) - 0.4 * np.maximum(-specks - 0.45, 0)
    return np.clip(shade, 0.3, 1), np.clip(0.92 + 0.1 * clouds, 0.5, 1)


def _worn(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Paint with patches that are rubbed off, and a few scratches."""
    patches = noise(x * 5, y * 5, 0.0, 5, 31)
    scratches = noise(x * 8 + 0.4 * patches, y * 90, 0.0, 1, 32)
    rubbed = np.clip((patches - 0.18) * 4, 0, 1)
    shade = 1 - 0.42 * rubbed - 0.2 * np.maximum(scratches - 0.5, 0)
    return np.clip(shade, 0.2, 1), np.clip(0.55 + 0.4 * rubbed + 0.1 * patches, 0.2, 1)


def _tiled(shares: np.ndarray) -> np.ndarray:
    """(512, 512, 4) uint8 of (256, 256, 3) shares 0..1, mirrored so that it goes on as it begins."""
    wide = np.concatenate([shares, shares[:, ::-1]], 1)
    whole = np.concatenate([wide, wide[::-1]], 0)
    pixels = np.full((*whole.shape[:2], 4), 255, np.uint8)
    pixels[..., :3] = np.rint(np.clip(whole, 0, 1) * 255)
    return pixels
