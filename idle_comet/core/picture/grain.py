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
    zero, one, two, three = np.float32(0), np.uint64(1), np.uint64(2), np.uint64(3)
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
        # Told as one run of numbers, which is gone through in larger strides.
        row, into = pixels[y].reshape(-1), out[y].reshape(-1)
        first, second, third = noise[0], noise[channels // 2], noise[channels - 1]
        for x in range(np.uint64(width)):
            r, g, b, a = np.uint64(4) * x, np.uint64(4) * x + one, np.uint64(4) * x + two, np.uint64(4) * x + three
            cover = np.float32(row[a])
            into[r] = min(max(np.float32(row[r]) + first[x] * cover, zero), cover)
            into[g] = min(max(np.float32(row[g]) + second[x] * cover, zero), cover)
            into[b] = min(max(np.float32(row[b]) + third[x] * cover, zero), cover)
            into[a] = cover


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
