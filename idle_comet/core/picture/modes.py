"""Blend modes (W3C Compositing and Blending Level 1, §10), on encoded values."""

from __future__ import annotations

from typing import Literal

import numpy as np

from .blend import over
from .kernel import kernel, own
from .patch import Patch, place_of

Mode = Literal[
    "normal",
    "multiply",
    "screen",
    "overlay",
    "darken",
    "lighten",
    "colour-dodge",
    "colour-burn",
    "hard-light",
    "soft-light",
    "difference",
    "exclusion",
    "hue",
    "saturation",
    "colour",
    "luminosity",
    "add",
]
"""As in the W3C standard; "add" is its plus-lighter."""

MODES: tuple[Mode, ...] = Mode.__args__  # type: ignore[attr-defined]


@kernel("float32(int64, float32, float32)")
def _one(mode, b, s):
    """B(cb, cs) of a separable mode, 0..1."""
    if mode == 1:
        return b * s
    if mode == 2:
        return b + s - b * s
    if mode == 3:  # overlay is hard light with the layers swapped
        return 2 * b * s if b <= 0.5 else np.float32(1) - 2 * (1 - b) * (1 - s)
    if mode == 4:
        return min(b, s)
    if mode == 5:
        return max(b, s)
    if mode == 6:
        return np.float32(0) if b <= 0 else np.float32(1) if s >= 1 else min(np.float32(1), b / (1 - s))
    if mode == 7:
        return np.float32(1) if b >= 1 else np.float32(0) if s <= 0 else 1 - min(np.float32(1), (1 - b) / s)
    if mode == 8:
        return 2 * b * s if s <= 0.5 else np.float32(1) - 2 * (1 - b) * (1 - s)
    if mode == 9:
        if s <= 0.5:
            return b - (1 - 2 * s) * b * (1 - b)
        d = ((16 * b - 12) * b + 4) * b if b <= 0.25 else np.sqrt(b)
        return b + (2 * s - 1) * (d - b)
    if mode == 10:
        return abs(b - s)
    if mode == 11:
        return b + s - 2 * b * s
    return s


@kernel("float32(float32, float32, float32)")
def _lum(r, g, b):
    return np.float32(0.3) * r + np.float32(0.59) * g + np.float32(0.11) * b


@kernel("UniTuple(float32, 3)(float32, float32, float32, float32)")
def _set_lum(r, g, b, lum):
    by = lum - _lum(r, g, b)
    r, g, b = r + by, g + by, b + by
    low, high, at = min(r, g, b), max(r, g, b), _lum(r, g, b)
    if low < 0:
        part = at / (at - low)
        r, g, b = at + (r - at) * part, at + (g - at) * part, at + (b - at) * part
    if high > 1:
        part = (1 - at) / (high - at)
        r, g, b = at + (r - at) * part, at + (g - at) * part, at + (b - at) * part
    return np.float32(r), np.float32(g), np.float32(b)


@kernel("UniTuple(float32, 3)(float32, float32, float32, float32)")
def _set_sat(r, g, b, sat):
    low, high = min(r, g, b), max(r, g, b)
    if high <= low:
        return np.float32(0), np.float32(0), np.float32(0)
    part = sat / (high - low)
    return np.float32((r - low) * part), np.float32((g - low) * part), np.float32((b - low) * part)


@kernel("UniTuple(float32, 3)(int64, float32, float32, float32, float32, float32, float32)")
def _three(mode, br, bg, bb, sr, sg, sb):
    """B(Cb, Cs) of a mode that looks at all three channels."""
    if mode == 12:
        r, g, b = _set_sat(sr, sg, sb, max(br, bg, bb) - min(br, bg, bb))
        return _set_lum(r, g, b, _lum(br, bg, bb))
    if mode == 13:
        r, g, b = _set_sat(br, bg, bb, max(sr, sg, sb) - min(sr, sg, sb))
        return _set_lum(r, g, b, _lum(br, bg, bb))
    if mode == 14:
        return _set_lum(sr, sg, sb, _lum(br, bg, bb))
    return _set_lum(br, bg, bb, _lum(sr, sg, sb))


_BLEND = "void(float32[:,:,::1], {}[:,:,::1], int64, int64, int64, int64, int64, int64, float32, int64)"


@kernel(_BLEND.format("uint8"), _BLEND.format("float32"))
def _blend(into, source, x, y, left, top, width, height, opacity, mode):
    for row in range(height):
        to, of = into[y + row, x : x + width], source[top + row, left : left + width]
        for column in range(width):
            alpha = of[column, 3] * opacity / np.float32(255)
            if alpha <= 0:
                continue
            under = to[column, 3] / np.float32(255)
            if mode == 16:
                for channel in range(4):
                    to[column, channel] = min(np.float32(255), of[column, channel] * opacity + to[column, channel])
                continue
            s0, s1, s2 = (
                of[column, 0] * opacity / 255 / alpha,
                of[column, 1] * opacity / 255 / alpha,
                of[column, 2] * opacity / 255 / alpha,
            )
            b0, b1, b2 = np.float32(0), np.float32(0), np.float32(0)
            if under > 0:
                b0, b1, b2 = to[column, 0] / 255 / under, to[column, 1] / 255 / under, to[column, 2] / 255 / under
            if mode >= 12:
                r, g, b = _three(mode, b0, b1, b2, s0, s1, s2)
            else:
                r, g, b = _one(mode, b0, s0), _one(mode, b1, s1), _one(mode, b2, s2)
            # Co = αs(1 − αb)Cs + αsαb·B + (1 − αs)αb·Cb
            keep = 1 - alpha
            to[column, 0] = 255 * (alpha * (1 - under) * s0 + alpha * under * r) + keep * to[column, 0]
            to[column, 1] = 255 * (alpha * (1 - under) * s1 + alpha * under * g) + keep * to[column, 1]
            to[column, 2] = 255 * (alpha * (1 - under) * s2 + alpha * under * b) + keep * to[column, 2]
            to[column, 3] = 255 * alpha + keep * to[column, 3]


_PRODUCT = "void(float32[:,:,::1], {}[:,:,::1], int64, int64, int64, int64, int64, int64, float32, boolean)"


@kernel(_PRODUCT.format("uint8"), _PRODUCT.format("float32"), fastmath=True)
def _product(into, source, x, y, left, top, width, height, opacity, screened):
    """Multiply and screen, which need no division: with premultiplied colours cs and cb they are
    cs(1 − αb) + cb(1 − αs) + cs·cb, and cs + cb − cs·cb."""
    by, one, two, three = np.float32(1 / 255), np.uint64(1), np.uint64(2), np.uint64(3)
    for row in range(height):
        # A row as one run of numbers: many px are done at a time.
        to, of = into[y + row, x : x + width].reshape(-1), source[top + row, left : left + width].reshape(-1)
        for column in range(np.uint64(width)):
            at = column * np.uint64(4)
            s0, s1, s2, alpha = (
                of[at] * opacity,
                of[at + one] * opacity,
                of[at + two] * opacity,
                of[at + three] * opacity,
            )
            b0, b1, b2, under = to[at], to[at + one], to[at + two], to[at + three]
            if screened:
                to[at], to[at + one], to[at + two] = (
                    s0 + b0 - s0 * b0 * by,
                    s1 + b1 - s1 * b1 * by,
                    s2 + b2 - s2 * b2 * by,
                )
            else:
                to[at] = s0 + b0 + (s0 * b0 - s0 * under - b0 * alpha) * by
                to[at + one] = s1 + b1 + (s1 * b1 - s1 * under - b1 * alpha) * by
                to[at + two] = s2 + b2 + (s2 * b2 - s2 * under - b2 * alpha) * by
            to[at + three] = alpha + under - alpha * under * by


def blend(into: np.ndarray, patch: Patch, mode: Mode) -> None:
    """Blend a patch into premultiplied (h, w, 4) float32 code values in place, by a mode; what lies outside is cut."""
    if mode == "normal":
        return over(into, patch)
    place = place_of(patch, into.shape[1], into.shape[0])
    opacity = min(1.0, max(0.0, patch.opacity))
    if place is None or opacity == 0:
        return
    pixels = own(patch.pixels)
    if patch.colour is not None:
        # Only what lies in the picture, which may be a band of it.
        x, y, left, top, width, height = place
        pixels, place = np.zeros((height, width, 4), np.float32), (x, y, 0, 0, width, height)
        over(pixels, Patch(patch.pixels, -left, -top, patch.colour))
    if mode in ("multiply", "screen"):
        _product(into, pixels, *place, opacity, mode == "screen")
    else:
        _blend(into, pixels, *place, opacity, MODES.index(mode))
