"""Placing a picture through a transform, to the sub-pixel."""

from __future__ import annotations

import cv2
import numpy as np
import skia

from .matrix import Matrix
from .patch import Patch, Rect


def warp_picture(picture: np.ndarray, matrix: Matrix, window: Rect, opaque: bool) -> Patch:
    """The part of a transformed picture inside a window.

    `picture` is (h, w, 4) uint8 premultiplied, `matrix` leads from its px to the
    painted picture, `window` is what can be seen. Sampling is linear; a picture
    shrunk to less than half is first averaged in whole blocks, so that fine detail
    does not flicker. Colour is carried on past the edges and the edge itself is cut
    with exact coverage, so that a scaled picture has no dark rim.
    """
    height, width = picture.shape[:2]
    outline = Rect(0, 0, width, height)
    bounds = outline.through(matrix).meets(window)
    if bounds.empty or matrix.scale == 0:
        return Patch.empty()
    x0, y0, x1, y1 = bounds.whole()
    covers = _covers(outline, matrix, Rect(x0, y0, x1, y1))
    if covers and opaque and matrix == Matrix.shift(matrix.e, matrix.f) and matrix.e % 1 == matrix.f % 1 == 0:
        cut = picture[y0 - int(matrix.f):y1 - int(matrix.f), x0 - int(matrix.e):x1 - int(matrix.e)]
        return Patch(np.ascontiguousarray(cut), x0, y0, extends=True)
    shrink = int(1 / matrix.scale + 1e-6)
    if shrink >= 2:
        picture = cv2.resize(picture, (-(-width // shrink), -(-height // shrink)), interpolation=cv2.INTER_AREA)
        matrix = matrix @ Matrix.grow(width / picture.shape[1], height / picture.shape[0])
    # OpenCV counts from pixel centres.
    sampled = Matrix.shift(-x0 - 0.5, -y0 - 0.5) @ matrix @ Matrix.shift(0.5, 0.5)
    affine = np.array([[sampled.a, sampled.c, sampled.e], [sampled.b, sampled.d, sampled.f]])
    pixels = cv2.warpAffine(picture, affine, (x1 - x0, y1 - y0), flags=cv2.INTER_LINEAR,
                            borderMode=cv2.BORDER_REPLICATE)
    if not covers:
        corners = Rect(0, 0, picture.shape[1], picture.shape[0]).corners(Matrix.shift(-x0, -y0) @ matrix)
        coverage = _polygon(corners, x1 - x0, y1 - y0).astype(np.uint16)[..., None]
        pixels = ((pixels * coverage + 127) // 255).astype(np.uint8)
    return Patch(pixels, x0, y0, extends=covers and opaque)


def paint_rectangle(outline: Rect, matrix: Matrix, window: Rect, colour: tuple[int, int, int]) -> Patch:
    """Coverage of a transformed rectangle inside a window, its edges antialiased."""
    bounds = outline.through(matrix).meets(window)
    if bounds.empty or matrix.scale == 0:
        return Patch.empty()
    x0, y0, x1, y1 = bounds.whole()
    if _covers(outline, matrix, Rect(x0, y0, x1, y1)):
        return Patch(np.full((y1 - y0, x1 - x0), 255, np.uint8), x0, y0, colour=colour, extends=True)
    return Patch(_polygon(outline.corners(Matrix.shift(-x0, -y0) @ matrix), x1 - x0, y1 - y0), x0, y0, colour=colour)


def _covers(outline: Rect, matrix: Matrix, window: Rect) -> bool:
    back = matrix.inverse()
    slack = 1e-6
    return all(
        outline.x0 - slack <= x <= outline.x1 + slack and outline.y0 - slack <= y <= outline.y1 + slack
        for x, y in window.corners(back)
    )


def _polygon(corners: list[tuple[float, float]], width: int, height: int) -> np.ndarray:
    mask = np.zeros((height, width), np.uint8)
    surface = skia.Surface.MakeRasterDirect(skia.ImageInfo.MakeA8(width, height), mask, width)
    path = skia.Path.Polygon([skia.Point(x, y) for x, y in corners], True)
    surface.getCanvas().drawPath(path, skia.Paint(AntiAlias=True))
    return mask
