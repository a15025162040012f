"""Painting type from glyph outlines, at any transform, without snapping to anything."""

from __future__ import annotations

import math

import cv2
import numpy as np
import skia

from ..picture import Matrix, Patch, Rect
from .layout import Layout


_FINE_BELOW, _FINEST = 64, 4
"""Px of an em below which type is filled finer, and how many times at most."""


def paint_text(layout: Layout, matrix: Matrix, window: Rect, colour: tuple[int, int, int]) -> Patch:
    """Coverage of a layout's ink inside a window.

    `matrix` leads from em to px of the painted picture. Each glyph is filled from its
    path: glyph runs of the drawing library snap to quarter pixels, paths do not.
    """
    # One px of room: antialiasing reaches past the outline.
    bounds = layout.ink.through(matrix).grown(1).meets(window)
    if layout.ink.empty or bounds.empty or matrix.scale == 0:
        return Patch.empty()
    x0, y0, x1, y1 = bounds.whole()
    # The library fills on four lines a pixel: thin strokes would gain and lose weight as they drift. Small
    # type is filled larger and averaged, so that its ink is right wherever it stands.
    finer = min(_FINEST, max(1, math.ceil(_FINE_BELOW / matrix.scale)))
    mask = np.zeros(((y1 - y0) * finer, (x1 - x0) * finer), np.uint8)
    surface = skia.Surface.MakeRasterDirect(skia.ImageInfo.MakeA8(mask.shape[1], mask.shape[0]), mask, mask.shape[1])
    canvas, paint = surface.getCanvas(), skia.Paint(AntiAlias=True)
    unit = 1 / layout.face.units
    for glyph in layout.glyphs:
        path, ink = layout.face.glyph(glyph.gid)
        if path is None:
            continue
        reach = Rect(glyph.x + ink[0], glyph.y + ink[1], glyph.x + ink[2], glyph.y + ink[3])
        if reach.through(matrix).meets(bounds).empty:
            continue
        to = Matrix.grow(finer) @ Matrix.shift(-x0, -y0) @ matrix @ Matrix.shift(glyph.x, glyph.y) @ Matrix.grow(unit)
        canvas.setMatrix(skia.Matrix.MakeAll(to.a, to.c, to.e, to.b, to.d, to.f, 0, 0, 1))
        canvas.drawPath(path, paint)
    if finer > 1:
        mask = cv2.resize(mask, (x1 - x0, y1 - y0), interpolation=cv2.INTER_AREA)
    return Patch(mask, x0, y0, colour=colour)
