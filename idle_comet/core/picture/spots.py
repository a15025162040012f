"""Small round things laid over each other: specks, drops, discs of light."""

from __future__ import annotations

import numpy as np

from .kernel import kernel

LEAST = 0.75
"""Radius in px below which a spot is painted as large as that, and as much weaker."""


@kernel("void(float32[:,:,::1], float32[:,::1])", fastmath=True)
def _lay(pixels, spots):
    high, wide = pixels.shape[0], pixels.shape[1]
    for n in range(spots.shape[0]):
        x, y, r, soft, rim = spots[n, 0], spots[n, 1], spots[n, 2], spots[n, 3], spots[n, 4]
        cover = spots[n, 8]
        if cover <= 0 or not r > 0:
            continue
        # A hard edge is as wide as a px and lies half outside.
        edge = max(soft * r, np.float32(1))
        out = r + np.float32(0.5) if soft * r < 1 else r
        top, foot = max(0, int(np.floor(y - out))), min(high, int(np.ceil(y + out)) + 1)
        left, right = max(0, int(np.floor(x - out))), min(wide, int(np.ceil(x + out)) + 1)
        for j in range(top, foot):
            dy = np.float32(j) + np.float32(0.5) - y
            for i in range(left, right):
                dx = np.float32(i) + np.float32(0.5) - x
                far = np.sqrt(dx * dx + dy * dy)
                part = (out - far) / edge
                if part <= 0:
                    continue
                part = min(part, np.float32(1))
                part = part * part * (np.float32(3) - np.float32(2) * part)
                inner = far / r
                part *= np.float32(1) - rim * (np.float32(1) - min(inner * inner, np.float32(1)))
                a = part * cover
                stay = np.float32(1) - a
                for c in range(3):
                    pixels[j, i, c] = pixels[j, i, c] * stay + spots[n, 5 + c] * a
                pixels[j, i, 3] = pixels[j, i, 3] * stay + np.float32(255) * a


def lay_spots(pixels: np.ndarray, spots: np.ndarray) -> None:
    """Lay (n, 9) spots over (h, w, 4) premultiplied code values, in their order.

    Columns: x, y and radius in px; softness 0..1 (share of the radius over which it fades); rim 0..1 (how much darker
    the middle is than the edge); red, green, blue 0..255; opacity 0..1. One smaller than a px covers as much less.
    """
    made = np.ascontiguousarray(spots, np.float32)
    small = np.maximum(made[:, 2], 1e-6) / LEAST
    made[:, 8] *= np.minimum(1, small) ** 2
    made[:, 2] = np.maximum(made[:, 2], LEAST)
    _lay(pixels, made)
