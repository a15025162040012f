"""Closed outlines of cubic Béziers: what lies between two of them, and what is done to their corners."""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import Field, field_validator

from ..modelled import Frozen
from .numbered import Numbered, numbered

Number = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
Point = tuple[Number, Number]


class Corner(Numbered):
    """A point of an outline; edits name it by its `id`.

    The curve comes `into` it from and goes `out` to these, as shifts from the point.
    """

    at: Point
    into: Point = (0.0, 0.0)
    out: Point = (0.0, 0.0)


class Outline(Frozen):
    """A closed outline of cubic Béziers."""

    corners: Annotated[tuple[Corner, ...], Field(min_length=3, max_length=400)]

    @field_validator("corners")
    @classmethod
    def _numbered(cls, corners: tuple[Corner, ...]) -> tuple[Corner, ...]:
        return numbered(corners)

    def scaled(self, by: float) -> Outline:
        """As large as `by` times, about (0, 0)."""
        corners = (
            Corner(id=each.id, at=_times(each.at, by), into=_times(each.into, by), out=_times(each.out, by))
            for each in self.corners
        )
        return Outline(corners=tuple(corners))


Curve = tuple[Point, Point, Point, Point]
"""A cubic: where it begins, its two handles, where it ends."""


def curves_of(outline: Outline) -> list[Curve]:
    """An outline's curves, from each corner to the next."""
    pairs = zip(outline.corners, (*outline.corners[1:], outline.corners[0]))
    return [
        (
            one.at,
            (one.at[0] + one.out[0], one.at[1] + one.out[1]),
            (other.at[0] + other.into[0], other.at[1] + other.into[1]),
            other.at,
        )
        for one, other in pairs
    ]


def at(curve: Curve, share: float, axis: int) -> float:
    """One coordinate of a cubic at a share 0..1 of its parameter (Bernstein)."""
    a, b, c, d = (point[axis] for point in curve)
    rest = 1 - share
    return a * rest**3 + 3 * b * share * rest**2 + 3 * c * share**2 * rest + d * share**3


def between_points(a: Point, b: Point, progress: float) -> Point:
    return a[0] + (b[0] - a[0]) * progress, a[1] + (b[1] - a[1]) * progress


def mixed_outline(a: Outline, b: Outline, progress: float) -> Outline:
    """Corner by corner; the outline with fewer gets more on its curves, which does not change it."""
    most = max(len(a.corners), len(b.corners))
    corners = [
        Corner(
            id=one.id,
            at=between_points(one.at, other.at, progress),
            into=between_points(one.into, other.into, progress),
            out=between_points(one.out, other.out, progress),
        )
        for one, other in zip(_parted(a, most), _parted(b, most))
    ]
    return Outline(corners=tuple(corners))


def _parted(outline: Outline, count: int) -> list[Corner]:
    """The same outline with so many corners: its curves are halved in turn (de Casteljau)."""
    corners = list(outline.corners)
    place = 0
    while len(corners) < count:
        corners = _halved(corners, place)
        place = (place + 2) % len(corners)
    return corners


def _times(point: Point, by: float) -> Point:
    return point[0] * by, point[1] * by


def shift(here: Point, to: Point) -> Point:
    """The way from one point to another."""
    return to[0] - here[0], to[1] - here[1]


def halves(curve: Curve) -> tuple[Curve, Curve]:
    """A cubic as two (de Casteljau)."""
    a, b, c, d = curve
    ab, bc, cd = between_points(a, b, 0.5), between_points(b, c, 0.5), between_points(c, d, 0.5)
    left, right = between_points(ab, bc, 0.5), between_points(bc, cd, 0.5)
    middle = between_points(left, right, 0.5)
    return (a, ab, left, middle), (middle, right, cd, d)


def _halved(corners: list[Corner], place: int) -> list[Corner]:
    """The same outline with one corner more, in the middle of the curve that goes out of a corner (de Casteljau)."""
    first, second = corners[place], corners[(place + 1) % len(corners)]
    a, d = first.at, second.at
    b, c = (a[0] + first.out[0], a[1] + first.out[1]), (d[0] + second.into[0], d[1] + second.into[1])
    (_, ab, left, middle), (_, right, cd, _) = halves((a, b, c, d))
    made = list(corners)
    made[place] = first.model_copy(update={"out": shift(a, ab)})
    made[(place + 1) % len(made)] = second.model_copy(update={"into": shift(d, cd)})
    made.insert(place + 1, Corner(at=middle, into=shift(middle, left), out=shift(middle, right)))
    return made


def halved(outline: Outline, place: int) -> Outline:
    """The same form with one corner more, half-way from a corner to the next."""
    return Outline(corners=tuple(_halved(list(outline.corners), place)))


def without_corner(outline: Outline, place: int) -> Outline:
    """The outline without a corner; the curve goes straight on to the next. Raises ValueError where two are left."""
    return Outline(corners=outline.corners[:place] + outline.corners[place + 1 :])


def bent(outline: Outline, place: int, round: bool) -> Outline:
    """A corner made sharp, or round: its curve then runs along the way from the corner before to the one after
    (Catmull–Rom: a sixth of it to each side)."""
    corners = list(outline.corners)
    before, after = corners[place - 1].at, corners[(place + 1) % len(corners)].at
    way = ((after[0] - before[0]) / 6, (after[1] - before[1]) / 6) if round else (0.0, 0.0)
    corners[place] = corners[place].model_copy(update={"into": (0.0 - way[0], 0.0 - way[1]), "out": way})
    return Outline(corners=tuple(corners))


def turned_like(outline: Outline, other: Outline) -> tuple[Outline, Outline]:
    """Both outlines with as many corners, running the same way round, the second beginning where its corners are
    nearest to the first's: then every corner goes the shortest way from one to the other. Neither changes its form."""
    most = max(len(outline.corners), len(other.corners))
    first, second = (_evenly_parted(each, most) for each in (outline, other))
    if _area(first) * _area(second) < 0:
        second = [each.model_copy(update={"into": each.out, "out": each.into}) for each in reversed(second)]
    ways = [_apart(first, second[place:] + second[:place]) for place in range(most)]
    place = ways.index(min(ways))
    return Outline(corners=tuple(first)), Outline(corners=tuple(second[place:] + second[:place]))


def _evenly_parted(outline: Outline, count: int) -> list[Corner]:
    """The same outline with so many corners: the longest of its curves is halved until there are enough."""
    corners = list(outline.corners)
    while len(corners) < count:
        nexts = (*corners[1:], corners[0])
        ways = [math.dist(one.at, other.at) for one, other in zip(corners, nexts)]
        corners = _halved(corners, ways.index(max(ways)))
    return corners


def _area(corners: list[Corner]) -> float:
    """Twice the signed area of the corners (Gauss)."""
    nexts = (*corners[1:], corners[0])
    return sum(one.at[0] * other.at[1] - other.at[0] * one.at[1] for one, other in zip(corners, nexts))


def _apart(first: list[Corner], second: list[Corner]) -> float:
    """The sum of squared ways between corners."""
    return sum((a.at[0] - b.at[0]) ** 2 + (a.at[1] - b.at[1]) ** 2 for a, b in zip(first, second))
