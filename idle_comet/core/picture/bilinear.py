"""A picture through any plane transform, in straight lines between its px (bilinear interpolation).

Each row of the result is gone over three times: where its px lie in the picture is reckoned for many at a time, then
the four px around each such place are fetched one by one, then they are mixed, again many at a time. Done in one go a
row takes twice as long, since what is fetched from all over the memory can only be fetched one by one.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from .kernel import kernel, own
from .lanes import Lanes, Writer
from .matrix import Matrix

_NEAR = 1e-6
"""Nothing is nearer to the eye than this share of the plane's own distance: what is behind it is nowhere."""


def bilinear(picture: np.ndarray, matrix: Matrix, width: int, height: int) -> np.ndarray:
    """(height, width, 4) uint8 of a (h, w, 4) uint8 picture, of one plane (h, w) one plane; `matrix` leads from its px
    to px of the result. Past its edges the picture's outermost px go on. Rounded to the nearest.

    Places are told in float32: to a thousandth of a px in pictures 8,000 px wide."""
    picture = _two_at_least(own(picture))
    # Here px are counted from their centres.
    back = (Matrix.shift(-0.5, -0.5) @ matrix @ Matrix.shift(0.5, 0.5)).inverse()
    way = np.array([back.a, back.c, back.e, back.b, back.d, back.f, back.g, back.h, back.i])
    if picture.ndim == 2:
        plane = np.empty((height, width), np.uint8)
        _plane(picture, plane, way, back.flat)
        return plane
    made = np.empty((height, width, 4), np.uint8)
    _picture(picture.view(np.uint32)[..., 0], made.view(np.uint32)[..., 0], way, back.flat)
    return made


def _two_at_least(picture: np.ndarray) -> np.ndarray:
    """The picture with two px or more each way, of which each has a neighbour."""
    room = [(0, 1 if length < 2 else 0) for length in picture.shape[:2]] + [(0, 0)] * (picture.ndim - 2)
    return np.pad(picture, room, mode="edge") if any(after for _, after in room) else picture


_ROW = "void(uint32[::1], float32[::1], float32[::1], "


@kernel(_ROW + "float32, float32, float32, float32, float32, float32, uint32, uint32)", fastmath=True)
def _look_flat(at, right, below, a, x0, b, y0, last_x, last_y, before_x, before_y):
    """For each px of a row: the px left above its place, and how far right of that and below it lies."""
    first = np.float32(0)
    for i in range(np.uint64(at.shape[0])):
        n = np.float32(np.int32(i))
        x, y = min(max(a * n + x0, first), last_x), min(max(b * n + y0, first), last_y)
        column, row = min(np.uint32(np.int32(x)), before_x), min(np.uint32(np.int32(y)), before_y)
        right[i], below[i] = x - np.float32(np.int32(column)), y - np.float32(np.int32(row))
        at[i] = row * (before_x + np.uint32(2)) + column


@kernel(_ROW + "float32, float32, float32, float32, float32, float32, float32, float32, uint32, uint32)", fastmath=True)
def _look(at, right, below, a, x0, b, y0, g, w0, last_x, last_y, before_x, before_y):
    """The same in perspective."""
    first, near = np.float32(0), np.float32(_NEAR)
    for i in range(np.uint64(at.shape[0])):
        n = np.float32(np.int32(i))
        by = np.float32(1) / max(g * n + w0, near)
        x, y = min(max((a * n + x0) * by, first), last_x), min(max((b * n + y0) * by, first), last_y)
        column, row = min(np.uint32(np.int32(x)), before_x), min(np.uint32(np.int32(y)), before_y)
        right[i], below[i] = x - np.float32(np.int32(column)), y - np.float32(np.int32(row))
        at[i] = row * (before_x + np.uint32(2)) + column


@kernel("void(uint32[::1], float32[::1], float32[::1], float64[::1], float64, int64, int64, boolean)")
def _look_along(at, right, below, way, y, width, height, flat):
    """Along row `y` of the result over a picture of this size."""
    a, c, e, b, d, f, g, h, k = way
    last_x, last_y = np.float32(width - 1), np.float32(height - 1)
    before_x, before_y = np.uint32(width - 2), np.uint32(height - 2)
    x0, y0, w0 = np.float32(c * y + e), np.float32(d * y + f), np.float32(h * y + k)
    across, down = np.float32(a), np.float32(b)
    if flat:
        _look_flat(at, right, below, across, x0, down, y0, last_x, last_y, before_x, before_y)
    else:
        away = np.float32(g)
        _look(at, right, below, across, x0, down, y0, away, w0, last_x, last_y, before_x, before_y)


def _fetching(by: Writer, four: Any, at: Any, px: Any, stride: Any, count: Any) -> None:
    """Writes a loop over places; see below."""
    builder, pair, whole = by.builder, by.ir.IntType(16), by.ir.IntType(32)

    def two(place: Any) -> Any:
        # Neighbours are read as one number, of which the first is the low byte, wherever they begin.
        found = builder.load(builder.bitcast(builder.gep(px, [place]), pair.as_pointer()))
        found.align = 1
        return builder.zext(found, whole)

    with by.strides(count, 1) as each:
        place = builder.zext(builder.load(builder.gep(at, [each.index])), by.whole)
        below = builder.shl(two(builder.add(place, stride)), whole(16))
        builder.store(builder.or_(two(place), below), builder.gep(four, [each.index]))


_fetch_bytes = Lanes(_fetching, "void(uint32[::1], uint32[::1], uint8[::1], int64, int64)")
"""(four, at, px, stride, count): for `count` places in a picture of bytes whose rows are `stride` long, the four around
each as one number, the lowest the one at the place, then that right of it, then those below."""


@kernel("float32(uint32, uint32)", fastmath=True)
def _byte(of, places):
    return np.float32(np.int32((of >> places) & np.uint32(255)))


@kernel("void(uint8[:,::1], uint64, uint32[::1], float32[::1], float32[::1])", fastmath=True)
def _mix_bytes(out, y, four, right, below):
    none, one, two, three = np.uint32(0), np.uint32(8), np.uint32(16), np.uint32(24)
    for i in range(np.uint64(out.shape[1])):
        p, by = four[i], right[i]
        above, under = _byte(p, none), _byte(p, two)
        above += (_byte(p, one) - above) * by
        under += (_byte(p, three) - under) * by
        out[y, i] = np.uint8(np.int32(above + (under - above) * below[i] + np.float32(0.5)))


@kernel("void(uint8[:,::1], uint8[:,::1], float64[::1], boolean)")
def _plane(source, out, way, flat):
    high, wide = source.shape
    width, px = out.shape[1], source.reshape(-1)
    at, four = np.empty(width, np.uint32), np.empty(width, np.uint32)
    right, below = np.empty(width, np.float32), np.empty(width, np.float32)
    for y in range(out.shape[0]):
        _look_along(at, right, below, way, np.float64(y), wide, high, flat)
        _fetch_bytes(four, at, px, wide, width)
        _mix_bytes(out, y, four, right, below)


@kernel("void(uint32[::1], uint32[::1], uint32[::1], uint32[::1], uint32[::1], uint32[::1], uint64)")
def _fetch(one, two, three, four, at, px, stride):
    for i in range(np.uint64(at.shape[0])):
        n = np.uint64(at[i])
        m = n + stride
        one[i], two[i], three[i], four[i] = px[n], px[n + np.uint64(1)], px[m], px[m + np.uint64(1)]


@kernel("uint32(uint32, uint32, uint32, uint32, uint32, float32, float32)", fastmath=True)
def _mixed(p, q, r, s, places, right, below):
    above, under = _byte(p, places), _byte(r, places)
    above += (_byte(q, places) - above) * right
    under += (_byte(s, places) - under) * right
    return np.uint32(np.int32(above + (under - above) * below + np.float32(0.5))) << places


_FOUR = ", ".join(["uint32[::1]"] * 4)


@kernel(f"void(uint32[:,::1], uint64, {_FOUR}, float32[::1], float32[::1])", fastmath=True)
def _mix(out, y, one, two, three, four, right, below):
    none, first, second, third = np.uint32(0), np.uint32(8), np.uint32(16), np.uint32(24)
    for i in range(np.uint64(out.shape[1])):
        p, q, r, s, by, down = one[i], two[i], three[i], four[i], right[i], below[i]
        out[y, i] = (
            _mixed(p, q, r, s, none, by, down)
            | _mixed(p, q, r, s, first, by, down)
            | _mixed(p, q, r, s, second, by, down)
            | _mixed(p, q, r, s, third, by, down)
        )


@kernel("void(uint32[:,::1], uint32[:,::1], float64[::1], boolean)")
def _picture(source, out, way, flat):
    high, wide = source.shape
    width, px = out.shape[1], source.reshape(-1)
    at, right, below = np.empty(width, np.uint32), np.empty(width, np.float32), np.empty(width, np.float32)
    one, two = np.empty(width, np.uint32), np.empty(width, np.uint32)
    three, four = np.empty(width, np.uint32), np.empty(width, np.uint32)
    for y in range(out.shape[0]):
        _look_along(at, right, below, way, np.float64(y), wide, high, flat)
        _fetch(one, two, three, four, at, px, np.uint64(wide))
        _mix(out, y, one, two, three, four, right, below)
