"""A patch: pixels only where something is."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Iterable, NamedTuple

import cv2
import numpy as np

from .matrix import Matrix


class Rect(NamedTuple):
    """Left, top, right, bottom in continuous coordinates."""

    x0: float
    y0: float
    x1: float
    y1: float

    @property
    def empty(self) -> bool:
        return self.x1 <= self.x0 or self.y1 <= self.y0

    def grown(self, by: float) -> "Rect":
        return Rect(self.x0 - by, self.y0 - by, self.x1 + by, self.y1 + by)

    def meets(self, other: "Rect") -> "Rect":
        left, top, right, foot = self
        x0, y0, x1, y1 = other
        if left >= x0 and top >= y0 and right <= x1 and foot <= y1:
            return self
        return Rect(max(left, x0), max(top, y0), min(right, x1), min(foot, y1))

    def union(self, other: "Rect") -> "Rect":
        if self.empty:
            return other
        if other.empty:
            return self
        return Rect(min(self.x0, other.x0), min(self.y0, other.y0), max(self.x1, other.x1), max(self.y1, other.y1))

    @classmethod
    def around(cls, all_of: Iterable["Rect"]) -> "Rect":
        """Bounds of the rectangles that are not empty; empty where there is none."""
        inside = [each for each in all_of if each[2] > each[0] and each[3] > each[1]]
        if not inside:
            return cls(0, 0, 0, 0)
        x0s, y0s, x1s, y1s = zip(*inside)
        return cls(min(x0s), min(y0s), max(x1s), max(y1s))

    def whole(self) -> tuple[int, int, int, int]:
        """The whole pixels it touches: left, top, right, bottom."""
        return math.floor(self.x0), math.floor(self.y0), math.ceil(self.x1), math.ceil(self.y1)

    def through(self, matrix: Matrix, room: float = 0.0) -> "Rect":
        """Bounds of the mapped rectangle, with so much room around them."""
        a, b, c, d, e, f, g, h, i = matrix
        if g == h == b == c == 0.0 and i == 1.0:
            x0, y0, x1, y1 = self
            left, right, top, foot = a * x0 + e, a * x1 + e, d * y0 + f, d * y1 + f
            if left > right:
                left, right = right, left
            if top > foot:
                top, foot = foot, top
        else:
            corners = self.corners(matrix)
            xs, ys = [x for x, _ in corners], [y for _, y in corners]
            left, top, right, foot = min(xs), min(ys), max(xs), max(ys)
        return Rect(left - room, top - room, right + room, foot + room)

    def corners(self, matrix: Matrix = Matrix()) -> list[tuple[float, float]]:
        ends = [(self.x0, self.y0), (self.x1, self.y0), (self.x1, self.y1), (self.x0, self.y1)]
        return [matrix.map(*end) for end in ends]


class Sides(NamedTuple):
    """Which sides of a picture go on past its border."""

    left: bool = False
    top: bool = False
    right: bool = False
    bottom: bool = False

    @property
    def everywhere(self) -> bool:
        return all(self)

    def both(self, other: "Sides") -> "Sides":
        """Where this one and the other do."""
        return Sides(*(a and b for a, b in zip(self, other)))


NOWHERE = Sides()
EVERYWHERE = Sides(True, True, True, True)


@dataclass(frozen=True, slots=True)
class Patch:
    """Premultiplied pixels with an origin in the painted picture.

    `pixels` is (h, w, 4) RGBA premultiplied, or (h, w) coverage of one `colour`, in code values 0..255: uint8 as
    footage and type come, float32 for what steps make of them, so that nothing is rounded before the frame is.
    `opacity` 0..1 is applied when the patch is blended.
    `extends` says at which sides the picture goes on past the patch's border (footage
    that reaches the frame's edge), so that a blur must not darken it there.
    """

    pixels: np.ndarray
    x: int
    y: int
    colour: tuple[int, int, int] | None = None
    opacity: float = 1.0
    extends: Sides = NOWHERE

    @property
    def height(self) -> int:
        return self.pixels.shape[0]

    @property
    def width(self) -> int:
        return self.pixels.shape[1]

    @property
    def rect(self) -> Rect:
        return Rect(self.x, self.y, self.x + self.width, self.y + self.height)

    @property
    def alpha(self) -> np.ndarray:
        """(h, w) float32 coverage in code values, whatever the pixels are."""
        cover = self.pixels if self.pixels.ndim == 2 else self.pixels[..., 3]
        return np.ascontiguousarray(cover, np.float32)

    def cut(self, area: Rect) -> "Patch":
        """The part of it that lies in an area, to whole px."""
        inside = self.rect.meets(area)
        if inside.empty:
            return Patch.empty()
        x0, y0, x1, y1 = inside.whole()
        pixels = np.ascontiguousarray(self.pixels[y0 - self.y : y1 - self.y, x0 - self.x : x1 - self.x])
        return replace(self, pixels=pixels, x=x0, y=y0)

    def faded(self, by: float) -> "Patch":
        return self if by == 1 else Patch(self.pixels, self.x, self.y, self.colour, self.opacity * by, self.extends)

    def seen_from(self, x: int, y: int) -> "Patch":
        """The same in a picture whose origin is this px."""
        return Patch(self.pixels, self.x - x, self.y - y, self.colour, self.opacity, self.extends)

    @classmethod
    def empty(cls) -> "Patch":
        return cls(np.zeros((0, 0), np.uint8), 0, 0, colour=(0, 0, 0))


def enlarged(patch: Patch, by: int) -> Patch:
    """The coverage of a patch, so many times as large."""
    if by == 1 or patch.rect.empty:
        return patch
    size = (patch.width * by, patch.height * by)
    cover = cv2.resize(patch.alpha, size, interpolation=cv2.INTER_LINEAR)
    return Patch(cover, patch.x * by, patch.y * by, (0, 0, 0), patch.opacity)


def place_of(patch: Patch, width: int, height: int) -> tuple[int, int, int, int, int, int] | None:
    """Where a patch lies in a picture of a size: (x, y) in the picture, (left, top) in the patch, width and height;
    None for outside."""
    left, top = max(0, -patch.x), max(0, -patch.y)
    across = min(patch.width, width - patch.x) - left
    down = min(patch.height, height - patch.y) - top
    return (patch.x + left, patch.y + top, left, top, across, down) if across > 0 and down > 0 else None
