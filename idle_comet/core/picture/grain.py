"""Adding a field of noise to a picture, between its samples, with the deviation the samples have."""

from __future__ import annotations

import numpy as np

from .kernel import kernel

_ALONG = "int32[::1], float32[::1], float32[::1]"


@kernel(
    f"void(uint8[:,:,::1], float32[:,:,::1], float32[:,:,::1], {_ALONG}, {_ALONG})",
    f"void(float32[:,:,::1], float32[:,:,::1], float32[:,:,::1], {_ALONG}, {_ALONG})",
    fastmath=True,
)
def _add(pixels, out, field, columns, before, after, rows, above, below):
    side, width, channels = field.shape[1], pixels.shape[1], field.shape[0]
    # One more than the side, so that what is right of the last is the first.
    line = np.empty(side + 1, np.float32)
    noise = np.empty((channels, width), np.float32)
    zero = np.float32(0)
    for y in range(pixels.shape[0]):
        j, upper, lower = rows[y], above[y], below[y]
        for k in range(channels):
            near, far, made = field[k, j], field[k, j + 1 if j + 1 < side else 0], noise[k]
            for x in range(side):
                line[x] = near[x] * upper + far[x] * lower
            line[side] = line[0]
            for x in range(width):
                i = np.uint32(columns[x])
                made[x] = line[i] * before[x] + line[i + np.uint32(1)] * after[x]
        row, into = pixels[y], out[y]
        first, second, third = noise[0], noise[channels // 2], noise[channels - 1]
        for x in range(width):
            cover = np.float32(row[x, 3])
            into[x, 0] = min(max(np.float32(row[x, 0]) + first[x] * cover, zero), cover)
            into[x, 1] = min(max(np.float32(row[x, 1]) + second[x] * cover, zero), cover)
            into[x, 2] = min(max(np.float32(row[x, 2]) + third[x] * cover, zero), cover)
            into[x, 3] = cover


def add_grain(pixels: np.ndarray, field: np.ndarray, across: np.ndarray, down: np.ndarray, by: float) -> np.ndarray:
    """(h, w, 4) float32: premultiplied code values, uint8 or float32, with a field that repeats added to their colours,
    times `by` and the coverage.

    The field is (1 or 3, side, side); `across` (w,) and `down` (h,) are places in it, 0..side. Between samples the four
    weighted parts of it would deviate less than the samples do, by √((1 − a)² + a²) along each axis, which is made up
    for.
    """
    columns, rows = np.floor(across).astype(np.int32), np.floor(down).astype(np.int32)
    (before, after), (above, below) = _shares(across - columns), _shares(down - rows)
    side, much = field.shape[1], np.float32(by)
    out = np.empty(pixels.shape, np.float32)
    _add(pixels, out, field, columns % side, before, after, rows % side, above * much, below * much)
    return out


def _shares(part: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """The weights of the samples before and after a place, their squares 1 together."""
    whole = np.sqrt((1 - part) ** 2 + part**2)
    return ((1 - part) / whole).astype(np.float32), (part / whole).astype(np.float32)
