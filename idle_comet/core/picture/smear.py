"""Means of many patches: what a moving thing leaves while the shutter is open."""

from __future__ import annotations

import math
from typing import Iterable, Sequence

import numpy as np

from .blend import deepened
from .kernel import kernel
from .patch import NOWHERE, Patch, Rect, Sides


@kernel(
    "void(float32[:,::1], uint8[:,::1], int64, int64, float32)",
    "void(float32[:,::1], float32[:,::1], int64, int64, float32)",
)
def _add(total, pixels, x, y, weight):
    height, width = pixels.shape
    for row in range(height):
        into = total[y + row, x : x + width]
        of = pixels[row, 0:width]
        for column in range(width):
            into[column] += weight * of[column]


def _flat(pixels: np.ndarray) -> tuple[np.ndarray, int]:
    """Pixels as rows of numbers, and how many of them a pixel has."""
    pixels = np.ascontiguousarray(pixels)
    return (pixels, 1) if pixels.ndim == 2 else (pixels.reshape(pixels.shape[0], -1), 4)


def _taps(at: float) -> list[tuple[int, float]]:
    """Shares of whole px for a place between them, by cubic convolution (Keys, a = −½).

    Unlike shares of the two nearest it does not widen what it moves: its second moment about the place is nothing.
    """
    whole = math.floor(at)
    t = at - whole
    if t < 1e-9:
        return [(whole, 1.0)]
    return [
        (whole - 1, -0.5 * t + t * t - 0.5 * t**3),
        (whole, 1 - 2.5 * t * t + 1.5 * t**3),
        (whole + 1, 0.5 * t + 2 * t * t - 1.5 * t**3),
        (whole + 2, -0.5 * t * t + 0.5 * t**3),
    ]


def travelled(patch: Patch, shifts: Sequence[tuple[float, float]], window: Rect) -> Patch:
    """The mean of a patch at these shifts in px, cut to the window.

    A shift between pixels is shared among its neighbours; shares of all shifts are
    gathered first, so that a streak of n px costs about n additions.
    """
    if patch.pixels.size == 0 or not shifts:
        return patch
    weights: dict[tuple[int, int], float] = {}
    for dx, dy in shifts:
        across, down = _taps(dx), _taps(dy)
        for x, wx in across:
            for y, wy in down:
                weights[x, y] = weights.get((x, y), 0.0) + wx * wy / len(shifts)
    # What the cubic's small negative shares leave after all are added is nothing that is seen.
    weights = {place: weight for place, weight in weights.items() if abs(weight) > 1e-5}
    xs, ys = [x for x, _ in weights], [y for _, y in weights]
    left, top = patch.x + min(xs), patch.y + min(ys)
    flat, size = _flat(patch.pixels)
    total = np.zeros((patch.height + max(ys) - min(ys), (patch.width + max(xs) - min(xs)) * size), np.float32)
    whole = sum(weights.values())
    for (x, y), weight in weights.items():
        _add(total, flat, (x - min(xs)) * size, y - min(ys), np.float32(weight / whole))
    mean = _whole(total, size)
    area = Rect(left, top, left + total.shape[1] // size, top + total.shape[0]).meets(Rect(*window.whole()))
    if area.empty:
        return Patch.empty()
    cut = mean[int(area.y0) - top : int(area.y1) - top, int(area.x0) - left : int(area.x1) - left]
    # Only where every shifted copy lies does the picture go on to the border.
    inside = Sides(
        left + max(xs) - min(xs) <= window.x0,
        top + max(ys) - min(ys) <= window.y0,
        patch.x + patch.width + min(xs) >= window.x1,
        patch.y + patch.height + min(ys) >= window.y1,
    )
    return Patch(
        np.ascontiguousarray(cut), int(area.x0), int(area.y0), patch.colour, patch.opacity, patch.extends.both(inside)
    )


class _Mean:
    """A sum of patches that grows with what is added, so that no more than one of them is held at a time."""

    def __init__(self, window: Rect) -> None:
        self._window = Rect(*window.whole())
        self._area = Rect(0, 0, 0, 0)
        self._total: np.ndarray | None = None
        self.colour: tuple[int, int, int] | None = None
        self._size = 0
        self.count, self.drawn, self.extends = 0, 0, Sides(True, True, True, True)

    def add(self, patch: Patch) -> None:
        self.count += 1
        area = patch.rect.meets(self._window)
        if not patch.pixels.size or patch.opacity <= 0 or area.empty:
            return
        self.drawn += 1
        self.extends = self.extends.both(patch.extends if patch.opacity == 1 else NOWHERE)
        self._hold(area, patch)
        pixels = deepened(patch) if self._size == 4 and patch.colour is not None else patch.pixels
        x0, y0, x1, y1 = area.whole()
        flat, _ = _flat(pixels[y0 - patch.y : y1 - patch.y, x0 - patch.x : x1 - patch.x])
        _add(
            self._total,
            flat,
            (x0 - int(self._area.x0)) * self._size,
            y0 - int(self._area.y0),
            np.float32(patch.opacity),
        )

    def _hold(self, area: Rect, patch: Patch) -> None:
        """Make room for an area, and for colours where there are several."""
        if self._total is None:
            self.colour, self._size, self._area = patch.colour, 1 if patch.colour is not None else 4, area
            self._total = self._room(area)
            return
        if self._size == 1 and patch.colour != self.colour:
            tinted = np.empty((*self._total.shape, 4), np.float32)
            tinted[..., :3] = self._total[..., None] * (np.asarray(self.colour, np.float32) / np.float32(255))
            tinted[..., 3] = self._total
            self._total, self._size, self.colour = tinted.reshape(self._total.shape[0], -1), 4, None
        both = self._area.union(area)
        if both != self._area:
            larger, size = self._room(both), self._size
            x, y = int(self._area.x0 - both.x0) * size, int(self._area.y0 - both.y0)
            larger[y : y + self._total.shape[0], x : x + self._total.shape[1]] = self._total
            self._total, self._area = larger, both

    def _room(self, area: Rect) -> np.ndarray:
        return np.zeros((int(area.y1 - area.y0), int(area.x1 - area.x0) * self._size), np.float32)

    def patch(self) -> Patch:
        if self._total is None:
            return Patch.empty()
        self._total /= np.float32(self.count)
        return Patch(
            _whole(self._total, self._size),
            int(self._area.x0),
            int(self._area.y0),
            self.colour,
            extends=self.extends if self.drawn == self.count else NOWHERE,
        )


def mean_of(patches: Iterable[Patch], window: Rect) -> Patch:
    """The mean of patches, each with its opacity, over the window; those of one colour stay coverage."""
    mean = _Mean(window)
    for patch in patches:
        mean.add(patch)
    return mean.patch()


def _whole(total: np.ndarray, size: int) -> np.ndarray:
    pixels = np.clip(total, np.float32(0), np.float32(255), out=total)
    return pixels if size == 1 else pixels.reshape(total.shape[0], -1, 4)
