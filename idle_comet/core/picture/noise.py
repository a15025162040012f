"""Smooth noise: a function of place, time and seed, the same on every machine."""

from __future__ import annotations

import math
from typing import Callable

import cv2
import numpy as np

from .kernel import kernel
from .masking import field_of
from .matrix import Matrix
from .patch import Rect

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


@kernel("void(float64[::1], float64[::1], float64, int64, int64, float64[:,::1], float32[:,::1])", fastmath=True)
def _grid(across, down, time, octaves, seed, slopes, out):
    """The same as `_field` at the places of a grid. Along a row of it the noise about each column of the lattice is a
    straight line; between two columns they are blended."""
    columns, rows = across.shape[0], down.shape[0]
    out[:] = 0
    weight, whole, fine = 1.0, 0.0, 1.0
    for octave in range(octaves):
        own = seed + 101 * octave
        z = time * fine
        k = int(np.floor(z))
        c = z - k
        w = c * c * c * (c * (c * 6 - 15) + 10)
        r = c - 1
        first = int(np.floor(min(across[0], across[columns - 1]) * fine))
        count = int(np.floor(max(across[0], across[columns - 1]) * fine)) - first + 2
        cell, along = np.empty(columns, np.int32), np.empty(columns, np.float32)
        for x in range(columns):
            at = np.floor(across[x] * fine)
            cell[x], along[x] = np.int32(int(at) - first), np.float32(across[x] * fine - at)
        found = np.empty((4, count), np.int64)
        slope, value = np.empty(count, np.float32), np.empty(count, np.float32)
        at_j = -(1 << 62)
        for row in range(rows):
            y = down[row] * fine
            j = int(np.floor(y))
            if j != at_j:
                for i in range(count):
                    for corner in range(4):
                        h = _mixed(first + i, j + (corner & 1), k + (corner >> 1), own)
                        found[corner, i] = np.int64(h % np.uint32(12))
                at_j = j
            b = y - j
            q = b - 1
            v = b * b * b * (b * (b * 6 - 15) + 10)
            shares = ((1 - v) * (1 - w), v * (1 - w), (1 - v) * w, v * w)
            for i in range(count):
                g0, g1, g2, g3 = found[0, i], found[1, i], found[2, i], found[3, i]
                slope[i] = (
                    slopes[g0, 0] * shares[0]
                    + slopes[g1, 0] * shares[1]
                    + slopes[g2, 0] * shares[2]
                    + slopes[g3, 0] * shares[3]
                )
                value[i] = (
                    (slopes[g0, 1] * b + slopes[g0, 2] * c) * shares[0]
                    + (slopes[g1, 1] * q + slopes[g1, 2] * c) * shares[1]
                    + (slopes[g2, 1] * b + slopes[g2, 2] * r) * shares[2]
                    + (slopes[g3, 1] * q + slopes[g3, 2] * r) * shares[3]
                )
            into = out[row]
            much = np.float32(weight)
            for x in range(columns):
                i, a = cell[x], along[x]
                u = a * a * a * (a * (a * np.float32(6) - np.float32(15)) + np.float32(10))
                left = slope[i] * a + value[i]
                right = slope[i + 1] * (a - np.float32(1)) + value[i + 1]
                into[x] += much * (left + u * (right - left))
        whole += weight
        weight *= 0.5
        fine *= 2.0
    for row in range(rows):
        for x in range(columns):
            out[row, x] /= np.float32(whole)


def noise_over(
    area: Rect, matrix: Matrix, scale: float, octaves: int, time: float, seed: int, times: float = 1
) -> np.ndarray:
    """(h, w) float32: `sampled_noise` for every px of an area, at its place in the space that `matrix` leads out of,
    and `times` as strong."""
    back = matrix.inverse()
    x0, y0, x1, y1 = area.whole()
    scale = max(1e-3, scale)
    skip = _apart(_finest(scale, octaves), math.hypot(back.a, back.b))
    # The same px are reckoned whichever part of a picture is asked for: what lies between them would else tremble.
    left, top = (x0 % skip, y0 % skip) if skip >= 3 else (0, 0)
    if not back.flat or back.b or back.c:
        places = field_of(Rect(x0 - left, y0 - top, x1, y1), matrix)
        return sampled_noise(*places, scale, octaves, time, seed)[top:, left:] * np.float32(times)
    x, y = (_grid_of(begin, size, skip) for begin, size in ((x0 - left, x1 - x0 + left), (y0 - top, y1 - y0 + top)))
    made = np.empty((len(y), len(x)), np.float32)
    _grid((back.a * x + back.e) / scale, (back.d * y + back.f) / scale, time, octaves, seed, _SLOPES, made)
    made *= np.float32(times)
    return made if skip < 3 else _between(made, skip, x1 - x0, y1 - y0, left, top)


def _grid_of(begin: int, size: int, skip: int) -> np.ndarray:
    """The middles of every so many px from one on, with some before and past them; of all px where none is skipped."""
    if skip < 3:
        return np.arange(size) + begin + 0.5
    return np.arange(-_ROOM, -(-size // skip) + _ROOM) * skip + skip // 2 + begin + 0.5


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
    return smoothly(
        across, down, _finest(scale, octaves), lambda x, y: noise(x / scale, y / scale, time, octaves, seed)
    )


def _finest(scale: float, octaves: int) -> float:
    """How far apart noise may be reckoned: eight places to the finest wave are enough, or four where that is the
    weakest of several."""
    return scale / 2 ** (octaves - 1) / (8 if octaves < 3 else 4)


_MOST_APART = 15


def _apart(apart: float, step: float) -> int:
    """How many px that are a `step` from each other are so far apart; an odd number, of which one is the middle."""
    skip = min(_MOST_APART, int(apart / max(1e-6, step)))
    return skip - 1 + skip % 2


def smoothly(
    across: np.ndarray, down: np.ndarray, apart: float, made: Callable[[np.ndarray, np.ndarray], np.ndarray]
) -> np.ndarray:
    """What is `made` for (h, w) places, reckoned only so far `apart` (in their own units) and in between by cubic
    curves. The places lie about evenly."""
    height, width = across.shape
    step = float(np.hypot(across[0, -1] - across[0, 0], down[0, -1] - down[0, 0])) / max(1, width - 1)
    skip = _apart(apart, step)
    if skip < 3:
        return made(across, down)
    return _between(made(_coarse(across, skip), _coarse(down, skip)), skip, width, height)


def _between(found: np.ndarray, skip: int, width: int, height: int, left: int = 0, top: int = 0) -> np.ndarray:
    """The values of all px by cubic curves, from those of the middle of every so many; of the first so many are left
    out."""
    size = (found.shape[1] * skip, found.shape[0] * skip)
    x, y = _ROOM * skip + left, _ROOM * skip + top
    return cv2.resize(found, size, interpolation=cv2.INTER_CUBIC)[y : y + height, x : x + width]


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
