"""Sampling a picture at another size and place, each axis by itself, with a filter as wide as the footprint (taps.py):
weighted sums of rows, first down, then, turned over, across."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from .dither import SIDE as SIDE_OF_PATTERN
from .dither import columns
from .kernel import kernel, own
from .rows import SIDES, STRIDE, sum_cut, sum_held, turn
from .taps import taps

_NUMBERS, _BYTES = SIDES["float32"], SIDES["uint8"]


@kernel("void(float32[::1], int64, uint8[:,::1], int64, int64, int64)")
def _deepen(near, at, source, row, left, numbers):
    for i in range(np.uint64(numbers)):
        near[np.uint64(at) + i] = np.float32(source[row, np.uint64(left) + i])


_STRIP = (
    "float32[::1], float32[::1], int64[::1], int64[::1], int64[::1], float32[:,::1], int64, int64, int64, int64, int64"
)


@kernel("void(uint8[:,::1], " + _STRIP + ")")
def _down(source, tall, near, held, places, first, weights, top, high, left, numbers, length):
    """Rows `top` … of the result, as high as a strip is, as weighted sums of rows of `source`: `numbers` of each, from
    its column `left` on, in rows of `length`."""
    count, last, mask, told = weights.shape[1], source.shape[0] - 1, len(held) - 1, weights.reshape(-1)
    for y in range(high):
        for tap in range(count):
            # Rows that count for several samples are made deep once, and kept near the processor while they do.
            row = min(first[top + y] + tap, last)
            place = row & mask
            places[tap] = place
            if held[place] != row:
                held[place] = row
                _deepen(near, place * length, source, row, left, numbers)
        sum_held(tall, y * length, near, length, places, told, (top + y) * count, count)


@kernel(
    "void(float32[::1], uint8[::1], int64[::1], int64[::1], float32[:,::1], float32[:,::1], {})".format(
        ", ".join(["int64"] * 6)
    )
)
def _across(lying, wide, places, first, weights, rounding, x, columns, left, last, begin, length):
    """Columns `x` … of the result, lying: weighted sums of rows of `lying`, of which the first is column `left` of the
    source. `rounding` is added before fractions are cut off, from number `begin` of its rows on."""
    count, told, added = weights.shape[1], weights.reshape(-1), rounding.reshape(-1)
    for column in range(columns):
        for tap in range(count):
            places[tap] = min(first[x + column] + tap - left, last)
        row = (x + column) % rounding.shape[0] * rounding.shape[1] + begin
        sum_cut(wide, column * length, added, row, lying, length, places, told, (x + column) * count, count)


@kernel("void(float32[::1], float32[::1], int64, int64, int64, int64)")
def _lay(tall, lying, high, columns, length, size):
    """A strip turned over: a column of px becomes a row, of px of one number or four. Rows are as long as `length`
    says, columns as `high`."""
    if size == 1:
        for x in range(0, columns, _NUMBERS):
            for y in range(0, high, _NUMBERS):
                turn(lying, x * high + y, high, tall, y * length + x, length)
    else:
        for x in range(np.uint64(columns)):
            for y in range(np.uint64(high)):
                to, of = (x * np.uint64(high) + y) * np.uint64(4), y * np.uint64(length) + x * np.uint64(4)
                for channel in range(np.uint64(4)):
                    lying[to + channel] = tall[of + channel]


_RAISED = "void({0}[:,::1], {0}[::1], int64, int64, int64, int64, int64, int64)"


@kernel(*(_RAISED.format(kind) for kind in SIDES))
def _raise(out, wide, x, top, columns, rows, high, side):
    """Rows of `high` numbers as columns of the result, from its column `x` and row `top` on; `side` is that of a block
    of such numbers."""
    width, into = out.shape[1], out.reshape(-1)
    corner = np.empty(side * side, out.dtype)
    for across in range(0, columns, side):
        for down in range(0, rows, side):
            place = (top + down) * width + x + across
            if across + side <= columns and down + side <= rows:
                turn(into, place, width, wide, across * high + down, high)
            else:
                turn(corner, 0, side, wide, across * high + down, high)
                for row in range(min(side, rows - down)):
                    for column in range(min(side, columns - across)):
                        into[place + row * width + column] = corner[row * side + column]


@kernel("int64(int64, int64)")
def _up(number, of):
    """The next whole multiple."""
    return (number + of - 1) // of * of


_AXIS = "int64[::1], float32[:,::1]"


@kernel(f"void(uint8[:,::1], uint8[:,::1], float32[:,::1], {_AXIS}, {_AXIS}, float32[:,::1], int64, int64, int64)")
def _resample(source, out, pixels, first_row, row_weights, first_column, column_weights, rounding, size, block, strip):
    """The whole result, a block of columns after the other, each in strips: what lies between the two passes stays near
    the processor."""
    height, width = out.shape[0], out.shape[1] // size
    down, across = row_weights.shape[1], column_weights.shape[1]
    most = 0
    for x in range(0, width, block):
        end = min(x + block, width) - 1
        # A mirrored picture begins at its last column.
        most = max(most, abs(first_column[end] - first_column[x]) + across)
    most = _up(most * size, STRIDE)
    ring = 4
    while ring < down:
        ring *= 2
    near, held, places = (
        np.zeros(ring * most, np.float32),
        np.empty(ring, np.int64),
        np.empty(max(down, across), np.int64),
    )
    rows = _up(min(strip, height) * size, STRIDE) // size
    tall, lying = np.zeros(rows * most, np.float32), np.empty(rows * most, np.float32)
    wide = np.zeros(_up(block, _BYTES) * rows * size, np.uint8)
    wide_pixels = wide.view(np.float32)
    for x in range(0, width, block):
        columns = min(block, width - x)
        left = min(first_column[x], first_column[x + columns - 1])
        seen = min(max(first_column[x], first_column[x + columns - 1]) + across, source.shape[1] // size) - left
        length = _up(seen * size, STRIDE)
        held[:] = -1
        for top in range(0, height, rows):
            here = min(rows, height - top)
            high = _up(here * size, STRIDE) // size
            _down(source, tall, near, held, places, first_row, row_weights, top, here, left * size, seen * size, length)
            _lay(tall, lying, high, _up(seen, _NUMBERS), length, size)
            _across(
                lying,
                wide,
                places,
                first_column,
                column_weights,
                rounding,
                x,
                columns,
                left,
                seen - 1,
                top * size,
                high * size,
            )
            if size == 1:
                _raise(out, wide, x, top, columns, here, high, _BYTES)
            else:
                # A px of four bytes goes through as if it were one number.
                _raise(pixels, wide_pixels, x, top, columns, here, high, _NUMBERS)


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
    out = np.empty((height, width * size), np.uint8)
    rounding = _rounding(height, size, *(dithered or (0, None)))
    pixels = out.view(np.float32) if size == 4 else np.empty((0, 0), np.float32)
    _resample(shown, out, pixels, *down, *across, rounding, size, _BLOCK // size, _ROWS // size)
    if size == 1:
        return out
    made = out.reshape(height, width, 4)
    if not opaque and exact:
        _hold_to_coverage(made)
    return made


_BLOCK, _ROWS = 640, 64
"""Columns of the result done at a time, and rows of it; in a picture of four channels a fourth."""


def _rounding(height: int, size: int, left: int, top: int | None) -> np.ndarray:
    """What is added before fractions are cut off, lying: a half, or the frame's pattern from a place of it on."""
    return _pattern(height, size, left % SIDE_OF_PATTERN, None if top is None else top % SIDE_OF_PATTERN)


@lru_cache(maxsize=16)
def _pattern(height: int, size: int, left: int, top: int | None) -> np.ndarray:
    long = -(-height * size // STRIDE) * STRIDE
    if top is None:
        return np.full((1, long), 0.5, np.float32)
    pattern = np.roll(columns(-(-long // size) + top), -left, 0)[:, top * 4 :]
    return np.ascontiguousarray((pattern if size == 4 else pattern[:, ::4])[:, :long])
