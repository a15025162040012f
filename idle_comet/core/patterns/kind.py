"""The protocol every pattern follows: a picture that is reckoned, not recorded."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any, Callable, Mapping

import numpy as np

from ..picture import Matrix, Mode, Rect, field_of
from ..steps import Axis, Choice, Parameter

Values = Mapping[str, Any]
"""Numbers; colours as `#rrggbb`, points as (x, y), choices as their word."""


@dataclass(frozen=True)
class Ground:
    """Where and when a pattern is painted.

    `matrix` leads from px of the film's frame, which is `wide` × `high`, to painted px; `area` is what is wanted of the
    painted picture, in whole px. `seconds` and `frame` count from the head of the clip.
    """

    matrix: Matrix
    area: Rect
    wide: float
    high: float
    seconds: float
    frame: float

    @property
    def scale(self) -> float:
        """Painted px for one px of the frame, in its middle."""
        return self.matrix.scale_at(self.wide / 2, self.high / 2)

    @property
    def shape(self) -> tuple[int, int]:
        """Rows and columns of what is wanted."""
        x0, y0, x1, y1 = self.area.whole()
        return y1 - y0, x1 - x0

    @cached_property
    def places(self) -> tuple[np.ndarray, np.ndarray]:
        """Where every painted px lies, in px of the frame: two (h, w) float32 arrays."""
        return field_of(self.area, self.matrix)


class Pattern:
    """One generated picture. Subclasses say what can be set and paint it, as large as the frame."""

    kind: str
    label: str
    synonyms: tuple[str, ...] = ()
    parameters: tuple[Parameter, ...] = ()
    choices: tuple[Choice, ...] = ()
    restless: bool = False
    """Whether it is another picture at every frame by itself."""
    covers: bool = False
    """Whether nothing is seen through it."""
    blend: Mode = "normal"
    """How it is blended when it is laid over a film."""
    over_all: bool = False
    """Whether it is meant to lie over all else, titles included."""

    def paint(self, values: Values, ground: Ground) -> np.ndarray:
        """(h, w, 4) float32 premultiplied code values, 0..255, over the ground's area."""
        raise NotImplementedError

    def axis(self, values: Values, box: Rect) -> Axis | None:
        """The line along which its colours run over the frame, to be taken hold of; None where there is none."""
        return None


LOOP = Parameter("loop", "Repeats after", "s", 0, 0, 20, 0, 3600, digits=1, may_move=False)
"""After so many seconds the picture is again what it was, without a seam; 0 never repeats."""


def looped(values: Values, seconds: float, made: Callable[[float], np.ndarray]) -> np.ndarray:
    """What is made at a time; one that repeats goes over into its own beginning, weighted so that it stays as lively
    (the squares of both weights are 1 together)."""
    loop = values["loop"]
    if loop <= 0:
        return made(seconds)
    past = seconds % loop
    share = past / loop
    if share < 1e-9:
        return made(0.0)
    whole = (share**2 + (1 - share) ** 2) ** 0.5
    return (made(past) * np.float32((1 - share) / whole) + made(past - loop) * np.float32(share / whole)).astype(
        np.float32
    )


def turns(speed: float, values: Values, seconds: float) -> float:
    """Turns made by a time; of a picture that repeats, a whole number of them each time."""
    loop = values["loop"]
    if loop <= 0 or speed == 0:
        return speed * seconds
    whole = round(speed * loop) or (1 if speed > 0 else -1)
    return whole * seconds / loop
