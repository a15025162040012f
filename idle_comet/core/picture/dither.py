"""The one rounding of a frame: with noise below one code value, so that what changes slowly shows no steps.

The noise is a void-and-cluster pattern (Ulichney, "The void-and-cluster method for dither array generation", 1993): its
thresholds are spread evenly at every scale, so that the mean of any small area is right and no grain is seen.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from .kernel import kernel
from .patch import Patch, place_of

SIDE = 64
"""Px after which the pattern repeats."""

_SPREAD = 1.9
"""Standard deviation, in px, of how far a threshold keeps its neighbours away (Ulichney gives 1.5 and a little more for
large patterns)."""

_APART = ((0, 0), (23, 41), (47, 19), (11, 53))
"""Where each channel begins in the pattern: at places far from each other, so that noise is not of one colour."""


@lru_cache(maxsize=1)
def thresholds() -> np.ndarray:
    """(64, 64) float32: every one of (k + ½)/4096 once, each far from those next to it in value."""
    count = SIDE * SIDE
    distance = np.minimum(np.arange(SIDE), SIDE - np.arange(SIDE)).astype(float)
    bell = np.exp(-(distance[:, None] ** 2 + distance[None, :] ** 2) / (2 * _SPREAD**2))

    def around(place: int) -> np.ndarray:
        return np.roll(bell, divmod(place, SIDE), (0, 1)).ravel()

    # A first tenth of the points, moved from the tightest cluster into the largest void until that changes nothing.
    first = np.random.default_rng(20).permutation(count)[: count // 10]
    filled = np.zeros(count, bool)
    filled[first] = True
    energy = sum(around(place) for place in first)
    while True:
        tight = int(np.argmax(np.where(filled, energy, -np.inf)))
        energy = energy - around(tight)
        filled[tight] = False
        empty = int(np.argmin(np.where(filled, np.inf, energy)))
        energy = energy + around(empty)
        filled[empty] = True
        if empty == tight:
            break
    rank = np.empty(count, int)
    removed, left = energy.copy(), filled.copy()
    for number in range(len(first) - 1, -1, -1):
        tight = int(np.argmax(np.where(left, removed, -np.inf)))
        rank[tight], left[tight] = number, False
        removed -= around(tight)
    for number in range(len(first), count):
        empty = int(np.argmin(np.where(filled, np.inf, energy)))
        rank[empty], filled[empty] = number, True
        energy += around(empty)
    return ((rank + 0.5) / count).astype(np.float32).reshape(SIDE, SIDE)


@lru_cache(maxsize=8)
def _rows(width: int) -> np.ndarray:
    """(64, width · 4): the pattern across a row of RGBA."""
    tile = thresholds()
    channels = np.stack([np.roll(tile, (-y, -x), (0, 1)) for y, x in _APART], axis=-1)
    rows = np.ascontiguousarray(np.tile(channels, (1, -(-width // SIDE), 1))[:, :width].reshape(SIDE, -1))
    return rows


@lru_cache(maxsize=8)
def columns(height: int) -> np.ndarray:
    """(64, height · 4): the pattern down a column of RGBA, for pictures that lie turned over in memory."""
    channels = np.stack([np.roll(thresholds(), (-y, -x), (0, 1)) for y, x in _APART], axis=-1)
    return np.ascontiguousarray(
        np.tile(channels.transpose(1, 0, 2), (1, -(-height // SIDE), 1))[:, :height].reshape(SIDE, -1)
    )


@kernel("void(float32[:,::1], uint8[:,::1], float32[:,::1], int64, int64)")
def _round(deep, out, noise, x, y):
    height, width = deep.shape
    for row in range(height):
        of, into, by = deep[row], out[y + row, x : x + width], noise[(y + row) % 64, x : x + width]
        for column in range(width):
            # A whole value stays what it is: the noise is above nothing and below one.
            into[column] = np.uint8(min(max(of[column] + by[column], np.float32(0)), np.float32(255)))


_PLACE = "float32[:,::1], int64, int64, int64, int64, int64, int64, float32"


@kernel("float32(float32, float32)", fastmath=True)
def _held(value, noise):
    return min(max(value + noise, np.float32(0)), np.float32(255))


@kernel(
    f"void(uint8[:,:,::1], uint8[:,::1], {_PLACE}, float32, float32, float32)",
    f"void(uint8[:,:,::1], float32[:,::1], {_PLACE}, float32, float32, float32)",
    fastmath=True,
)
def _lay_cover(frame, cover, noise, x, y, left, top, width, height, opacity, red, green, blue):
    by, whole = np.float32(1 / 255), np.float32(255)
    one, two, three, four = np.uint64(1), np.uint64(2), np.uint64(3), np.uint64(4)
    for row in range(height):
        to, of = frame[y + row, x : x + width].reshape(-1), cover[top + row, left : left + width]
        add = noise[(y + row) % SIDE, x * 4 : (x + width) * 4]
        for column in range(np.uint64(width)):
            at = column * four
            alpha = of[column] * opacity
            share, keep = alpha * by, (whole - alpha) * by
            to[at] = np.uint8(np.int32(_held(red * share + to[at] * keep, add[at])))
            to[at + one] = np.uint8(np.int32(_held(green * share + to[at + one] * keep, add[at + one])))
            to[at + two] = np.uint8(np.int32(_held(blue * share + to[at + two] * keep, add[at + two])))
            to[at + three] = np.uint8(np.int32(_held(alpha + to[at + three] * keep, add[at + three])))


@kernel(
    f"void(uint8[:,:,::1], uint8[:,:,::1], {_PLACE})",
    f"void(uint8[:,:,::1], float32[:,:,::1], {_PLACE})",
    fastmath=True,
)
def _lay_pixels(frame, pixels, noise, x, y, left, top, width, height, opacity):
    by, whole = np.float32(1 / 255), np.float32(255)
    one, two, three, four = np.uint64(1), np.uint64(2), np.uint64(3), np.uint64(4)
    for row in range(height):
        to, of = frame[y + row, x : x + width].reshape(-1), pixels[top + row, left : left + width].reshape(-1)
        add = noise[(y + row) % SIDE, x * 4 : (x + width) * 4]
        for column in range(np.uint64(width)):
            at = column * four
            alpha = of[at + three] * opacity
            keep = (whole - alpha) * by
            to[at] = np.uint8(np.int32(_held(of[at] * opacity + to[at] * keep, add[at])))
            to[at + one] = np.uint8(np.int32(_held(of[at + one] * opacity + to[at + one] * keep, add[at + one])))
            to[at + two] = np.uint8(np.int32(_held(of[at + two] * opacity + to[at + two] * keep, add[at + two])))
            to[at + three] = np.uint8(np.int32(_held(alpha + to[at + three] * keep, add[at + three])))


def lay_into(out: np.ndarray, patch: Patch) -> None:
    """Lay a patch over a (H, W, 4) uint8 frame and round into it: what `over` and `round_into` do, in one go, for one
    that nothing else lies on."""
    place = place_of(patch, out.shape[1], out.shape[0])
    opacity = min(1.0, max(0.0, patch.opacity))
    if place is None or opacity == 0:
        return
    noise = _rows(out.shape[1])
    if patch.colour is not None:
        _lay_cover(out, patch.pixels, noise, *place, opacity, *patch.colour)
    else:
        _lay_pixels(out, patch.pixels, noise, *place, opacity)


def round_into(out: np.ndarray, deep: np.ndarray, x: int, y: int) -> None:
    """Round (h, w, 4) float32 code values into a (H, W, 4) uint8 frame at a place in it.

    On average over any few px the frame keeps the value; values that are whole already stay the same.
    """
    _round(deep.reshape(deep.shape[0], -1), out.reshape(out.shape[0], -1), _rows(out.shape[1]), x * 4, y)
