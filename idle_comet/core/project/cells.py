"""Cells: how a frame is shared among several pictures, in whole px that leave no gap and never overlap."""

from __future__ import annotations

from typing import Literal, NamedTuple

Arrangement = Literal[
    "inset", "half", "quadrant", "strip below", "strip beside", "row", "column", "first large", "grid"
]
ONE: tuple[Arrangement, ...] = ("inset", "half", "quadrant", "strip below", "strip beside")
"""For one picture; the others are for two and more."""

Corner = Literal["upper left", "upper right", "lower left", "lower right"]


class CellRect(NamedTuple):
    """A place in the frame, in whole px: from its upper left corner on."""

    x: int
    y: int
    width: int
    height: int


def shared_out(whole: int, parts: list[float], gutter: int) -> list[tuple[int, int]]:
    """(begin, length) of runs with gutters between them, by their shares of what is left; together exactly the whole.

    Each border lies where its exact place rounds to, so that no run is off by more than a px."""
    room = max(len(parts), whole - gutter * (len(parts) - 1))
    total, found, done = sum(parts), [], 0.0
    for number, part in enumerate(parts):
        begin = round(room * done / total)
        done += part
        end = round(room * done / total)
        found.append((begin + number * gutter, end - begin))
    return found


def cells_of(
    arrangement: Arrangement,
    count: int,
    width: int,
    height: int,
    margin: int = 0,
    gutter: int = 0,
    corner: Corner = "lower right",
    share: float = 0.3,
) -> list[CellRect]:
    """The cells of so many pictures in a frame, in the order in which they are read. `share` is how much of the frame's
    width an inset takes, or of its height (or width) a strip leaves free. Raises ValueError for none at all."""
    if count < 1:
        raise ValueError("there is nothing to be arranged")
    wide, high = max(1, width - 2 * margin), max(1, height - 2 * margin)
    left, low = corner.endswith("left"), corner.startswith("lower")
    if arrangement == "inset":
        w = max(1, round(width * share))
        h = max(1, round(w * height / width))
        return [CellRect(margin if left else width - margin - w, height - margin - h if low else margin, w, h)]
    if arrangement in ("half", "quadrant"):
        across = shared_out(wide, [1, 1], gutter)[0 if left else 1]
        down = shared_out(high, [1, 1], gutter)[1 if low else 0] if arrangement == "quadrant" else (0, high)
        return [CellRect(margin + across[0], margin + down[0], across[1], down[1])]
    if arrangement == "strip below":
        free = max(1, round(height * share))
        return [CellRect(margin, margin, wide, max(1, height - free - 2 * margin))]
    if arrangement == "strip beside":
        free = max(1, round(width * share))
        return [CellRect(margin + (free if left else 0), margin, max(1, width - free - 2 * margin), high)]
    if arrangement == "row":
        return [CellRect(margin + x, margin, w, high) for x, w in shared_out(wide, [1] * count, gutter)]
    if arrangement == "column":
        return [CellRect(margin, margin + y, wide, h) for y, h in shared_out(high, [1] * count, gutter)]
    if arrangement == "first large" and count > 1:
        (x, w), (x2, w2) = shared_out(wide, [2, 1], gutter)
        rows = shared_out(high, [1] * (count - 1), gutter)
        return [CellRect(margin + x, margin, w, high), *(CellRect(margin + x2, margin + y, w2, h) for y, h in rows)]
    columns = next(number for number in range(1, count + 1) if number * number >= count)
    rows_of = -(-count // columns)
    found = []
    for row, (y, h) in enumerate(shared_out(high, [1] * rows_of, gutter)):
        # A last row that is not full is shared out among those that are in it.
        here = min(columns, count - row * columns)
        found += [CellRect(margin + x, margin + y, w, h) for x, w in shared_out(wide, [1] * here, gutter)]
    return found
