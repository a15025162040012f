"""Sampling a picture at another size and place, each axis by itself, with a filter as wide as the footprint.

A sample is the weighted mean of the source px around it (Turkowski, "Filters for common resampling tasks", 1990). The
filter grows with what one painted px covers of the source, without a step anywhere, so that neither a slow push nor a
pull past a half or a third changes how sharp a picture looks; an axis that is not shrunk is not blurred.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import NamedTuple

import cv2
import numpy as np

from .dither import SIDE, columns
from .kernel import kernel, own

REACH = {True: 2, False: 1}
"""How far the filter reaches, in px of whichever is coarser: a Lanczos window of three as exported, a tent in a light
preview."""


EVEN = 1.33
"""By how much wider the filter is for a picture that moves: then a px between four others is as sharp as one that lies
on another, and a zoom that passes its own size does not flash. What stands still is as sharp as it can be."""


class Taps(NamedTuple):
    """For every sample along one axis: the first source px that counts, and the weights from there on, whose sum is
    1."""

    first: np.ndarray
    weights: np.ndarray


@lru_cache(maxsize=64)
def taps(count: int, source: int, scale: float, begin: float, low: float, exact: bool) -> Taps:
    """The taps of `count` samples at px centres of an axis.

    Source px k covers [k, k + 1); it is painted from `begin` + k · `scale` on. The filter lets through what is coarser
    than `low` source px. Past the ends the outermost px goes on.
    """
    reach = REACH[exact]
    wide = max(1.0, low)
    centre = (np.arange(count) + 0.5 - begin) / scale
    around = math.floor(2 * reach * wide) + 1
    number = min(source, around)
    # The first px whose centre is within reach.
    leading = np.ceil(centre - reach * wide - 0.5).astype(np.int64)
    index = leading[:, None] + np.arange(around)[None, :]
    weights = (
        _lanczos((index + 0.5 - centre[:, None]) / wide, reach)
        if exact
        else np.maximum(0, 1 - np.abs((index + 0.5 - centre[:, None]) / wide))
    )
    weights = _balanced(weights, (index + 0.5 - centre[:, None]) / wide, reach)
    held = np.clip(index, 0, source - 1)
    first = np.clip(leading, 0, source - number)
    gathered = np.zeros((count, number))
    # What lies past an end counts for the px at that end.
    np.add.at(gathered, (np.arange(count)[:, None], np.clip(held - first[:, None], 0, number - 1)), weights)
    return Taps(first, np.ascontiguousarray(gathered, np.float32))


def _balanced(weights: np.ndarray, x: np.ndarray, reach: int) -> np.ndarray:
    """Weights whose sum is 1 and whose centre of gravity is the sample itself: a window's own is up to a fiftieth of a
    px beside it, by which a slow drift would hurry and lag."""
    weights = weights / weights.sum(1, keepdims=True)
    bell = np.where(np.abs(x) < reach, np.cos(np.pi * x / (2 * reach)) ** 2, 0.0)
    lacking, aside = 1 - weights.sum(1), -(weights * x).sum(1)
    b0, b1, b2 = bell.sum(1), (bell * x).sum(1), (bell * x * x).sum(1)
    det = b0 * b2 - b1 * b1
    alpha, beta = (lacking * b2 - aside * b1) / det, (aside * b0 - lacking * b1) / det
    return weights + bell * (alpha[:, None] + beta[:, None] * x)


def _lanczos(x: np.ndarray, reach: int) -> np.ndarray:
    return np.where(np.abs(x) < reach, np.sinc(x) * np.sinc(x / reach), 0.0)


_FOUR = "void(float32[::1], {0}[::1], {0}[::1], {0}[::1], {0}[::1], float32, float32, float32, float32)"
_PASS = "int64[::1], float32[:,::1], float32[:,::1], int64, int64)"


@kernel(_FOUR.format("uint8"), _FOUR.format("uint16"), fastmath=True)
def _add_four(mean, r0, r1, r2, r3, w0, w1, w2, w3):
    # A loop of its own is told at once that its rows are apart, and runs on whole registers.
    for i in range(mean.shape[0]):
        mean[i] += w0 * np.float32(r0[i]) + w1 * np.float32(r1[i]) + w2 * np.float32(r2[i]) + w3 * np.float32(r3[i])


@kernel("void(float32[::1], uint8[::1], float32)", "void(float32[::1], uint16[::1], float32)", fastmath=True)
def _add_one(mean, row, weight):
    for i in range(mean.shape[0]):
        mean[i] += weight * np.float32(row[i])


@kernel("void(float32[::1], float32[::1])")
def _set(mean, row):
    for i in range(mean.shape[0]):
        mean[i] = row[i]


@kernel("void(uint8[::1], float32[::1], float32)", "void(uint16[::1], float32[::1], float32)", fastmath=True)
def _cut(into, mean, most):
    for i in range(mean.shape[0]):
        into[i] = np.int32(min(max(mean[i], np.float32(0)), most))


@kernel("void(uint8[:,::1], uint16[:,::1], " + _PASS, "void(uint16[:,::1], uint8[:,::1], " + _PASS, fastmath=True)
def _along_rows(source, out, first, weights, rounding, begin, left):
    """Every row of `out` as a weighted mean of rows of `source` from its column `left` on, four taps at a time;
    `rounding` is added before fractions are cut off, beginning at the pattern's row `begin`."""
    height, length = out.shape
    right = left + length
    count = weights.shape[1]
    most = np.float32(255) if out.itemsize == 1 else np.float32(65535)
    mean = np.empty(length, np.float32)
    for y in range(height):
        _set(mean, rounding[(begin + y) % rounding.shape[0]])
        row, tap = first[y], 0
        while tap + 1 < count:
            # Where fewer than four taps are left, the missing ones weigh nothing and read the last row again.
            last = count - 1 - tap
            w0, w1 = weights[y, tap], weights[y, tap + 1]
            w2 = weights[y, tap + 2] if last >= 2 else np.float32(0)
            w3 = weights[y, tap + 3] if last >= 3 else np.float32(0)
            if w0 != 0 or w1 != 0 or w2 != 0 or w3 != 0:
                r0, r1 = source[row, left:right], source[row + 1, left:right]
                r2, r3 = source[row + min(last, 2), left:right], source[row + min(last, 3), left:right]
                _add_four(mean, r0, r1, r2, r3, w0, w1, w2, w3)
            row, tap = row + 4, tap + 4
        if tap < count and weights[y, tap] != 0:
            _add_one(mean, source[row, left:right], weights[y, tap])
        _cut(out[y], mean, most)


@kernel("void(uint8[:,:,::1])")
def _hold_to_coverage(pixels):
    """No colour more than its coverage: an edge is sharpened past both ends by a filter of this kind."""
    for y in range(pixels.shape[0]):
        row = pixels[y]
        for x in range(pixels.shape[1]):
            most = row[x, 3]
            row[x, 0], row[x, 1], row[x, 2] = min(row[x, 0], most), min(row[x, 1], most), min(row[x, 2], most)


def resampled(
    picture: np.ndarray,
    width: int,
    height: int,
    scale: tuple[float, float],
    begin: tuple[float, float],
    opaque: bool,
    exact: bool,
    low: tuple[float, float] | None = None,
    dithered: tuple[int, int] | None = None,
) -> np.ndarray:
    """(height, width, 4) uint8: a (h, w, 4) uint8 premultiplied picture scaled by (across, down) and begun at a point;
    of one plane (h, w) one plane.

    Below 0 a scale mirrors. `low` is how many source px of each axis one seen px covers, where that is not 1/scale.
    Rounded once: `dithered` by the frame's pattern, where the result begins at this px of it, so that a drift too slow
    to change any one value by a whole is seen all the same; otherwise to the nearest.
    """
    if low is None:
        low = (1 / abs(scale[0]), 1 / abs(scale[1]))
    size = 1 if picture.ndim == 2 else 4
    down = taps(height, picture.shape[0], float(scale[1]), float(begin[1]), float(low[1]), exact)
    across = taps(width, picture.shape[1], float(scale[0]), float(begin[0]), float(low[0]), exact)
    shown = own(picture).reshape(picture.shape[0], -1)
    out = np.empty((height, width), np.int32 if size == 4 else np.uint8)
    half = np.full((1, shown.shape[1]), 0.5, np.float32)
    rounding, begins = _rounding(height, size, dithered)
    weights = down.weights * np.float32(256), across.weights / np.float32(256)
    # A block of columns at a time: what lies between the two passes stays near the processor, in the same memory.
    blocks = [across.first[x : x + _BLOCK] for x in range(0, width, _BLOCK)]
    ends = [(int(first.min()), int(first.max()) + across.weights.shape[1]) for first in blocks]
    most = max(right - left for left, right in ends) * size * height
    upright, lying, whole = (
        np.empty(most, np.uint16),
        np.empty(most, np.uint16),
        np.empty(_BLOCK * size * height, np.uint8),
    )
    deep = np.float64 if size == 4 else np.uint16
    for number, (first, (left, right)) in enumerate(zip(blocks, ends)):
        x, columns = number * _BLOCK, right - left
        # In between a value has eight more bits.
        tall = upright[: height * columns * size].reshape(height, -1)
        _along_rows(shown, tall, down.first, weights[0], half, 0, left * size)
        # Turned over, columns are rows: both passes run along memory.
        turned = lying[: height * columns * size].reshape(columns, -1)
        cv2.transpose(tall.view(deep), turned.view(deep))
        wide = whole[: len(first) * size * height].reshape(len(first), -1)
        _along_rows(turned, wide, first - left, weights[1][x : x + _BLOCK], rounding, begins + x, 0)
        cv2.transpose(wide.view(out.dtype), out[:, x : x + _BLOCK])
    if size == 1:
        return out
    pixels = out.view(np.uint8).reshape(height, width, 4)
    if not opaque and exact:
        _hold_to_coverage(pixels)
    return pixels


_BLOCK = 320
"""Columns of the result done at a time."""


def _rounding(height: int, size: int, dithered: tuple[int, int] | None) -> tuple[np.ndarray, int]:
    if dithered is None:
        return np.full((1, height * size), 0.5, np.float32), 0
    x, y = dithered
    pattern = columns(height + y % SIDE)[:, y % SIDE * 4 :]
    return np.ascontiguousarray(pattern if size == 4 else pattern[:, ::4]), x
