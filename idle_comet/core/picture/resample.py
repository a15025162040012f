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
    1.

    There are as many weights to a sample as rows can be summed in turn; those past the last px of a small picture are
    0.
    """

    first: np.ndarray
    weights: np.ndarray


@lru_cache(maxsize=64)
def taps(count: int, source: int, scale: float, begin: float, low: float, exact: bool) -> Taps:
    """The taps of `count` samples at px centres of an axis.

    Source px k covers [k, k + 1); it is painted from `begin` + k · `scale` on. The filter lets through what is coarser
    than `low` source px. Past the ends the outermost px goes on.
    """
    reach, wide = REACH[exact], max(1.0, low)
    around = math.floor(2 * reach * wide) + 1
    found = Taps(np.empty(count, np.int64), np.empty((count, _summed(min(source, around))), np.float32))
    _weigh(*found, source, scale, begin, wide, reach)
    return found


def _summed(taps: int) -> int:
    """The next number of rows that is summed in turn: four, twice four, or sixes."""
    return 4 if taps <= 4 else 8 if 6 < taps <= 8 else -(-taps // 6) * 6


@kernel("void(int64[::1], float32[:,::1], int64, float64, float64, float64, int64)")
def _weigh(first, weights, source, scale, begin, wide, reach):
    """Lanczos weights for a reach of 2, a tent for 1.

    They are balanced: a window's own centre of gravity is up to a fiftieth of a px beside the sample, by which a slow
    drift would hurry and lag. A part of cos² takes that back.
    """
    count, number = weights.shape
    around = int(math.floor(2 * reach * wide)) + 1
    raw, bell = np.empty(around), np.empty(around)
    # sin and cos of π·x/reach go on from tap to tap by a turn.
    step = 1 / wide
    turn_sin, turn_cos = math.sin(math.pi * step / reach), math.cos(math.pi * step / reach)
    for sample in range(count):
        centre = (sample + 0.5 - begin) / scale
        # The first px whose centre is within reach.
        leading = int(math.ceil(centre - reach * wide - 0.5))
        start = (leading + 0.5 - centre) / wide
        total, aside, b0, b1, b2 = 0.0, 0.0, 0.0, 0.0, 0.0
        sin, cos = math.sin(math.pi * start / reach), math.cos(math.pi * start / reach)
        for tap in range(around):
            x = start + tap * step
            raw[tap] = bell[tap] = 0.0
            if abs(x) < reach:
                bell[tap] = 0.5 + 0.5 * cos
                if reach == 1:
                    raw[tap] = 1 - abs(x)
                else:
                    # sinc(x) · sinc(x/2), where sin πx = 2 · sin πx/2 · cos πx/2.
                    raw[tap] = 4 * sin * sin * cos / (math.pi * x) ** 2 if abs(x) > 1e-6 else 1.0
            total += raw[tap]
            aside += raw[tap] * x
            b0 += bell[tap]
            b1 += bell[tap] * x
            b2 += bell[tap] * x * x
            sin, cos = sin * turn_cos + cos * turn_sin, cos * turn_cos - sin * turn_sin
        # A tent of which one px alone is within reach lies on it.
        apart = b0 * b2 - b1 * b1
        by = aside / total / apart if apart > 1e-12 else 0.0
        begins = min(max(leading, 0), max(0, source - number))
        first[sample] = begins
        for tap in range(number):
            weights[sample, tap] = 0
        for tap in range(around):
            weight = raw[tap] / total + bell[tap] * by * (b1 - b0 * (start + tap * step))
            # What lies past an end counts for the px at that end.
            weights[sample, min(max(leading + tap, 0), source - 1) - begins] += np.float32(weight)


_FOUR_ROWS = "float32[:,::1], {}, {}, {}, {}, float32, float32, float32, float32)".format(*["uint64"] * 4)
_SIX_ROWS = "float32[:,::1], " + ", ".join(["uint64"] * 6 + ["float32"] * 6) + ")"


@kernel("void(float32[:,::1], uint64, float32[:,::1], uint64, uint64, " + _FOUR_ROWS, fastmath=True)
def _set_four(out, y, add, k, at, rows, r0, r1, r2, r3, w0, w1, w2, w3):
    # Whole pictures and numbers of rows are told, not rows of their own: to hand over a row costs as much as to sum it.
    for i in range(np.uint64(out.shape[1])):
        half = add[k, at + i] + w0 * rows[r0, i] + w1 * rows[r1, i]
        out[y, i] = half + w2 * rows[r2, i] + w3 * rows[r3, i]


@kernel("void(float32[:,::1], uint64, float32[:,::1], uint64, uint64, " + _SIX_ROWS, fastmath=True)
def _set_six(out, y, add, k, at, rows, r0, r1, r2, r3, r4, r5, w0, w1, w2, w3, w4, w5):
    # More rows in one line the compiler does not sum many numbers at a time.
    for i in range(np.uint64(out.shape[1])):
        half = add[k, at + i] + w0 * rows[r0, i] + w1 * rows[r1, i] + w2 * rows[r2, i]
        out[y, i] = half + w3 * rows[r3, i] + w4 * rows[r4, i] + w5 * rows[r5, i]


@kernel("void(float32[:,::1], uint64, " + _SIX_ROWS, fastmath=True)
def _add_six(out, y, rows, r0, r1, r2, r3, r4, r5, w0, w1, w2, w3, w4, w5):
    for i in range(np.uint64(out.shape[1])):
        half = w0 * rows[r0, i] + w1 * rows[r1, i] + w2 * rows[r2, i]
        out[y, i] += half + w3 * rows[r3, i] + w4 * rows[r4, i] + w5 * rows[r5, i]


@kernel("float32(float32)", fastmath=True)
def _held(value):
    """No darker than black, no brighter than white: between the passes, too, or what a filter of this kind adds at an
    edge would add up."""
    return min(max(value, np.float32(0)), np.float32(255))


@kernel("void(float32[:,::1], uint64)", fastmath=True)
def _hold(out, y):
    for i in range(np.uint64(out.shape[1])):
        out[y, i] = _held(out[y, i])


@kernel("void(float32[:,::1], uint64, " + _FOUR_ROWS, fastmath=True)
def _hold_four(out, y, rows, r0, r1, r2, r3, w0, w1, w2, w3):
    """The last four are added and held in one go."""
    for i in range(np.uint64(out.shape[1])):
        out[y, i] = _held(out[y, i] + w0 * rows[r0, i] + w1 * rows[r1, i] + w2 * rows[r2, i] + w3 * rows[r3, i])


@kernel("void(uint8[:,::1], uint64, float32[:,::1])", fastmath=True)
def _cut(out, y, mean):
    for i in range(np.uint64(out.shape[1])):
        out[y, i] = np.uint8(np.int32(_held(mean[0, i])))


@kernel("void(uint8[:,::1], uint64, float32[:,::1], " + _FOUR_ROWS, fastmath=True)
def _cut_four(out, y, mean, rows, r0, r1, r2, r3, w0, w1, w2, w3):
    """The last four are added and cut in one go."""
    for i in range(np.uint64(out.shape[1])):
        half = mean[0, i] + w0 * rows[r0, i] + w1 * rows[r1, i]
        out[y, i] = np.uint8(np.int32(_held(half + w2 * rows[r2, i] + w3 * rows[r3, i])))


@kernel("void(float32[:,::1], uint64, uint8[:,::1], uint64, uint64)")
def _deepen(into, k, source, row, left):
    for i in range(np.uint64(into.shape[1])):
        into[k, i] = np.float32(source[row, left + i])


@kernel("void(uint8[:,::1], float32[:,::1], int64[::1], float32[:,::1], int64)")
def _down(source, out, first, weights, left):
    """Every row of `out` as a weighted sum of rows of `source` from its column `left` on."""
    height, length = out.shape
    count, last = weights.shape[1], source.shape[0] - 1
    nothing = np.zeros((1, length), np.float32)
    # Rows that count for several samples are made deep once, and kept near the processor while they do.
    places = 4
    while places < count:
        places *= 2
    mask = places - 1
    near = np.empty((places, length), np.float32)
    held = np.full(places, -1)
    for y in range(height):
        for tap in range(count):
            row = min(first[y] + tap, last)
            if held[row & mask] != row:
                held[row & mask] = row
                _deepen(near, row & mask, source, row, left)
        for tap in range(0, count, 6 if count % 6 == 0 else 4):
            row = first[y] + tap
            r0, r1 = min(row, last) & mask, min(row + 1, last) & mask
            r2, r3 = min(row + 2, last) & mask, min(row + 3, last) & mask
            w0, w1, w2, w3 = weights[y, tap], weights[y, tap + 1], weights[y, tap + 2], weights[y, tap + 3]
            if count % 6 == 0:
                r4, r5, w4, w5 = (
                    min(row + 4, last) & mask,
                    min(row + 5, last) & mask,
                    weights[y, tap + 4],
                    weights[y, tap + 5],
                )
                if tap == 0:
                    _set_six(out, y, nothing, 0, 0, near, r0, r1, r2, r3, r4, r5, w0, w1, w2, w3, w4, w5)
                else:
                    _add_six(out, y, near, r0, r1, r2, r3, r4, r5, w0, w1, w2, w3, w4, w5)
            elif tap == 0:
                _set_four(out, y, nothing, 0, 0, near, r0, r1, r2, r3, w0, w1, w2, w3)
            else:
                _hold_four(out, y, near, r0, r1, r2, r3, w0, w1, w2, w3)
        if count == 4 or count % 6 == 0:
            _hold(out, y)


@kernel("void(float32[:,::1], uint8[:,::1], int64[::1], float32[:,::1], float32[:,::1], int64, int64)")
def _across(rows, out, first, weights, rounding, begin, left):
    """Every row of `out` as a weighted sum of `rows`; `rounding` is added before fractions are cut off, beginning at
    the pattern's row `begin` and its column `left`."""
    height, length = out.shape
    count, last = weights.shape[1], rows.shape[0] - 1
    mean = np.empty((1, length), np.float32)
    for y in range(height):
        k = (begin + y) % rounding.shape[0]
        for tap in range(0, count, 6 if count % 6 == 0 else 4):
            row = first[y] + tap
            r0, r1, r2, r3 = min(row, last), min(row + 1, last), min(row + 2, last), min(row + 3, last)
            w0, w1, w2, w3 = weights[y, tap], weights[y, tap + 1], weights[y, tap + 2], weights[y, tap + 3]
            if count % 6 == 0:
                r4, r5, w4, w5 = min(row + 4, last), min(row + 5, last), weights[y, tap + 4], weights[y, tap + 5]
                if tap == 0:
                    _set_six(mean, 0, rounding, k, left, rows, r0, r1, r2, r3, r4, r5, w0, w1, w2, w3, w4, w5)
                else:
                    _add_six(mean, 0, rows, r0, r1, r2, r3, r4, r5, w0, w1, w2, w3, w4, w5)
            elif tap == 0:
                _set_four(mean, 0, rounding, k, left, rows, r0, r1, r2, r3, w0, w1, w2, w3)
            else:
                _cut_four(out, y, mean, rows, r0, r1, r2, r3, w0, w1, w2, w3)
        if count == 4 or count % 6 == 0:
            _cut(out, y, mean)


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
    begins, row = dithered or (0, None)
    rounding = _rounding(height, size, None if row is None else row % SIDE)
    # A block at a time: what lies between the two passes stays near the processor, in the same memory.
    block, rows = _BLOCK // size, min(_ROWS, height)
    firsts = [across.first[x : x + block] for x in range(0, width, block)]
    ends = [_even(int(first.min()), int(first.max()) + across.weights.shape[1], picture.shape[1]) for first in firsts]
    most = max(right - left for left, right in ends) * size * rows
    upright, lying = np.empty(most, np.float32), np.empty(most, np.float32)
    whole = np.empty(block * size * rows, np.uint8)
    for top in range(0, height, rows):
        high = min(rows, height - top)
        first_rows, row_weights = down.first[top : top + high], down.weights[top : top + high]
        for number, (first, (left, right)) in enumerate(zip(firsts, ends)):
            x, columns = number * block, right - left
            tall = upright[: high * columns * size].reshape(high, -1)
            _down(shown, tall, first_rows, row_weights, left * size)
            # Turned over, columns are rows: both passes run along memory.
            turned = lying[: high * columns * size].reshape(columns, -1)
            cv2.transpose(tall.reshape(high, columns, size), turned.reshape(columns, high, size))
            wide = whole[: len(first) * size * high].reshape(len(first), -1)
            _across(turned, wide, first - left, across.weights[x : x + block], rounding, begins + x, top * size)
            cv2.transpose(wide.view(out.dtype), out[top : top + high, x : x + block])
    if size == 1:
        return out
    pixels = out.view(np.uint8).reshape(height, width, 4)
    if not opaque and exact:
        _hold_to_coverage(pixels)
    return pixels


_BLOCK = 320
"""Columns of the result done at a time, in a picture of four channels a fourth."""

_ROWS = 240
"""Rows of it done at a time."""

_RUN = 32
"""Numbers that loops go through in one stride; what is left over is done one by one, which takes as long."""


def _even(left: int, right: int, most: int) -> tuple[int, int]:
    """The columns left … right, and as many more beside them as make strides of them."""
    right = min(most, left + -(-(right - left) // _RUN) * _RUN)
    return max(0, right - -(-(right - left) // _RUN) * _RUN), right


@lru_cache(maxsize=16)
def _rounding(height: int, size: int, row: int | None) -> np.ndarray:
    """What is added before fractions are cut off: a half, or the frame's pattern from a row of it on."""
    if row is None:
        return np.full((1, height * size), 0.5, np.float32)
    pattern = columns(height + row)[:, row * 4 :]
    return np.ascontiguousarray(pattern if size == 4 else pattern[:, ::4])
