"""Pieces of loops told to the compiler in its own words, many numbers at a time, where it does not find that itself.

They are written for no machine in particular: LLVM makes of a vector of sixteen numbers what there is.
"""

from __future__ import annotations

import inspect
from typing import Any, Callable, Sequence

from .kernel import Part

LANES = 16
"""Numbers in a vector."""

AHEAD = 2048
"""Bytes before their turn at which a loop that goes through much memory has it fetched. Machines see by themselves what
is read next, but too late where little is done with it, and not past a page."""

_LINE = 64
"""Bytes that are fetched at once."""

_FAST = ("fast",)


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
                    self._build(Writer(builder, kinds), *told)
                    return context.get_dummy_value()

                return returns(*arguments), write

            # It is asked how many values it takes.
            names = ["typing", *(f"value_{number}" for number in range(len(known[0][0])))]
            asked = [inspect.Parameter(name, inspect.Parameter.POSITIONAL_OR_KEYWORD) for name in names]
            piece.__signature__ = inspect.Signature(asked)  # type: ignore[attr-defined]
            self._compiled = intrinsic(piece)
        return self._compiled

    def files(self) -> set[str]:
        return {__file__, self._build.__code__.co_filename}


class Writer:
    """What pieces are written with: `whole` numbers to count by, and vectors of LANES numbers, or some other `width`,
    read and written. `told` are the kinds of numbers in the arrays of the call. Sums may be taken in another order
    ("fast")."""

    def __init__(self, builder: Any, told: Sequence[str]) -> None:
        from llvmlite import ir

        self.ir, self.builder, self.told, self.whole = ir, builder, told, ir.IntType(64)
        self.kinds = {"float32": (ir.FloatType(), 4), "uint8": (ir.IntType(8), 1), "int32": (ir.IntType(32), 4)}

    def vector(self, kind: str, width: int = LANES) -> Any:
        return self.ir.VectorType(self.kinds[kind][0], width)

    def number(self, value: int) -> Any:
        return self.ir.Constant(self.whole, value)

    def strides(self, count: Any, by: int) -> Any:
        """A loop through `count` numbers, so many at a time: a context that gives the number of each stride."""
        from numba.core import cgutils

        return cgutils.for_range(self.builder, self.builder.udiv(count, self.number(by)), intp=self.whole)

    def read(self, pointer: Any, place: Any, kind: str = "float32", width: int = LANES) -> Any:
        """`width` numbers from a place on; bytes as they are."""
        lanes = self.vector(kind, width)
        found = self.builder.load(self.builder.bitcast(self.builder.gep(pointer, [place]), lanes.as_pointer()))
        found.align = self.kinds[kind][1]
        return found

    def write(self, value: Any, pointer: Any, place: Any) -> None:
        at = self.builder.bitcast(self.builder.gep(pointer, [place]), value.type.as_pointer())
        self.builder.store(value, at).align = 1 if value.type.element == self.ir.IntType(8) else 4

    def taken(self, one: Any, other: Any, lanes: Sequence[int]) -> Any:
        """Lanes of two vectors in an order of their own."""
        places = self.ir.Constant(self.ir.VectorType(self.ir.IntType(32), len(lanes)), list(lanes))
        return self.builder.shuffle_vector(one, other, places)

    def joined(self, values: Sequence[Any]) -> Any:
        """Vectors one after the other as one."""
        made, *more = values
        for value in more:
            count, width = made.type.count, value.type.count
            # Both must be as long as the longer.
            value = self.taken(value, value, [lane % width for lane in range(count)])
            made = self.taken(made, value, range(count + width))
        return made

    def fetch(self, pointer: Any, place: Any, count: int, to_write: bool = False) -> None:
        """Have the memory brought near that a loop comes to soon, if it is at a place now and goes on by so many
        numbers in a stride. It may lie past the end."""
        ir, short = self.ir, self.ir.IntType(32)
        byte, name = ir.IntType(8).as_pointer(), "llvm.prefetch.p0i8"
        known = self.builder.module.globals
        kind = ir.FunctionType(ir.VoidType(), [byte, short, short, short])
        fetch = known[name] if name in known else ir.Function(self.builder.module, kind, name)
        size = 1 if pointer.type.pointee == ir.IntType(8) else 4
        at = self.builder.bitcast(self.builder.gep(pointer, [place]), byte)
        for line in range(AHEAD, AHEAD + size * count, _LINE):
            where = self.builder.gep(at, [self.number(line)])
            self.builder.call(fetch, [where, short(int(to_write)), short(3), short(1)])

    def laced(self, one: Any, other: Any, first: int) -> Any:
        """Half of the lanes of two vectors by turns, from a lane on."""
        width = one.type.count
        return self.taken(
            one, other, [lane for each in range(first, first + width // 2) for lane in (each, width + each)]
        )

    def turned(self, rows: Sequence[Any]) -> list[Any]:
        """Rows turned over, two or a power of it: a number of each, then the next of each, as many to a row as
        before."""
        made, half, width = list(rows), len(rows) // 2, rows[0].type.count
        # Each time every row is laced with the one half of them further: as often as it takes they change sides.
        for _ in range(len(rows).bit_length() - 1):
            pairs = zip(made[:half], made[half:])
            made = [self.laced(one, other, first) for one, other in pairs for first in (0, width // 2)]
        return made

    def product(self, value: Any, by: Any) -> Any:
        return self.builder.fmul(value, by, flags=_FAST)

    def times(self, value: Any, by: Any, to: Any) -> Any:
        """value · by + to."""
        return self.builder.fadd(self.builder.fmul(value, by, flags=_FAST), to, flags=_FAST)

    def held_apart(self, kind: Any) -> Any:
        """A place for a value that changes from stride to stride; it is made before any loop, and stays in a
        register."""
        from numba.core import cgutils

        return cgutils.alloca_once(self.builder, kind)

    def everywhere(self, value: Any, width: int = LANES) -> Any:
        """A number in every lane."""
        nothing = self.ir.VectorType(value.type, width)(self.ir.Undefined)
        first = self.builder.insert_element(nothing, value, self.ir.Constant(self.ir.IntType(32), 0))
        return self.taken(first, nothing, [0] * width)

    def one(self, pointer: Any, place: Any, width: int = LANES) -> Any:
        """The number at a place in every lane."""
        return self.everywhere(self.builder.load(self.builder.gep(pointer, [place])), width)

    def held(self, value: Any, low: Any, high: Any) -> Any:
        """Neither below nor above."""
        return self.smaller(self.larger(value, low), high)

    def larger(self, value: Any, other: Any) -> Any:
        return self.builder.select(self.builder.fcmp_ordered(">", value, other, flags=_FAST), value, other)

    def smaller(self, value: Any, other: Any) -> Any:
        return self.builder.select(self.builder.fcmp_ordered("<", value, other, flags=_FAST), value, other)
