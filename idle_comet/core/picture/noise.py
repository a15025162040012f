"""Smooth noise: a function of place, time and seed, the same on every machine."""

from __future__ import annotations

from typing import Callable

import cv2
import numpy as np

from .kernel import kernel

_MIX = "uint32(int64, int64, int64, int64)"


@kernel(_MIX)
def _mixed(x, y, z, seed):
    # The finaliser of MurmurHash3 over whole places.
    h = np.uint32(x) * np.uint32(0x9E3779B1) ^ np.uint32(y) * np.uint32(0x85EBCA77)
    h ^= np.uint32(z) * np.uint32(0x27D4EB2F) ^ np.uint32(seed) * np.uint32(0xC2B2AE3D)
    h = (h ^ (h >> np.uint32(16))) * np.uint32(0x85EBCA6B)
    h = (h ^ (h >> np.uint32(13))) * np.uint32(0xC2B2AE35)
    return h ^ (h >> np.uint32(16))


@kernel("float64(int64, int64, int64, int64, float64, float64, float64)")
def _slope(x, y, z, seed, dx, dy, dz):
    """One of twelve slopes at a whole place, times the way from there (Perlin, "Improving noise", 2002)."""
    h = _mixed(x, y, z, seed) % np.uint32(12)
    u = dx if h < 8 else dy
    v = dy if h < 4 else dz
    if h == 0 or h == 4 or h == 8:
        return u + v
    if h == 1 or h == 5 or h == 9:
        return -u + v
    if h == 2 or h == 6 or h == 10:
        return u - v
    return -u - v


@kernel("void(float32[:,::1], float32[:,::1], float64, int64, int64, float32[:,::1])")
def _field(across, down, time, octaves, seed, out):
    for row in range(out.shape[0]):
        for column in range(out.shape[1]):
            total, weight, whole = 0.0, 1.0, 0.0
            fine = 1.0
            for octave in range(octaves):
                x, y, z = across[row, column] * fine, down[row, column] * fine, time * fine
                i, j, k = int(np.floor(x)), int(np.floor(y)), int(np.floor(z))
                a, b, c = x - i, y - j, z - k
                u = a * a * a * (a * (a * 6 - 15) + 10)
                v = b * b * b * (b * (b * 6 - 15) + 10)
                w = c * c * c * (c * (c * 6 - 15) + 10)
                own = seed + 101 * octave
                near = (1 - v) * (
                    (1 - u) * _slope(i, j, k, own, a, b, c) + u * _slope(i + 1, j, k, own, a - 1, b, c)
                ) + v * (
                    (1 - u) * _slope(i, j + 1, k, own, a, b - 1, c) + u * _slope(i + 1, j + 1, k, own, a - 1, b - 1, c)
                )
                far = (1 - v) * (
                    (1 - u) * _slope(i, j, k + 1, own, a, b, c - 1) + u * _slope(i + 1, j, k + 1, own, a - 1, b, c - 1)
                ) + v * (
                    (1 - u) * _slope(i, j + 1, k + 1, own, a, b - 1, c - 1)
                    + u * _slope(i + 1, j + 1, k + 1, own, a - 1, b - 1, c - 1)
                )
                total += weight * ((1 - w) * near + w * far)
                whole += weight
                weight *= 0.5
                fine *= 2.0
            out[row, column] = total / whole


def noise(across: np.ndarray, down: np.ndarray, time: float, octaves: int, seed: int) -> np.ndarray:
    """(h, w) float32 about -1..1 at places told in lattice steps, changing smoothly with time (told so too).

    Octaves are each half as coarse and half as strong as the one before.
    """
    out = np.empty(across.shape, np.float32)
    _field(np.ascontiguousarray(across, np.float32), np.ascontiguousarray(down, np.float32), time, octaves, seed, out)
    return out


def sampled_noise(
    across: np.ndarray, down: np.ndarray, scale: float, octaves: int, time: float, seed: int
) -> np.ndarray:
    """Noise with coarsest waves of `scale` px at places told in px, which lie about evenly apart.

    Noise is smooth: it is reckoned at so many places as its finest wave needs, and in between by cubic curves.
    """
    scale = max(1e-3, scale)
    # Eight places to the finest wave are enough, or four where that is the weakest of several.
    finest = scale / 2 ** (octaves - 1) / (8 if octaves < 3 else 4)
    return smoothly(across, down, finest, lambda x, y: noise(x / scale, y / scale, time, octaves, seed))


_MOST_APART = 15


def smoothly(
    across: np.ndarray, down: np.ndarray, apart: float, made: Callable[[np.ndarray, np.ndarray], np.ndarray]
) -> np.ndarray:
    """What is `made` for (h, w) places, reckoned only so far `apart` (in their own units) and in between by cubic
    curves. The places lie about evenly."""
    height, width = across.shape
    step = float(np.hypot(across[0, -1] - across[0, 0], down[0, -1] - down[0, 0])) / max(1, width - 1)
    skip = min(_MOST_APART, int(apart / max(1e-6, step)))
    # Of an odd number of px one is the middle.
    skip -= 1 - skip % 2
    if skip < 3:
        return made(across, down)
    found = made(_coarse(across, skip), _coarse(down, skip))
    size = (found.shape[1] * skip, found.shape[0] * skip)
    room = _ROOM * skip
    return cv2.resize(found, size, interpolation=cv2.INTER_CUBIC)[room : room + height, room : room + width]


_ROOM = 2
"""Places reckoned before the first and past the last, for the curves to go on."""


def _coarse(places: np.ndarray, skip: int) -> np.ndarray:
    """The middle of every so many places of both axes, with some before and past them, carried straight on."""
    for _ in range(2):
        last = places.shape[0] - 1
        wanted = np.arange(-_ROOM, -(-places.shape[0] // skip) + _ROOM) * skip + skip // 2
        known = np.clip(wanted, 0, last)
        slope = (places[min(last, 1)] - places[0], places[last] - places[max(0, last - 1)])
        beyond = (wanted - known).astype(np.float32)[:, None]
        places = (places[known] + beyond * np.where(beyond < 0, *slope)).T
    return np.ascontiguousarray(places, np.float32)
