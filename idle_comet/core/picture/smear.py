"""Means of many patches: what a moving thing leaves while the shutter is open."""

from __future__ import annotations

import math
from typing import Iterable, Sequence

import numpy as np

from .blend import coloured
from .kernel import kernel
from .patch import Patch, Rect


@kernel("void(float32[:,::1], uint8[:,::1], int64, int64, float32)")
def _add(total, pixels, x, y, weight):
    height, width = pixels.shape
    for row in range(height):
        into = total[y + row, x:x + width]
        of = pixels[row, 0:width]
        for column in range(width):
            into[column] += weight * of[column]


def _flat(pixels: np.ndarray) -> tuple[np.ndarray, int]:
    """Pixels as rows of bytes, and how many bytes a pixel has."""
    pixels = np.ascontiguousarray(pixels)
    return (pixels, 1) if pixels.ndim == 2 else (pixels.reshape(pixels.shape[0], -1), 4)


def travelled(patch: Patch, shifts: Sequence[tuple[float, float]], window: Rect) -> Patch:
    """The mean of a patch at these shifts in px, cut to the window.

    A shift between pixels is shared among its four neighbours; shares of all shifts are
    gathered first, so that a streak of n px costs n additions.
    """
    if patch.pixels.size == 0 or not shifts:
        return patch
    weights: dict[tuple[int, int], float] = {}
    for dx, dy in shifts:
        x, y = math.floor(dx), math.floor(dy)
        fx, fy = dx - x, dy - y
        for i, wx in ((0, 1 - fx), (1, fx)):
            for j, wy in ((0, 1 - fy), (1, fy)):
                if wx * wy > 1e-9:
                    weights[x + i, y + j] = weights.get((x + i, y + j), 0.0) + wx * wy / len(shifts)
    xs, ys = [x for x, _ in weights], [y for _, y in weights]
    left, top = patch.x + min(xs), patch.y + min(ys)
    flat, size = _flat(patch.pixels)
    total = np.zeros((patch.height + max(ys) - min(ys), (patch.width + max(xs) - min(xs)) * size), np.float32)
    for (x, y), weight in weights.items():
        _add(total, flat, (x - min(xs)) * size, y - min(ys), np.float32(weight))
    mean = _whole(total, size)
    area = Rect(left, top, left + total.shape[1] // size, top + total.shape[0]).meets(Rect(*window.whole()))
    if area.empty:
        return Patch.empty()
    cut = mean[int(area.y0) - top:int(area.y1) - top, int(area.x0) - left:int(area.x1) - left]
    # Only where every shifted copy lies does the picture go on to the border.
    inside = (left + max(xs) - min(xs) <= window.x0 and top + max(ys) - min(ys) <= window.y0
              and patch.x + patch.width + min(xs) >= window.x1 and patch.y + patch.height + min(ys) >= window.y1)
    return Patch(np.ascontiguousarray(cut), int(area.x0), int(area.y0), patch.colour, patch.opacity, patch.extends and inside)


def mean_of(patches: Iterable[Patch], window: Rect) -> Patch:
    """The mean of patches, each with its opacity, over the window; those of one colour stay coverage."""
    held = [patch for patch in patches]
    drawn = [patch for patch in held if patch.pixels.size and patch.opacity > 0]
    area = Rect(0, 0, 0, 0)
    for patch in drawn:
        area = area.joins(patch.rect.meets(Rect(*window.whole())))
    if area.empty:
        return Patch.empty()
    x0, y0, x1, y1 = area.whole()
    colours = {patch.colour for patch in drawn}
    one = len(colours) == 1 and None not in colours
    size = 1 if one else 4
    total = np.zeros((y1 - y0, (x1 - x0) * size), np.float32)
    for patch in drawn:
        pixels = patch.pixels if one or patch.colour is None else coloured(patch)
        left, top = max(0, x0 - patch.x), max(0, y0 - patch.y)
        right, low = min(patch.width, x1 - patch.x), min(patch.height, y1 - patch.y)
        if right > left and low > top:
            flat, _ = _flat(pixels[top:low, left:right])
            _add(total, flat, (patch.x + left - x0) * size, patch.y + top - y0, np.float32(patch.opacity / len(held)))
    extends = len(drawn) == len(held) and all(patch.extends and patch.opacity == 1 for patch in drawn)
    return Patch(_whole(total, size), x0, y0, colours.pop() if one else None, extends=extends)


def _whole(total: np.ndarray, size: int) -> np.ndarray:
    pixels = np.minimum(total + np.float32(0.5), np.float32(255)).astype(np.uint8)
    return pixels if size == 1 else pixels.reshape(total.shape[0], -1, 4)
