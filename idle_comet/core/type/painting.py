"""Painting type from glyph outlines, at any transform, without snapping to anything."""

from __future__ import annotations

import math
from typing import NamedTuple, Sequence

import cv2
import numpy as np
import skia

from ..picture import Matrix, Patch, Rect, parse_colour
from .layout import Glyph, Layout

_FINE_BELOW, _FINEST = 64, 4
"""Px of an em below which type is filled finer, and how many times at most."""


class Inking(NamedTuple):
    """How outlines are inked while they are drawn on: the stretch [start, end] of each contour's length, 0..1,
    with a pen so many em wide, and how much of the fill is there, 0..1."""

    start: float
    end: float
    pen: float
    fill: float


class Pose(NamedTuple):
    """Letters that stand together somewhere: `letters` None is all of them. `matrix` leads from em to px of the painted picture."""

    letters: frozenset[int] | None
    matrix: Matrix
    opacity: float = 1.0
    inking: Inking | None = None
    swaps: tuple[tuple[int, str], ...] = ()
    """Letters shown as another character, in their own place."""


def paint_text(layout: Layout, poses: Sequence[Pose], window: Rect, colour: tuple[int, int, int]) -> Patch:
    """A layout's ink inside a window: coverage of one colour, or all colours where ranges have their own.

    Each glyph is filled from its path: glyph runs of the drawing library snap to quarter pixels, paths do not.
    """
    # One px of room: antialiasing reaches past the outline.
    shown = [(pose, _bounds(layout, pose).meets(window)) for pose in poses if pose.opacity > 0 and pose.matrix.scale > 1e-9]
    shown = [(pose, bounds) for pose, bounds in shown if not bounds.empty]
    if not shown:
        return Patch.empty()
    area = shown[0][1]
    for _, bounds in shown[1:]:
        area = area.joins(bounds)
    x0, y0, x1, y1 = area.whole()
    # The library fills on four lines a pixel: thin strokes would gain and lose weight as they drift. Small
    # type is filled larger and averaged, so that its ink is right wherever it stands.
    largest = max(pose.matrix.scale for pose, _ in shown)
    finer = min(_FINEST, max(1, math.ceil(_FINE_BELOW / largest)))
    flat = not layout.colours and not layout.pictures
    shape = ((y1 - y0) * finer, (x1 - x0) * finer)
    pixels = np.zeros(shape if flat else (*shape, 4), np.uint8)
    info = skia.ImageInfo.MakeA8(shape[1], shape[0]) if flat else skia.ImageInfo.Make(
        shape[1], shape[0], skia.kRGBA_8888_ColorType, skia.kPremul_AlphaType)
    canvas = skia.Surface.MakeRasterDirect(info, pixels, pixels.strides[0]).getCanvas()
    to_pixels = Matrix.grow(finer) @ Matrix.shift(-x0, -y0)
    for pose, bounds in shown:
        _paint_pose(canvas, layout, pose, to_pixels, bounds, None if flat else colour)
    if finer > 1:
        pixels = cv2.resize(pixels, (x1 - x0, y1 - y0), interpolation=cv2.INTER_AREA)
    return Patch(pixels, x0, y0, colour=colour if flat else None)


def glyphs_of(layout: Layout, letters: frozenset[int] | None) -> Sequence[Glyph]:
    return layout.glyphs if letters is None else [glyph for glyph in layout.glyphs if glyph.letter in letters]


def _bounds(layout: Layout, pose: Pose) -> Rect:
    if pose.letters is None:
        ink = layout.ink
    else:
        ink = Rect(0, 0, 0, 0)
        for letter in pose.letters:
            ink = ink.joins(layout.units["letter"][letter].ink)
    if ink.empty:
        return ink
    if pose.swaps:
        ink = ink.grown(0.6)
    return ink.grown(pose.inking.pen / 2 if pose.inking else 0).through(pose.matrix).grown(1)


def _paint_pose(canvas: skia.Canvas, layout: Layout, pose: Pose, to_pixels: Matrix, bounds: Rect, base: tuple[int, int, int] | None) -> None:
    swaps = dict(pose.swaps)
    paint = skia.Paint(AntiAlias=True)
    for glyph in glyphs_of(layout, pose.letters):
        if glyph.letter in swaps:
            glyph = swapped(layout, glyph, swaps[glyph.letter])
            if glyph is None:
                continue
        ink = glyph.ink
        if ink.empty or ink.through(pose.matrix).grown(1).meets(bounds).empty:
            continue
        to = to_pixels @ pose.matrix @ Matrix.shift(glyph.x, glyph.y) @ Matrix.grow(glyph.size)
        picture = glyph.face.picture(glyph.gid)
        red, green, blue = (parse_colour(glyph.colour) if glyph.colour else base) if base is not None else (0, 0, 0)
        if picture and base is not None:
            image, (left, top, right, bottom) = picture
            canvas.setMatrix(skia_matrix(to))
            canvas.drawImageRect(image, skia.Rect.MakeLTRB(left, top, right, bottom), skia.SamplingOptions(skia.FilterMode.kLinear, skia.MipmapMode.kLinear),
                                 skia.Paint(AntiAlias=True, Alphaf=pose.opacity))
            continue
        path = glyph.face.glyph(glyph.gid)[0]
        if path is None:
            continue
        unit = 1 / glyph.face.units
        canvas.setMatrix(skia_matrix(to @ Matrix.grow(unit)))
        paint.setColor4f(skia.Color4f(red / 255, green / 255, blue / 255, 1))
        if pose.inking is None:
            paint.setStyle(skia.Paint.kFill_Style)
            paint.setAlphaf(pose.opacity)
            canvas.drawPath(path, paint)
        else:
            _ink(canvas, path, pose, glyph, unit, paint)


def _ink(canvas: skia.Canvas, path: skia.Path, pose: Pose, glyph: Glyph, unit: float, paint: skia.Paint) -> None:
    """The fill as far as it is there, and the drawn stretch of each contour with a round pen."""
    inking = pose.inking
    if inking.fill > 0:
        paint.setStyle(skia.Paint.kFill_Style)
        paint.setAlphaf(pose.opacity * inking.fill)
        canvas.drawPath(path, paint)
    if inking.end <= inking.start or inking.pen <= 0 or inking.fill >= 1:
        return
    drawn = skia.Path()
    measure = skia.PathMeasure(path, False)
    while True:
        length = measure.getLength()
        measure.getSegment(length * inking.start, length * inking.end, drawn, True)
        if not measure.nextContour():
            break
    paint.setStyle(skia.Paint.kStroke_Style)
    paint.setStrokeCap(skia.Paint.kRound_Cap)
    paint.setStrokeJoin(skia.Paint.kRound_Join)
    paint.setStrokeWidth(inking.pen / unit / glyph.size)
    # The pen's line gives way to the fill as that comes, so that at rest nothing of it is left.
    paint.setAlphaf(pose.opacity * (1 - inking.fill))
    canvas.drawPath(drawn, paint)


def swapped(layout: Layout, glyph: Glyph, character: str) -> Glyph | None:
    """A glyph that stands in another's place, in the middle of its letter; None for the later glyphs of that letter."""
    unit = layout.units["letter"][glyph.letter]
    if glyph.cluster != unit.start:
        return None
    gid = glyph.face.hb_font.get_nominal_glyph(ord(character)) or 0
    if not gid:
        return glyph
    advance = glyph.face.hb_font.get_glyph_h_advance(gid) / glyph.face.units * glyph.size
    return glyph._replace(gid=gid, x=(unit.box.x0 + unit.box.x1 - advance) / 2, y=unit.baseline, advance=advance)


def skia_matrix(to: Matrix) -> skia.Matrix:
    return skia.Matrix.MakeAll(to.a, to.c, to.e, to.b, to.d, to.f, to.g, to.h, to.i)
