"""Adding a field of noise to a picture, between its samples, with the deviation the samples have."""

from __future__ import annotations

from typing import Any

import numpy as np

from .kernel import kernel
from .lanes import LANES, Lanes, Writer

STRIP = LANES
"""Rows of a field that lie together; the last of them is the first of the next strip."""


def in_strips(field: np.ndarray) -> np.ndarray:
    """(n, s, side + 1, STRIP): a field (n, side, side) that repeats, as `add_grain` takes it. Each strip holds one
    column after the other, and the first once more past the last."""
    side = field.shape[1]
    rows = np.arange(0, side, STRIP - 1)[:, None] + np.arange(STRIP)
    lying = np.moveaxis(field[:, rows % side], 2, 3)
    return np.ascontiguousarray(np.concatenate([lying, lying[:, :, :1]], 2))


def _spreading(
    by: Writer, made: Any, to: Any, length: Any, strips: Any, at: Any, columns: Any, before: Any, after: Any, start: Any
) -> None:
    """Writes a strip of the field at LANES places between its columns; see below."""
    builder = by.builder
    rows = []
    for lane in range(LANES):
        place = builder.add(start, by.number(lane))
        column = builder.zext(builder.load(builder.gep(columns, [place])), by.whole)
        first = builder.add(at, builder.mul(column, by.number(STRIP)))
        other = by.product(by.read(strips, builder.add(first, by.number(STRIP))), by.one(after, place))
        rows.append(by.times(by.read(strips, first), by.one(before, place), other))
    for row, value in enumerate(by.turned(rows)):
        place = builder.add(builder.add(to, builder.mul(length, by.number(row))), start)
        by.write(value, made, place)


_spread = Lanes(
    _spreading, "void(float32[::1], int64, int64, float32[::1], int64, int32[::1], float32[::1], float32[::1], int64)"
)
"""(made, to, length, strips, at, columns, before, after, start): of the strip from number `at` on the numbers at LANES
places, from the one with number `start` on: so much of the column before and so much of the one after. Rows of `made`
are `length` long, the first from number `to` on."""


def _adding(
    by: Writer,
    out: Any,
    px: Any,
    at: Any,
    made: Any,
    near: Any,
    far: Any,
    plane: Any,
    told: Any,
    upper: Any,
    lower: Any,
) -> None:
    """Writes LANES px of four channels with noise added; see below."""
    builder, real, few = by.builder, by.vector("float32"), LANES // 4
    by.fetch(px, at, 4 * LANES)
    by.fetch(out, at, 4 * LANES, to_write=True)
    weights = by.everywhere(upper), by.everywhere(lower)
    nothing = real([0.0] * LANES)
    tones = []
    for number in range(3):
        # Of one tone all three are the same.
        which = builder.mul(plane, builder.mul(told, by.number(number)))
        above, below = (by.read(made, builder.add(row, which)) for row in (near, far))
        tones.append(by.times(above, weights[0], by.product(below, weights[1])))
    covers = [4 * lane + 3 for lane in range(few) for _ in range(4)]
    for number, more in enumerate(by.turned([*tones, nothing])):
        place = builder.add(at, by.number(number * LANES))
        value = by.read(px, place, by.told[1])
        if by.told[1] == "uint8":
            value = builder.uitofp(value, real)
        cover = by.taken(value, value, covers)
        by.write(by.held(by.times(more, cover, value), nothing, cover), out, place)


_ADD = "void(float32[::1], {}[::1], int64, float32[::1], int64, int64, int64, int64, float32, float32)"

_add_some = Lanes(_adding, *(_ADD.format(kind) for kind in ("uint8", "float32")))
"""(out, px, at, made, near, far, plane, told, upper, lower): LANES px of four channels, from number `at` on, with noise
times their coverage added to their colours: `upper` of the numbers of `made` from `near` on and `lower` of those from
`far` on. Where `told` is 1 those of the next tone are `plane` further, where it is 0 all are the same. All of it is
held within 0 … its coverage."""


_GRAIN = "float32[::1], int64[::1], int32[::1], float32[::1], float32[::1], int32[::1], float32[::1], float32[::1])"


@kernel(f"void(uint8[::1], float32[::1], {_GRAIN}", f"void(float32[::1], float32[::1], {_GRAIN}", fastmath=True)
def _add(px, out, strips, shape, columns, before, after, rows, above, below):
    """`shape` is that of the strips, and the width; columns go on to a whole number of LANES."""
    tones, count, long, width = shape[0], shape[1], shape[2] * STRIP, shape[3]
    length, told = len(columns), np.int64(tones > 1)
    made, plane = np.empty(tones * STRIP * length, np.float32), STRIP * length
    held = np.int64(-1)
    for y in range(len(rows)):
        strip, row = rows[y] // (STRIP - 1), rows[y] % (STRIP - 1)
        if held != strip:
            held = np.int64(strip)
            for tone in range(tones):
                at = (tone * count + held) * long
                for start in range(0, length, LANES):
                    _spread(made, tone * plane, length, strips, at, columns, before, after, start)
        near, upper, lower = row * length, above[y], below[y]
        begin = y * width * 4
        for x in range(0, width // LANES * LANES, LANES):
            at = begin + 4 * x
            _add_some(out, px, at, made, near + x, near + length + x, plane, told, upper, lower)
        for x in range(width // LANES * LANES, width):
            at = begin + 4 * x
            cover = np.float32(px[at + 3])
            out[at + 3] = cover
            for tone in range(3):
                place = near + x + tone * told * plane
                more = (made[place] * upper + made[place + length] * lower) * cover
                out[at + tone] = min(max(np.float32(px[at + tone]) + more, np.float32(0)), cover)


def add_grain(
    pixels: np.ndarray, strips: np.ndarray, side: int, across: np.ndarray, down: np.ndarray, by: float
) -> np.ndarray:
    """(h, w, 4) float32: premultiplied code values, uint8 or float32, with a field that repeats added to their colours,
    times `by` and the coverage.

    `strips` are those of a field (1 or 3, side, side), see `in_strips`; `across` (w,) and `down` (h,) are places in it,
    0..side. Between samples the four weighted parts of it would deviate less than the samples do, by
    √((1 − a)² + a²) along each axis, which is made up for.
    """
    columns, rows = np.floor(across).astype(np.int32), np.floor(down).astype(np.int32)
    (before, after), (above, below) = _shares(across - columns), _shares(down - rows)
    room = (0, -len(columns) % LANES)
    out = np.empty(pixels.shape, np.float32)
    _add(
        pixels.reshape(-1),
        out.reshape(-1),
        strips.reshape(-1),
        np.array([*strips.shape[:3], len(columns)]),
        *(np.pad(each, room) for each in (columns % side, before, after)),
        rows % side,
        above * np.float32(by),
        below * np.float32(by),
    )
    return out


def _shares(part: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """The weights of the samples before and after a place, their squares 1 together."""
    whole = np.sqrt((1 - part) ** 2 + part**2)
    return ((1 - part) / whole).astype(np.float32), (part / whole).astype(np.float32)
