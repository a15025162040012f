"""Paths of points: cubic Béziers travelled by arc length, so that an ease sets the speed and not the tangents."""

from __future__ import annotations

import math
from bisect import bisect_right
from functools import lru_cache
from typing import NamedTuple

Point = tuple[float, float]

_PARTS = 64


class Segment(NamedTuple):
    """A cubic Bézier from `a` to `d`."""

    a: Point
    b: Point
    c: Point
    d: Point


def automatic_tangent(before: Point | None, here: Point, after: Point | None, share: float) -> Point:
    """A tangent that leads smoothly through a point: along the chord of its neighbours, a third of the nearer leg.

    `share` is 1 for the way out and −1 for the way in. At a path's end the tangent is zero: it leaves straight.
    """
    if before is None or after is None:
        return (0.0, 0.0)
    chord = (after[0] - before[0], after[1] - before[1])
    length = math.hypot(*chord)
    if length == 0:
        return (0.0, 0.0)
    leg = math.dist(here, after) if share > 0 else math.dist(here, before)
    return (share * chord[0] / length * leg / 3, share * chord[1] / length * leg / 3)


def bezier_point(segment: Segment, t: float) -> Point:
    s = 1 - t
    weights = (s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t)
    return (sum(w * p[0] for w, p in zip(weights, segment)), sum(w * p[1] for w, p in zip(weights, segment)))


def _speed(segment: Segment, t: float) -> float:
    s = 1 - t
    weights = (3 * s * s, 6 * s * t, 3 * t * t)
    legs = [(q[0] - p[0], q[1] - p[1]) for p, q in zip(segment, segment[1:])]
    return math.hypot(
        sum(w * leg[0] for w, leg in zip(weights, legs)), sum(w * leg[1] for w, leg in zip(weights, legs))
    )


# Gauss-Legendre of five points on [−1, 1]: exact for polynomials of degree 9.
_NODES = (-0.9061798459386640, -0.5384693101056831, 0.0, 0.5384693101056831, 0.9061798459386640)
_WEIGHTS = (0.2369268850561891, 0.4786286704993665, 0.5688888888888889, 0.4786286704993665, 0.2369268850561891)


def _length(segment: Segment, t0: float, t1: float) -> float:
    half, middle = (t1 - t0) / 2, (t0 + t1) / 2
    return half * sum(w * _speed(segment, middle + half * x) for x, w in zip(_NODES, _WEIGHTS))


@lru_cache(maxsize=2048)
def _table(segment: Segment) -> tuple[float, ...]:
    """Lengths from the start at t = i / 64."""
    lengths = [0.0]
    for i in range(_PARTS):
        lengths.append(lengths[-1] + _length(segment, i / _PARTS, (i + 1) / _PARTS))
    return tuple(lengths)


def arc_length(segment: Segment) -> float:
    return _table(segment)[-1]


def along(segment: Segment, share: float) -> Point:
    """The point at a share of the segment's length. Below 0 and above 1 it goes straight on along the end's tangent."""
    table = _table(segment)
    total = table[-1]
    if total == 0:
        return segment.a
    if not 0 <= share <= 1:
        return _beyond(segment, share, total)
    wanted = share * total
    part = min(max(bisect_right(table, wanted) - 1, 0), _PARTS - 1)
    low, high = part / _PARTS, (part + 1) / _PARTS
    leg = table[part + 1] - table[part]
    t = low + (high - low) * ((wanted - table[part]) / leg if leg else 0)
    for _ in range(8):
        speed = _speed(segment, t)
        error = table[part] + _length(segment, low, t) - wanted
        if abs(error) < 1e-9 * total or speed == 0:
            break
        t = min(high, max(low, t - error / speed))
    return bezier_point(segment, t)


def _beyond(segment: Segment, share: float, total: float) -> Point:
    at_end = share > 1
    points = segment if at_end else segment[::-1]
    end = points[3]
    far = (share - 1 if at_end else -share) * total
    for other in (points[2], points[1], points[0]):
        span = math.dist(end, other)
        if span > 1e-9:
            return (end[0] + (end[0] - other[0]) / span * far, end[1] + (end[1] - other[1]) / span * far)
    return end
