"""Adding a field of noise to a picture, between its samples, with the deviation the samples have."""

from __future__ import annotations

import numpy as np

from .kernel import kernel

_DEEP, _ALONG = "float32[:,:,::1]", "int32[::1], float32[::1], float32[::1]"


@kernel(f"void({_DEEP}, {_DEEP}, {_ALONG}, {_ALONG})", fastmath=True)
def _add(pixels, field, columns, across, wide, rows, down, high):
    side = np.int32(field.shape[0])
    channels = field.shape[2]
    for y in range(pixels.shape[0]):
        j, b, by = rows[y], down[y], high[y]
        below = j + 1 if j + 1 < side else np.int32(0)
        row = pixels[y]
        for x in range(pixels.shape[1]):
            i, a = columns[x], across[x]
            right = i + 1 if i + 1 < side else np.int32(0)
            cover = row[x, 3]
            much = by * wide[x] * cover
            for k in range(channels):
                near = field[j, i, k] + (field[j, right, k] - field[j, i, k]) * a
                far = field[below, i, k] + (field[below, right, k] - field[below, i, k]) * a
                more = (near + (far - near) * b) * much
                if channels == 1:
                    row[x, 0] = min(max(row[x, 0] + more, np.float32(0)), cover)
                    row[x, 1] = min(max(row[x, 1] + more, np.float32(0)), cover)
                    row[x, 2] = min(max(row[x, 2] + more, np.float32(0)), cover)
                else:
                    row[x, k] = min(max(row[x, k] + more, np.float32(0)), cover)


def add_grain(pixels: np.ndarray, field: np.ndarray, across: np.ndarray, down: np.ndarray, by: float) -> None:
    """Add a (side, side, 1 or 3) field that repeats, times `by` and the coverage, to (h, w, 4) code values in place.

    `across` (w,) and `down` (h,) are places in the field, 0..side. Between samples the four weighted parts of it would
    deviate less than the samples do, by √((1 − a)² + a²) along each axis; that is made up for.
    """
    columns, rows = np.floor(across).astype(np.int32), np.floor(down).astype(np.int32)
    a, b = (across - columns).astype(np.float32), (down - rows).astype(np.float32)
    wide, high = (1 / np.sqrt((1 - each) ** 2 + each**2) for each in (a, b))
    _add(pixels, field, columns % field.shape[0], a, wide, rows % field.shape[0], b, high * np.float32(by))
