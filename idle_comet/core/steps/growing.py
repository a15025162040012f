"""Shapes beside words that grow from one of their sides."""

from __future__ import annotations

from ..picture import Rect
from .parameter import Choice

GROWS = Choice("grows", "Grows from", ("left", "middle", "right", "top", "bottom"))


def grown(box: Rect, shown: float, side: str) -> Rect:
    """The part of a box that is there when so much of it (0..1) is shown."""
    x0, y0, x1, y1 = box
    if side in ("top", "bottom"):
        high = (y1 - y0) * shown
        return Rect(x0, y0, x1, y0 + high) if side == "top" else Rect(x0, y1 - high, x1, y1)
    wide = (x1 - x0) * shown
    if side == "middle":
        return Rect((x0 + x1 - wide) / 2, y0, (x0 + x1 + wide) / 2, y1)
    return Rect(x0, y0, x0 + wide, y1) if side == "left" else Rect(x1 - wide, y0, x1, y1)
