"""4:2:0 planes to RGBA, right to half a code value on flat colour and smooth between chroma samples."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from .kernel import kernel

WEIGHTS = {1: (0.2126, 0.0722), 5: (0.299, 0.114), 6: (0.299, 0.114)}
"""Luma weights of red and blue by matrix number (ITU-T H.273): 1 is BT.709, 5 and 6 are BT.601."""


@kernel("uint32(int32, int32, int32, int32, int32, int32, int32)")
def _packed(light, u, v, rv, gu, gv, bu):
    least, most, places = np.int32(0), np.int32(255), np.int32(16)
    r = min(max((light + v * rv) >> places, least), most)
    g = min(max((light - u * gu - v * gv) >> places, least), most)
    b = min(max((light + u * bu) >> places, least), most)
    return np.uint32(r) | (np.uint32(g) << np.uint32(8)) | (np.uint32(b) << np.uint32(16)) | np.uint32(0xFF000000)


@kernel("void(uint8[:,::1], uint8[:,::1], uint8[:,::1], uint32[:,::1], int32[::1])")
def _planes_to_rgba(luma, blue, red, out, factors):
    height, width = luma.shape
    half_height, half_width = blue.shape
    base, ky, rv, gu, gv, bu = factors[0], factors[1], factors[2], factors[3], factors[4], factors[5]
    u = np.empty(half_width + 1, np.int32)
    v = np.empty(half_width + 1, np.int32)
    two, one, half = np.uint64(2), np.uint64(1), np.int32(32768)
    for y in range(height):
        near = y // 2
        # Chroma rows lie between luma rows: three parts of the nearer, one of the further.
        far = min(max(near - 1 if y % 2 == 0 else near + 1, 0), half_height - 1)
        near_u, far_u, near_v, far_v = blue[near], blue[far], red[near], red[far]
        for x in range(np.uint64(half_width)):
            u[x] = np.int32(3) * np.int32(near_u[x]) + np.int32(far_u[x]) - np.int32(512)
            v[x] = np.int32(3) * np.int32(near_v[x]) + np.int32(far_v[x]) - np.int32(512)
        u[half_width], v[half_width] = u[half_width - 1], v[half_width - 1]
        row, line = out[y], luma[y]
        # Two px at a time: chroma columns lie on even luma columns (left siting, as H.264 has it).
        for x in range(np.uint64(half_width)):
            even, odd = two * x, two * x + one
            light = (np.int32(line[even]) - base) * ky + half
            row[even] = _packed(light, u[x] + u[x], v[x] + v[x], rv, gu, gv, bu)
            light = (np.int32(line[odd]) - base) * ky + half
            row[odd] = _packed(light, u[x] + u[x + one], v[x] + v[x + one], rv, gu, gv, bu)


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
    # Chroma comes in eighths: the sum of eight parts of samples.
    chroma = 8192 * 2 * kc
    factors = np.array(
        [
            base,
            round(65536 * ky),
            round(chroma * (1 - kr)),
            round(chroma * (1 - kb) * kb / kg),
            round(chroma * (1 - kr) * kr / kg),
            round(chroma * (1 - kb)),
        ],
        np.int32,
    )
    out = np.empty((*luma.shape, 4), np.uint8)
    _planes_to_rgba(
        np.ascontiguousarray(luma),
        np.ascontiguousarray(blue),
        np.ascontiguousarray(red),
        out.view("<u4")[..., 0],
        factors,
    )
    return out
