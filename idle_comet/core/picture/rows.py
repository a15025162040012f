"""Sums of many rows, and blocks turned over: what pictures are sampled with. Left to itself the compiler sums rows half
as fast or less, and turns blocks over number by number."""

from __future__ import annotations

from typing import Any, Callable

from .lanes import LANES, Lanes, Writer

STRIDE = 64
"""Numbers that a sum of rows is taken of in one stride: rows are as long as some of them."""

SIDES = {"float32": 8, "uint8": 16}
"""Numbers to a side of a block that is turned over."""

_TOGETHER = STRIDE // LANES


def _summing(ends: str) -> Callable[..., None]:
    """Writes the sum of rows, each by its weight, to which a row is added where it is `added`; see below."""

    def build(by: Writer, *told: Any) -> None:
        out, to, *begin, rows, length, places, weights, first, count = told
        builder = by.builder
        lanes = by.vector("float32")
        # Made once, before any loop this stands in: then the sums stay in registers.
        sums = [by.held_apart(lanes) for _ in range(_TOGETHER)]
        with by.strides(length, STRIDE) as stride:
            starts = [
                builder.add(builder.mul(stride.index, by.number(STRIDE)), by.number(each * LANES))
                for each in range(_TOGETHER)
            ]
            for start, each in zip(starts, sums):
                begins = by.read(begin[0], builder.add(begin[1], start)) if begin else lanes(None)
                builder.store(begins, each)
            with by.strides(count, 1) as tap:
                row = builder.mul(builder.load(builder.gep(places, [tap.index])), length)
                one = builder.load(builder.gep(weights, [builder.add(first, tap.index)]))
                weight = by.everywhere(one)
                for start, each in zip(starts, sums):
                    more = by.read(rows, builder.add(row, start))
                    builder.store(by.times(more, weight, builder.load(each)), each)
            for start, each in zip(starts, sums):
                # No darker than black, no brighter than white.
                value = by.held(builder.load(each), lanes([0.0] * LANES), lanes([255.0] * LANES))
                if ends == "cut":
                    value = builder.trunc(builder.fptosi(value, by.vector("int32")), by.vector("uint8"))
                by.write(value, out, builder.add(to, start))

    return build


sum_held = Lanes(
    _summing("held"), "void(float32[::1], int64, float32[::1], int64, int64[::1], float32[::1], int64, int64)"
)
"""(out, to, rows, length, places, weights, first, count): out[to …] = the sum of `count` rows of `length` numbers, the
i-th at row places[i] with weights[first + i], held within 0 … 255. `length` is a multiple of STRIDE."""

sum_cut = Lanes(
    _summing("cut"),
    "void(uint8[::1], int64, float32[::1], int64, float32[::1], int64, int64[::1], float32[::1], int64, int64)",
)
"""(out, to, begin, at, rows, …): the same with begin[at …] added, its fractions cut off."""


def _turning(by: Writer, out: Any, to: Any, out_row: Any, source: Any, at: Any, source_row: Any) -> None:
    """Writes a block turned over; see below."""
    kind = by.told[0]
    width = SIDES[kind]

    def begin(place: Any, length: Any, row: int) -> Any:
        return by.builder.add(place, by.builder.mul(length, by.number(row)))

    rows = [by.read(source, begin(at, source_row, row), kind, width) for row in range(width)]
    for row, value in enumerate(by.turned(rows)):
        by.write(value, out, begin(to, out_row, row))


_TURN = "void({0}[::1], int64, int64, {0}[::1], int64, int64)"

turn = Lanes(_turning, *(_TURN.format(kind) for kind in SIDES))
"""(out, to, out_row, source, at, source_row): a block of a picture with rows of `source_row` numbers, from number `at`
on, turned over into one with rows of `out_row`. Its sides are those of SIDES."""
