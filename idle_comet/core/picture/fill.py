"""Filling outlines with their exact area of every pixel.

A library that samples a few lines a pixel makes a horizontal edge jump by a whole line's worth as it drifts; an area
does not jump. Each straight piece adds the area to its right to the pixels of the rows it crosses (a running sum along
each row then gives the winding); outlines that overlap or abut add up, and are cut at one.
"""

from __future__ import annotations

from typing import NamedTuple, Sequence

import numpy as np

from .kernel import kernel
from .matrix import Matrix


@kernel("void(float64[:,::1], float32[:,::1])")
def _accumulate(pieces, area):
    height, width = area.shape
    for number in range(pieces.shape[0]):
        x0, y0, x1, y1 = pieces[number, 0], pieces[number, 1], pieces[number, 2], pieces[number, 3]
        if y0 == y1 or not (np.isfinite(x0) and np.isfinite(y0) and np.isfinite(x1) and np.isfinite(y1)):
            continue
        sign = 1.0
        if y0 > y1:
            x0, y0, x1, y1 = x1, y1, x0, y0
            sign = -1.0
        if y1 <= 0 or y0 >= height:
            continue
        slope = (x1 - x0) / (y1 - y0)
        if y0 < 0:
            x0, y0 = x0 - y0 * slope, 0.0
        last = min(y1, float(height))
        x = x0
        for row in range(int(y0), int(np.ceil(last))):
            top, foot = max(y0, float(row)), min(last, row + 1.0)
            deep = foot - top
            if deep <= 0:
                continue
            xn = x + slope * deep
            left, right = min(x, xn), max(x, xn)
            x = xn
            whole = sign * deep
            if left >= width:
                continue
            if right <= 0:
                area[row, 0] += whole
                continue
            left, right = max(left, 0.0), min(right, float(width))
            first, end = int(left), int(np.ceil(right))
            if end <= first + 1:
                # Within one pixel: its part to the right of the piece, the rest to the next.
                part = whole * (first + 1 - (left + right) / 2)
                area[row, first] += part
                if first + 1 < width:
                    area[row, first + 1] += whole - part
                continue
            # Over several: the covered share grows as a parabola, a line and a parabola.
            steep = 1.0 / (right - left)
            near = first + 1 - left
            begun = whole * 0.5 * steep * near * near
            area[row, first] += begun
            far = right - (end - 1)
            done = begun
            for column in range(first + 1, end - 1):
                now = whole * steep * (column + 0.5 - left)
                area[row, column] += now - done
                done = now
            ended = whole * (1.0 - 0.5 * steep * far * far)
            if end - 1 < width:
                area[row, end - 1] += ended - done
                if end < width:
                    area[row, end] += whole - ended


@kernel("void(float32[:,::1])")
def _sweep(area):
    """A running sum along each row: the winding, of which one counts at most."""
    for y in range(area.shape[0]):
        share = np.float32(0)
        for x in range(area.shape[1]):
            share += area[y, x]
            area[y, x] = min(abs(share), np.float32(1))


def covered(pieces: np.ndarray, width: int, height: int) -> np.ndarray:
    """Coverage (height, width) float32 0..1 of outlines as straight pieces (n, 4): x0, y0, x1, y1 in px, each contour
    closed.

    Non-zero winding. Outlines that run against each other (a hole) take away.
    """
    area = np.zeros((height, width), np.float32)
    _accumulate(np.ascontiguousarray(pieces, np.float64), area)
    _sweep(area)
    return area


@kernel("void(float64[:,::1], int64[::1], float64[:,::1], float64[:,::1])")
def _moved(pieces, ends, matrices, out):
    begin = 0
    for number in range(ends.shape[0]):
        a, b, c, d, e, f, g, h, i = matrices[number]
        flat = g == 0 and h == 0 and i == 1
        for piece in range(begin, ends[number]):
            for end in range(0, 4, 2):
                x, y = pieces[piece, end], pieces[piece, end + 1]
                w = 1.0 if flat else max(g * x + h * y + i, 1e-3)
                out[piece, end], out[piece, end + 1] = (a * x + c * y + e) / w, (b * x + d * y + f) / w
        begin = ends[number]


def _seen_from(matrices: np.ndarray, x: float, y: float) -> np.ndarray:
    """(n, 9 or more) transforms, their numbers in the order of Matrix, with a shift by (−x, −y) after each; they are
    written over."""
    matrices[:, 0:6:2] -= x * matrices[:, 6:9]
    matrices[:, 1:6:2] -= y * matrices[:, 6:9]
    return matrices


class Outlines(NamedTuple):
    """Outlines that stand each on their own: `pieces` (n, 4) of all of them, and where those of each end."""

    pieces: np.ndarray
    ends: np.ndarray

    @classmethod
    def of(cls, outlines: Sequence[np.ndarray]) -> Outlines:
        """`outlines` are (n, 4) each: x0, y0, x1, y1, each contour closed."""
        pieces = np.concatenate(outlines) if len(outlines) > 1 else outlines[0]
        return cls(np.ascontiguousarray(pieces, np.float64), np.cumsum([len(each) for each in outlines]))

    def moved(self, matrices: Sequence[Matrix], x: float = 0.0, y: float = 0.0) -> np.ndarray:
        """All pieces, each outline through its own transform, seen from (x, y) on; a straight piece stays straight,
        with perspective too."""
        out = np.empty_like(self.pieces)
        _moved(self.pieces, self.ends, _seen_from(np.array(matrices, np.float64), x, y), out)
        return out


@kernel("void(float64[:,::1], int64[::1], float64[:,::1], int64[::1], int64[::1], boolean[::1], float32[:,::1])")
def _accumulate_streaks(pieces, ends, looks, look_ends, counts, bends, total):
    height, width = total.shape
    moved = np.empty_like(pieces)
    at_look = np.empty(looks.shape[1])
    begin, first_look = 0, 0
    for number in range(ends.shape[0]):
        legs = look_ends[number] - first_look - 1
        for moment in range(counts[number]):
            # Between looks the way is straight, or a parabola through three of them.
            place = (moment + 0.5) / counts[number] * legs
            if bends[number]:
                leg = min(int(place) // 2 * 2, legs - 2)
            else:
                leg = min(int(place), legs - 1)
            part = place - leg
            for value in range(looks.shape[1]):
                one, other = looks[first_look + leg, value], looks[first_look + leg + 1, value]
                at_look[value] = one + (other - one) * part
                if bends[number]:
                    third = looks[first_look + leg + 2, value]
                    at_look[value] += (third - 2 * other + one) * part * (part - 1) / 2
            weight = np.float32(min(max(at_look[9], 0.0), 1.0) / counts[number])
            if weight <= 0:
                continue
            a, b, c, d, e, f, g, h, i = at_look[:9]
            low_x, low_y, high_x, high_y = np.inf, np.inf, -np.inf, -np.inf
            for piece in range(begin, ends[number]):
                for end in range(0, 4, 2):
                    x, y = pieces[piece, end], pieces[piece, end + 1]
                    w = max(g * x + h * y + i, 1e-3)
                    px, py = (a * x + c * y + e) / w, (b * x + d * y + f) / w
                    moved[piece, end], moved[piece, end + 1] = px, py
                    low_x, high_x, low_y, high_y = min(low_x, px), max(high_x, px), min(low_y, py), max(high_y, py)
            if not (np.isfinite(low_x) and np.isfinite(low_y) and np.isfinite(high_x) and np.isfinite(high_y)):
                continue
            x0, y0 = int(max(0.0, np.floor(low_x))), int(max(0.0, np.floor(low_y)))
            x1, y1 = int(min(float(width), np.ceil(high_x) + 1)), int(min(float(height), np.ceil(high_y)))
            if x0 >= x1 or y0 >= y1:
                continue
            for piece in range(begin, ends[number]):
                moved[piece, 0] -= x0
                moved[piece, 2] -= x0
                moved[piece, 1] -= y0
                moved[piece, 3] -= y0
            area = np.zeros((y1 - y0, x1 - x0), np.float32)
            _accumulate(moved[begin : ends[number]], area)
            for row in range(y1 - y0):
                share = np.float32(0)
                into, of = total[y0 + row, x0:x1], area[row]
                for column in range(x1 - x0):
                    share += of[column]
                    into[column] += weight * min(abs(share), np.float32(1))
        begin, first_look = ends[number], look_ends[number]


class Streak(NamedTuple):
    """The way of one outline while a shutter is open: `looks` (m, 10) at even times, a transform (a … i of Matrix) and
    an opacity each; `count` moments are painted on it. Where it `bends` it is a parabola through each three looks."""

    looks: np.ndarray
    moments: int
    bends: bool


def add_streaks(outlines: Outlines, streaks: Sequence[Streak], total: np.ndarray, x: float, y: float) -> None:
    """Add to a (h, w) float32 total, whose corner lies at (x, y), the mean coverage of each outline over its moments;
    it may pass 1."""
    _accumulate_streaks(
        outlines.pieces,
        outlines.ends,
        _seen_from(np.concatenate([each.looks for each in streaks], dtype=np.float64), x, y),
        np.cumsum([len(each.looks) for each in streaks]),
        np.array([each.moments for each in streaks], np.int64),
        np.array([each.bends for each in streaks]),
        total,
    )
