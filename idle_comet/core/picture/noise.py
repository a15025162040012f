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


_SLOPES = np.array(
    [[1, 1, 0], [-1, 1, 0], [1, -1, 0], [-1, -1, 0], [1, 0, 1], [-1, 0, 1], [1, 0, -1], [-1, 0, -1],
     [0, 1, 1], [0, -1, 1], [0, 1, -1], [0, -1, -1]], np.float64
)  # fmt: skip
"""The twelve slopes of a whole place (Perlin, "Improving noise", 2002)."""


@kernel("void(int64, int64, int64, int64, float64[:,::1], float64[:,::1])")
def _corners(i, j, k, seed, slopes, found):
    """The slopes at the eight corners of a cell of the lattice."""
    for corner in range(8):
        x, y, z = i + (corner & 1), j + (corner >> 1 & 1), k + (corner >> 2)
        h = np.int64(_mixed(x, y, z, seed) % np.uint32(12))
        found[corner, 0], found[corner, 1], found[corner, 2] = slopes[h, 0], slopes[h, 1], slopes[h, 2]


@kernel("void(float32[:,::1], float32[:,::1], float64, int64, int64, float64[:,::1], float32[:,::1])", fastmath=True)
def _field(across, down, time, octaves, seed, slopes, out):
    g = np.empty((8, 3), np.float64)
    out[:] = 0
    weight, whole, fine = 1.0, 0.0, 1.0
    for octave in range(octaves):
        own = seed + 101 * octave
        z = time * fine
        k = int(np.floor(z))
        c = z - k
        w = c * c * c * (c * (c * 6 - 15) + 10)
        at_i, at_j = -(1 << 62), -(1 << 62)
        for row in range(out.shape[0]):
            for column in range(out.shape[1]):
                x, y = across[row, column] * fine, down[row, column] * fine
                i, j = int(np.floor(x)), int(np.floor(y))
                # Most places share their cell with the one before.
                if i != at_i or j != at_j:
                    _corners(i, j, k, own, slopes, g)
                    at_i, at_j = i, j
                a, b = x - i, y - j
                u = a * a * a * (a * (a * 6 - 15) + 10)
                v = b * b * b * (b * (b * 6 - 15) + 10)
                p, q, r = a - 1, b - 1, c - 1
                n0 = g[0, 0] * a + g[0, 1] * b + g[0, 2] * c
                n1 = g[1, 0] * p + g[1, 1] * b + g[1, 2] * c
                n2 = g[2, 0] * a + g[2, 1] * q + g[2, 2] * c
                n3 = g[3, 0] * p + g[3, 1] * q + g[3, 2] * c
                near = (n0 + u * (n1 - n0)) * (1 - v) + (n2 + u * (n3 - n2)) * v
                n0 = g[4, 0] * a + g[4, 1] * b + g[4, 2] * r
                n1 = g[5, 0] * p + g[5, 1] * b + g[5, 2] * r
                n2 = g[6, 0] * a + g[6, 1] * q + g[6, 2] * r
                n3 = g[7, 0] * p + g[7, 1] * q + g[7, 2] * r
                far = (n0 + u * (n1 - n0)) * (1 - v) + (n2 + u * (n3 - n2)) * v
                out[row, column] += weight * (near + w * (far - near))
        whole += weight
        weight *= 0.5
        fine *= 2.0
    for row in range(out.shape[0]):
        for column in range(out.shape[1]):
            out[row, column] /= whole


def noise(across: np.ndarray, down: np.ndarray, time: float, octaves: int, seed: int) -> np.ndarray:
    """(h, w) float32 about -1..1 at places told in lattice steps, changing smoothly with time (told so too).

    Octaves are each half as coarse and half as strong as the one before.
    """
    out = np.empty(across.shape, np.float32)
    _field(
        np.ascontiguousarray(across, np.float32),
        np.ascontiguousarray(down, np.float32),
        time,
        octaves,
        seed,
        _SLOPES,
        out,
    )
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
