"""The rasteriser: triangles to px, by the nearest surface at many places of every px.

A picture is made in bands of rows. Of each px 4 or 16 places are looked at (a Hammersley set: in each row and column
of a 4 × 4 or 16 × 16 division lies one), and the nearest triangle is kept for each. A px is then shaded once for each
triangle it shows, in the middle of the places that show it; what several triangles show is mixed as light. How much of
the px is covered is how many places are. All sums are done in one order, so that the same triangles make the same
bytes anywhere.
"""

from __future__ import annotations

from typing import Iterator, NamedTuple

import numpy as np

from ..picture import GAMMA, kernel, raised
from .shade import Painted, shaded

_BAND = 16
"""Rows made at a time: what is kept of their places stays near the processor."""

_NEAR = 1e-3
"""Where triangles are cut off before the eye, as a share of how far away things are."""

WIDE = 12
"""Numbers of a triangle's corner: x, y, depth and 1/w on the picture, then place, normal and place on a texture."""


def _places_of(count: int) -> np.ndarray:
    """(count, 2) places within a px, for a power of two: n / count, and the digits of n read backwards."""
    bits = count.bit_length() - 1
    backwards = [int(f"{n:0{bits}b}"[::-1], 2) for n in range(count)]
    return np.array([((n + 0.5) / count, (back + 0.5) / count) for n, back in enumerate(backwards)])


_ONE, _FEW, _MANY = (_places_of(count) for count in (1, 4, 16))


class Triangles(NamedTuple):
    """What is to be seen: `corners` (m, 3, 4) on the picture as x·w, y·w, depth·w and w, where w is above 0 before the
    eye and a smaller depth is nearer; `carried` (m, 3, 8) their place in the world, normal there and place on a
    texture; `surfaces` (m,) which surface each has; `open` (m,) whether its back is to be seen too."""

    corners: np.ndarray
    carried: np.ndarray
    surfaces: np.ndarray
    open: np.ndarray


@kernel("int64(float64[:,:,::1], float64, float64)")
def _count_cut(corners, near, far):
    """How many triangles there may be when they are cut before the eye, and far away."""
    count = 0
    for t in range(corners.shape[0]):
        whole = True
        for k in range(3):
            whole = whole and near < corners[t, k, 3] < far
        count += 1 if whole else 3
    return count


@kernel("int64(float64[:,::1], int64, float64, boolean, float64[:,::1])")
def _cut(ring, points, at, ahead, out):
    """The part of a polygon whose w is more than `at`, or with `ahead` False less."""
    made = 0
    for k in range(points):
        j = (k + 1) % points
        w0, w1 = ring[k, 3] - at, ring[j, 3] - at
        if not ahead:
            w0, w1 = -w0, -w1
        if w0 > 0:
            for n in range(12):
                out[made, n] = ring[k, n]
            made += 1
        if (w0 > 0) != (w1 > 0):
            share = w0 / (w0 - w1)
            for n in range(12):
                out[made, n] = ring[k, n] + share * (ring[j, n] - ring[k, n])
            made += 1
    return made


@kernel(
    "int64(float64[:,:,::1], float64[:,:,::1], int64[::1], boolean[::1], float64, float64, float64, float64,"
    " float64[:,:,::1], int64[::1])"
)
def _set_up(corners, carried, surfaces, open_, near, far, width, height, out, kept):
    """Triangles as they lie on the picture: cut before the eye, without those that face away or lie outside."""
    made = 0
    ring, other = np.empty((6, 12)), np.empty((6, 12))
    for t in range(corners.shape[0]):
        whole = True
        for k in range(3):
            whole = whole and near < corners[t, k, 3] < far
            for n in range(4):
                ring[k, n] = corners[t, k, n]
            for n in range(8):
                ring[k, 4 + n] = carried[t, k, n]
        points = 3
        if not whole:
            points = _cut(ring, 3, near, True, other)
            points = _cut(other, points, far, False, ring)
        if points < 3:
            continue
        for k in range(points):
            one = 1.0 / ring[k, 3]
            for n in range(3):
                ring[k, n] *= one
            ring[k, 3] = one
        for third in range(2, points):
            ax, ay = ring[0, 0], ring[0, 1]
            bx, by = ring[third - 1, 0], ring[third - 1, 1]
            cx, cy = ring[third, 0], ring[third, 1]
            twice = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
            if not (abs(twice) > 1e-12) or not np.isfinite(twice):
                continue
            # A surface that faces the eye turns against the clock on a picture with y down.
            if not open_[t] and twice > 0:
                continue
            if max(ax, bx, cx) < 0 or min(ax, bx, cx) > width or max(ay, by, cy) < 0 or min(ay, by, cy) > height:
                continue
            first, second = (third - 1, third) if twice > 0 else (third, third - 1)
            for n in range(12):
                out[made, 0, n], out[made, 1, n], out[made, 2, n] = ring[0, n], ring[first, n], ring[second, n]
            kept[made] = surfaces[t]
            made += 1
    return made


@kernel("void(float64[:,:,::1], int64, int64, int64[::1], int64[::1])")
def _bands(made, band, rows, begins, order):
    """The triangles of each band, in their own order; `order` may be empty, to count only."""
    bands = begins.shape[0] - 1
    at = np.zeros(bands, np.int64)
    for b in range(bands):
        at[b] = begins[b]
    for t in range(made.shape[0]):
        top = min(made[t, 0, 1], made[t, 1, 1], made[t, 2, 1])
        foot = max(made[t, 0, 1], made[t, 1, 1], made[t, 2, 1])
        first, last = max(0, int(top) // band), min(bands - 1, int(min(foot, float(rows))) // band)
        for b in range(first, last + 1):
            if order.shape[0]:
                order[at[b]] = t
            at[b] += 1
    if not order.shape[0]:
        total = 0
        for b in range(bands):
            count = at[b]
            begins[b] = total
            total += count
        begins[bands] = total


@kernel("void(float64[:,:,::1], int64[::1], int64, float64[:,::1], float64[:,:,::1], int32[:,:,::1])", fastmath=False)
def _visible(made, order, top, places, depth, shown):
    """Which triangle is nearest at each place of a band."""
    rows, width, count = shown.shape
    reach = np.empty((3, count))
    for number in range(order.shape[0]):
        t = order[number]
        ax, ay, az = made[t, 0, 0], made[t, 0, 1] - top, made[t, 0, 2]
        bx, by, bz = made[t, 1, 0], made[t, 1, 1] - top, made[t, 1, 2]
        cx, cy, cz = made[t, 2, 0], made[t, 2, 1] - top, made[t, 2, 2]
        left, right = max(0, int(np.floor(min(ax, bx, cx)))), min(width, int(np.ceil(max(ax, bx, cx))))
        high, low = max(0, int(np.floor(min(ay, by, cy)))), min(rows, int(np.ceil(max(ay, by, cy))))
        if left >= right or high >= low:
            continue
        twice = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
        # Edge k lies against corner k; inside all are above 0, and they sum up to twice the area.
        e0x, e0y = -(cy - by), cx - bx
        e1x, e1y = -(ay - cy), ax - cx
        e2x, e2y = -(by - ay), bx - ax
        zx = (e0x * az + e1x * bz + e2x * cz) / twice
        zy = (e0y * az + e1y * bz + e2y * cz) / twice
        for s in range(count):
            reach[0, s] = e0x * places[s, 0] + e0y * places[s, 1]
            reach[1, s] = e1x * places[s, 0] + e1y * places[s, 1]
            reach[2, s] = e2x * places[s, 0] + e2y * places[s, 1]
        # No place of a px is further along an edge than its corners are.
        least0, most0 = min(e0x, 0.0) + min(e0y, 0.0), max(e0x, 0.0) + max(e0y, 0.0)
        least1, most1 = min(e1x, 0.0) + min(e1y, 0.0), max(e1x, 0.0) + max(e1y, 0.0)
        least2, most2 = min(e2x, 0.0) + min(e2y, 0.0), max(e2x, 0.0) + max(e2y, 0.0)
        for y in range(high, low):
            for x in range(left, right):
                w0 = e0x * (x - bx) + e0y * (y - by)
                w1 = e1x * (x - cx) + e1y * (y - cy)
                w2 = e2x * (x - ax) + e2y * (y - ay)
                if w0 + most0 < 0 or w1 + most1 < 0 or w2 + most2 < 0:
                    continue
                z = az + zx * (x - ax) + zy * (y - ay)
                if w0 + least0 > 0 and w1 + least1 > 0 and w2 + least2 > 0:
                    for s in range(count):
                        own = z + zx * places[s, 0] + zy * places[s, 1]
                        if own < depth[y, x, s]:
                            depth[y, x, s] = own
                            shown[y, x, s] = t
                    continue
                for s in range(count):
                    u, v, w = w0 + reach[0, s], w1 + reach[1, s], w2 + reach[2, s]
                    if u < 0 or v < 0 or w < 0:
                        continue
                    # A place on an edge belongs to the triangle on its upper or left side alone.
                    if u == 0 and not (e0x > 0 or e0x == 0 and e0y > 0):
                        continue
                    if v == 0 and not (e1x > 0 or e1x == 0 and e1y > 0):
                        continue
                    if w == 0 and not (e2x > 0 or e2x == 0 and e2y > 0):
                        continue
                    own = z + zx * places[s, 0] + zy * places[s, 1]
                    if own < depth[y, x, s]:
                        depth[y, x, s] = own
                        shown[y, x, s] = t


@kernel(
    "void(float64[:,:,::1], int64[::1], float64, int32[:,:,::1], float64[:,::1], float64[::1], float64[:,::1],"
    " float64[:,::1], float32[:,:,:,::1], uint8[::1], int64[:,::1], float32[:,:,::1], float64[:,::1],"
    " float32[:,:,::1])"
)
def _resolved(made, surfaces, top, shown, places, eye, rows_of, lights, around, texels, sheets, maps, views, out):
    """Shade a band: (rows, width, 4) light times coverage, and coverage."""
    rows, width, count = shown.shape
    # A row's points are found first and shaded together.
    points, light = np.empty((width * count, 8)), np.empty((width * count, 3))
    parts, which = np.empty(width * count), np.empty(width * count, np.int64)
    column, many = np.empty(width * count, np.int64), np.empty(width * count, np.int64)
    for y in range(rows):
        found = 0
        for x in range(width):
            alike = True
            for s in range(1, count):
                alike = alike and shown[y, x, s] == shown[y, x, 0]
            if alike and shown[y, x, 0] < 0:
                continue
            for s in range(1 if alike else count):
                t = shown[y, x, s]
                if t < 0:
                    continue
                seen, mx, my, again = 0, 0.0, 0.0, False
                for other in range(count):
                    if shown[y, x, other] == t:
                        if other < s:
                            again = True
                            break
                        seen += 1
                        mx += places[other, 0]
                        my += places[other, 1]
                if again:
                    continue
                px, py = x + mx / seen, y + top + my / seen
                ax, ay, bx, by = made[t, 0, 0], made[t, 0, 1], made[t, 1, 0], made[t, 1, 1]
                cx, cy = made[t, 2, 0], made[t, 2, 1]
                u = (cx - bx) * (py - by) - (cy - by) * (px - bx)
                v = (ax - cx) * (py - cy) - (ay - cy) * (px - cx)
                w = (bx - ax) * (py - ay) - (by - ay) * (px - ax)
                twice = u + v + w
                u, v, w = u * made[t, 0, 3], v * made[t, 1, 3], w * made[t, 2, 3]
                whole = 1.0 / (u + v + w)
                for n in range(8):
                    points[found, n] = (u * made[t, 0, 4 + n] + v * made[t, 1, 4 + n] + w * made[t, 2, 4 + n]) * whole
                # Texels to a px, by how much of the texture the triangle shows on how much of the picture.
                parts[found] = abs(
                    (made[t, 1, 10] - made[t, 0, 10]) * (made[t, 2, 11] - made[t, 0, 11])
                    - (made[t, 2, 10] - made[t, 0, 10]) * (made[t, 1, 11] - made[t, 0, 11])
                ) / max(twice, 1e-12)
                which[found], column[found], many[found] = surfaces[t], x, seen
                found += 1
        shaded(points, parts, which, found, eye, rows_of, lights, around, texels, sheets, maps, views, light)
        first = 0
        while first < found:
            x, last, covered = column[first], first, 0
            r = g = b = 0.0
            while last < found and column[last] == x:
                r += many[last] * min(light[last, 0], 64.0)
                g += many[last] * min(light[last, 1], 64.0)
                b += many[last] * min(light[last, 2], 64.0)
                covered += many[last]
                last += 1
            out[y, x, 0], out[y, x, 1], out[y, x, 2] = r / covered, g / covered, b / covered
            out[y, x, 3] = covered / count
            first = last


class _Ready(NamedTuple):
    """Triangles on the picture, sorted into bands of rows: `made` (n, 3, 12) with the surface of each, counted from a
    corner (`left`, `top`) of what they cover, so `wide` and `high`; `order` has those of one band after the other, each
    from `begins` on."""

    made: np.ndarray
    surfaces: np.ndarray
    left: int
    top: int
    wide: int
    high: int
    begins: np.ndarray
    order: np.ndarray

    def band(self, number: int) -> np.ndarray:
        return self.order[self.begins[number] : self.begins[number + 1]]


def _ready(triangles: Triangles, width: int, height: int, far: float) -> _Ready | None:
    corners = np.ascontiguousarray(triangles.corners, np.float64)
    if not len(corners):
        return None
    near = _NEAR * max(float(np.abs(corners[..., 3]).max()), 1e-9)
    room = _count_cut(corners, near, far)
    made = np.empty((room, 3, WIDE))
    surfaces = np.empty(room, np.int64)
    count = _set_up(
        corners,
        np.ascontiguousarray(triangles.carried, np.float64),
        np.ascontiguousarray(triangles.surfaces, np.int64),
        np.ascontiguousarray(triangles.open, np.bool_),
        near,
        far,
        float(width),
        float(height),
        made,
        surfaces,
    )
    if not count:
        return None
    made, surfaces = made[:count], surfaces[:count]
    left, top = (max(0, int(np.floor(made[..., n].min()))) for n in (0, 1))
    right = min(width, int(np.ceil(made[..., 0].max())))
    foot = min(height, int(np.ceil(made[..., 1].max())))
    if left >= right or top >= foot:
        return None
    made[..., 0] -= left
    made[..., 1] -= top
    high = foot - top
    begins = np.zeros(-(-high // _BAND) + 1, np.int64)
    _bands(made, _BAND, high, begins, np.empty(0, np.int64))
    order = np.empty(int(begins[-1]), np.int64)
    _bands(made, _BAND, high, begins, order)
    return _Ready(made, surfaces, left, top, right - left, high, begins, order)


def _each_band(ready: _Ready, places: np.ndarray) -> Iterator[tuple[int, int, np.ndarray, np.ndarray]]:
    """First and last row of every band that shows anything, how near the nearest is at each place, and which."""
    depth = np.empty((_BAND, ready.wide, len(places)))
    shown = np.empty((_BAND, ready.wide, len(places)), np.int32)
    for number in range(len(ready.begins) - 1):
        first, order = number * _BAND, ready.band(number)
        last = min(ready.high, first + _BAND)
        if len(order):
            rows = last - first
            depth[:] = np.inf
            shown[:] = -1
            _visible(ready.made, order, first, places, depth[:rows], shown[:rows])
            yield first, last, depth[:rows], shown[:rows]


def rasterise(
    triangles: Triangles, painted: Painted, eye: np.ndarray, width: int, height: int, exact: bool, far: float = np.inf
) -> tuple[np.ndarray, int, int]:
    """(h, w, 4) float32 premultiplied code values of what is seen within a picture, and where its corner lies.

    `eye` (3,) is where it is seen from in the world; nothing is seen whose w is not
    below `far`. What is brighter than white is white."""
    ready = _ready(triangles, width, height, far)
    if ready is None:
        return np.zeros((0, 0, 4), np.float32), 0, 0
    places = _MANY if exact else _FEW
    out = np.zeros((ready.high, ready.wide, 4), np.float32)
    at = np.ascontiguousarray(eye, np.float64)
    for first, last, _, shown in _each_band(ready, places):
        _resolved(ready.made, ready.surfaces, float(first), shown, places, at, *painted, out[first:last])
    return _encoded(out), ready.left, ready.top


def nearness_of(triangles: Triangles, width: int, height: int, fine: bool = True) -> tuple[np.ndarray, int, int]:
    """(h, w) float32 of what is seen within a picture, and where its corner lies: one by how far ahead the nearest is
    at each px, on the mean of the places that show anything, or in its middle alone; 0 where none does."""
    ready = _ready(triangles, width, height, np.inf)
    if ready is None:
        return np.zeros((0, 0), np.float32), 0, 0
    out = np.zeros((ready.high, ready.wide), np.float32)
    for first, last, depth, _ in _each_band(ready, _FEW if fine else _ONE):
        there = np.isfinite(depth)
        out[first:last] = -np.where(there, depth, 0).sum(-1) / np.maximum(there.sum(-1), 1)
    return out, ready.left, ready.top


def _encoded(light: np.ndarray) -> np.ndarray:
    """Light, not times coverage, and coverage, as premultiplied code values."""
    cover = light[..., 3].copy()
    row = np.minimum(light, np.float32(1), out=light).reshape(-1)
    raised(row, np.float32(1 / GAMMA))
    light *= np.float32(255) * cover[..., None]
    light[..., 3] = np.float32(255) * cover
    return light
