"""Lights: where they are, and how much of them comes where."""

from __future__ import annotations

import math
from typing import Iterable, Literal, NamedTuple

import numpy as np

from ..picture import Vector, as_light, parse_colour

Sort = Literal["everywhere", "point", "spot"]

_NUMBERS: dict[Sort, int] = {"everywhere": 0, "point": 1, "spot": 2}


class LightNow(NamedTuple):
    """A light at one moment, in px of the world. `strength` 1 makes white that faces it exactly white, at any distance,
    or `reach` px away where it `fades` by the square of the distance. A spot is whole within `cone` degrees from side
    to side less `feather` of it, and ends at `cone`. `size` is how wide it is itself: the wider, the softer are its
    shadows; 0 casts hard ones."""

    sort: Sort
    at: Vector = (0.0, 0.0, 0.0)
    aim: Vector = (0.0, 0.0, 0.0)
    colour: str = "#ffffff"
    strength: float = 1.0
    fades: bool = False
    reach: float = 1000.0
    cone: float = 60.0
    feather: float = 0.3
    size: float = 0.0
    shadows: bool = False

    @property
    def row(self) -> list[float]:
        """As `rows_of` has it."""
        far = max(math.dist(self.at, self.aim), 1e-9)
        way = [(b - a) / far for a, b in zip(self.at, self.aim)]
        half = math.radians(min(max(self.cone, 0.0), 360.0)) / 2
        outer, inner = math.cos(half), math.cos(half * (1 - min(max(self.feather, 0.0), 1.0)))
        light = as_light(parse_colour(self.colour)) * self.strength
        reach = self.reach if self.fades else 0.0
        return [_NUMBERS[self.sort], *self.at, *way, *map(float, light), reach, inner, outer, 0.0, 0.0, 0.0]


def rows_of(lights: Iterable[LightNow]) -> np.ndarray:
    """(n, 16): sort (0 everywhere, 1 point, 2 spot), place (3), way (3), light (3), the distance of its strength or 0
    where it is the same everywhere, and the cosines of half the cone, where it is whole and where it ends."""
    return np.array([light.row for light in lights], np.float64).reshape(-1, 16)


def usual(width: float) -> tuple[LightNow, ...]:
    """The lights of a film without any, for a frame so wide: one from before, above and left, and some everywhere."""
    return (
        LightNow("everywhere", strength=0.24),
        LightNow("point", (-1.2 * width, -1.6 * width, -2.2 * width), strength=0.78),
    )
