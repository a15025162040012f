"""Adding a field of noise to a picture, between its samples, with the deviation the samples have."""

from __future__ import annotations

import numpy as np

from .kernel import kernel

_DEEP, _ALONG = "float32[:,:,::1]", "int32[::1], float32[::1]"


@kernel(f"void({_DEEP}, {_DEEP}, {_ALONG}, {_ALONG}, float32)", fastmath=True)
def _add(pixels, field, columns, across, rows, down, by):
    side = np.int32(field.shape[0])
    channels = field.shape[2]
    for y in range(pixels.shape[0]):
        j, b = rows[y], down[y]
        below = j + 1 if j + 1 < side else np.int32(0)
        norm_b = (1 - b) * (1 - b) + b * b
        row = pixels[y]
        for x in range(pixels.shape[1]):
            i, a = columns[x], across[x]
            right = i + 1 if i + 1 < side else np.int32(0)
            cover = row[x, 3]
            norm = by * cover / np.sqrt(((1 - a) * (1 - a) + a * a) * norm_b)
            for c in range(3):
                k = c if channels > 1 else 0
                near = field[j, i, k] + (field[j, right, k] - field[j, i, k]) * a
                far = field[below, i, k] + (field[below, right, k] - field[below, i, k]) * a
                made = row[x, c] + (near + (far - near) * b) * norm
                row[x, c] = min(max(made, np.float32(0)), cover)


def add_grain(pixels: np.ndarray, field: np.ndarray, across: np.ndarray, down: np.ndarray, by: float) -> None:
    """Add a (side, side, 1 or 3) field that repeats, times `by` and the coverage, to (h, w, 4) code values in place.

    `across` (w,) and `down` (h,) are places in the field, 0..side. Between samples the four weighted parts of it would
    deviate less than the samples do; that is made up for.
    """
    columns, rows = np.floor(across).astype(np.int32), np.floor(down).astype(np.int32)
    parts = (across - columns).astype(np.float32), (down - rows).astype(np.float32)
    _add(pixels, field, columns % field.shape[0], parts[0], rows % field.shape[0], parts[1], by)
