"""Bending a patch: each painted px takes what stands elsewhere in the picture's own space."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Callable

import cv2
import numpy as np

from .blend import deepened
from .masking import field
from .matrix import Matrix
from .patch import Patch, Rect


def widened(patch: Patch, room: float, window: Rect) -> Rect:
    """What a patch may cover after each px of it has gone at most `room` painted px: as far as it is looked at."""
    if patch.extends.everywhere:
        return patch.rect
    return patch.rect.grown(math.ceil(room) + 1).meets(Rect(*window.whole()))


def places(area: Rect, matrix: Matrix) -> tuple[np.ndarray, np.ndarray]:
    """Where the px of an area stand in the space that `matrix` leads out of: two (h, w) float32 arrays, px."""
    x0, y0, x1, y1 = area.whole()
    return field(Patch(np.empty((y1 - y0, x1 - x0), np.uint8), x0, y0, colour=(0, 0, 0)), matrix)


def bent_by(
    patch: Patch, matrix: Matrix, area: Rect, moved: Callable[[np.ndarray, np.ndarray], tuple[np.ndarray, np.ndarray]]
) -> Patch:
    """As `bent`, where `moved` gives for places of the result those that are shown there. It is asked for four places a
    px: where the picture is pressed together, a px shows more than one."""
    x0, y0, x1, y1 = area.whole()
    if patch.extends.everywhere:
        # A picture that fills the frame has no edges to keep sharp; one sample a px does.
        return bent(patch, matrix, area, *moved(*places(area, matrix)))
    dense = Matrix.grow(2) @ matrix
    twice = Rect(2 * x0, 2 * y0, 2 * x1, 2 * y1)
    across, down = moved(*places(twice, dense))
    # Four linear samples a px would soften what is not bent at all.
    made = bent(patch, matrix, twice, across, down, cv2.INTER_CUBIC)
    if made.rect.empty:
        return made
    pixels = np.clip(cv2.resize(made.pixels, (x1 - x0, y1 - y0), interpolation=cv2.INTER_AREA), 0, 255)
    if pixels.ndim == 3:
        np.minimum(pixels[..., :3], pixels[..., 3:], out=pixels[..., :3])
    return replace(made, pixels=pixels, x=x0, y=y0)


def bent(
    patch: Patch, matrix: Matrix, area: Rect, across: np.ndarray, down: np.ndarray, by: int = cv2.INTER_LINEAR
) -> Patch:
    """A patch over `area` whose px show what the patch has at (across, down) of the space that `matrix` leads out of.

    Samples are linear, or `by` another of OpenCV's filters. Past its border a picture that goes on there does so as it
    is at its border; any other has nothing there.
    """
    x0, y0, x1, y1 = area.whole()
    if patch.rect.empty or x1 <= x0 or y1 <= y0:
        return Patch.empty()
    x, y = matrix.a * across + matrix.c * down + matrix.e, matrix.b * across + matrix.d * down + matrix.f
    if not matrix.flat:
        w = np.maximum(matrix.g * across + matrix.h * down + matrix.i, 1e-3)
        x, y = x / w, y / w
    pixels = patch.pixels.astype(np.float32) if patch.colour is not None else deepened(patch)
    out = cv2.remap(
        pixels,
        (x - (patch.x + 0.5)).astype(np.float32),
        (y - (patch.y + 0.5)).astype(np.float32),
        by,
        borderMode=cv2.BORDER_REPLICATE if patch.extends.everywhere else cv2.BORDER_CONSTANT,
        borderValue=(0, 0, 0, 0),
    )
    return replace(patch, pixels=out, x=x0, y=y0)
