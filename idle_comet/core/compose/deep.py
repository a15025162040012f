"""Where a solid stands in the world: what steps make of the flat picture, told for all three directions.

A step that places a picture says where its plane goes. What stands out of that plane goes with it: along the plane's
own back, as much larger as the plane became.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from ..picture import Eye, Matrix
from ..steps import STAND, Rest, Solid, Stand, StepKind, Values, resting_eye

Four = tuple[float, ...]
"""A transform of space, 4 × 4, row by row: what it is hashed and named by."""


class Deep(NamedTuple):
    """`world` leads from a picture's own px (x, y, and z away) to the world; the `eye` sees that, and `view` leads from
    px of the eye's `frame`, so wide and high, to the painted picture."""

    world: Four
    eye: Eye
    view: Matrix
    frame: tuple[float, float]

    def before(self, kind: StepKind, values: Values, rest: Rest, placed: Matrix | None, later: Matrix) -> Deep:
        """The same, with one step more in front; `later` is what comes after it."""
        if kind is STAND:
            assert isinstance(STAND, Stand)
            eye: Eye | None = values.get("eye")
            eye = eye or resting_eye(rest.width, rest.height)
            return self._replace(world=_standing(STAND, values, rest), eye=eye, view=later)
        if placed is None:
            return self
        own = lifted(placed, *(kind.seen_from(values, rest) or from_before(rest.width, rest.height)))
        return self._replace(world=_named(array(self.world) @ own))


class Body(NamedTuple):
    """What some ink is made of and where that stands."""

    solid: Solid
    deep: Deep


def deep_in(width: float, height: float, view: Matrix) -> Deep:
    """What stands in the frame as it is."""
    return Deep(_named(_shift(-width / 2, -height / 2)), resting_eye(width, height), view, (width, height))


def from_before(width: float, height: float) -> tuple[float, float, float]:
    """From where what is turned is seen, unless its step says otherwise."""
    return width / 2, height / 2, resting_eye(width, height).focal


def array(four: Four) -> np.ndarray:
    """(4, 4)."""
    return np.array(four).reshape(4, 4)


def _named(matrix: np.ndarray) -> Four:
    return tuple(matrix.ravel().tolist())


def _shift(x: float, y: float) -> np.ndarray:
    made = np.eye(4)
    made[:2, 3] = x, y
    return made


def _standing(kind: Stand, values: Values, rest: Rest) -> Four:
    made = np.eye(4)
    for column, vector in enumerate(kind.body(values, rest)):
        made[:3, column] = vector
    return _named(made)


def lifted(placed: Matrix, x: float, y: float, far: float) -> np.ndarray:
    """(4, 4): a plane's transform for all of space. One in perspective is taken for what is seen from `far` px before
    (x, y): a turned plane's third direction is across its other two."""
    if placed.flat:
        made = np.eye(4)
        made[:2, 0], made[:2, 1], made[:2, 3] = placed[0:2], placed[2:4], placed[4:6]
        made[2, 2] = placed.scale
        return made
    own = Matrix.shift(-x, -y) @ placed @ Matrix.shift(x, y)
    a, b, c, d, e, f, g, h, i = (each / own.i for each in own) if abs(own.i) > 1e-9 else own
    across, down = np.array([a, b, far * g]), np.array([c, d, far * h])
    away = np.cross(across, down)
    away /= math.sqrt(max(float(np.linalg.norm(away)), 1e-12))
    turned = np.eye(4)
    turned[:3, 0], turned[:3, 1], turned[:3, 2], turned[:2, 3] = across, down, away, (e, f)
    seen = np.eye(4)
    seen[3, 2] = 1 / far
    return _shift(x, y) @ seen @ turned @ _shift(-x, -y)
