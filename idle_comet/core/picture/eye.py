"""A pinhole camera and what it sees of a plane: pure geometry, in px of the project's frame.

The world has the frame's own axes: x to the right, y down, z away from the viewer; the frame lies in the plane z = 0
about the origin. A camera that stands `distance` in front of it sees exactly the frame.
"""

from __future__ import annotations

import math
from typing import NamedTuple

from .lens import Opening
from .matrix import Matrix

Vector = tuple[float, float, float]


def _minus(a: Vector, b: Vector) -> Vector:
    return a[0] - b[0], a[1] - b[1], a[2] - b[2]


def dot(a: Vector, b: Vector) -> float:
    """The scalar product."""
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def cross(a: Vector, b: Vector) -> Vector:
    """The vector product."""
    return a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]


def _unit(a: Vector) -> Vector:
    long = math.sqrt(dot(a, a))
    return a[0] / long, a[1] / long, a[2] / long


class Focus(NamedTuple):
    """What a lens makes of what is not sharp: `sharp` is how far ahead things are sharp, in px, `spread` the diameter,
    in px of the frame, of what is endlessly far away."""

    sharp: float
    spread: float
    opening: Opening = Opening()
    highlights: float = 1.0
    """How many times as bright as white the brightest of a picture is taken to be."""

    def diameter(self, depth: float) -> float:
        """Px of the frame that a point so far ahead is spread over; below 0 one that is nearer than what is sharp."""
        return self.spread * (1 - self.sharp / depth)

    def band(self, most: float) -> tuple[float, float]:
        """From where to where, px ahead, nothing is spread over more than `most` px; the far end may be endless."""
        part = most / max(self.spread, 1e-12)
        return self.sharp / (1 + part), self.sharp / (1 - part) if part < 1 else math.inf


NEAREST_FOCUS = 1.05
"""Times its focal length that a lens can be set to at the nearest."""


def thin_lens(
    lens: float, sensor: float, stop: float, sharp: float, width: float, px: float, opening: Opening = Opening()
) -> Focus:
    """A lens and a sensor in mm, at an f-number, set to what lies `sharp` px ahead of it, where a px of the world is
    `px` mm and the frame `width` px wide.

    The disc of a point at z has a diameter of A·f·|z − s|/(z·(s − f)) on the sensor, with an opening of A = f/N: the
    thin lens (Born and Wolf, "Principles of Optics", 4.4)."""
    at = max(sharp * px, NEAREST_FOCUS * lens)
    return Focus(at / px, lens / stop * lens / (at - lens) * width / sensor, opening)


class Eye(NamedTuple):
    """Where a camera is, its three directions, and how many px of the frame a px of the world is seen as at a distance
    of one: focal length · frame width / sensor width. Without a `focus` everything is sharp. What is not nearer than
    `until` is not seen."""

    at: Vector
    right: Vector
    down: Vector
    ahead: Vector
    focal: float
    focus: Focus | None = None
    until: float = math.inf

    def depth(self, point: Vector) -> float:
        """How far a point lies ahead, along the axis; below 0 behind."""
        return dot(self.ahead, _minus(point, self.at))

    def sees(self, plane: tuple[Vector, Vector, Vector], middle: Vector, width: float, height: float) -> Matrix | None:
        """The way from a plane's own px to px of a frame of this size. The plane is (origin, across, down): px (x, y)
        of it lie at origin + x · across + y · down of the world. It is told so that what lies as far ahead as `middle`
        is divided by 1; None where that lies behind the eye."""
        near = self.depth(middle)
        if near <= 1e-6:
            return None
        origin, across, down = plane
        apart = _minus(origin, self.at)
        rows = [[dot(axis, each) for each in (across, down, apart)] for axis in (self.right, self.down, self.ahead)]
        (xu, xv, x0), (yu, yv, y0), (wu, wv, w0) = rows
        f, mx, my = self.focal, width / 2, height / 2
        numbers = (
            f * xu + mx * wu,
            f * yu + my * wu,
            f * xv + mx * wv,
            f * yv + my * wv,
            f * x0 + mx * w0,
            f * y0 + my * w0,
            wu,
            wv,
            w0,
        )
        return Matrix(*(each / near for each in numbers))


def looking_at(at: Vector, aim: Vector, roll: float, focal: float, focus: Focus | None = None) -> Eye:
    """A camera that looks from a place at another, rolled clockwise by degrees. Straight up or down its right stays the
    frame's; one that stands in its aim looks ahead."""
    way = _minus(aim, at)
    ahead = _unit(way) if dot(way, way) > 1e-12 else (0.0, 0.0, 1.0)
    side = cross((0.0, 1.0, 0.0), ahead)
    right = _unit(side) if dot(side, side) > 1e-12 else (1.0, 0.0, 0.0)
    down = cross(ahead, right)
    cos, sin = math.cos(math.radians(roll)), math.sin(math.radians(roll))
    rolled = tuple(cos * a + sin * b for a, b in zip(right, down))
    lower = tuple(cos * b - sin * a for a, b in zip(right, down))
    return Eye(at, rolled, lower, ahead, focal, focus)  # type: ignore[arg-type]


def turned_by(eye: Eye, yaw: float, pitch: float, roll: float) -> Eye:
    """The same camera, turned about itself: first to the right by `yaw`, then up by `pitch`, then clockwise by `roll`,
    degrees, each about its own axis."""

    def turned(one: Vector, other: Vector, by: float) -> tuple[Vector, Vector]:
        cos, sin = math.cos(math.radians(by)), math.sin(math.radians(by))
        return (
            (cos * one[0] + sin * other[0], cos * one[1] + sin * other[1], cos * one[2] + sin * other[2]),
            (cos * other[0] - sin * one[0], cos * other[1] - sin * one[1], cos * other[2] - sin * one[2]),
        )

    ahead, right = turned(eye.ahead, eye.right, yaw)
    down, ahead = turned(eye.down, ahead, pitch)
    right, down = turned(right, down, roll)
    return eye._replace(right=right, down=down, ahead=ahead)


def turned_axes(tilt: float, swing: float, roll: float) -> tuple[Vector, Vector, Vector]:
    """Where a plane's own x, its own y and its back go when it is turned: first about z (roll), then x (tilt), then y
    (swing), in degrees, as `Matrix.tilt` has them."""
    cx, sx = math.cos(math.radians(tilt)), math.sin(math.radians(tilt))
    cy, sy = math.cos(math.radians(swing)), math.sin(math.radians(swing))
    cz, sz = math.cos(math.radians(roll)), math.sin(math.radians(roll))
    across = (cy * cz + sy * sx * sz, cx * sz, -sy * cz + cy * sx * sz)
    down = (-cy * sz + sy * sx * cz, cx * cz, sy * sz + cy * sx * cz)
    return across, down, cross(across, down)
