"""Grading: a curve for each channel and a matrix over the three, on encoded values of what is there."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from .blend import deepened
from .kernel import kernel
from .patch import Patch

FINE = 1024
"""Even steps of 0..1 at which a curve is told; between two of them it is straight."""

LUMA = (0.2126, 0.7152, 0.0722)
"""Weights of red, green and blue in how bright a colour is (ITU-R BT.709)."""


@kernel("void(float32[:,:,::1], float32[:,::1], float32[:,::1])", fastmath=True)
def _grade(pixels, curves, matrix):
    last = np.int32(curves.shape[1] - 1)
    for y in range(pixels.shape[0]):
        row = pixels[y]
        for x in range(pixels.shape[1]):
            cover = row[x, 3]
            # With next to nothing there is no colour to be told.
            if cover < 1e-5:
                continue
            to = np.float32(last) / cover
            at = row[x, 0] * to
            i = min(max(np.int32(at), np.int32(0)), last - 1)
            r = curves[0, i] + (curves[0, i + 1] - curves[0, i]) * (at - np.float32(i))
            at = row[x, 1] * to
            i = min(max(np.int32(at), np.int32(0)), last - 1)
            g = curves[1, i] + (curves[1, i + 1] - curves[1, i]) * (at - np.float32(i))
            at = row[x, 2] * to
            i = min(max(np.int32(at), np.int32(0)), last - 1)
            b = curves[2, i] + (curves[2, i + 1] - curves[2, i]) * (at - np.float32(i))
            for c in range(3):
                made = matrix[c, 0] * r + matrix[c, 1] * g + matrix[c, 2] * b + matrix[c, 3]
                row[x, c] = min(max(made, np.float32(0)), np.float32(1)) * cover


@kernel("float32(float32[:,::1], int64, float32)", fastmath=True)
def _between(curves, channel, at):
    i = min(max(np.int32(at), np.int32(0)), np.int32(curves.shape[1] - 2))
    return curves[channel, i] + (curves[channel, i + 1] - curves[channel, i]) * (at - np.float32(i))


@kernel("void(uint8[:,:,::1], float32[:,::1], float32[:,::1], float32[:,::1], float32[:,:,::1])", fastmath=True)
def _grade_bytes(pixels, told, curves, matrix, out):
    """The same of 8-bit px: for those that cover, the curves are told at each of their 256 values."""
    for y in range(pixels.shape[0]):
        row, into = pixels[y], out[y]
        for x in range(pixels.shape[1]):
            cover = row[x, 3]
            if cover == 255:
                r, g, b = told[0, row[x, 0]], told[1, row[x, 1]], told[2, row[x, 2]]
            elif cover == 0:
                into[x, 0] = into[x, 1] = into[x, 2] = into[x, 3] = np.float32(0)
                continue
            else:
                to = np.float32(curves.shape[1] - 1) / np.float32(cover)
                r = _between(curves, 0, np.float32(row[x, 0]) * to)
                g = _between(curves, 1, np.float32(row[x, 1]) * to)
                b = _between(curves, 2, np.float32(row[x, 2]) * to)
            whole = np.float32(cover)
            for c in range(3):
                made = matrix[c, 0] * r + matrix[c, 1] * g + matrix[c, 2] * b + matrix[c, 3]
                into[x, c] = min(max(made, np.float32(0)), np.float32(1)) * whole
            into[x, 3] = whole


def steps_of_tone() -> np.ndarray:
    """(1025,) float64: the values at which a curve is told."""
    return np.linspace(0, 1, FINE + 1)


def graded(patch: Patch, curves: np.ndarray, matrix: np.ndarray | None = None) -> Patch:
    """The patch with (3, 1025) curves done to its colours 0..1, then a (3, 4) matrix whose last column is added."""
    if patch.rect.empty:
        return patch
    whole = np.eye(3, 4) if matrix is None else matrix
    if patch.pixels.dtype == np.uint8 and patch.colour is None:
        bytes_of = np.linspace(0, 1, 256)
        told = np.stack([np.interp(bytes_of, steps_of_tone(), curve) for curve in curves])
        out = np.empty(patch.pixels.shape, np.float32)
        tables = (np.ascontiguousarray(each, np.float32) for each in (told, curves, whole))
        _grade_bytes(np.ascontiguousarray(patch.pixels), *tables, out)
        return replace(patch, pixels=out)
    pixels = deepened(patch)
    _grade(pixels, np.ascontiguousarray(curves, np.float32), np.ascontiguousarray(whole, np.float32))
    return replace(patch, pixels=pixels, colour=None)


def saturating(by: float) -> np.ndarray:
    """(3, 3): colours drawn towards their own grey (0), left (1) or away from it; the luminance stays (W3C Filter
    Effects, `saturate`, with the weights of BT.709)."""
    return by * np.eye(3) + (1 - by) * np.tile(LUMA, (3, 1))
