"""Powers of rows of numbers, for loops that work on whole rows."""

from __future__ import annotations

from typing import Any, Sequence

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
