"""The loop that grades: several gradings in a row, each a matrix, three curves and another matrix, px by px."""

from __future__ import annotations

from typing import Any, Sequence

import numpy as np

from .kernel import kernel
from .lanes import LANES, Lanes, Writer
from .power import by_pieces, power_of, takes_pieces

FEWEST = 2 * LANES
"""Px that are graded in one stride, and of which there must be as many: so many that the machine goes on with some
while it waits for others."""

NUMBERS = np.dtype(
    [
        ("before", np.float32, (3, 4)),
        ("after", np.float32, (3, 4)),
        ("share", np.float32),
        ("powers", np.float32, 3),
        ("starts", np.float32, 3),
        ("straight", np.float32, (4, 3, 3)),
    ]
)
"""The numbers of a grading: its matrices, its share; the powers of its curves, their values at the first point, and of
up to four straight parts of each curve where it begins, how long and how steep it is."""

_PART = 9
"""Numbers of a straight part of all three curves."""

WHOLES = np.dtype([(name, np.int64) for name in ("before", "after", "share", "powers", "pieces", "parts")])
"""Whether it has a matrix before, one after and a share; powers to be reckoned or such in pieces; and the most straight
parts of a curve."""


def _place(kind: Any, name: str) -> int:
    """Bytes before a field."""
    return int(kind.fields[name][1])


def _grading(by: Writer, out: Any, px: Any, at: Any, numbers: Any, wholes: Any, pieces: Any, count: Any) -> None:
    """Writes the grading of px; see `grade`."""
    builder, real = by.builder, by.vector("float32", FEWEST)
    nothing, one = real([0.0] * FEWEST), real([1.0] * FEWEST)
    channels, made = ([by.held_apart(real) for _ in range(3)] for _ in range(2))
    starts = [builder.add(at, by.number(4 * each)) for each in range(0, FEWEST, LANES)]
    by.fetch(px, at, 4 * FEWEST)
    by.fetch(out, at, 4 * FEWEST, to_write=True)
    *colours, cover = (by.joined(each) for each in zip(*(_parted(by, px, start) for start in starts)))
    # With next to nothing there is no colour to be told.
    part = builder.fdiv(one, by.larger(cover, real([1e-3] * FEWEST)), flags=("fast",))
    for channel, colour in zip(channels, colours):
        builder.store(by.smaller(by.product(colour, part), one), channel)

    with by.strides(count, 1) as grading:
        start = builder.mul(grading.index, by.number(NUMBERS.itemsize // 4))
        start_of_wholes = builder.mul(grading.index, by.number(WHOLES.itemsize // 8))

        def number(name: str, further: int = 0, after: Any = start) -> Any:
            place = _place(NUMBERS, name) // 4 + further
            return by.one(numbers, builder.add(after, by.number(place)), FEWEST)

        def whole(name: str) -> Any:
            place = builder.add(start_of_wholes, by.number(_place(WHOLES, name) // 8))
            return builder.load(builder.gep(wholes, [place]))

        def it_has(name: str) -> Any:
            return builder.if_then(builder.trunc(whole(name), by.ir.IntType(1)))

        def by_matrix(name: str) -> None:
            old = [builder.load(channel) for channel in channels]
            for row, channel in enumerate(channels):
                new = number(name, 4 * row + 3)
                for column, value in enumerate(old):
                    new = by.times(value, number(name, 4 * row + column), new)
                builder.store(by.held(new, nothing, one), channel)

        were = [builder.load(channel) for channel in channels]
        with it_has("before"):
            by_matrix("before")
        for each, value in enumerate(made):
            builder.store(number("starts", each), value)
        with by.strides(whole("parts"), 1) as part:
            its = builder.add(start, builder.mul(part.index, by.number(_PART)))
            for each, (channel, value) in enumerate(zip(channels, made)):
                begin, long, steep = (number("straight", 3 * each + further, its) for further in range(3))
                on = by.held(builder.fsub(builder.load(channel), begin, flags=("fast",)), nothing, long)
                builder.store(by.times(on, steep, builder.load(value)), value)
        for channel, value in zip(channels, made):
            builder.store(builder.load(value), channel)
        with it_has("powers"):
            # All three in one, so that the machine goes on with one while it waits for another.
            powers = by.joined([number("powers", each) for each in range(3)])
            raised = power_of(by, by.joined([builder.load(channel) for channel in channels]), powers)
            for each, channel in enumerate(channels):
                builder.store(by.taken(raised, raised, range(FEWEST * each, FEWEST * (each + 1))), channel)
        if takes_pieces():
            with it_has("pieces"):
                for each, channel in enumerate(channels):
                    its = builder.add(builder.mul(grading.index, by.number(3)), by.number(each))
                    value = builder.load(channel)
                    rows = [by.taken(value, value, range(first, first + LANES)) for first in range(0, FEWEST, LANES)]
                    builder.store(by.joined(by_pieces(by, rows, pieces, its)), channel)
        with it_has("after"):
            by_matrix("after")
        with it_has("share"):
            share = number("share")
            for old, channel in zip(were, channels):
                builder.store(by.times(builder.fsub(builder.load(channel), old), share, old), channel)

    done = [*(by.product(builder.load(channel), cover) for channel in channels), cover]
    for first, start in zip(range(0, FEWEST, LANES), starts):
        _laced(by, out, start, [by.taken(each, each, range(first, first + LANES)) for each in done])


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
    for row, value in enumerate(by.turned(channels)):
        by.write(value, out, by.builder.add(at, by.number(LANES * row)))


_NUMBERS = "float32[::1], int64[::1], float32[::1], int64"

_grade_some = Lanes(_grading, *(f"void(float32[::1], {kind}[::1], int64, {_NUMBERS})" for kind in ("float32", "uint8")))
"""(out, px, at, numbers, wholes, pieces, count): FEWEST px of four channels, from number `at` on, by `count`
gradings."""


@kernel(*(f"void(float32[::1], {kind}[::1], {_NUMBERS})" for kind in ("uint8", "float32")))
def _grade(out, px, numbers, wholes, pieces, count):
    last = len(px) - 4 * FEWEST
    for start in range(0, len(px), 4 * FEWEST):
        # The last of them are those before the end, some of which have been graded before.
        _grade_some(out, px, min(start, last), numbers, wholes, pieces, count)


def grade(out: np.ndarray, px: np.ndarray, numbers: np.ndarray, wholes: np.ndarray, pieces: np.ndarray) -> None:
    """Write px of four channels, premultiplied code values of float32 or uint8 one after the other, graded by so many
    of NUMBERS and WHOLES and the PIECES of their three powers, into as many float32. There must be FEWEST or more."""
    _grade(out, px, numbers.view(np.float32), wholes.view(np.int64), pieces.reshape(-1), len(wholes))
