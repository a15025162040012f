"""Grading: a curve for each channel between two matrices over the three, on encoded values of what is there."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import chain, pairwise
from typing import Any, Sequence

import numpy as np

from .blend import deepened
from .kernel import kernel
from .lanes import LANES, Lanes, Writer
from .patch import Patch
from .power import power_of

LUMA = (0.2126, 0.7152, 0.0722)
"""Weights of red, green and blue in how bright a colour is (ITU-R BT.709)."""


@dataclass(frozen=True)
class Curve:
    """What becomes of a tone 0..1: straight from point to point and level before the first and after the last, then
    raised to a power.

    Points are two or more (tone, value) with tones that grow and values 0..1; the power is more than 0."""

    points: tuple[tuple[float, float], ...]
    power: float = 1.0

    def at(self, tones: np.ndarray) -> np.ndarray:
        """The values of tones."""
        places, values = np.array(self.points).T
        return np.interp(tones, places, values) ** self.power


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


_PARTS = 4
"""The most straight parts of a curve."""

_CURVE = 2 + 3 * _PARTS
"""Numbers of a curve: its power, its value at the first point; where each straight part begins, how long and how steep
it is."""

_BEFORE, _AFTER, _SHARE, _CURVES = 0, 12, 24, 25
_NUMBERS = _CURVES + 3 * _CURVE
"""Numbers of a grading, and where its matrices, its share and its curves are among them."""

_WHOLES = 6
"""Whole numbers of a grading: whether it has a matrix before, a matrix after and a share; the parts of its curves."""


def _grading(by: Writer, out: Any, px: Any, at: Any, numbers: Any, wholes: Any, count: Any) -> None:
    """Writes the grading of LANES px; see below."""
    builder, real = by.builder, by.vector("float32")
    nothing, one = real([0.0] * LANES), real([1.0] * LANES)
    channels = [by.held_apart(real) for _ in range(3)]
    made = by.held_apart(real)
    *colours, cover = _parted(by, px, at)
    # With next to nothing there is no colour to be told.
    part = builder.fdiv(one, by.larger(cover, real([1e-3] * LANES)), flags=("fast",))
    for channel, colour in zip(channels, colours):
        builder.store(by.smaller(by.product(colour, part), one), channel)

    with by.strides(count, 1) as grading:
        start = builder.mul(grading.index, by.number(_NUMBERS))
        first = builder.mul(grading.index, by.number(_WHOLES))

        def number(place: int) -> Any:
            return by.one(numbers, builder.add(start, by.number(place)))

        def whole(place: int) -> Any:
            return builder.load(builder.gep(wholes, [builder.add(first, by.number(place))]))

        def by_matrix(begin: int) -> None:
            old = [builder.load(channel) for channel in channels]
            for row, channel in enumerate(channels):
                new = number(begin + 4 * row + 3)
                for column, value in enumerate(old):
                    new = by.times(value, number(begin + 4 * row + column), new)
                builder.store(by.held(new, nothing, one), channel)

        were = [builder.load(channel) for channel in channels]
        with builder.if_then(builder.trunc(whole(0), by.ir.IntType(1))):
            by_matrix(_BEFORE)
        for curve, channel in enumerate(channels):
            begin = _CURVES + curve * _CURVE
            old = builder.load(channel)
            builder.store(number(begin + 1), made)
            with by.strides(whole(3 + curve), 1) as part_of:
                place = builder.add(builder.add(start, by.number(begin + 2)), builder.mul(part_of.index, by.number(3)))
                begins, long, steep = (by.one(numbers, builder.add(place, by.number(each))) for each in range(3))
                on = by.held(builder.fsub(old, begins, flags=("fast",)), nothing, long)
                builder.store(by.times(on, steep, builder.load(made)), made)
            power = builder.load(builder.gep(numbers, [builder.add(start, by.number(begin))]))
            builder.store(builder.load(made), channel)
            with builder.if_then(builder.fcmp_ordered("!=", power, by.ir.FloatType()(1.0))):
                builder.store(power_of(by, builder.load(channel), by.everywhere(power)), channel)
        with builder.if_then(builder.trunc(whole(1), by.ir.IntType(1))):
            by_matrix(_AFTER)
        with builder.if_then(builder.trunc(whole(2), by.ir.IntType(1))):
            share = number(_SHARE)
            for old, channel in zip(were, channels):
                builder.store(by.times(builder.fsub(builder.load(channel), old), share, old), channel)

    _laced(by, out, at, [*(by.product(builder.load(channel), cover) for channel in channels), cover])


def _parted(by: Writer, px: Any, at: Any) -> list[Any]:
    """Writes px into a vector of each of their four channels."""
    builder, real, whole = by.builder, by.vector("float32"), by.vector("int32")
    if by.told[1] == "uint8":
        four = builder.bitcast(by.read(px, at, "uint8", 4 * LANES), whole)
        parts = [builder.lshr(four, whole([8 * channel] * LANES)) for channel in range(4)]
        return [builder.uitofp(builder.and_(part, whole([255] * LANES)), real) for part in parts]

    def halves(one: Any, other: Any) -> list[Any]:
        """Every second number, and the others."""
        return [by.taken(one, other, range(first, 2 * LANES, 2)) for first in (0, 1)]

    rows = [by.read(px, builder.add(at, by.number(LANES * row))) for row in range(4)]
    (reds_and_blues, greens_and_covers), (more, and_more) = halves(*rows[:2]), halves(*rows[2:])
    (red, blue), (green, cover) = halves(reds_and_blues, more), halves(greens_and_covers, and_more)
    return [red, green, blue, cover]


def _laced(by: Writer, out: Any, at: Any, channels: Sequence[Any]) -> None:
    """Writes px of a vector of each of their four channels."""
    rows = list(channels)
    # First red with blue and green with coverage, then these with one another.
    for _ in range(2):
        rows = [by.laced(rows[pair], rows[pair + 2], half) for pair in (0, 1) for half in (0, LANES // 2)]
    for row, value in enumerate(rows):
        by.write(value, out, by.builder.add(at, by.number(LANES * row)))


_grade_some = Lanes(
    _grading,
    *(f"void(float32[::1], {kind}[::1], int64, float32[::1], int64[::1], int64)" for kind in ("float32", "uint8")),
)
"""(out, px, at, numbers, wholes, count): LANES px of four channels, from number `at` on, by `count` gradings."""


@kernel(*(f"void(float32[::1], {kind}[::1], float32[::1], int64[::1])" for kind in ("uint8", "float32")))
def _grade(out, px, numbers, wholes):
    """LANES px or more."""
    last, count = len(px) - 4 * LANES, len(wholes) // _WHOLES
    for start in range(0, len(px), 4 * LANES):
        # The last of them are those before the end, some of which have been graded before.
        _grade_some(out, px, min(start, last), numbers, wholes, count)


def graded(patch: Patch, gradings: Sequence[Grading]) -> Patch:
    """The patch with gradings done to its colours one after the other, in one pass over its pixels. Each leaves colours
    of 0..1."""
    if patch.rect.empty or not gradings:
        return patch
    pixels = np.ascontiguousarray(patch.pixels if patch.colour is None else deepened(patch))
    px = pixels.reshape(-1)
    few = len(px) < 4 * LANES
    if few:
        px = np.concatenate([px, np.zeros(4 * LANES - len(px), px.dtype)])
    out = np.empty(len(px), np.float32)
    numbers = np.concatenate([_numbers(each) for each in gradings])
    wholes = np.concatenate([_wholes(each) for each in gradings])
    _grade(out, px, numbers, wholes)
    return replace(patch, pixels=out[: pixels.size].reshape(pixels.shape), colour=None)


_SAME = Curve(((0.0, 0.0), (1.0, 1.0)))


def _numbers(grading: Grading) -> np.ndarray:
    made = np.zeros(_NUMBERS, np.float32)
    for matrix, at in ((grading.before, _BEFORE), (grading.after, _AFTER)):
        if matrix is not None:
            made[at : at + 12] = matrix.reshape(-1)
    made[_SHARE] = grading.share
    for number, curve in enumerate(grading.curves or (_SAME,) * 3):
        steeps = ((at, then - at, (end - start) / (then - at)) for (at, start), (then, end) in pairwise(curve.points))
        told = [curve.power, curve.points[0][1], *chain.from_iterable(steeps)]
        at = _CURVES + number * _CURVE
        made[at : at + len(told)] = told
    return made


def _wholes(grading: Grading) -> np.ndarray:
    has = grading.before is not None, grading.after is not None, grading.share < 1
    return np.array([*has, *(len(curve.points) - 1 for curve in grading.curves or (_SAME,) * 3)], np.int64)


def saturating(by: float) -> np.ndarray:
    """(3, 3): colours drawn towards their own grey (0), left (1) or away from it; the luminance stays (W3C Filter
    Effects, `saturate`, with the weights of BT.709)."""
    return by * np.eye(3) + (1 - by) * np.tile(LUMA, (3, 1))
