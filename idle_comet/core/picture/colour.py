"""Colours, and the Rec.709 matrix to Y′CbCr."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from .kernel import kernel


class RGB(NamedTuple):
    red: int
    green: int
    blue: int


def parse_colour(text: str) -> RGB:
    """`#rrggbb` as 8-bit values."""
    return RGB(int(text[1:3], 16), int(text[3:5], 16), int(text[5:7], 16))


# ITU-R BT.709 luma weights, 8-bit limited range (16..235, 16..240), in 1/65536.
_KR, _KG, _KB = 0.2126, 0.7152, 0.0722
_Y = tuple(round(65536 * 219 / 255 * k) for k in (_KR, _KG, _KB))
_U = tuple(round(65536 * 224 / 255 * k / (2 * (1 - _KB))) for k in (-_KR, -_KG, 1 - _KB))
_V = tuple(round(65536 * 224 / 255 * k / (2 * (1 - _KR))) for k in (1 - _KR, -_KG, -_KB))


@kernel("void(uint8[:,:,::1], uint8[:,::1], uint8[:,::1], uint8[:,::1])")
def _rgba_to_i420(source, luma, blue, red):
    height, width = luma.shape
    for y in range(height):
        row, out = source[y], luma[y]
        for x in range(width):
            r, g, b = np.int32(row[x, 0]), np.int32(row[x, 1]), np.int32(row[x, 2])
            out[x] = (_Y[0] * r + _Y[1] * g + _Y[2] * b + (16 << 16) + 32768) >> 16
    for y in range(height // 2):
        top, low, u, v = source[2 * y], source[2 * y + 1], blue[y], red[y]
        for x in range(width // 2):
            # Chroma columns lie on even luma columns, its rows between two luma rows (left siting).
            at, left, right = 2 * x, max(2 * x - 1, 0), 2 * x + 1
            r = 2 * (np.int32(top[at, 0]) + low[at, 0]) + top[left, 0] + low[left, 0] + top[right, 0] + low[right, 0]
            g = 2 * (np.int32(top[at, 1]) + low[at, 1]) + top[left, 1] + low[left, 1] + top[right, 1] + low[right, 1]
            b = 2 * (np.int32(top[at, 2]) + low[at, 2]) + top[left, 2] + low[left, 2] + top[right, 2] + low[right, 2]
            u[x] = (_U[0] * r + _U[1] * g + _U[2] * b + (128 << 19) + 262144) >> 19
            v[x] = (_V[0] * r + _V[1] * g + _V[2] * b + (128 << 19) + 262144) >> 19


def to_i420(rgba: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """(h, w, 4) uint8 RGBA to Rec.709 limited range Y′ (h, w) and Cb, Cr (h/2, w/2).

    Width and height must be even; alpha is ignored. Chroma is sited left, as H.264 has it by default.
    """
    height, width = rgba.shape[:2]
    if height % 2 or width % 2:
        raise ValueError(f"4:2:0 needs an even size, not {width}×{height}.")
    luma = np.empty((height, width), np.uint8)
    blue, red = (np.empty((height // 2, width // 2), np.uint8) for _ in range(2))
    _rgba_to_i420(np.ascontiguousarray(rgba), luma, blue, red)
    return luma, blue, red
