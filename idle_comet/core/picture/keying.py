"""Keying: a colour and what is like it made transparent, and its light taken out of what stays."""

from __future__ import annotations

import math

import numpy as np

from .grade import LUMA
from .kernel import kernel
from .light import _LEAST

_RED, _GREEN, _BLUE = (np.float32(each) for each in LUMA)
_TO_BLUE, _TO_RED = np.float32(0.5 / (1 - LUMA[2])), np.float32(0.5 / (1 - LUMA[0]))


def colourfulness(colour: tuple[int, int, int]) -> tuple[float, float]:
    """Cb and Cr (ITU-R BT.709) of a colour of 8-bit code values, each -½..½."""
    red, green, blue = (each / 255 for each in colour)
    luma = LUMA[0] * red + LUMA[1] * green + LUMA[2] * blue
    return (blue - luma) / (2 * (1 - LUMA[2])), (red - luma) / (2 * (1 - LUMA[0]))


@kernel(
    "void(float32[:,:,::1], float32, float32, float32, float32, float32, float32, int64, int64, int64)", fastmath=True
)
def _key(pixels, cb, cr, tolerance, by, amount, spill, strongest, one, other):
    for y in range(pixels.shape[0]):
        for x in range(pixels.shape[1]):
            cover = pixels[y, x, 3]
            if cover < _LEAST:
                continue
            back = np.float32(1) / cover
            r, g, b = pixels[y, x, 0] * back, pixels[y, x, 1] * back, pixels[y, x, 2] * back
            luma = _RED * r + _GREEN * g + _BLUE * b
            u, v = (b - luma) * _TO_BLUE - cb, (r - luma) * _TO_RED - cr
            kept = min(max((np.sqrt(u * u + v * v) - tolerance) * by, np.float32(0)), np.float32(1))
            kept = np.float32(1) - amount * (np.float32(1) - kept)
            most = (pixels[y, x, one] + pixels[y, x, other]) * np.float32(0.5)
            pixels[y, x, strongest] -= max(pixels[y, x, strongest] - most, np.float32(0)) * spill
            for c in range(3):
                pixels[y, x, c] = min(max(pixels[y, x, c], np.float32(0)), cover) * kept
            pixels[y, x, 3] = cover * kept


def keyed(
    pixels: np.ndarray, colour: tuple[int, int, int], tolerance: float, softness: float, amount: float, spill: float
) -> None:
    """Key (h, w, 4) premultiplied code values in place.

    Gone is what lies nearer to the colour than the tolerance in the plane of Cb and Cr; over the softness beyond it all
    comes back. `spill` 0..1 of what the key's strongest channel has over the mean of the two others is taken out.
    """
    strongest = int(np.argmax(colour))
    one, other = (channel for channel in range(3) if channel != strongest)
    cb, cr = colourfulness(colour)
    by = 1 / max(1 / 255, softness)
    assert math.isfinite(by)
    shares = (np.float32(each) for each in (cb, cr, tolerance, by, amount, spill * amount))
    _key(pixels, *shares, strongest, one, other)
