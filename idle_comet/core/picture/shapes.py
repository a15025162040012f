"""Simple shapes, filled or as a line, at any transform."""

from __future__ import annotations

import math
from typing import Sequence

import numpy as np
import skia

from .matrix import Matrix
from .patch import Patch, Rect


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


def bezier_path(curves: Sequence[tuple[tuple[float, float], ...]]) -> skia.Path:
    """A closed path of cubic Béziers, each (begin, first handle, second handle, end)."""
    path = skia.Path()
    path.moveTo(*curves[0][0])
    for _, first, second, end in curves:
        path.cubicTo(*first, *second, *end)
    path.close()
    return path


def paint_path(
    path: skia.Path, matrix: Matrix, window: Rect, colour: tuple[int, int, int], stroke: float = 0.0
) -> Patch:
    """Coverage of a path inside a window; with a stroke, of a line so many of its own units wide along it."""
    bounds = path.computeTightBounds()
    box = Rect(bounds.left(), bounds.top(), bounds.right(), bounds.bottom()).grown(stroke)
    area = box.through(matrix).grown(1).meets(window)
    if area.empty or matrix.scale_at((box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2) < 1e-9:
        return Patch.empty()
    x0, y0, x1, y1 = area.whole()
    mask = np.zeros((y1 - y0, x1 - x0), np.uint8)
    surface = skia.Surface.MakeRasterDirect(skia.ImageInfo.MakeA8(x1 - x0, y1 - y0), mask, x1 - x0)
    canvas = surface.getCanvas()
    to = Matrix.shift(-x0, -y0) @ matrix
    canvas.setMatrix(skia.Matrix.MakeAll(to.a, to.c, to.e, to.b, to.d, to.f, to.g, to.h, to.i))
    paint = skia.Paint(AntiAlias=True)
    if stroke > 0:
        paint.setStyle(skia.Paint.kStroke_Style)
        paint.setStrokeWidth(stroke)
        paint.setStrokeJoin(skia.Paint.kRound_Join)
    canvas.drawPath(path, paint)
    return Patch(mask, x0, y0, colour=colour)
