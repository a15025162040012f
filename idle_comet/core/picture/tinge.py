"""Colour laid into pixels, px by px, as far as a share says, on premultiplied code values."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from .blend import deepened
from .grade import LUMA
from .kernel import kernel, own
from .patch import Patch

_RED, _GREEN, _BLUE = (np.float32(each) for each in LUMA)


_TINGE = "void({}[:,:,::1], float32[:,::1], float32, float32, float32, float32[:,:,::1])"


@kernel(_TINGE.format("uint8"), _TINGE.format("float32"), fastmath=True)
def _tinge(pixels, share, red, green, blue, out):
    by, one, two, three = np.float32(1 / 255), np.uint64(1), np.uint64(2), np.uint64(3)
    for y in range(pixels.shape[0]):
        # A row as one run of numbers: many px are done at a time.
        of, to, parts = pixels[y].reshape(-1), out[y].reshape(-1), share[y]
        for x in range(np.uint64(share.shape[1])):
            at, part = x * np.uint64(4), parts[x]
            r, g, b, cover = (
                np.float32(of[at]),
                np.float32(of[at + one]),
                np.float32(of[at + two]),
                np.float32(of[at + three]),
            )
            much = cover * by
            to[at], to[at + one] = r + (red * much - r) * part, g + (green * much - g) * part
            to[at + two], to[at + three] = b + (blue * much - b) * part, cover


def tinged(patch: Patch, share: np.ndarray, colour: tuple[int, int, int]) -> Patch:
    """A patch that takes on one colour by a (h, w) share."""
    pixels = own(patch.pixels) if patch.colour is None else deepened(patch)
    out = np.empty(pixels.shape, np.float32)
    _tinge(pixels, np.ascontiguousarray(share, np.float32), *colour, out)
    return replace(patch, pixels=out, colour=None)


@kernel("void(float32[:,:,::1], float32[:,::1], float32[::1], float32[::1], float32)", fastmath=True)
def _ramp(pixels, place, first, second, strength):
    for y in range(pixels.shape[0]):
        for x in range(pixels.shape[1]):
            s, cover = place[y, x], pixels[y, x, 3] * np.float32(1 / 255)
            for c in range(3):
                filled = (first[c] + (second[c] - first[c]) * s) * cover
                pixels[y, x, c] += (filled - pixels[y, x, c]) * strength


def ramp(
    pixels: np.ndarray, place: np.ndarray, first: tuple[int, int, int], second: tuple[int, int, int], strength: float
) -> None:
    """Pixels take on what lies between two colours at their (h, w) place 0..1, by a strength."""
    ends = (np.asarray(each, np.float32) for each in (first, second))
    _ramp(pixels, np.ascontiguousarray(place, np.float32), *ends, np.float32(strength))


@kernel("void(float32[:,:,::1], float32[:,:,::1])", fastmath=True)
def _brighten(pixels, by):
    for y in range(pixels.shape[0]):
        for x in range(pixels.shape[1]):
            cover = pixels[y, x, 3]
            for c in range(3):
                pixels[y, x, c] = min(pixels[y, x, c] * by[y, x, c], cover)


def brighten(pixels: np.ndarray, by: np.ndarray) -> None:
    """Pixels times a (h, w, 3) factor, cut at white."""
    _brighten(pixels, np.ascontiguousarray(by, np.float32))


@kernel("void(float32[:,:,::1], float32[:,:,::1], float32, float32)", fastmath=True)
def _sharpen(pixels, soft, amount, threshold):
    for y in range(pixels.shape[0]):
        for x in range(pixels.shape[1]):
            cover = pixels[y, x, 3]
            by = cover / max(soft[y, x, 3], np.float32(1e-3))
            for c in range(3):
                more = pixels[y, x, c] - soft[y, x, c] * by
                over = max(abs(more) - threshold, np.float32(0))
                made = pixels[y, x, c] + (over if more > 0 else -over) * amount
                pixels[y, x, c] = min(max(made, np.float32(0)), cover)


def unsharp(pixels: np.ndarray, soft: np.ndarray, amount: float, threshold: float) -> None:
    """Pixels move away from a soft version of themselves, by what they differ beyond a threshold. Past the ink's edge
    there is nothing to compare with: colours are compared, not how much there is of them."""
    _sharpen(pixels, np.ascontiguousarray(soft, np.float32), np.float32(amount), np.float32(threshold))
