"""Powers of rows of numbers, for loops that work on whole rows."""

from __future__ import annotations

import functools
from typing import Any, Sequence

import numpy as np

from .kernel import kernel
from .lanes import LANES, Lanes, Writer

_HALF_ROOT = 0x3F3504F3
"""The bits of √½ as a float32."""

_LOG = (-0.20228927, 0.3168982, -0.36692578, 0.47992557, -0.72119576, 1.4427004)
"""log₂(1 + t) / t for t of √½ − 1 … √2 − 1, the highest power first: a polynomial through Chebyshev nodes."""

_TWO = (0.00965671, 0.05583828, 0.2402253, 0.69313675)
"""(2ᶠ − 1) / f for f of −½ … ½, in the same way."""

_LEAST = -125.0
"""The least exponent of a result."""

_LARGE = 1.5 * 2**23
"""Around this number float32 are whole numbers."""


def power_of(by: Writer, value: Any, to: Any) -> Any:
    """Writes the powers of a vector of numbers: `to` is one such; see `raised`."""
    builder, width = by.builder, value.type.count
    real, whole = by.vector("float32", width), by.vector("int32", width)

    def polynomial(factors: Sequence[float], of: Any) -> Any:
        total = real([factors[0]] * width)
        for factor in factors[1:]:
            total = by.times(total, of, real([factor] * width))
        return total

    nothing, one, shift = real([0.0] * width), real([1.0] * width), whole([23] * width)
    bits = builder.bitcast(value, whole)
    exponent = builder.ashr(builder.sub(bits, whole([_HALF_ROOT] * width)), shift)
    mantissa = builder.bitcast(builder.sub(bits, builder.shl(exponent, shift)), real)
    t = builder.fsub(mantissa, one, flags=("fast",))
    log = by.times(polynomial(_LOG, t), t, builder.sitofp(exponent, real))
    sought = by.larger(by.product(log, to), real([_LEAST] * width))
    # Added to so large a number it is rounded to a whole one, which is then in the lowest bits.
    large = real([_LARGE] * width)
    rounded = builder.fadd(sought, large)
    f = builder.fsub(sought, builder.fsub(rounded, large))
    part = builder.bitcast(by.times(polynomial(_TWO, f), f, one), whole)
    made = builder.add(part, builder.shl(builder.bitcast(rounded, whole), shift))
    return builder.select(builder.fcmp_ordered(">", value, nothing), builder.bitcast(made, real), nothing)


PIECES = (4, 2 * LANES)
"""A power of 0..1 in pieces: the factors of four terms, the lowest first, of two pieces to each octave."""

_STEEPEST = 3.0
"""The highest power that pieces are made of; of higher ones they would be less right."""

_LOWEST = 127 - LANES + 1
"""The exponent, as float32 have it, of the lowest octave of pieces. The highest is that of 1."""

_HALF_OCTAVE = 22
"""Bits of a float32 below those that tell in which half of which octave it is."""


@functools.lru_cache(maxsize=256)
def pieces_of(power: float) -> np.ndarray | None:
    """A power of 0..1 as PIECES, polynomials through Chebyshev nodes of the second kind, so that each begins where the
    one before ends; None if it is too steep for that. They are right to 1 in 50 000 and exact at 0 and 1, but for the
    lowest piece (0 … 1.5·2⁻¹⁵), which is straight."""
    if power > _STEEPEST:
        return None
    begin = np.arange(PIECES[1]) + 2 * _LOWEST
    low, high = ((each.astype(np.int32) << _HALF_OCTAVE).view(np.float32).astype(float) for each in (begin, begin + 1))
    nodes = np.cos(np.pi * np.arange(4) / 3)
    tones = (low + high)[:, None] / 2 + (high - low)[:, None] / 2 * nodes
    # Of tones around 1 the factors are well told; an octave further down they are a power of two smaller or larger.
    scale = (2.0 ** np.floor(np.log2(low)))[:, None]
    factors = np.linalg.solve((tones / scale)[..., None] ** np.arange(4), (tones**power)[..., None])[..., 0]
    factors /= scale ** np.arange(4)
    factors[0] = 0, high[0] ** (power - 1), 0, 0
    factors[low == 1] = 1, 0, 0, 0
    made = np.ascontiguousarray(factors.T, np.float32)
    made.flags.writeable = False
    return made


@functools.cache
def takes_pieces() -> bool:
    """Whether the machine finds one of thirty-two numbers in a step (AVX-512), which `by_pieces` is written for."""
    from llvmlite.binding import get_host_cpu_features

    return bool(get_host_cpu_features().get("avx512f"))


def by_pieces(by: Writer, values: Sequence[Any], pieces: Any, which: Any) -> list[Any]:
    """Writes a power of vectors of LANES numbers 0..1 that is one of several in pieces: a third of the work of
    `power_of`. Only for a machine that takes them."""
    builder, real, whole = by.builder, by.vector("float32"), by.vector("int32")
    kind, name = by.ir.FunctionType(real, [real, whole, real]), "llvm.x86.avx512.vpermi2var.ps.512"
    known = by.builder.module.globals
    find = known[name] if name in known else by.ir.Function(by.builder.module, kind, name)
    lowest = whole([_LOWEST << 23] * LANES)
    piece = []
    for value in values:
        bits = builder.bitcast(value, whole)
        bits = builder.select(builder.icmp_signed(">", bits, lowest), bits, lowest)
        # Of the number of the half octave only the five lowest bits are looked at.
        piece.append(builder.ashr(bits, whole([_HALF_OCTAVE] * LANES)))
    made: list[Any] = []
    for term in reversed(range(PIECES[0])):
        at = builder.mul(builder.add(builder.mul(which, by.number(PIECES[0])), by.number(term)), by.number(PIECES[1]))
        halves = [by.read(pieces, builder.add(at, by.number(half))) for half in (0, LANES)]
        found = [builder.call(find, [halves[0], each, halves[1]]) for each in piece]
        made = [by.times(*each) for each in zip(made, values, found)] if made else found
    return made


def _raising(by: Writer, row: Any, count: Any, to: Any) -> None:
    """Writes numbers raised to a power; see `raised`."""
    builder, done = by.builder, by.number(0)
    for width in (LANES, 1):
        with by.strides(builder.sub(count, done), width) as stride:
            place = builder.add(done, builder.mul(stride.index, by.number(width)))
            by.write(power_of(by, by.read(row, place, width=width), by.everywhere(to, width)), row, place)
        done = builder.and_(count, by.number(-LANES))


_raise = Lanes(_raising, "void(float32[::1], int64, float32)")


@kernel("void(float32[::1], float32)")
def raised(row, to):
    """Raise a row of numbers to a power of more than 0, in place, right to 1 in 80 000 (1 in 30 000 for a power of 10)
    and exact at 0 and 1; what is below 0 becomes 0. No result is between 0 and 2⁻¹²⁵; none may be 2¹²⁷ or more.

    x = 2ᵉ·m with m within √½..√2, so that xᵖ is 2 to the power p·(e + log₂ m).
    """
    _raise(row, row.shape[0], to)
