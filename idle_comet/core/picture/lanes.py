"""Pieces of loops told to the compiler in its own words, many numbers at a time: sums of many rows, and blocks turned
over. Left to itself it sums rows two or three times as slowly, and turns blocks over number by number.

They are written for no machine in particular: LLVM makes of a vector of sixteen numbers what there is.
"""

from __future__ import annotations

import inspect
from typing import Any, Callable

from .kernel import Part

STRIDE = 64
"""Numbers that a sum of rows is taken of in one stride: rows are as long as some of them."""

SIDE = 8
"""Numbers to a side of a block that is turned over."""

_SIDE_OF_BYTES = 16

_LANES = 16
_TOGETHER = STRIDE // _LANES


class Lanes(Part):
    """A piece of a loop; `build` writes it with LLVM's builder, for values that it is given by their place."""

    def __init__(self, signature: str, build: Callable[..., None]) -> None:
        self._signature, self._build = signature, build
        self._compiled: Any = None

    def __call__(self, *values: Any) -> Any:
        raise TypeError("a piece of a loop is called from a loop only")

    def compiled(self) -> Any:
        if self._compiled is None:
            from numba.core import sigutils
            from numba.extending import intrinsic

            arguments, returns = sigutils.normalize_signature(self._signature)

            def piece(typing: Any, *values: Any) -> Any:
                def write(context: Any, builder: Any, signature: Any, values: Any) -> Any:
                    told = [
                        context.make_array(kind)(context, builder, value).data if hasattr(kind, "dtype") else value
                        for kind, value in zip(signature.args, values)
                    ]
                    self._build(builder, *told)
                    return context.get_dummy_value()

                return returns(*arguments), write

            # It is asked how many values it takes.
            names = ["typing", *(f"value_{number}" for number in range(len(arguments)))]
            kind = inspect.Parameter.POSITIONAL_OR_KEYWORD
            piece.__signature__ = inspect.Signature([inspect.Parameter(name, kind) for name in names])  # type: ignore[attr-defined]
            self._compiled = intrinsic(piece)
        return self._compiled

    def files(self) -> set[str]:
        return {__file__}


def _summing(ends: str) -> Callable[..., None]:
    """Writes the sum of rows, each by its weight, to which a row is added where it is `added`; see below."""

    def build(builder: Any, *told: Any) -> None:
        from llvmlite import ir
        from numba.core import cgutils

        out, to, *begin, rows, length, places, weights, first, count = told
        whole, real = ir.IntType(64), ir.FloatType()
        lanes = ir.VectorType(real, _LANES)

        def at(pointer: Any, place: Any, by: int = 0) -> Any:
            return builder.gep(pointer, [builder.add(place, ir.Constant(whole, by))])

        def read(pointer: Any) -> Any:
            found = builder.load(builder.bitcast(pointer, lanes.as_pointer()))
            found.align = 4
            return found

        def write(value: Any, pointer: Any, align: int) -> None:
            builder.store(value, builder.bitcast(pointer, value.type.as_pointer())).align = align

        # Made once, before any loop this stands in: then the sums stay in registers.
        sums = [cgutils.alloca_once(builder, lanes) for _ in range(_TOGETHER)]
        with cgutils.for_range(builder, builder.udiv(length, ir.Constant(whole, STRIDE)), intp=whole) as stride:
            start = builder.mul(stride.index, ir.Constant(whole, STRIDE))
            for number, each in enumerate(sums):
                begins = read(at(begin[0], builder.add(begin[1], start), number * _LANES)) if begin else lanes(None)
                builder.store(begins, each)
            with cgutils.for_range(builder, count, intp=whole) as tap:
                place = builder.load(at(places, tap.index))
                weight = builder.load(at(weights, builder.add(first, tap.index)))
                by = builder.insert_element(lanes(ir.Undefined), weight, ir.Constant(ir.IntType(32), 0))
                all_first = ir.Constant(ir.VectorType(ir.IntType(32), _LANES), [0] * _LANES)
                by = builder.shuffle_vector(by, lanes(ir.Undefined), all_first)
                row = builder.add(builder.mul(place, length), start)
                for number, each in enumerate(sums):
                    more = builder.fmul(read(at(rows, row, number * _LANES)), by, flags=("fast",))
                    builder.store(builder.fadd(builder.load(each), more, flags=("fast",)), each)
            for number, each in enumerate(sums):
                # No darker than black, no brighter than white.
                low, high = lanes([0.0] * _LANES), lanes([255.0] * _LANES)
                value = builder.load(each)
                value = builder.select(builder.fcmp_ordered(">", value, low, flags=("fast",)), value, low)
                value = builder.select(builder.fcmp_ordered("<", value, high, flags=("fast",)), value, high)
                if ends == "cut":
                    value = builder.fptosi(value, ir.VectorType(ir.IntType(32), _LANES))
                    value = builder.trunc(value, ir.VectorType(ir.IntType(8), _LANES))
                write(value, at(out, builder.add(to, start), number * _LANES), 1 if ends == "cut" else 4)

    return build


sum_held = Lanes(
    "void(float32[::1], int64, float32[::1], int64, int64[::1], float32[::1], int64, int64)", _summing("held")
)
"""(out, to, rows, length, places, weights, first, count): out[to …] = the sum of `count` rows of `length` numbers, the
i-th at row places[i] with weights[first + i], held within 0 … 255. `length` is a multiple of STRIDE."""

sum_cut = Lanes(
    "void(uint8[::1], int64, float32[::1], int64, float32[::1], int64, int64[::1], float32[::1], int64, int64)",
    _summing("cut"),
)
"""(out, to, begin, at, rows, …): the same with begin[at …] added, its fractions cut off."""


def _turning(width: int, number: Callable[[Any], Any], align: int) -> Callable[..., None]:
    """Writes a block of `width` × `width` turned over."""

    def build(builder: Any, out: Any, to: Any, out_row: Any, source: Any, at: Any, source_row: Any) -> None:
        from llvmlite import ir

        whole = ir.IntType(64)
        lanes = ir.VectorType(number(ir), width)
        half = width // 2

        def row_of(pointer: Any, place: Any, length: Any, row: int) -> Any:
            start = builder.add(place, builder.mul(length, ir.Constant(whole, row)))
            return builder.bitcast(builder.gep(pointer, [start]), lanes.as_pointer())

        def laced(one: Any, other: Any, begin: int) -> Any:
            taken = [place for lane in range(begin, begin + half) for place in (lane, width + lane)]
            return builder.shuffle_vector(one, other, ir.Constant(ir.VectorType(ir.IntType(32), width), taken))

        rows = []
        for row in range(width):
            found = builder.load(row_of(source, at, source_row, row))
            found.align = align
            rows.append(found)
        # Each time every row is laced with the one half a block further: as often as it takes they change sides.
        for _ in range(width.bit_length() - 1):
            pairs = list(zip(rows[:half], rows[half:]))
            rows = [laced(one, other, begin) for one, other in pairs for begin in (0, half)]
        for row, value in enumerate(rows):
            builder.store(value, row_of(out, to, out_row, row)).align = align

    return build


_TURN = "void({0}[::1], int64, int64, {0}[::1], int64, int64)"

turn = Lanes(_TURN.format("float32"), _turning(SIDE, lambda ir: ir.FloatType(), 4))
"""(out, to, out_row, source, at, source_row): a block of SIDE × SIDE numbers of a picture with rows of `source_row`
numbers, from number `at` on, turned over into one with rows of `out_row`."""

turn_bytes = Lanes(_TURN.format("uint8"), _turning(_SIDE_OF_BYTES, lambda ir: ir.IntType(8), 1))
"""The same of a block of 16 × 16 bytes."""
