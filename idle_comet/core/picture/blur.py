"""Gaussian blur at any radius, smooth in the radius and true to the sub-pixel."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Sequence

import cv2
import numpy as np

from .kernel import kernel
from .patch import NOWHERE, Patch, Rect

_LEAST = 0.05
"""A standard deviation, in px, below which a blur changes nothing that is seen."""


def reach(sigma: float) -> float:
    """How far a blur of this standard deviation carries ink, in px: 3.2 σ holds all but 1 in 1000."""
    return 3.2 * sigma + 1


_LIT = 4.6
"""Standard deviations past which light that is blurred is less than a code value: encoded, a thousandth of white is 14
of them."""


def light_reach(sigma: float) -> float:
    """How far a blur of this standard deviation carries light that is seen, in px."""
    return _LIT * sigma + 1


def gaussian_blur(
    pixels: np.ndarray, sigma: float, border: int = cv2.BORDER_CONSTANT, x: int = 0, y: int = 0
) -> np.ndarray:
    """Blur (h, w) or (h, w, 4) code values, uint8 or float32, by a standard deviation in px: float32 of the same size.

    Above 6 px the blur is done on the mean of k×k blocks, k the largest power of two
    with σ/k ≥ 3. The block mean and the linear enlargement are blurs themselves, with
    variances (k² − 1)/12 and k²/6, which are taken off what is left to do. Blocks begin at
    multiples of k from a corner that lies at (−x, −y), so that parts of one picture have the same.
    """
    if sigma < _LEAST or pixels.size == 0:
        return pixels.astype(np.float32)
    k = 1
    while sigma / (2 * k) >= 3:
        k *= 2
    if k == 1:
        size = 2 * math.ceil(3.6 * sigma) + 1
        return cv2.GaussianBlur(pixels.astype(np.float32, copy=False), (size, size), sigma, borderType=border)
    height, width = pixels.shape[:2]
    small = math.sqrt(sigma**2 - (k * k - 1) / 12 - k * k / 6) / k
    # A block of padding on every side, so that the enlargement never meets its own border.
    room = 2 * k
    left, top = room + x % k, room + y % k
    padded = cv2.copyMakeBorder(
        pixels, top, room + -(top + height) % k, left, room + -(left + width) % k, border, value=0
    )
    fewer = (padded.shape[1] // k, padded.shape[0] // k)
    little = cv2.resize(padded.astype(np.float32, copy=False), fewer, interpolation=cv2.INTER_AREA)
    kernel = 2 * math.ceil(3.6 * small) + 1
    little = cv2.GaussianBlur(little, (kernel, kernel), small, borderType=border)
    large = cv2.resize(little, (padded.shape[1], padded.shape[0]), interpolation=cv2.INTER_LINEAR)
    return np.ascontiguousarray(large[top : top + height, left : left + width])


@kernel("void(float32[:,:,::1], float32[:,:,::1], int64, int64, boolean)", fastmath=True)
def _halve(pixels, out, left, top, goes_on):
    height, width = pixels.shape[0], pixels.shape[1]
    share, none = np.float32(0.25), np.float32(0)
    first, last = (left + 1) // 2, min((left + width) // 2, out.shape[1])
    for y in range(out.shape[0]):
        into = out[y]
        above, below = 2 * y - top, 2 * y - top + 1
        if not goes_on and (below < 0 or above >= height):
            into[:] = none
            continue
        one, two = pixels[min(max(above, 0), height - 1)], pixels[min(max(below, 0), height - 1)]
        upper = share if goes_on or 0 <= above < height else none
        lower = share if goes_on or 0 <= below < height else none
        begin = 2 * first - left
        a, b = one[begin : begin + 2 * (last - first)], two[begin : begin + 2 * (last - first)]
        inner = into[first:last]
        for x in range(last - first):
            for c in range(4):
                inner[x, c] = (a[2 * x, c] + a[2 * x + 1, c]) * upper + (b[2 * x, c] + b[2 * x + 1, c]) * lower
        for x in range(out.shape[1]):
            if first <= x < last:
                continue
            for c in range(4):
                into[x, c] = none
            for at in (2 * x - left, 2 * x - left + 1):
                if goes_on or 0 <= at < width:
                    held = min(max(at, 0), width - 1)
                    for c in range(4):
                        into[x, c] += one[held, c] * upper + two[held, c] * lower


def octaves(
    pixels: np.ndarray, widest: float, weights: Sequence[float | np.ndarray], goes_on: bool, x: int = 0, y: int = 0
) -> tuple[np.ndarray, tuple[int, int]]:
    """A weighted sum of Gaussians of (h, w, 4) float32, each half as wide as the one before, and where in it the px
    begin, across and down: there is room around them, which holds nothing of use.

    Each is done where a px is so large that it leaves a standard deviation of about half a px to be done (the means of
    blocks and the linear enlargement are taken off, as in `gaussian_blur`), and added on the way back up: all of them
    together cost little more than the narrowest. A weight may be a (4, 4) matrix over the channels. Past the border the
    px go on or are nothing. Blocks begin at (−x, −y).
    """
    height, width = pixels.shape[:2]
    border = cv2.BORDER_REPLICATE if goes_on else cv2.BORDER_CONSTANT
    deviations = [widest / 2**octave for octave in range(len(weights))]
    # Blocks larger than this save nothing more, and would need as much room around.
    levels = [min(5, math.floor(math.log2(max(1.0, each / 0.75)))) for each in deviations]
    block = 2 ** max(levels)
    room = 2 * block
    left, top = room + x % block, room + y % block
    across, down = (room + -(before + size) % block for before, size in ((left, width), (top, height)))
    if min(levels) > 0:
        level = np.empty(((top + height + down) // 2, (left + width + across) // 2, 4), np.float32)
        _halve(pixels, level, left, top, goes_on)
        means = [pixels, level]
    else:
        level = cv2.copyMakeBorder(pixels, top, down, left, across, border, value=0)
        means = [level]
    while len(means) <= max(levels):
        level = cv2.resize(level, (level.shape[1] // 2, level.shape[0] // 2), interpolation=cv2.INTER_AREA)
        means.append(level)
    total: np.ndarray | None = None
    for at in range(max(levels), min(levels) - 1, -1):
        seen = means[at]
        if total is not None:
            total = cv2.resize(total, (seen.shape[1], seen.shape[0]), interpolation=cv2.INTER_LINEAR)
        for deviation, own, weight in zip(deviations, levels, weights):
            if own != at:
                continue
            k = 2**at
            left_over = deviation**2 - (k * k - 1) / 12 - (k * k / 6 if at else 0)
            sigma = math.sqrt(max(left_over, 0.0)) / k
            size = 2 * math.ceil(_LIT * max(sigma, 0.3)) + 1
            part = cv2.GaussianBlur(seen, (size, size), sigma, borderType=border) if sigma > _LEAST else seen
            if isinstance(weight, np.ndarray):
                part, weight = cv2.transform(part, weight), 1.0
            total = part * np.float32(weight) if total is None else cv2.scaleAdd(part, weight, total)
    assert total is not None
    for _ in range(min(levels)):
        total = cv2.resize(total, (2 * total.shape[1], 2 * total.shape[0]), interpolation=cv2.INTER_LINEAR)
    return total, (left, top)


def blur_patch(patch: Patch, sigma: float, window: Rect | None = None) -> Patch:
    """The patch blurred, grown to hold what spreads and cut to the window of what is needed.

    At sides where it extends it goes on as it is at its border, and does not grow.
    """
    if sigma < _LEAST or patch.pixels.size == 0:
        return patch
    if patch.extends.everywhere:
        return replace(patch, pixels=gaussian_blur(patch.pixels, sigma, cv2.BORDER_REPLICATE, patch.x, patch.y))
    room = math.ceil(reach(sigma))
    if any(patch.extends):
        own = patch.rect
        carried = _carried_on(patch, min(room, 2 * max(patch.width, patch.height)))
        spread_on = blur_patch(carried, sigma, window)
        on = patch.extends
        within = Rect(
            own.x0 if on.left else -math.inf,
            own.y0 if on.top else -math.inf,
            own.x1 if on.right else math.inf,
            own.y1 if on.bottom else math.inf,
        )
        return replace(spread_on.cut(within), extends=patch.extends)
    spread = patch.rect.grown(room)
    wanted = spread.meets(Rect(*window.whole())) if window else spread
    if wanted.empty:
        return Patch.empty()
    # Ink further than `room` from what is wanted can't reach it.
    held = patch.rect.meets(wanted.grown(room))
    area = wanted.union(held)
    x0, y0, x1, y1 = (int(edge) for edge in area)
    cut = patch.pixels[int(held.y0) - patch.y : int(held.y1) - patch.y, int(held.x0) - patch.x : int(held.x1) - patch.x]
    padded = cv2.copyMakeBorder(
        cut, int(held.y0) - y0, y1 - int(held.y1), int(held.x0) - x0, x1 - int(held.x1), cv2.BORDER_CONSTANT, value=0
    )
    blurred = gaussian_blur(padded, sigma, x=x0, y=y0)
    left, top = int(wanted.x0), int(wanted.y0)
    pixels = blurred[top - y0 : int(wanted.y1) - y0, left - x0 : int(wanted.x1) - x0]
    return replace(patch, pixels=np.ascontiguousarray(pixels), x=left, y=top)


def _carried_on(patch: Patch, room: int) -> Patch:
    """The patch with its border repeated `room` px outwards where it extends."""
    left, top, right, bottom = (room * side for side in patch.extends)
    pixels = cv2.copyMakeBorder(patch.pixels, top, bottom, left, right, cv2.BORDER_REPLICATE)
    return replace(patch, pixels=pixels, x=patch.x - left, y=patch.y - top, extends=NOWHERE)
