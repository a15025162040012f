"""Grading: a curve for each channel between two matrices over the three, on encoded values of what is there."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Sequence

import numpy as np

from .blend import deepened
from .grade_loop import FEWEST, NUMBERS, WHOLES, grade
from .kernel import own
from .patch import Patch
from .power import PIECES, pieces_of, takes_pieces

LUMA = (0.2126, 0.7152, 0.0722)
"""Weights of red, green and blue in how bright a colour is (ITU-R BT.709)."""


@dataclass(frozen=True)
class Curve:
    """What becomes of a tone 0..1: straight from point to point and level before the first and after the last, then
    raised to a power.

    Points are two to five (tone, value) with tones that grow and values 0..1; the power is more than 0."""

    points: tuple[tuple[float, float], ...]
    power: float = 1.0


def line(slope: float, start: float, power: float = 1.0, end: float = 1.0) -> Curve:
    """The curve start + slope · tone, held within 0..1; from the tone `end` on it is level."""
    first, last = 0.0, min(1.0, end)
    if slope:
        first, last = (min(max(each, first), last) for each in sorted((-start / slope, (1 - start) / slope)))
    values = (min(max(start + slope * tone, 0.0), 1.0) for tone in (first, last))
    return Curve(tuple(zip((first, max(last, first + _LEAST)), values)), power)


_LEAST = 1e-6
"""The least that tones of points are apart."""


@dataclass(frozen=True)
class Grading:
    """What becomes of encoded colours 0..1: a (3, 4) matrix, a curve for each channel, another matrix; by a share.

    The last column of a matrix is added. What is None changes nothing."""

    curves: tuple[Curve, Curve, Curve] | None = None
    after: np.ndarray | None = None
    before: np.ndarray | None = None
    share: float = 1.0


def graded(patch: Patch, gradings: Sequence[Grading]) -> Patch:
    """The patch with gradings done to its colours one after the other, in one pass over its pixels. Each leaves colours
    of 0..1."""
    if patch.rect.empty or not gradings:
        return patch
    pixels = own(patch.pixels if patch.colour is None else deepened(patch))
    px = pixels.reshape(-1)
    if len(px) < 4 * FEWEST:
        px = np.concatenate([px, np.zeros(4 * FEWEST - len(px), px.dtype)])
    out = np.empty(len(px), np.float32)
    grade(out, px, *_told(gradings))
    return replace(patch, pixels=out[: pixels.size].reshape(pixels.shape), colour=None)


_SAME = (Curve(((0.0, 0.0), (1.0, 1.0))),) * 3


def _told(gradings: Sequence[Grading]) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Gradings as the loop takes them."""
    numbers, wholes = np.zeros(len(gradings), NUMBERS), np.zeros(len(gradings), WHOLES)
    all_pieces = _on_lines((len(gradings), 3, *PIECES))
    for grading, made, has, pieces in zip(gradings, numbers, wholes, all_pieces):
        for name, matrix in (("before", grading.before), ("after", grading.after)):
            if matrix is not None:
                made[name], has[name] = matrix, 1
        made["share"], has["share"] = grading.share, grading.share < 1
        curves = grading.curves or _SAME
        for channel, curve in enumerate(curves):
            made["powers"][channel], made["starts"][channel] = curve.power, curve.points[0][1]
            for part, ((at, start), (then, end)) in enumerate(pairwise(curve.points)):
                made["straight"][part, channel] = at, then - at, (end - start) / (then - at)
            has["parts"] = max(has["parts"], len(curve.points) - 1)
        if any(curve.power != 1 for curve in curves):
            found = [pieces_of(curve.power) for curve in curves if takes_pieces()]
            known = [each for each in found if each is not None]
            if len(known) == len(curves):
                pieces[:], has["pieces"] = known, 1
            else:
                has["powers"] = 1
    return numbers, wholes, all_pieces


_LINE = 64
"""Bytes of memory that the machine takes at once."""


def _on_lines(shape: tuple[int, ...]) -> np.ndarray:
    """Room for float32 that begins where a line of memory does, so that a vector is read in one go."""
    size = 4 * math.prod(shape)
    room = np.empty(size + _LINE, np.uint8)
    begin = -room.ctypes.data % _LINE
    return room[begin : begin + size].view(np.float32).reshape(shape)


def saturating(by: float) -> np.ndarray:
    """(3, 3): colours drawn towards their own grey (0), left (1) or away from it; the luminance stays (W3C Filter
    Effects, `saturate`, with the weights of BT.709)."""
    return by * np.eye(3) + (1 - by) * np.tile(LUMA, (3, 1))
