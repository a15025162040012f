"""Plane transforms in continuous coordinates: pixel (0, 0) covers [0, 1) × [0, 1)."""

from __future__ import annotations

import math
from typing import NamedTuple


class Matrix(NamedTuple):
    """x' = (a·x + c·y + e)/w, y' = (b·x + d·y + f)/w with w = g·x + h·y + i; without perspective w is 1."""

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    e: float = 0.0
    f: float = 0.0
    g: float = 0.0
    h: float = 0.0
    i: float = 1.0

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

    @classmethod
    def tilt(cls, x: float, y: float, z: float, distance: float) -> "Matrix":
        """A plane turned in depth about the origin, seen from `distance` px in front of it.

        Turned first about its own z (roll), then x (tilt), then y (swing), degrees; at rest it is the identity.
        A point at depth Z (away from the eye) is drawn at distance/(distance + Z).
        """
        cx, sx = math.cos(math.radians(x)), math.sin(math.radians(x))
        cy, sy = math.cos(math.radians(y)), math.sin(math.radians(y))
        cz, sz = math.cos(math.radians(z)), math.sin(math.radians(z))
        # The columns of R = Ry · Rx · Rz for the plane's two axes.
        ax, ay, az = cy * cz + sy * sx * sz, cx * sz, -sy * cz + cy * sx * sz
        bx, by, bz = -cy * sz + sy * sx * cz, cx * cz, sy * sz + cy * sx * cz
        return cls(ax, ay, bx, by, 0.0, 0.0, az / distance, bz / distance, 1.0)

    def about(self, x: float, y: float) -> "Matrix":
        """The same transform about a point instead of the origin."""
        if not self.flat:
            return Matrix.shift(x, y) @ self @ Matrix.shift(-x, -y)
        a, b, c, d, e, f = self[:6]
        return Matrix(a, b, c, d, e + x - a * x - c * y, f + y - b * x - d * y)

    def moved(self, x: float, y: float) -> "Matrix":
        """The same transform, and a shift after it."""
        return self._replace(e=self.e + x, f=self.f + y) if self.flat else Matrix.shift(x, y) @ self

    @property
    def flat(self) -> bool:
        """Whether it is without perspective."""
        return self.g == self.h == 0.0 and self.i == 1.0

    def __matmul__(self, other: "Matrix") -> "Matrix":
        """First `other`, then this."""
        a, b, c, d, e, f, g, h, i = self
        oa, ob, oc, od, oe, of, og, oh, oi = other
        if g == h == og == oh == 0.0 and i == oi == 1.0:
            # There are several for every letter that moves; made so it takes half the time.
            return tuple.__new__(
                Matrix,
                (
                    a * oa + c * ob,
                    b * oa + d * ob,
                    a * oc + c * od,
                    b * oc + d * od,
                    a * oe + c * of + e,
                    b * oe + d * of + f,
                    0.0,
                    0.0,
                    1.0,
                ),
            )
        return Matrix(
            a * oa + c * ob + e * og,
            b * oa + d * ob + f * og,
            a * oc + c * od + e * oh,
            b * oc + d * od + f * oh,
            a * oe + c * of + e * oi,
            b * oe + d * of + f * oi,
            g * oa + h * ob + i * og,
            g * oc + h * od + i * oh,
            g * oe + h * of + i * oi,
        )

    def map(self, x: float, y: float) -> tuple[float, float]:
        """A point behind the eye (w ≤ 0) is drawn in to just before it, far outside."""
        a, b, c, d, e, f, g, h, i = self
        if g == h == 0.0 and i == 1.0:
            return a * x + c * y + e, b * x + d * y + f
        w = max(g * x + h * y + i, 1e-3)
        return (a * x + c * y + e) / w, (b * x + d * y + f) / w

    def w_at(self, x: float, y: float) -> float:
        """What a point is divided by: 1 without perspective, nothing and less at and behind the eye."""
        return self.g * x + self.h * y + self.i

    @property
    def scale_sign(self) -> float:
        """1, or −1 for one that shows things the other way round."""
        return math.copysign(1.0, self.a * self.d - self.b * self.c if self.flat else self._determinant())

    @property
    def scale(self) -> float:
        """Mean enlargement: √|determinant|; with perspective, at the origin."""
        if self.flat:
            return math.sqrt(abs(self.a * self.d - self.b * self.c))
        det = self._determinant()
        return math.sqrt(abs(det) / max(abs(self.i), 1e-3) ** 3)

    def scale_at(self, x: float, y: float) -> float:
        """Mean enlargement where a point of the plane lies: √|Jacobian|, which is det/w³ there."""
        if self.flat:
            return self.scale
        w = max(self.g * x + self.h * y + self.i, 1e-3)
        return math.sqrt(abs(self._determinant()) / w**3)

    def _determinant(self) -> float:
        return (
            self.a * (self.d * self.i - self.f * self.h)
            - self.c * (self.b * self.i - self.f * self.g)
            + self.e * (self.b * self.h - self.d * self.g)
        )

    def inverse(self) -> "Matrix":
        """Raises ZeroDivisionError for a transform that flattens the plane."""
        if self.flat:
            det = self.a * self.d - self.b * self.c
            return Matrix(
                self.d / det,
                -self.b / det,
                -self.c / det,
                self.a / det,
                (self.c * self.f - self.d * self.e) / det,
                (self.b * self.e - self.a * self.f) / det,
            )
        det = self._determinant()
        cofactors = (
            (self.d * self.i - self.f * self.h),
            -(self.b * self.i - self.f * self.g),
            -(self.c * self.i - self.e * self.h),
            (self.a * self.i - self.e * self.g),
            (self.c * self.f - self.e * self.d),
            -(self.a * self.f - self.e * self.b),
            (self.b * self.h - self.d * self.g),
            -(self.a * self.h - self.c * self.g),
            (self.a * self.d - self.c * self.b),
        )
        # Its last entry is 1, as that of every transform here, or −1: what lies before the eye is divided by more than
        # nothing either way.
        return Matrix(*(each / (math.copysign(cofactors[-1], det) or det) for each in cofactors))
