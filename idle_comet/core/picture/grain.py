"""Adding a field of noise to a picture, between its samples, with the deviation the samples have."""

from __future__ import annotations

from typing import Any, Callable

import numpy as np

from .kernel import kernel
from .lanes import LANES, Lanes, Writer


def _adding(of_each: bool) -> Callable[..., None]:
    """Writes noise added to px of four channels; see below."""

    def build(
        by: Writer, out: Any, pixels: Any, at: Any, near: Any, far: Any, upper: Any, lower: Any, count: Any
    ) -> None:
        builder, px = by.builder, LANES // 4
        lanes = by.vector("float32")
        covers = [4 * lane + 3 for lane in range(px) for _ in range(4)]
        # The fourth lane of each px is the first past the noise: nothing.
        spread = [lane if channel < 3 else px for lane in range(px) for channel in range(4)]
        wide = LANES if of_each else px
        upper, lower = by.everywhere(upper, wide), by.everywhere(lower, wide)
        with by.strides(count, px) as stride:
            start = builder.mul(stride.index, by.number(LANES))
            by.fetch(pixels, builder.add(at, start), LANES)
            by.fetch(out, builder.add(at, start), LANES, to_write=True)
            value = by.read(pixels, builder.add(at, start), by.told[1])
            if by.told[1] == "uint8":
                value = builder.uitofp(value, lanes)
            first = builder.mul(stride.index, by.number(wide))
            more = builder.fmul(by.read(far, first, width=wide), lower, flags=("fast",))
            more = by.times(by.read(near, first, width=wide), upper, more)
            if not of_each:
                more = by.taken(more, more.type(None), spread)
            cover = by.taken(value, lanes(by.ir.Undefined), covers)
            made = by.held(by.times(more, cover, value), lanes([0.0] * LANES), cover)
            by.write(made, out, builder.add(at, start))

    return build


_ADD = "void(float32[::1], {}[::1], int64, float32[::1], float32[::1], float32, float32, int64)"
_ADDS = [_ADD.format(kind) for kind in ("uint8", "float32")]

_add_tone = Lanes(_adding(False), *_ADDS)
"""(out, pixels, at, near, far, upper, lower, count): out[at …] = `count` px of four channels, a whole number of fours,
with noise added to their colours, a number for each px: (near · upper + far · lower) · its coverage. All of it is
held within 0 … its coverage."""

_add_tones = Lanes(_adding(True), *_ADDS)
"""The same with four numbers of noise for each px, the fourth of them 0."""


_ALONG = "int32[::1], float32[::1], float32[::1]"


@kernel("void(float32[:,::1], int64, float32[::1], float32[::1], int64, int64, int32[::1], float32[::1], float32[::1])")
def _across(field, row, line, made, k, told, columns, before, after):
    """A row of the field at places between its samples, as the k-th of so many numbers for each px."""
    side, of = field.shape[1], field[row]
    for x in range(side):
        line[x] = of[x]
    # One more than the side, so that what is right of the last is the first.
    line[side] = line[0]
    for x in range(np.uint64(len(columns))):
        i = np.uint32(columns[x])
        made[x * np.uint64(told) + np.uint64(k)] = line[i] * before[x] + line[i + np.uint32(1)] * after[x]


@kernel(
    f"void(uint8[:,:,::1], float32[:,:,::1], float32[:,:,::1], {_ALONG}, {_ALONG})",
    f"void(float32[:,:,::1], float32[:,:,::1], float32[:,:,::1], {_ALONG}, {_ALONG})",
    fastmath=True,
)
def _add(pixels, out, field, columns, before, after, rows, above, below):
    side, width, channels = field.shape[1], pixels.shape[1], field.shape[0]
    # Of three tones there are four numbers to a px, the last of them 0.
    whole, told = width // 4 * 4, 1 if channels == 1 else 4
    line, made = np.empty(side + 1, np.float32), np.zeros((2, width * told), np.float32)
    of, into = pixels.reshape(-1), out.reshape(-1)
    # The rows of the field around a row of the picture; most often the next one lies between one of them and another.
    near, far, held = 0, 1, np.full(2, -1)
    for y in range(pixels.shape[0]):
        first = np.int64(rows[y])
        second = first + 1 if first + 1 < side else np.int64(0)
        if held[far] == first:
            near, far = far, near
        for place, wanted in ((near, first), (far, second)):
            if held[place] != wanted:
                held[place] = wanted
                for k in range(channels):
                    _across(field[k], wanted, line, made[place], k, told, columns, before, after)
        upper, lower, start = above[y], below[y], y * width * 4
        if told == 1:
            _add_tone(into, of, start, made[near], made[far], upper, lower, whole)
        else:
            _add_tones(into, of, start, made[near], made[far], upper, lower, whole)
        for x in range(whole, width):
            cover = np.float32(pixels[y, x, 3])
            out[y, x, 3] = cover
            for k in range(3):
                at = x * told + (k if told > 1 else 0)
                more = (made[near, at] * upper + made[far, at] * lower) * cover
                out[y, x, k] = min(max(np.float32(pixels[y, x, k]) + more, np.float32(0)), cover)


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
