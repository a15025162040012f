"""The line along which colours run over a picture, to be taken hold of there."""

from __future__ import annotations

import math
from typing import NamedTuple

from ..picture import Rect


class Axis(NamedTuple):
    """A line on the picture along which colours run, in the kind's own space: from the first colour to the last.

    `turn`, `reach` and `places` name the values that turn it, say how long it is, and where on it, 0..1, something
    lies."""

    start: tuple[float, float]
    end: tuple[float, float]
    turn: str | None = None
    reach: str | None = None
    places: tuple[str, ...] = ()


def axis_across(
    box: Rect, angle: float, middle: tuple[float, float] = (0.0, 0.0), times: float = 1.0
) -> tuple[tuple[float, float], tuple[float, float]]:
    """The ends of a line at an angle in degrees, clockwise from the right, that is as long as a box is in its
    direction, times `times`; its middle lies `middle` px from the middle of the box."""
    cos, sin = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    half = times * (abs((box.x1 - box.x0) * cos) + abs((box.y1 - box.y0) * sin)) / 2
    x, y = (box.x0 + box.x1) / 2 + middle[0], (box.y0 + box.y1) / 2 + middle[1]
    return (x - half * cos, y - half * sin), (x + half * cos, y + half * sin)
