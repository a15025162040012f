"""Bending a patch: each painted px takes what stands elsewhere in the picture's own space."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Callable

import cv2
import numpy as np

from .kernel import kernel
from .masking import field_of
from .matrix import Matrix
from .patch import Patch, Rect


def widened(patch: Patch, room: float, window: Rect) -> Rect:
    """What a patch may cover after each px of it has gone at most `room` painted px: as far as it is looked at."""
    if patch.extends.everywhere:
        return patch.rect
    return patch.rect.grown(math.ceil(room) + 1).meets(Rect(*window.whole()))


def places(area: Rect, matrix: Matrix) -> tuple[np.ndarray, np.ndarray]:
    """Where the px of an area stand in the space that `matrix` leads out of: two (h, w) float32 arrays, px."""
    return field_of(area, matrix)


def bent_by(
    patch: Patch, matrix: Matrix, area: Rect, moved: Callable[[np.ndarray, np.ndarray], tuple[np.ndarray, np.ndarray]]
) -> Patch:
    """As `bent`, where `moved` gives for places of the result those that are shown there. It is asked for four places a
    px: where the picture is pressed together, a px shows more than one."""
    return _densely(patch, matrix, area, lambda over, to, by: bent(patch, matrix, over, *moved(*places(over, to)), by))


def pushed_by(
    patch: Patch,
    matrix: Matrix,
    area: Rect,
    pushes: Callable[[Rect, Matrix], tuple[np.ndarray, np.ndarray]],
    amount: float,
) -> Patch:
    """As `bent_by`, where every px shows what stands aside of it: `pushes` gives for the px of a rectangle and the way
    to them how far across and down what they show has been pushed, as shares of the `amount`, -1..1 (more is cut)."""

    def sampled(over: Rect, to: Matrix, by: int) -> Patch:
        across, down = pushes(over, to)
        if not matrix.flat:
            own_x, own_y = places(over, to)
            aside = [np.clip(each, -1, 1) * np.float32(amount) for each in (across, down)]
            return bent(patch, matrix, over, own_x - aside[0], own_y - aside[1], by)
        x0, y0, x1, y1 = over.whole()
        x, y = np.empty((y1 - y0, x1 - x0), np.float32), np.empty((y1 - y0, x1 - x0), np.float32)
        step = matrix.a / to.a if to.a else matrix.b / to.b
        ways = np.array([matrix.a, matrix.b, matrix.c, matrix.d], np.float32) * np.float32(amount)
        _pushed(across, down, x, y, ways, step * (x0 + 0.5) - patch.x - 0.5, step * (y0 + 0.5) - patch.y - 0.5, step)
        return _sampled(patch, over, x, y, by)

    return _densely(patch, matrix, area, sampled)


@kernel(
    "void(float32[:,:], float32[:,:], float32[:,::1], float32[:,::1], float32[::1], float32, float32, float32)",
    fastmath=True,
)
def _pushed(across, down, x, y, ways, left, top, step):
    a, b, c, d = ways[0], ways[1], ways[2], ways[3]
    least, most = np.float32(-1), np.float32(1)
    for row in range(x.shape[0]):
        push_x, push_y, to_x, to_y = across[row], down[row], x[row], y[row]
        line = top + step * np.float32(row)
        for column in range(x.shape[1]):
            p, q = min(max(push_x[column], least), most), min(max(push_y[column], least), most)
            to_x[column] = left + step * np.float32(column) - (a * p + c * q)
            to_y[column] = line - (b * p + d * q)


def _densely(patch: Patch, matrix: Matrix, area: Rect, made: Callable[[Rect, Matrix, int], Patch]) -> Patch:
    """A patch over `area` from what is made for a rectangle, the way to its px, and a filter to sample by."""
    x0, y0, x1, y1 = area.whole()
    if patch.extends.everywhere:
        # A picture that fills the frame has no edges to keep sharp; one sample a px does.
        return made(Rect(x0, y0, x1, y1), matrix, cv2.INTER_LINEAR)
    # Four linear samples a px would soften what is not bent at all.
    dense = made(Rect(2 * x0, 2 * y0, 2 * x1, 2 * y1), Matrix.grow(2) @ matrix, cv2.INTER_CUBIC)
    if dense.rect.empty:
        return dense
    pixels = np.clip(cv2.resize(dense.pixels, (x1 - x0, y1 - y0), interpolation=cv2.INTER_AREA), 0, 255)
    if pixels.ndim == 3:
        np.minimum(pixels[..., :3], pixels[..., 3:], out=pixels[..., :3])
    return replace(dense, pixels=pixels, x=x0, y=y0)


def bent(
    patch: Patch, matrix: Matrix, area: Rect, across: np.ndarray, down: np.ndarray, by: int = cv2.INTER_LINEAR
) -> Patch:
    """A patch over `area` whose px show what the patch has at (across, down) of the space that `matrix` leads out of.

    Samples are linear, or `by` another of OpenCV's filters. Past its border a picture that goes on there does so as it
    is at its border; any other has nothing there.
    """
    x, y = matrix.a * across + matrix.c * down + matrix.e, matrix.b * across + matrix.d * down + matrix.f
    if not matrix.flat:
        w = np.maximum(matrix.g * across + matrix.h * down + matrix.i, 1e-3)
        x, y = x / w, y / w
    at_x, at_y = (x - (patch.x + 0.5)).astype(np.float32), (y - (patch.y + 0.5)).astype(np.float32)
    return _sampled(patch, area, at_x, at_y, by)


def _sampled(patch: Patch, area: Rect, x: np.ndarray, y: np.ndarray, by: int) -> Patch:
    """A patch over an area whose px show what lies at these places of the patch's array."""
    x0, y0, x1, y1 = area.whole()
    if patch.rect.empty or x1 <= x0 or y1 <= y0:
        return Patch.empty()
    pixels = patch.pixels if patch.pixels.dtype == np.float32 else patch.pixels.astype(np.float32)
    border = cv2.BORDER_REPLICATE if patch.extends.everywhere else cv2.BORDER_CONSTANT
    out = cv2.remap(pixels, x, y, by, borderMode=border, borderValue=(0, 0, 0, 0))
    return replace(patch, pixels=out, x=x0, y=y0)
