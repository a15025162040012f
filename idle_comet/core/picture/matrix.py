"""Plane transforms in continuous coordinates: pixel (0, 0) covers [0, 1) × [0, 1)."""

from __future__ import annotations

import math
from typing import NamedTuple


class Matrix(NamedTuple):
    """x' = a·x + c·y + e, y' = b·x + d·y + f."""

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    e: float = 0.0
    f: float = 0.0

    @classmethod
    def shift(cls, x: float, y: float) -> "Matrix":
        return cls(1.0, 0.0, 0.0, 1.0, x, y)

    @classmethod
    def grow(cls, x: float, y: float | None = None) -> "Matrix":
        return cls(x, 0.0, 0.0, x if y is None else y, 0.0, 0.0)

    @classmethod
    def turn(cls, degrees: float) -> "Matrix":
        """Clockwise on screen, since y points down."""
        # Whole quarter turns are exact, so that a picture turned by 90° stays sharp.
        quarter = degrees / 90
        if quarter == round(quarter):
            cos, sin = [(1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0)][round(quarter) % 4]
        else:
            cos, sin = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
        return cls(cos, sin, -sin, cos, 0.0, 0.0)

    def __matmul__(self, other: "Matrix") -> "Matrix":
        """First `other`, then this."""
        return Matrix(
            self.a * other.a + self.c * other.b, self.b * other.a + self.d * other.b,
            self.a * other.c + self.c * other.d, self.b * other.c + self.d * other.d,
            self.a * other.e + self.c * other.f + self.e, self.b * other.e + self.d * other.f + self.f,
        )

    def map(self, x: float, y: float) -> tuple[float, float]:
        return self.a * x + self.c * y + self.e, self.b * x + self.d * y + self.f

    @property
    def scale(self) -> float:
        """Mean enlargement: √|determinant|."""
        return math.sqrt(abs(self.a * self.d - self.b * self.c))

    def inverse(self) -> "Matrix":
        """Raises ZeroDivisionError for a transform that flattens the plane."""
        det = self.a * self.d - self.b * self.c
        return Matrix(
            self.d / det, -self.b / det, -self.c / det, self.a / det,
            (self.c * self.f - self.d * self.e) / det, (self.b * self.e - self.a * self.f) / det,
        )
