"""Simple shapes, filled or as a line, at any transform, with the exact area of every px."""

from __future__ import annotations

import math
from typing import Sequence

import numpy as np
import skia

from .fill import Outlines, covered
from .kernel import kernel
from .matrix import Matrix
from .patch import Patch, Rect


def skia_matrix(to: Matrix) -> skia.Matrix:
    return skia.Matrix.MakeAll(to.a, to.c, to.e, to.b, to.d, to.f, to.g, to.h, to.i)


def rounded(box: Rect, radius: float) -> skia.Path:
    """A rectangle with round corners; the radius is at most half of the shorter side."""
    radius = min(radius, (box.x1 - box.x0) / 2, (box.y1 - box.y0) / 2)
    return skia.Path().addRoundRect(skia.Rect.MakeLTRB(*box), radius, radius)


def ellipse(box: Rect) -> skia.Path:
    return skia.Path().addOval(skia.Rect.MakeLTRB(*box))


def polygon(box: Rect, sides: int) -> skia.Path:
    """A regular polygon that stands on a side, stretched into the box."""
    points = [
        (math.cos(turn), math.sin(turn))
        for turn in (math.pi / 2 + math.pi / sides + 2 * math.pi * i / sides for i in range(sides))
    ]
    xs, ys = [x for x, _ in points], [y for _, y in points]
    across, down = (box.x1 - box.x0) / (max(xs) - min(xs)), (box.y1 - box.y0) / (max(ys) - min(ys))
    return skia.Path.Polygon(
        [skia.Point(box.x0 + (x - min(xs)) * across, box.y0 + (y - min(ys)) * down) for x, y in points], True
    )


def star(box: Rect, points: int, depth: float) -> skia.Path:
    """A star with its first point up, stretched into the box; its inner corners lie a share `depth` of the way in."""
    turns = [math.pi * i / points - math.pi / 2 for i in range(2 * points)]
    reach = [1.0 if i % 2 == 0 else max(0.0, 1 - depth) for i in range(2 * points)]
    xs = [far * math.cos(turn) for far, turn in zip(reach, turns)]
    ys = [far * math.sin(turn) for far, turn in zip(reach, turns)]
    across, down = (box.x1 - box.x0) / (max(xs) - min(xs)), (box.y1 - box.y0) / (max(ys) - min(ys))
    return skia.Path.Polygon(
        [skia.Point(box.x0 + (x - min(xs)) * across, box.y0 + (y - min(ys)) * down) for x, y in zip(xs, ys)], True
    )


def cornered(path: skia.Path, radius: float) -> skia.Path:
    """The path with its sharp corners rounded."""
    made = skia.Path()
    effect = skia.Paint(PathEffect=skia.CornerPathEffect.Make(radius)) if radius > 0 else None
    return made if effect is not None and effect.getFillPath(path, made) else path


def part_of(path: skia.Path, share: float) -> skia.Path:
    """The line of each of the path's contours, from where it begins, as far as a share 0..1 of its length."""
    made, measure = skia.Path(), skia.PathMeasure(path, False)
    while True:
        measure.getSegment(0, measure.getLength() * share, made, True)
        if not measure.nextContour():
            return made


def bezier_path(curves: Sequence[tuple[tuple[float, float], ...]]) -> skia.Path:
    """A closed path of cubic Béziers, each (begin, first handle, second handle, end)."""
    path = skia.Path()
    path.moveTo(*curves[0][0])
    for begin, first, second, end in curves:
        if first == begin and second == end:
            path.lineTo(*end)
        else:
            path.cubicTo(*first, *second, *end)
    path.close()
    return path


def stroked(path: skia.Path, width: float, sharp: bool) -> skia.Path:
    """The line so wide along a path, as an outline of its own. Sharp corners are mitred up to four times the width, as
    in SVG; others, and the ends of open ones, are round."""
    paint = skia.Paint(Style=skia.Paint.kStroke_Style, StrokeWidth=width, StrokeMiter=4)
    if not sharp:
        paint.setStrokeJoin(skia.Paint.kRound_Join)
        paint.setStrokeCap(skia.Paint.kRound_Cap)
    made = skia.Path()
    # As fine as for a picture eight times as large.
    return made if paint.getFillPath(path, made, None, 8) else skia.Path()


_FLAT = 0.02
"""Px by which a curve that is painted as lines may be off."""


def lines_of(path: skia.Path, scale: float) -> np.ndarray:
    """(n, 4): the path as straight pieces x0, y0, x1, y1, each contour closed. They are nowhere further from its curves
    than a fiftieth of a px, where one of its units is `scale` px."""
    contours: list[list[Sequence[float]]] = []
    pieces = skia.Path.Iter(path, False)
    while True:
        verb, points = pieces.next()
        if verb == skia.Path.kDone_Verb:
            break
        if verb == skia.Path.kMove_Verb:
            contours.append([(points[0].fX, points[0].fY)])
        elif verb == skia.Path.kLine_Verb:
            contours[-1].append((points[1].fX, points[1].fY))
        elif verb != skia.Path.kClose_Verb:
            weight = pieces.conicWeight() if verb == skia.Path.kConic_Verb else 1.0
            contours[-1] += _along(np.array([(each.fX, each.fY) for each in points]), weight, scale)
    made = [np.array(contour) for contour in contours if len(contour) > 1]
    if not made:
        return np.empty((0, 4))
    return np.concatenate([np.concatenate([each, np.roll(each, -1, 0)], 1) for each in made])


def _along(points: np.ndarray, weight: float, scale: float) -> list[list[float]]:
    """Points along one piece after its first: as many as its bend asks for (a chord is off by at most an eighth of the
    second derivative times its length squared)."""
    bend = np.hypot(*(points[:-2] - 2 * points[1:-1] + points[2:]).T).max() * scale
    degree = len(points) - 1
    count = min(1000, max(1, math.ceil(math.sqrt(degree * (degree - 1) * bend / 8 / _FLAT))))
    at = (np.arange(1, count + 1) / count)[:, None]
    rest = 1 - at
    if degree == 3:
        a, b, c, d = points
        found = a * rest**3 + 3 * b * at * rest**2 + 3 * c * at**2 * rest + d * at**3
    else:
        a, b, c = points
        found = (a * rest**2 + 2 * weight * b * at * rest + c * at**2) / (rest**2 + 2 * weight * at * rest + at**2)
    return found.tolist()


def paint_box(box: Rect, radius: float, matrix: Matrix, window: Rect, colour: tuple[int, int, int]) -> Patch:
    """The exact coverage of a rectangle with round corners inside a window."""
    if radius > 0 or not matrix.flat or matrix.b or matrix.c:
        return paint_path(rounded(box, radius), matrix, window, colour)
    placed = box.through(matrix)
    area = placed.meets(window)
    if box.empty or area.empty:
        return Patch.empty()
    x0, y0, x1, y1 = area.whole()
    cover = np.empty((y1 - y0, x1 - x0), np.float32)
    free = placed.x0 - x0, x1 - placed.x1, placed.y0 - y0, y1 - placed.y1
    _fill_box(cover, *(np.float32(max(each, 0.0)) for each in free))
    return Patch(cover, x0, y0, colour=colour)


@kernel("void(float32[:,::1], float32, float32, float32, float32)")
def _fill_box(cover, left, right, top, foot):
    """All of every px, but for what is left free of those at each side."""
    height, width = cover.shape
    for y in range(height):
        row, part = cover[y], np.float32(1)
        if y == 0:
            part -= top
        if y == height - 1:
            part -= foot
        part *= np.float32(255)
        for x in range(width):
            row[x] = part
        row[0] -= part * left
        row[width - 1] -= part * right


def paint_path(
    path: skia.Path, matrix: Matrix, window: Rect, colour: tuple[int, int, int], stroke: float = 0.0
) -> Patch:
    """The exact coverage of a path inside a window (non-zero winding); with a stroke, of a line so many of its own
    units wide along it."""
    if stroke > 0:
        path = stroked(path, stroke, sharp=False)
    bounds = path.computeTightBounds()
    box = Rect(bounds.left(), bounds.top(), bounds.right(), bounds.bottom())
    area = box.through(matrix, 1.0).meets(window)
    scale = matrix.scale_at((box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2)
    if path.isEmpty() or area.empty or scale < 1e-9:
        return Patch.empty()
    x0, y0, x1, y1 = area.whole()
    pieces = Outlines.of([lines_of(path, scale)]).moved([matrix], x0, y0)
    return Patch(covered(pieces, x1 - x0, y1 - y0) * np.float32(255), x0, y0, colour=colour)
