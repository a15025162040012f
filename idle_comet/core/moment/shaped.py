"""The outline of a shape at one moment, in px of the project's frame."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Any

import skia

from ..motion import Corner, Outline
from ..motion.outlines import Curve, Point, between_points, curves_of, halves, shift
from ..picture import (
    Matrix,
    Rect,
    bezier_path,
    cornered,
    ellipse,
    outline_path,
    part_of,
    polygon,
    rounded,
    skia_matrix,
    star,
    stroked,
)
from .scene import ShapeNow


def middle(shape: ShapeNow) -> tuple[float, float]:
    """The point a shape is built about and turns about."""
    values = dict(shape.values)
    return shape.width / 2 + values["x"], shape.height / 2 + values["y"]


@lru_cache(maxsize=256)
def path_of(shape: ShapeNow) -> skia.Path:
    """The shape's outline, turned and in its place; empty for one that has no extent."""
    values = dict(shape.values)
    path = _form(values, shape.drawing)
    placed = skia.Path()
    path.transform(skia_matrix(Matrix.shift(*middle(shape)) @ Matrix.turn(values["turn"])), placed)
    return placed


@lru_cache(maxsize=256)
def line_of(shape: ShapeNow) -> skia.Path:
    """The line around the shape as far as it is drawn, as an outline of its own; empty without one."""
    values = dict(shape.values)
    if values["stroke"] <= 0 or values["drawn"] <= 0:
        return skia.Path()
    path = path_of(shape)
    drawn = path if values["drawn"] >= 1 else part_of(path, values["drawn"])
    return stroked(drawn, values["stroke"], values["joins"] == "sharp")


def bounds(shape: ShapeNow) -> Rect:
    """What a shape inks: its form and its line. Nothing for one that has no extent."""
    box = Rect(0, 0, 0, 0)
    for path in (path_of(shape), line_of(shape)):
        if not path.isEmpty():
            own = path.computeTightBounds()
            box = box.union(Rect(own.left(), own.top(), own.right(), own.bottom()))
    return box if not box.empty else Rect(*middle(shape), *middle(shape))


def _form(values: dict[str, Any], drawing: str) -> skia.Path:
    """The outline about (0, 0)."""
    form, wide, high = values["form"], values["width"] / 2, values["height"] / 2
    if form == "outline":
        return bezier_path(curves_of(values["outline"]))
    if form == "line":
        line = skia.Path()
        line.moveTo(-wide, 0)
        line.lineTo(wide, 0)
        return line if wide > 0 else skia.Path()
    if wide <= 0 or high <= 0:
        return skia.Path()
    box = Rect(-wide, -high, wide, high)
    if form == "ellipse":
        return ellipse(box)
    if form == "polygon":
        return cornered(polygon(box, int(values["sides"])), values["radius"])
    if form == "star":
        return cornered(star(box, int(values["sides"]), values["depth"]), values["radius"])
    return rounded(box, values["radius"]) if form == "rectangle" else _stretched(outline_path(drawing), box)


def _stretched(path: skia.Path, box: Rect) -> skia.Path:
    """A drawing whose bounds are those of the box; one that is a straight line keeps to its direction."""
    own = path.computeTightBounds()
    if path.isEmpty() or own.width() <= 0 and own.height() <= 0:
        return skia.Path()
    across = (box.x1 - box.x0) / own.width() if own.width() > 0 else 1.0
    down = (box.y1 - box.y0) / own.height() if own.height() > 0 else 1.0
    made = skia.Path()
    path.transform(skia_matrix(Matrix(across, 0, 0, down, -across * own.centerX(), -down * own.centerY())), made)
    return made


def outline_of(shape: ShapeNow) -> Outline:
    """The shape's form about its middle as one outline of cubics; what is drawn by hand is as it was drawn. Raises
    ValueError for one that has holes, several parts, no extent, or no inside."""
    values = dict(shape.values)
    if values["form"] == "outline":
        found = values["outline"]
        assert isinstance(found, Outline)
        return found
    if values["form"] == "line":
        raise ValueError("a line has no inside")
    curves: list[Curve] = []
    parts = 0
    for verb, at in _form(values, shape.drawing):
        if verb == skia.Path.kMove_Verb:
            parts += 1
        elif verb == skia.Path.kClose_Verb or len(at) < 2:
            continue
        else:
            curves += _cubics([(each.fX, each.fY) for each in at], verb)
    if parts != 1:
        raise ValueError("it has several parts" if parts else "it has no extent")
    if math.dist(curves[-1][3], curves[0][0]) > 1e-6:
        curves += _cubics([curves[-1][3], curves[0][0]], skia.Path.kLine_Verb)
    return _joined(curves)


_QUARTER = math.sqrt(0.5)
"""Weight of a conic that is a quarter of an ellipse; the graphics library's rounded forms have no others."""


def _cubics(points: list[Point], verb: skia.Path.Verb) -> list[Curve]:
    """One piece of a path as cubics: a line and a parabola exactly; a quarter of an ellipse, as two, to four millionths
    of its radius (an arc's handles reach 4/3 · w / (1 + w) of the way to its conic's, which has weight w)."""
    first, last = points[0], points[-1]
    if verb == skia.Path.kLine_Verb:
        return [(first, first, last, last)]
    if verb == skia.Path.kCubic_Verb:
        return [(first, points[1], points[2], last)]
    if verb == skia.Path.kQuad_Verb:
        return [_arc(first, points[1], last, 2 / 3)]
    before, after = (between_points(end, points[1], _QUARTER / (1 + _QUARTER)) for end in (first, last))
    middle = between_points(before, after, 0.5)
    weight = math.sqrt((1 + _QUARTER) / 2)
    share = 4 / 3 * weight / (1 + weight)
    return [_arc(first, before, middle, share), _arc(middle, after, last, share)]


def _arc(first: Point, bend: Point, last: Point, share: float) -> Curve:
    return first, between_points(first, bend, share), between_points(last, bend, share), last


def _joined(curves: list[Curve]) -> Outline:
    """A closed outline of curves that follow one another; what has no length is left out."""
    kept = [curve for curve in curves if math.dist(curve[0], curve[3]) > 1e-6]
    while len(kept) < 3:
        # An outline has three corners at least.
        kept = [half for curve in kept for half in halves(curve)]
    corners = []
    for before, curve in zip((kept[-1], *kept[:-1]), kept):
        at = curve[0]
        corners.append(Corner(at=at, into=shift(at, before[2]), out=shift(at, curve[1])))
    return Outline(corners=tuple(corners))
