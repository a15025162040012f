"""Softening a picture at its own size: the filter of a smaller one, with every px kept."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from .kernel import kernel, own
from .taps import taps

_AROUND = 20
"""Px on both sides of one that its weights are taken from."""


def softened(
    picture: np.ndarray,
    low: tuple[float, float],
    exact: bool,
    sharper: tuple[float, float] = (0.0, 0.0),
    part: tuple[slice, slice] = (slice(None), slice(None)),
) -> np.ndarray:
    """The `part` (rows, columns) of a (h, w) or (h, w, 4) uint8 picture that lets through what is coarser than `low` px
    of each axis, at its own size; past the part's edges its outermost px go on. Rounded to the nearest.

    `sharper` gives back of each axis what placing it between its px takes: by as much its waves grow from coarse to
    fine (see `sharpened_for`)."""
    size = 1 if picture.ndim == 2 else picture.shape[2]
    across, down = (_middle(each, exact, by) for each, by in zip(low, sharper))
    (top, foot, _), (left, right, _) = (each.indices(length) for each, length in zip(part, picture.shape))
    rows = own(picture).reshape(picture.shape[0], -1)[top:foot]
    out = np.empty((foot - top, (right - left) * size), np.uint8)
    _soften(rows, left * size, out, across, down, size)
    return out.reshape(foot - top, right - left, *picture.shape[2:])


def sharpened_for(density: float, asked: float) -> float:
    """How much sharper a picture of `density` px a seen px has to be, to be as sharp as one of `asked` px when both are
    placed between their px in a straight line.

    That passes a wave of f a px by sinc²(f) on the mean, about 1 − (πf)²/3; weights of −a, 1 + 2a, −a pass it by
    1 + 2a(1 − cos 2πf), about 1 + a(2πf)². So a is a twelfth of 1 − (density/asked)²."""
    return (1 - (density / asked) ** 2) / 12


@lru_cache(maxsize=64)
def _middle(low: float, exact: bool, sharper: float) -> np.ndarray:
    """The weights of the px 0, 1, 2 … beside one, alike on both sides; their sum over both is 1."""
    first, weights = taps(1, 2 * _AROUND + 1, 1.0, -float(_AROUND), low, exact)
    row = np.zeros(2 * _AROUND + 1)
    row[first[0] : first[0] + weights.shape[1]] = weights[0]
    if sharper:
        row[1:-1] = (1 + 2 * sharper) * row[1:-1] - sharper * (row[:-2] + row[2:])
    both = (row[_AROUND:] + row[_AROUND::-1]) / 2
    both = both[: max(5, int(np.flatnonzero(np.abs(both) > 1e-7)[-1]) + 1)]
    return (both / (both[0] + 2 * both[1:].sum())).astype(np.float32)


@kernel("void(float32[:,::1], uint64, uint8[:,::1], uint64, uint64)")
def _deepened(near, place, source, row, left):
    for i in range(np.uint64(near.shape[1])):
        near[place, i] = np.float32(source[row, left + i])


_FOUR = "uint64, uint64, uint64, uint64, uint64, uint64, uint64, uint64, float32, float32, float32, float32"


@kernel(f"void(float32[:,::1], uint64, float32[:,::1], uint64, float32, {_FOUR}, float32)", fastmath=True)
def _down_five(mean, left, near, own, w0, a1, b1, a2, b2, a3, b3, a4, b4, w1, w2, w3, w4, beyond):
    """A row and the four pairs beside it. All of them in one loop: what is summed is not put away in between. What is
    `beyond` black and white by more is cut off."""
    least, most = -beyond, np.float32(255) + beyond
    for i in range(np.uint64(near.shape[1])):
        total = (
            w0 * near[own, i]
            + w1 * (near[a1, i] + near[b1, i])
            + w2 * (near[a2, i] + near[b2, i])
            + w3 * (near[a3, i] + near[b3, i])
            + w4 * (near[a4, i] + near[b4, i])
        )
        mean[0, left + i] = min(max(total, least), most)


_TEN = ", ".join(["uint64"] * 10 + ["float32"] * 5)


@kernel(f"void(float32[:,::1], float32[:,::1], uint64, float32[:,::1], {_TEN})", fastmath=True)
def _down_two(one, other, left, near, r0, r1, r2, r3, r4, r5, r6, r7, r8, r9, w0, w1, w2, w3, w4):
    """Two rows that follow each other: most of what they are sums of is loaded once for both."""
    least, most = np.float32(0), np.float32(255)
    for i in range(np.uint64(near.shape[1])):
        a, b, c, d = near[r1, i], near[r2, i], near[r3, i], near[r4, i]
        e, f, g, h = near[r5, i], near[r6, i], near[r7, i], near[r8, i]
        first = w0 * d + w1 * (c + e) + w2 * (b + f) + w3 * (a + g) + w4 * (near[r0, i] + h)
        second = w0 * e + w1 * (d + f) + w2 * (c + g) + w3 * (b + h) + w4 * (a + near[r9, i])
        one[0, left + i] = min(max(first, least), most)
        other[0, left + i] = min(max(second, least), most)


@kernel("void(float32[:,::1], uint64, float32[:,::1], uint64, uint64, float32)", fastmath=True)
def _down_more(mean, left, near, one, other, weight):
    for i in range(np.uint64(near.shape[1])):
        mean[0, left + i] += weight * (near[one, i] + near[other, i])


@kernel("void(float32[:,::1])", fastmath=True)
def _held(mean):
    for i in range(np.uint64(mean.shape[1])):
        mean[0, i] = min(max(mean[0, i], np.float32(0)), np.float32(255))


@kernel("float32(float32[:,::1], uint64, uint64, float32, float32, float32, float32, float32)", fastmath=True)
def _five(mean, at, size, w0, w1, w2, w3, w4):
    two, three, four = size + size, size + size + size, size + size + size + size
    return (
        np.float32(0.5)
        + w0 * mean[0, at]
        + w1 * (mean[0, at - size] + mean[0, at + size])
        + w2 * (mean[0, at - two] + mean[0, at + two])
        + w3 * (mean[0, at - three] + mean[0, at + three])
        + w4 * (mean[0, at - four] + mean[0, at + four])
    )


@kernel("uint8(float32)", fastmath=True)
def _cut(value):
    return np.uint8(np.int32(min(max(value, np.float32(0)), np.float32(255))))


_ACROSS = "uint64, uint64, float32, float32, float32, float32, float32)"


@kernel("void(uint8[:,::1], uint64, float32[:,::1], " + _ACROSS, fastmath=True)
def _kept_five(out, y, mean, left, size, w0, w1, w2, w3, w4):
    for i in range(np.uint64(out.shape[1])):
        out[y, i] = _cut(_five(mean, left + i, size, w0, w1, w2, w3, w4))


@kernel("void(float32[:,::1], float32[:,::1], " + _ACROSS, fastmath=True)
def _across_five(total, mean, left, size, w0, w1, w2, w3, w4):
    for i in range(np.uint64(total.shape[1])):
        total[0, i] = _five(mean, left + i, size, w0, w1, w2, w3, w4)


@kernel("void(float32[:,::1], float32[:,::1], uint64, uint64, float32)", fastmath=True)
def _across_more(total, mean, left, right, weight):
    for i in range(np.uint64(total.shape[1])):
        total[0, i] += weight * (mean[0, left + i] + mean[0, right + i])


@kernel("void(uint8[:,::1], uint64, float32[:,::1])", fastmath=True)
def _kept(out, y, total):
    for i in range(np.uint64(out.shape[1])):
        out[y, i] = _cut(total[0, i])


@kernel("void(uint8[:,::1], int64, float32[:,::1], float32[:,::1], float32[::1], int64)")
def _finished(out, y, mean, total, across, size):
    """Row `y` of the result from the sums of its columns, past whose ends the outermost px go on."""
    length, wide = out.shape[1], (across.shape[0] - 1) * size
    for step in range(0, wide, size):
        for channel in range(size):
            mean[0, step + channel] = mean[0, wide + channel]
            mean[0, wide + length + step + channel] = mean[0, wide + length - size + channel]
    w0, w1, w2, w3, w4 = across[0], across[1], across[2], across[3], across[4]
    if across.shape[0] == 5:
        _kept_five(out, y, mean, wide, size, w0, w1, w2, w3, w4)
        return
    _across_five(total, mean, wide, size, w0, w1, w2, w3, w4)
    for k in range(5, across.shape[0]):
        _across_more(total, mean, wide - k * size, wide + k * size, across[k])
    _kept(out, y, total)


@kernel("void(uint8[:,::1], int64, uint8[:,::1], float32[::1], float32[::1], int64)")
def _soften(rows, begin, out, across, down, size):
    """The columns of `rows` from `begin` on. `across` and `down` have five weights or more."""
    height, length = out.shape
    reach, wide, last = down.shape[0] - 1, (across.shape[0] - 1) * size, rows.shape[0] - 1
    places = 1
    while places < 2 * reach + 2:
        places *= 2
    mask = places - 1
    near = np.empty((places, length), np.float32)
    held = np.full(places, -1)
    mean, total = np.empty((1, length + 2 * wide), np.float32), np.empty((1, length), np.float32)
    other = np.empty((1, length + 2 * wide), np.float32)
    w0, w1, w2, w3, w4 = down[0], down[1], down[2], down[3], down[4]
    done = 0
    for y in range(height):
        if y < done:
            continue
        two = reach == 4 and y + 1 < height
        for row in range(max(0, y - reach), min(last, y + reach + two) + 1):
            if held[row & mask] != row:
                held[row & mask] = row
                _deepened(near, row & mask, rows, row, begin)
        a1, a2, a3, a4 = max(y - 1, 0) & mask, max(y - 2, 0) & mask, max(y - 3, 0) & mask, max(y - 4, 0) & mask
        b1, b2 = min(y + 1, last) & mask, min(y + 2, last) & mask
        b3, b4 = min(y + 3, last) & mask, min(y + 4, last) & mask
        done = y + 1 + two
        if two:
            b5 = min(y + 5, last) & mask
            _down_two(mean, other, wide, near, a4, a3, a2, a1, y & mask, b1, b2, b3, b4, b5, w0, w1, w2, w3, w4)
            _finished(out, y, mean, total, across, size)
            _finished(out, y + 1, other, total, across, size)
            continue
        # Between the passes, too, an edge is no brighter than white.
        beyond = np.float32(0 if reach < 5 else 1e6)
        _down_five(mean, wide, near, y & mask, w0, a1, b1, a2, b2, a3, b3, a4, b4, w1, w2, w3, w4, beyond)
        if reach >= 5:
            for k in range(5, reach + 1):
                _down_more(mean, wide, near, max(y - k, 0) & mask, min(y + k, last) & mask, down[k])
            _held(mean)
        _finished(out, y, mean, total, across, size)
