"""Side by side: several variants of one film in one picture, at the same frame."""

from __future__ import annotations

import math
from typing import Sequence

import numpy as np

from ..modelled import Model
from ..moment.evaluate import evaluate
from ..picture import parse_colour
from ..project.model import Project
from .paint import Painter
from .plan import Plan, plan

MOST = 9
_GUTTER = 6
_GROUND = "#1a1a1a"


class Cell(Model):
    """Where a variant stands in the picture, in its px."""

    x: int
    y: int
    width: int
    height: int


def cells(count: int, width: int, height: int) -> list[Cell]:
    """As square a grid as the count allows, every cell of the picture's own shape, gutters between."""
    columns = math.ceil(math.sqrt(count))
    rows = -(-count // columns)
    share = min((width - _GUTTER * (columns - 1)) / columns / width, (height - _GUTTER * (rows - 1)) / rows / height)
    w, h = max(2, int(width * share)), max(2, int(height * share))
    left = (width - columns * w - (columns - 1) * _GUTTER) // 2
    top = (height - rows * h - (rows - 1) * _GUTTER) // 2
    return [
        Cell(x=left + (i % columns) * (w + _GUTTER), y=top + (i // columns) * (h + _GUTTER), width=w, height=h)
        for i in range(count)
    ]


def plan_beside(
    variants: Sequence[Project], frame: float, width: int, height: int, exact: bool
) -> list[tuple[Cell, Plan]]:
    """The plan of each variant at its cell's size: the same painter, the same frame."""
    return [
        (cell, plan(evaluate(each, frame), cell.width, cell.height, exact))
        for cell, each in zip(cells(len(variants), width, height), variants)
    ]


def paint_beside(painter: Painter, planned: list[tuple[Cell, Plan]], width: int, height: int) -> np.ndarray:
    """(height, width, 4) uint8: all variants in one picture."""
    picture = np.empty((height, width, 4), np.uint8)
    picture[:] = (*parse_colour(_GROUND), 255)
    for cell, each in planned:
        picture[cell.y : cell.y + cell.height, cell.x : cell.x + cell.width] = painter.paint(each)
    return picture
