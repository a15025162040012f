"""4:2:0 planes to RGBA, right to half a code value on flat colour and smooth between chroma samples."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np

from .kernel import kernel
from .lanes import LANES, Lanes, Writer

WEIGHTS = {1: (0.2126, 0.0722), 5: (0.299, 0.114), 6: (0.299, 0.114)}
"""Luma weights of red and blue by matrix number (ITU-T H.273): 1 is BT.709, 5 and 6 are BT.601."""


def _widening(by: Writer, out: Any, plane: Any, near: Any, far: Any, count: Any) -> None:
    """Writes a row of chroma as wide as luma; see below."""
    builder = by.builder
    short, real = by.ir.VectorType(by.ir.IntType(16), LANES), by.vector("float32")

    def between(start: Any, row: Any) -> Any:
        return builder.zext(by.read(plane, builder.add(row, start), "uint8"), short)

    def weighed(start: Any) -> Any:
        three = builder.mul(between(start, near), short([3] * LANES))
        return builder.sub(builder.add(three, between(start, far)), short([512] * LANES))

    with by.strides(count, LANES) as stride:
        start = builder.mul(stride.index, by.number(LANES))
        one = weighed(start)
        other = builder.add(one, weighed(builder.add(start, by.number(1))))
        even, odd = builder.sitofp(builder.add(one, one), real), builder.sitofp(other, real)
        for half in (0, LANES // 2):
            at = builder.mul(builder.add(start, by.number(half)), by.number(2))
            by.write(by.laced(even, odd, half), out, at)


_widen = Lanes(_widening, "void(float32[::1], uint8[::1], int64, int64, int64)")
"""(out, plane, near, far, count): of `count` samples of chroma, a whole number of sixteens, two numbers each, as it is
at an even column of luma and between it and the next one: three parts of the row from number `near` of the plane on,
one of that from `far` on. They are eight times as large as the samples, and 0 is grey."""


def _packing(by: Writer, out: Any, luma: Any, at: Any, blue: Any, red: Any, factors: Any, count: Any) -> None:
    """Writes px; see below."""
    builder, real, whole = by.builder, by.vector("float32"), by.vector("int32")
    base, ky, rv, gu, gv, bu = (
        by.everywhere(builder.load(builder.gep(factors, [by.number(number)]))) for number in range(6)
    )
    low, high = real([0.0] * LANES), real([255.0] * LANES)
    with by.strides(count, LANES) as stride:
        start = builder.mul(stride.index, by.number(LANES))
        here = builder.add(at, start)
        light = by.times(builder.uitofp(by.read(luma, here, "uint8"), real), ky, base)
        u, v = by.read(blue, start), by.read(red, start)
        colours = by.times(v, rv, light), by.times(u, gu, by.times(v, gv, light)), by.times(u, bu, light)
        made = whole([_OPAQUE] * LANES)
        for channel, value in enumerate(colours):
            byte = builder.fptosi(by.held(value, low, high), whole)
            made = builder.or_(made, builder.shl(byte, whole([8 * channel] * LANES)))
        by.write(made, out, here)


_OPAQUE = -(1 << 24)
"""The highest of four bytes whole, as a number with a sign."""

_pack = Lanes(_packing, "void(int32[::1], uint8[::1], int64, float32[::1], float32[::1], float32[::1], int64)")
"""(out, luma, at, blue, red, factors, count): `count` px of four bytes from number `at` of luma on, a whole number of
sixteens, from a row of either chroma as `_widen` makes it."""


@kernel("void(float32[::1], uint8[::1], int64, int64, int64)")
def _wide(out, plane, near, far, count):
    """All of a row of chroma; past its end the last sample goes on."""
    whole = (count - 1) // LANES * LANES
    _widen(out, plane, near, far, whole)
    for x in range(whole, count):
        then = min(x + 1, count - 1)
        one = np.int32(3) * plane[near + x] + plane[far + x] - np.int32(512)
        other = np.int32(3) * plane[near + then] + plane[far + then] - np.int32(512)
        out[2 * x], out[2 * x + 1] = np.float32(one + one), np.float32(one + other)


@kernel("int32(float32)")
def _byte(value):
    return np.int32(min(max(value, np.float32(0)), np.float32(255)))


@kernel("void(uint8[:,::1], uint8[:,::1], uint8[:,::1], int32[:,::1], float32[::1])")
def _planes_to_rgba(luma, blue, red, out, factors):
    (height, width), (down, across) = luma.shape, blue.shape
    base, ky, rv, gu, gv, bu = factors[0], factors[1], factors[2], factors[3], factors[4], factors[5]
    u, v = np.empty(width, np.float32), np.empty(width, np.float32)
    light, us, vs, px = luma.reshape(-1), blue.reshape(-1), red.reshape(-1), out.reshape(-1)
    whole = width // LANES * LANES
    for y in range(height):
        # Chroma rows lie between luma rows: three parts of the nearer, one of the further. Its columns lie on even luma
        # columns (left siting, as H.264 has it).
        near = y // 2
        far = min(max(near - 1 if y % 2 == 0 else near + 1, 0), down - 1)
        _wide(u, us, near * across, far * across, across)
        _wide(v, vs, near * across, far * across, across)
        _pack(px, light, y * width, u, v, factors, whole)
        for x in range(whole, width):
            grey = luma[y, x] * ky + base
            red_byte, blue_byte = _byte(grey + v[x] * rv), _byte(grey + u[x] * bu)
            green_byte = _byte(grey + u[x] * gu + v[x] * gv)
            out[y, x] = np.int32(_OPAQUE) | blue_byte << np.int32(16) | green_byte << np.int32(8) | red_byte


class Planes(NamedTuple):
    """An opaque frame as a shot holds it: luma (h, w) and chroma (h/2, w/2) twice, even sides, uint8; see
    `planes_to_rgba`.

    Chroma columns lie on even luma columns, its rows between two luma rows (left siting).
    """

    luma: np.ndarray
    blue: np.ndarray
    red: np.ndarray
    matrix: int = 1
    full_range: bool = False

    @property
    def shape(self) -> tuple[int, int]:
        """Height and width."""
        return self.luma.shape

    @property
    def nbytes(self) -> int:
        return self.luma.nbytes + self.blue.nbytes + self.red.nbytes

    def rgba(self) -> np.ndarray:
        """Opaque (h, w, 4) uint8."""
        return planes_to_rgba(self.luma, self.blue, self.red, self.matrix, self.full_range)


def planes_to_rgba(
    luma: np.ndarray, blue: np.ndarray, red: np.ndarray, matrix: int = 1, full_range: bool = False
) -> np.ndarray:
    """(h, w) and (h/2, w/2) twice, even sides, uint8 Y′CbCr to opaque (h, w, 4) uint8 RGBA.

    `matrix` as in ITU-T H.273; formulas of ITU-R BT.709 / BT.601 with their limited or full range.
    """
    kr, kb = WEIGHTS[matrix]
    kg = 1 - kr - kb
    ky, kc, base = (1.0, 1.0, 0) if full_range else (255 / 219, 255 / 224, 16)
    # Chroma comes eight times as large.
    chroma = kc / 4
    factors = np.array(
        [
            # A half is added before fractions are cut off.
            0.5 - base * ky,
            ky,
            chroma * (1 - kr),
            -chroma * (1 - kb) * kb / kg,
            -chroma * (1 - kr) * kr / kg,
            chroma * (1 - kb),
        ],
        np.float32,
    )
    out = np.empty((*luma.shape, 4), np.uint8)
    _planes_to_rgba(
        np.ascontiguousarray(luma),
        np.ascontiguousarray(blue),
        np.ascontiguousarray(red),
        out.view("<i4")[..., 0],
        factors,
    )
    return out
