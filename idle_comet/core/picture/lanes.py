"""Pieces of loops told to the compiler in its own words, many numbers at a time: sums of many rows, and blocks turned
over. Left to itself it sums rows two or three times as slowly, and turns blocks over number by number.

They are written for no machine in particular: LLVM makes of a vector of sixteen numbers what there is.
"""

from __future__ import annotations

import inspect
from typing import Any, Callable, Sequence

from .kernel import Part

STRIDE = 64
"""Numbers that a sum of rows is taken of in one stride: rows are as long as some of them."""

SIDE = 8
"""Numbers to a side of a block that is turned over."""

_SIDE_OF_BYTES = 16

_LANES = 16
_TOGETHER = STRIDE // _LANES


class Lanes(Part):
    """A piece of a loop; `build` writes it with LLVM's builder, for values that it is given by their place. Of several
    signatures the one holds whose arrays are those of the call."""

    def __init__(self, build: Callable[..., None], *signatures: str) -> None:
        self._build, self._signatures = build, signatures
        self._compiled: Any = None

    def __call__(self, *values: Any) -> Any:
        raise TypeError("a piece of a loop is called from a loop only")

    def compiled(self) -> Any:
        if self._compiled is None:
            from numba.core import sigutils, types
            from numba.extending import intrinsic

            known = [sigutils.normalize_signature(each) for each in self._signatures]

            def fits(arguments: Any, values: Any) -> bool:
                return all(one == other for one, other in zip(arguments, values) if isinstance(one, types.Array))

            def piece(typing: Any, *values: Any) -> Any:
                arguments, returns = next(each for each in known if fits(each[0], values))

                def write(context: Any, builder: Any, signature: Any, values: Any) -> Any:
                    kinds = [str(each.dtype) for each in arguments if isinstance(each, types.Array)]
                    told = [
                        context.make_array(each)(context, builder, value).data
                        if isinstance(each, types.Array)
                        else value
                        for each, value in zip(arguments, values)
                    ]
                    self._build(_Writer(builder, kinds), *told)
                    return context.get_dummy_value()

                return returns(*arguments), write

            # It is asked how many values it takes.
            names = ["typing", *(f"value_{number}" for number in range(len(known[0][0])))]
            asked = [inspect.Parameter(name, inspect.Parameter.POSITIONAL_OR_KEYWORD) for name in names]
            piece.__signature__ = inspect.Signature(asked)  # type: ignore[attr-defined]
            self._compiled = intrinsic(piece)
        return self._compiled

    def files(self) -> set[str]:
        return {__file__}


class _Writer:
    """What pieces are written with: `whole` numbers to count by, and vectors of some `width` read and written. `told`
    are the kinds of numbers in the arrays of the call."""

    def __init__(self, builder: Any, told: Sequence[str]) -> None:
        from llvmlite import ir

        self.ir, self.builder, self.told, self.whole = ir, builder, told, ir.IntType(64)
        self.kinds = {"float32": (ir.FloatType(), 4), "uint8": (ir.IntType(8), 1)}

    def number(self, value: int) -> Any:
        return self.ir.Constant(self.whole, value)

    def read(self, pointer: Any, place: Any, kind: str, width: int) -> Any:
        """`width` numbers from a place on; bytes as they are."""
        element, align = self.kinds[kind]
        lanes = self.ir.VectorType(element, width)
        found = self.builder.load(self.builder.bitcast(self.builder.gep(pointer, [place]), lanes.as_pointer()))
        found.align = align
        return found

    def write(self, value: Any, pointer: Any, place: Any) -> None:
        at = self.builder.bitcast(self.builder.gep(pointer, [place]), value.type.as_pointer())
        self.builder.store(value, at).align = 1 if value.type.element == self.ir.IntType(8) else 4

    def taken(self, one: Any, other: Any, lanes: Sequence[int]) -> Any:
        """Lanes of two vectors in an order of their own."""
        places = self.ir.Constant(self.ir.VectorType(self.ir.IntType(32), len(lanes)), list(lanes))
        return self.builder.shuffle_vector(one, other, places)

    def everywhere(self, value: Any, width: int) -> Any:
        """A number in every lane."""
        nothing = self.ir.VectorType(value.type, width)(self.ir.Undefined)
        first = self.builder.insert_element(nothing, value, self.ir.Constant(self.ir.IntType(32), 0))
        return self.taken(first, nothing, [0] * width)

    def held(self, value: Any, low: Any, high: Any) -> Any:
        """Neither below nor above."""
        value = self.builder.select(self.builder.fcmp_ordered(">", value, low, flags=_FAST), value, low)
        return self.builder.select(self.builder.fcmp_ordered("<", value, high, flags=_FAST), value, high)


_FAST = ("fast",)


def _summing(ends: str) -> Callable[..., None]:
    """Writes the sum of rows, each by its weight, to which a row is added where it is `added`; see below."""

    def build(by: _Writer, *told: Any) -> None:
        from numba.core import cgutils

        out, to, *begin, rows, length, places, weights, first, count = told
        builder = by.builder
        real = by.kinds["float32"][0]
        lanes = by.ir.VectorType(real, _LANES)
        # Made once, before any loop this stands in: then the sums stay in registers.
        sums = [cgutils.alloca_once(builder, lanes) for _ in range(_TOGETHER)]
        with cgutils.for_range(builder, builder.udiv(length, by.number(STRIDE)), intp=by.whole) as stride:
            starts = [
                builder.add(builder.mul(stride.index, by.number(STRIDE)), by.number(each * _LANES))
                for each in range(_TOGETHER)
            ]
            for start, each in zip(starts, sums):
                begins = by.read(begin[0], builder.add(begin[1], start), "float32", _LANES) if begin else lanes(None)
                builder.store(begins, each)
            with cgutils.for_range(builder, count, intp=by.whole) as tap:
                row = builder.mul(builder.load(builder.gep(places, [tap.index])), length)
                one = builder.load(builder.gep(weights, [builder.add(first, tap.index)]))
                weight = by.everywhere(one, _LANES)
                for start, each in zip(starts, sums):
                    more = by.read(rows, builder.add(row, start), "float32", _LANES)
                    more = builder.fmul(more, weight, flags=_FAST)
                    builder.store(builder.fadd(builder.load(each), more, flags=_FAST), each)
            for start, each in zip(starts, sums):
                # No darker than black, no brighter than white.
                value = by.held(builder.load(each), lanes([0.0] * _LANES), lanes([255.0] * _LANES))
                if ends == "cut":
                    value = builder.fptosi(value, by.ir.VectorType(by.ir.IntType(32), _LANES))
                    value = builder.trunc(value, by.ir.VectorType(by.ir.IntType(8), _LANES))
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


def _turning(width: int, kind: str) -> Callable[..., None]:
    """Writes a block of `width` × `width` turned over."""

    def build(by: _Writer, out: Any, to: Any, out_row: Any, source: Any, at: Any, source_row: Any) -> None:
        half = width // 2

        def begin(place: Any, length: Any, row: int) -> Any:
            return by.builder.add(place, by.builder.mul(length, by.number(row)))

        def laced(one: Any, other: Any, first: int) -> Any:
            sides = [(lane, width + lane) for lane in range(first, first + half)]
            return by.taken(one, other, [lane for pair in sides for lane in pair])

        rows = [by.read(source, begin(at, source_row, row), kind, width) for row in range(width)]
        # Each time every row is laced with the one half a block further: as often as it takes they change sides.
        for _ in range(width.bit_length() - 1):
            rows = [laced(one, other, first) for one, other in zip(rows[:half], rows[half:]) for first in (0, half)]
        for row, value in enumerate(rows):
            by.write(value, out, begin(to, out_row, row))

    return build


_TURN = "void({0}[::1], int64, int64, {0}[::1], int64, int64)"

turn = Lanes(_turning(SIDE, "float32"), _TURN.format("float32"))
"""(out, to, out_row, source, at, source_row): a block of SIDE × SIDE numbers of a picture with rows of `source_row`
numbers, from number `at` on, turned over into one with rows of `out_row`."""

turn_bytes = Lanes(_turning(_SIDE_OF_BYTES, "uint8"), _TURN.format("uint8"))
"""The same of a block of 16 × 16 bytes."""


def _adding(of_each: bool) -> Callable[..., None]:
    """Writes noise added to px of four channels; see below."""

    def build(
        by: _Writer, out: Any, pixels: Any, at: Any, near: Any, far: Any, upper: Any, lower: Any, count: Any
    ) -> None:
        from numba.core import cgutils

        builder, px = by.builder, _LANES // 4
        lanes = by.ir.VectorType(by.kinds["float32"][0], _LANES)
        covers = [4 * lane + 3 for lane in range(px) for _ in range(4)]
        # The fourth lane of each px is the first past the noise: nothing.
        spread = [lane if channel < 3 else px for lane in range(px) for channel in range(4)]
        wide = _LANES if of_each else px
        upper, lower = by.everywhere(upper, wide), by.everywhere(lower, wide)
        with cgutils.for_range(builder, builder.udiv(count, by.number(px)), intp=by.whole) as stride:
            start = builder.mul(stride.index, by.number(_LANES))
            value = by.read(pixels, builder.add(at, start), by.told[1], _LANES)
            if by.told[1] == "uint8":
                value = builder.uitofp(value, lanes)
            first = builder.mul(stride.index, by.number(wide))
            more = builder.fadd(
                builder.fmul(by.read(near, first, "float32", wide), upper, flags=_FAST),
                builder.fmul(by.read(far, first, "float32", wide), lower, flags=_FAST),
                flags=_FAST,
            )
            if not of_each:
                more = by.taken(more, more.type(None), spread)
            cover = by.taken(value, lanes(by.ir.Undefined), covers)
            more = builder.fadd(value, builder.fmul(more, cover, flags=_FAST), flags=_FAST)
            by.write(by.held(more, lanes([0.0] * _LANES), cover), out, builder.add(at, start))

    return build


_ADD = "void(float32[::1], {}[::1], int64, float32[::1], float32[::1], float32, float32, int64)"
_ADDS = [_ADD.format(kind) for kind in ("uint8", "float32")]

add_tone = Lanes(_adding(False), *_ADDS)
"""(out, pixels, at, near, far, upper, lower, count): out[at …] = `count` px of four channels, a whole number of fours,
with noise added to their colours, a number for each px: (near · upper + far · lower) · its coverage. All of it is
held within 0 … its coverage."""

add_tones = Lanes(_adding(True), *_ADDS)
"""The same with four numbers of noise for each px, the fourth of them 0."""
