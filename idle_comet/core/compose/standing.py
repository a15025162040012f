"""Where content stands in the frame before any step moves it."""

from __future__ import annotations

from typing import NamedTuple

from ..picture import Matrix, Rect
from ..type import Layout, lay_out
from .scene import ContentNow, FootageNow, PlainNow, TextNow

TITLE_SAFE = 0.05
"""Share of the frame kept clear on each side for titles (ITU-R BT.1848, 16:9: 90 %)."""


class Standing(NamedTuple):
    """`matrix` leads from the content's units (em, or source px) to px of the project's frame."""

    matrix: Matrix
    ink: Rect
    box: Rect
    anchor: tuple[float, float]


def layout_of(text: TextNow) -> Layout:
    return lay_out(text.text, text.typeface, text.weight, text.tracking, text.leading, text.align)


def stand(content: ContentNow, width: int, height: int) -> Standing:
    """Standing of a content in a frame of this size, in px of the project's frame."""
    if isinstance(content, TextNow):
        return _stand_text(content, width, height)
    if isinstance(content, PlainNow):
        frame = Rect(0, 0, width, height)
        return Standing(Matrix.grow(width, height), frame, frame, (width / 2, height / 2))
    return _stand_picture(content, width, height)


def content_size(content: FootageNow | PlainNow) -> tuple[int, int]:
    """Size of a content in its own units: source px, or 1 × 1 for a colour."""
    return (1, 1) if isinstance(content, PlainNow) else (content.width, content.height)


def _along(place: str, low: float, high: float, frame: float) -> float:
    """How far to shift a box [low, high] so that it stands at its place along one side of the frame."""
    safe = frame * TITLE_SAFE
    if place in ("left", "top"):
        return safe - low
    if place in ("right", "bottom"):
        return frame - safe - high
    return (frame - low - high) / 2


def _stand_text(text: TextNow, width: int, height: int) -> Standing:
    layout = layout_of(text)
    box = layout.ink if text.measured_by == "ink" and not layout.ink.empty else layout.type_box
    grow = Matrix.grow(text.size)
    sized = box.through(grow)
    shift = Matrix.shift(
        _along(text.stand_x, sized.x0, sized.x1, width), _along(text.stand_y, sized.y0, sized.y1, height))
    matrix = shift @ grow
    ink, outer = layout.ink.through(matrix), layout.type_box.joins(layout.ink).through(matrix)
    stood = box.through(matrix)
    return Standing(matrix, ink, outer, ((stood.x0 + stood.x1) / 2, (stood.y0 + stood.y1) / 2))


def _stand_picture(footage: FootageNow, width: int, height: int) -> Standing:
    ratios = (width / footage.width, height / footage.height)
    scale = {"fill": max(ratios), "fit": min(ratios), "own": 1.0}[footage.fit]
    matrix = Matrix.shift(
        (width - scale * footage.width) / 2, (height - scale * footage.height) / 2) @ Matrix.grow(scale)
    box = Rect(0, 0, footage.width, footage.height).through(matrix)
    return Standing(matrix, box, box, (width / 2, height / 2))
