"""Powers of rows of numbers, for loops that work on whole rows."""

from __future__ import annotations

from typing import Any, Sequence

from .kernel import kernel
from .lanes import LANES, Lanes, Writer

_HALF_ROOT = 0x3F3504F3
"""The bits of √½ as a float32."""

_LOG = (0.16818659, -0.26796387, 0.29611956, -0.35952446, 0.48061313, -0.72136018, 1.4426965)
"""log₂(1 + t) / t for t of √½ − 1 … √2 − 1, the highest power first: a polynomial through Chebyshev nodes."""

_TWO = (0.0013381303, 0.0096663685, 0.05550381, 0.24022349, 0.69314718)
"""(2ᶠ − 1) / f for f of −½ … ½, in the same way."""

_FURTHEST = 126.0
"""The least and greatest exponent of a result."""


def power_of(by: Writer, value: Any, to: Any) -> Any:
    """Writes the powers of a vector of numbers: `to` is one such; see `raised`."""
    builder, width = by.builder, value.type.count
    real, whole = by.vector("float32", width), by.vector("int32", width)

    def polynomial(factors: Sequence[float], of: Any) -> Any:
        # Two and two are taken together, then these: so the machine need not wait for one after the other.
        terms = [real([factor] * width) for factor in reversed(factors)]
        while len(terms) > 1:
            pairs = [by.times(more, of, term) for term, more in zip(terms[::2], terms[1::2])]
            terms = pairs + terms[2 * len(pairs) :]
            of = by.product(of, of)
        return terms[0]

    nothing, one, shift = real([0.0] * width), real([1.0] * width), whole([23] * width)
    bits = builder.bitcast(value, whole)
    exponent = builder.ashr(builder.sub(bits, whole([_HALF_ROOT] * width)), shift)
    mantissa = builder.bitcast(builder.sub(bits, builder.shl(exponent, shift)), real)
    t = builder.fsub(mantissa, one, flags=("fast",))
    log = by.times(polynomial(_LOG, t), t, builder.sitofp(exponent, real))
    sought = by.held(by.product(log, to), real([-_FURTHEST] * width), real([_FURTHEST] * width))
    # What is more than 0 is cut off where it should be rounded down.
    above = builder.fptosi(builder.fadd(sought, real([128.5] * width)), whole)
    f = builder.fsub(sought, builder.sitofp(builder.sub(above, whole([128] * width)), real), flags=("fast",))
    part = by.times(polynomial(_TWO, f), f, one)
    times = builder.bitcast(builder.shl(builder.sub(above, whole([1] * width)), shift), real)
    return builder.select(builder.fcmp_ordered(">", value, nothing), by.product(times, part), nothing)


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
    """Raise a row of numbers to a power of more than 0, in place, right to 1 in 100 000 and exact at 0 and 1; what is
    below 0 becomes 0. Results below 2⁻¹²⁶ are that.

    x = 2ᵉ·m with m within √½..√2, so that xᵖ is 2 to the power p·(e + log₂ m).
    """
    _raise(row, row.shape[0], to)
