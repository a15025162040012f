"""Light: encoded values to amounts of light and back, by the display gamma of ITU-R BT.1886 (2.4, black at 0)."""

from __future__ import annotations

import numpy as np

from .kernel import kernel
from .patch import Patch
from .power import raised

GAMMA = 2.4

_TO_LIGHT, _TO_CODE = np.float32(GAMMA), np.float32(1 / GAMMA)

_LEAST = 1e-5
"""Coverage, a share or a code value, below which there is no colour to be told: a division would make one up."""


@kernel("void(uint8[:,:,::1], float32[:,:,::1])", "void(float32[:,:,::1], float32[:,:,::1])", fastmath=True)
def _to_light(pixels, out):
    to, one, zero = np.float32(1 / 255), np.float32(1), np.float32(0)
    width = pixels.shape[1]
    for y in range(pixels.shape[0]):
        row, into = pixels[y], out[y]
        least = np.float32(255)
        for x in range(width):
            least = min(least, np.float32(row[x, 3]))
        if least == np.float32(255):
            # Coverage of 1 stays 1, so that a whole row is one run of numbers.
            given, made = row.reshape(4 * width), into.reshape(4 * width)
            for i in range(4 * width):
                made[i] = np.float32(given[i]) * to
            raised(made, _TO_LIGHT)
            continue
        for x in range(width):
            cover = np.float32(row[x, 3])
            by = one / cover if cover >= _LEAST else zero
            for c in range(4):
                into[x, c] = min(np.float32(row[x, c]) * by, one)
        raised(into.reshape(4 * width), _TO_LIGHT)
        for x in range(width):
            cover = np.float32(row[x, 3]) * to
            for c in range(4):
                into[x, c] *= cover


def light_of(patch: Patch) -> np.ndarray:
    """(h, w, 4) float32 light times coverage, and coverage, of a patch's own pixels (its opacity left aside)."""
    if patch.colour is not None:
        cover = patch.pixels.astype(np.float32) * np.float32(1 / 255)
        return cover[..., None] * np.append(as_light(patch.colour), np.float32(1))
    out = np.empty(patch.pixels.shape, np.float32)
    _to_light(np.ascontiguousarray(patch.pixels), out)
    return out


@kernel("void(float32[:,:,::1])", fastmath=True)
def _to_code(light):
    width = light.shape[1]
    one, zero, full = np.float32(1), np.float32(0), np.float32(255)
    cover = np.empty(width, np.float32)
    for y in range(light.shape[0]):
        row = light[y]
        least = one
        for x in range(width):
            least = min(least, row[x, 3])
        if least >= one - np.float32(1e-6):
            numbers = row.reshape(4 * width)
            for i in range(4 * width):
                numbers[i] = min(max(numbers[i], zero), one)
            raised(numbers, _TO_CODE)
            for i in range(4 * width):
                numbers[i] *= full
            continue
        for x in range(width):
            cover[x] = min(max(row[x, 3], zero), one)
            by = one / row[x, 3] if row[x, 3] > _LEAST else zero
            for c in range(4):
                row[x, c] = min(max(row[x, c] * by, zero), one)
        raised(row.reshape(4 * width), _TO_CODE)
        for x in range(width):
            for c in range(4):
                row[x, c] *= full * cover[x]


def code_of(light: np.ndarray) -> np.ndarray:
    """(h, w, 4) float32 premultiplied code values of light times coverage, and coverage (see `light_of`); `light` is
    written over."""
    _to_code(light)
    return light


@kernel("void(float32[:,:,::1], float32, float32, float32[:,:,::1])", fastmath=True)
def _bright(light, threshold, soft, out):
    width = light.shape[1]
    seen = np.empty(width, np.float32)
    for y in range(light.shape[0]):
        row, into = light[y], out[y]
        for x in range(width):
            whole = np.float32(0.2126) * row[x, 0] + np.float32(0.7152) * row[x, 1] + np.float32(0.0722) * row[x, 2]
            seen[x] = whole / row[x, 3] if row[x, 3] > _LEAST else np.float32(0)
        raised(seen, _TO_CODE)
        for x in range(width):
            part = min(max((seen[x] - threshold) / soft, np.float32(0)), np.float32(1))
            part = part * part * (np.float32(3) - np.float32(2) * part)
            for c in range(4):
                into[x, c] = row[x, c] * part


def bright(light: np.ndarray, threshold: float, soft: float) -> np.ndarray:
    """(h, w, 4) float32: what of the light, and of the coverage, is bright enough.

    None of it below the threshold, all of it `soft` above, by a smooth step; both are encoded luminances 0..1.
    """
    out = np.empty_like(light)
    _bright(light, threshold, soft, out)
    return out


@kernel("void(float32[:,:,::1], float32[:,:,::1], int64, int64, int64, float32, float32)", fastmath=True)
def _shine(light, glow, left, top, where, kept, screened):
    width = light.shape[1]
    lit, around = np.empty((width, 4), np.float32), np.empty((width, 4), np.float32)
    zero, one, full = np.float32(0), np.float32(1), np.float32(255)
    outward, inward = np.float32(where != 2), np.float32(where != 1)
    for y in range(light.shape[0]):
        row, more = light[y], glow[top + y, left : left + width]
        least = one
        for x in range(width):
            least = min(least, row[x, 3])
        if least * kept == one:
            # Coverage stays 1 by either way of mixing, so that a whole row is one run of numbers.
            own, added, made = row.reshape(4 * width), more.reshape(4 * width), lit.reshape(4 * width)
            for i in range(4 * width):
                g = added[i] * inward
                made[i] = min(own[i] + g - screened * own[i] * g, one)
            raised(made, _TO_CODE)
            for i in range(4 * width):
                own[i] = full * made[i]
            continue
        for x in range(width):
            cover = row[x, 3]
            by = one / cover if cover > _LEAST else zero
            for c in range(4):
                own_light, g = row[x, c] * by, more[x, c] * inward
                lit[x, c] = min(own_light + g - screened * own_light * g, one)
        raised(lit.reshape(4 * width), _TO_CODE)
        for x in range(width):
            for c in range(4):
                around[x, c] = min(more[x, c], one)
        raised(around.reshape(4 * width), _TO_CODE)
        for x in range(width):
            inside = row[x, 3] * kept
            outside = (one - inside) * outward
            # Light over nothing covers as much as it is bright.
            most = max(max(around[x, 0], around[x, 1]), around[x, 2])
            for c in range(3):
                row[x, c] = full * (lit[x, c] * inside + around[x, c] * outside)
            row[x, 3] = full * (inside + most * outside)


def shone(light: np.ndarray, glow: np.ndarray, place: tuple[int, int], lights: str, screened: bool) -> np.ndarray:
    """(h, w, 4) float32 premultiplied code values of light and a glow together; `light` is written over.

    The glow may be larger; `place` says where in it the light begins, across and down. `lights` is "all around",
    "outside only", "inside only", or "alone" for the glow by itself.
    """
    where = {"outside only": 1, "inside only": 2}.get(lights, 0)
    _shine(light, glow, *place, where, 0.0 if lights == "alone" else 1.0, float(screened))
    return light


@kernel("void(float32[:,:,::1], float32[:,:,::1])", fastmath=True)
def _screened(light, more):
    width = light.shape[1]
    one, zero = np.float32(1), np.float32(0)
    cover = np.empty(width, np.float32)
    for y in range(light.shape[0]):
        row, over = light[y], more[y]
        for x in range(width):
            cover[x] = row[x, 3]
            by = one / cover[x] if cover[x] > _LEAST else zero
            for c in range(3):
                own, g = row[x, c] * by, min(over[x, c], one)
                row[x, c] = min(own + g - own * g, one)
            row[x, 3] = one
        raised(row.reshape(4 * width), _TO_CODE)
        for x in range(width):
            for c in range(4):
                row[x, c] *= np.float32(255) * cover[x]


def screened(light: np.ndarray, more: np.ndarray) -> np.ndarray:
    """(h, w, 4) float32 premultiplied code values of light with (h, w, 3) more light screened over what is there;
    `light` is written over."""
    _screened(light, np.ascontiguousarray(more, np.float32))
    return light


def as_light(colour: tuple[int, int, int]) -> np.ndarray:
    """(3,) float32 light of a colour of 8-bit code values."""
    return ((np.asarray(colour, np.float64) / 255) ** GAMMA).astype(np.float32)
