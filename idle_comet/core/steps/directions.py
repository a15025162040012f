"""The eight directions things arrive in, as an editor says them."""

from __future__ import annotations

import math

from ..picture import Rect
from .parameter import Choice

DIRECTIONS: dict[str, tuple[float, float]] = {
    "up": (0, -1),
    "down": (0, 1),
    "left": (-1, 0),
    "right": (1, 0),
    "up left": (-math.sqrt(0.5), -math.sqrt(0.5)),
    "up right": (math.sqrt(0.5), -math.sqrt(0.5)),
    "down left": (-math.sqrt(0.5), math.sqrt(0.5)),
    "down right": (math.sqrt(0.5), math.sqrt(0.5)),
}
"""Unit vectors on the picture, y down."""


def towards(label: str = "Towards", first: str = "up", *more: str) -> Choice:
    """The choice of a direction; the first is what it is unless chosen."""
    return Choice("towards", label, (first, *(each for each in DIRECTIONS if each != first), *more))


def along(box: Rect, way: tuple[float, float]) -> tuple[float, float]:
    """First and last place of a box along a direction."""
    places = [x * way[0] + y * way[1] for x, y in box.corners()]
    return min(places), max(places)
