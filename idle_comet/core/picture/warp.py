"""Placing a picture through a transform, to the sub-pixel."""

from __future__ import annotations

import numpy as np

from ..remember import Budget
from .fill import covered
from .kernel import own
from .matrix import Matrix
from .patch import EVERYWHERE, NOWHERE, Patch, Rect, Sides
from .planes import Planes
from .sampling import sampled, sampled_planes

_NEAREST = 0.02
"""Of a plane seen in perspective, what is nearer to the eye than this share of its resting distance is not drawn."""


def warp_picture(
    picture: np.ndarray | Planes,
    matrix: Matrix,
    window: Rect,
    opaque: bool,
    frame: Rect | None = None,
    exact: bool = True,
    kept: Budget | None = None,
    moves: bool = False,
) -> Patch:
    """The part of a transformed picture inside a window.

    `picture` is (h, w, 4) uint8 premultiplied, or the planes of a shot, `matrix` leads from its px to the painted
    picture, `window` is what is needed of it, `frame` what can be seen in the end: an opaque picture that reaches its
    edge goes on past it. How it is sampled is told in taps.py; smaller copies of a large picture are `kept`. One
    that `moves` is evenly sharp on its way. Colour is carried on past the edges and the edge itself is cut with exact
    coverage, so that a scaled picture has no dark rim."""
    height, width = picture.shape[:2]
    outline = Rect(0, 0, width, height)
    bounds = _bounds(outline, matrix).meets(window)
    scale = matrix.scale_at(width / 2, height / 2)
    if bounds.empty or scale < 1e-9:
        return Patch.empty()
    x0, y0, x1, y1 = bounds.whole()
    covers = covered_by(outline, matrix, Rect(x0, y0, x1, y1))
    extends = _reaching(outline, matrix, frame or window) if opaque else NOWHERE
    if isinstance(picture, Planes):
        as_it_is = not moves and _whole_shift(matrix)
        at = Matrix.shift(-x0, -y0) @ matrix
        pixels = None if as_it_is else sampled_planes(picture, at, x1 - x0, y1 - y0, exact, (x0, y0), moves)
        if pixels is None:
            rgba = picture.rgba()
            if as_it_is and covers and (x1 - x0, y1 - y0) == (width, height):
                # Made for this patch alone: it may be painted on.
                return Patch(rgba, x0, y0, extends=extends)
            # A frame of a shot is seen once: nothing made of it is kept.
            return warp_picture(rgba, matrix, window, opaque, frame, exact, None, moves)
    elif not moves and covers and opaque and _whole_shift(matrix):
        cut = picture[y0 - int(matrix.f) : y1 - int(matrix.f), x0 - int(matrix.e) : x1 - int(matrix.e)]
        return Patch(own(cut), x0, y0, extends=extends)
    else:
        pixels = sampled(
            picture, Matrix.shift(-x0, -y0) @ matrix, x1 - x0, y1 - y0, opaque, exact, kept, (x0, y0), moves
        )
    if not covers:
        corners = _drawn(outline, Matrix.shift(-x0, -y0) @ matrix)
        pixels = pixels * _polygon(corners, x1 - x0, y1 - y0)[..., None]
    return Patch(pixels, x0, y0, extends=extends)


def _whole_shift(matrix: Matrix) -> bool:
    return matrix == Matrix.shift(matrix.e, matrix.f) and matrix.e % 1 == matrix.f % 1 == 0


def paint_rectangle(
    outline: Rect, matrix: Matrix, window: Rect, colour: tuple[int, int, int], frame: Rect | None = None
) -> Patch:
    """Coverage of a transformed rectangle inside a window, its edges antialiased."""
    bounds = _bounds(outline, matrix).meets(window)
    if bounds.empty or matrix.scale_at((outline.x0 + outline.x1) / 2, (outline.y0 + outline.y1) / 2) < 1e-9:
        return Patch.empty()
    x0, y0, x1, y1 = bounds.whole()
    extends = _reaching(outline, matrix, frame or window)
    if covered_by(outline, matrix, Rect(x0, y0, x1, y1)):
        return Patch(np.full((y1 - y0, x1 - x0), 255, np.uint8), x0, y0, colour=colour, extends=extends)
    return Patch(
        _polygon(_drawn(outline, Matrix.shift(-x0, -y0) @ matrix), x1 - x0, y1 - y0) * np.float32(255),
        x0,
        y0,
        colour=colour,
        extends=extends,
    )


def covered_by(outline: Rect, matrix: Matrix, window: Rect) -> bool:
    """Whether a transformed rectangle has all of a window inside it."""
    try:
        back = matrix.inverse()
    except ZeroDivisionError:
        return False
    slack = 1e-6
    for corner in window.corners():
        if abs(back.w_at(*corner)) < 1e-12:
            return False
        x, y = _through(back, *corner)
        if not (outline.x0 - slack <= x <= outline.x1 + slack and outline.y0 - slack <= y <= outline.y1 + slack):
            return False
        if matrix.w_at(x, y) < _NEAREST:
            return False
    return True


def _through(matrix: Matrix, x: float, y: float) -> tuple[float, float]:
    w = matrix.w_at(x, y)
    return (matrix.a * x + matrix.c * y + matrix.e) / w, (matrix.b * x + matrix.d * y + matrix.f) / w


def _reaching(outline: Rect, matrix: Matrix, frame: Rect) -> Sides:
    """At which sides of the frame a rectangle reaches or passes its edge; turned or tilted, at all of them or none."""
    if matrix.flat and matrix.b == matrix.c == 0:
        box, slack = outline.through(matrix), 1e-3
        return Sides(
            box.x0 <= frame.x0 + slack,
            box.y0 <= frame.y0 + slack,
            box.x1 >= frame.x1 - slack,
            box.y1 >= frame.y1 - slack,
        )
    return EVERYWHERE if covered_by(outline, matrix, frame) else NOWHERE


def _drawn(outline: Rect, matrix: Matrix) -> list[tuple[float, float]]:
    """Corners of a rectangle on the painted picture, cut off where it comes too near to the eye."""
    if matrix.flat:
        return outline.corners(matrix)
    corners = outline.corners()
    kept: list[tuple[float, float]] = []
    for one, other in zip(corners, corners[1:] + corners[:1]):
        w, v = matrix.w_at(*one) - _NEAREST, matrix.w_at(*other) - _NEAREST
        if w >= 0:
            kept.append(one)
        if w * v < 0:
            share = w / (w - v)
            kept.append((one[0] + (other[0] - one[0]) * share, one[1] + (other[1] - one[1]) * share))
    return [_through(matrix, *corner) for corner in kept]


def _bounds(outline: Rect, matrix: Matrix) -> Rect:
    corners = _drawn(outline, matrix)
    if len(corners) < 3:
        return Rect(0, 0, 0, 0)
    xs, ys = [x for x, _ in corners], [y for _, y in corners]
    return Rect(min(xs), min(ys), max(xs), max(ys))


def _polygon(corners: list[tuple[float, float]], width: int, height: int) -> np.ndarray:
    """The exact area of every px that lies within, (h, w) float32 0..1."""
    ends = np.array(corners)
    return covered(np.concatenate([ends, np.roll(ends, -1, 0)], 1), width, height)
