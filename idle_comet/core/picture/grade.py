"""Grading: a curve for each channel between two matrices over the three, on encoded values of what is there."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Sequence

import numpy as np

from .blend import deepened
from .kernel import kernel
from .patch import Patch

FINE = 1024
"""Even steps of 0..1 at which a curve is told; between two of them it is straight."""

LUMA = (0.2126, 0.7152, 0.0722)
"""Weights of red, green and blue in how bright a colour is (ITU-R BT.709)."""


@dataclass(frozen=True)
class Grading:
    """What becomes of encoded colours 0..1: a (3, 4) matrix, a curve for each channel, another matrix; by a share.

    `curves` is (3, 1025), told at even steps (`steps_of_tone`). The last column of a matrix is added. What is None
    changes nothing."""

    curves: np.ndarray | None = None
    after: np.ndarray | None = None
    before: np.ndarray | None = None
    share: float = 1.0


@kernel("void(float32[:,::1], float32[:,::1])", fastmath=True)
def _by_matrix(rows, matrix):
    # Told apart from the rows, so that they are not read anew for every px.
    a, b, c, d = matrix[0, 0], matrix[0, 1], matrix[0, 2], matrix[0, 3]
    e, f, g, h = matrix[1, 0], matrix[1, 1], matrix[1, 2], matrix[1, 3]
    k, m, n, o = matrix[2, 0], matrix[2, 1], matrix[2, 2], matrix[2, 3]
    reds, greens, blues = rows[0], rows[1], rows[2]
    least, most = np.float32(0), np.float32(255)
    for x in range(rows.shape[1]):
        red, green, blue = reds[x], greens[x], blues[x]
        reds[x] = min(max(a * red + b * green + c * blue + d, least), most)
        greens[x] = min(max(e * red + f * green + g * blue + h, least), most)
        blues[x] = min(max(k * red + m * green + n * blue + o, least), most)


_TOLD = 2 * FINE
"""Entries of a told curve. Past its end they hold its last value, and from the middle of those on its first. So the low
bits of any place lead to an entry, of one before the beginning too, and no place is compared with the ends."""


@kernel("void(float32[:,::1], float32[:,:,::1])", fastmath=True)
def _by_curves(rows, lines):
    bits, to = np.uint32(lines.shape[2] - 1), np.float32(lines.shape[2] // 2) / np.float32(255)
    for c in range(3):
        row, adds, times = rows[c], lines[0, c], lines[1, c]
        for x in range(rows.shape[1]):
            at = row[x] * to
            i = np.uint32(np.int32(at)) & bits
            row[x] = adds[i] + times[i] * at


_DEEP = "float32[:,:,::1]"


_ROWS = "float32({}[:,::1], float32[:,::1], float32[:,:,::1]{})"


def _of_rows(more: str) -> tuple[str, str]:
    return _ROWS.format("uint8", more), _ROWS.format("float32", more)


@kernel(*_of_rows(""), fastmath=True)
def _solid_by_curves(row, into, lines):
    """A row of px that cover by its curves; the least coverage there is, by which a row that does not cover is known.
    What is loaded is looked up at once: while the one waits for memory the other is reckoned."""
    adds_r, adds_g, adds_b = lines[0, 0], lines[0, 1], lines[0, 2]
    times_r, times_g, times_b = lines[1, 0], lines[1, 1], lines[1, 2]
    bits, to = np.uint32(lines.shape[2] - 1), np.float32(lines.shape[2] // 2) / np.float32(255)
    whole = np.float32(255)
    least = whole
    # Told as one run of numbers, which is gone through in larger strides.
    px, out, one, two, three = row.reshape(-1), into.reshape(-1), np.uint64(1), np.uint64(2), np.uint64(3)
    for x in range(np.uint64(row.shape[0])):
        r = x << two
        g, b, a = r + one, r + two, r + three
        at = np.float32(px[r]) * to
        i = np.uint32(np.int32(at)) & bits
        out[r] = adds_r[i] + times_r[i] * at
        at = np.float32(px[g]) * to
        i = np.uint32(np.int32(at)) & bits
        out[g] = adds_g[i] + times_g[i] * at
        at = np.float32(px[b]) * to
        i = np.uint32(np.int32(at)) & bits
        out[b] = adds_b[i] + times_b[i] * at
        out[a] = whole
        least = min(least, np.float32(px[a]))
    return least


@kernel(*_of_rows(", float32[::1]"), fastmath=True)
def _solid_by_curves_and_matrix(row, into, lines, columns):
    """The same, and a matrix after it, whose four columns are four long: the four channels of a px are reckoned at
    once."""
    adds_r, adds_g, adds_b = lines[0, 0], lines[0, 1], lines[0, 2]
    times_r, times_g, times_b = lines[1, 0], lines[1, 1], lines[1, 2]
    bits, to = np.uint32(lines.shape[2] - 1), np.float32(lines.shape[2] // 2) / np.float32(255)
    nothing, whole, m = np.float32(0), np.float32(255), columns
    least = whole
    px, out, one, two, three = row.reshape(-1), into.reshape(-1), np.uint64(1), np.uint64(2), np.uint64(3)
    for x in range(np.uint64(row.shape[0])):
        r = x << two
        g, b, a = r + one, r + two, r + three
        at = np.float32(px[r]) * to
        i = np.uint32(np.int32(at)) & bits
        red = adds_r[i] + times_r[i] * at
        at = np.float32(px[g]) * to
        i = np.uint32(np.int32(at)) & bits
        green = adds_g[i] + times_g[i] * at
        at = np.float32(px[b]) * to
        i = np.uint32(np.int32(at)) & bits
        blue = adds_b[i] + times_b[i] * at
        least = min(least, np.float32(px[a]))
        first = m[0] * red + m[4] * green + m[8] * blue + m[12]
        second = m[1] * red + m[5] * green + m[9] * blue + m[13]
        third = m[2] * red + m[6] * green + m[10] * blue + m[14]
        fourth = m[3] * red + m[7] * green + m[11] * blue + m[15]
        first, second = min(max(first, nothing), whole), min(max(second, nothing), whole)
        third, fourth = min(max(third, nothing), whole), min(max(fourth, nothing), whole)
        # Only now: what is read above could be what is written here, for all the compiler knows.
        out[r], out[g], out[b], out[a] = first, second, third, fourth
    return least


@kernel(*_of_rows(", float32[::1]"), fastmath=True)
def _solid_by_brightness(row, into, lines, weights):
    """The same for px that go by their brightness, by these `weights`, in the place of all three channels."""
    adds_r, adds_g, adds_b = lines[0, 0], lines[0, 1], lines[0, 2]
    times_r, times_g, times_b = lines[1, 0], lines[1, 1], lines[1, 2]
    bits, to = np.uint32(lines.shape[2] - 1), np.float32(lines.shape[2] // 2) / np.float32(255)
    whole = np.float32(255)
    least = whole
    px, out, one, two, three = row.reshape(-1), into.reshape(-1), np.uint64(1), np.uint64(2), np.uint64(3)
    u, v, w, more = weights[0] * to, weights[1] * to, weights[2] * to, weights[3] * to
    for x in range(np.uint64(row.shape[0])):
        r = x << two
        g, b, a = r + one, r + two, r + three
        at = np.float32(px[r]) * u + np.float32(px[g]) * v + np.float32(px[b]) * w + more
        least = min(least, np.float32(px[a]))
        i = np.uint32(np.int32(at)) & bits
        out[r] = adds_r[i] + times_r[i] * at
        out[g] = adds_g[i] + times_g[i] * at
        out[b] = adds_b[i] + times_b[i] * at
        out[a] = whole
    return least


@kernel("float32(uint8[:,::1], float32[:,::1])", "float32(float32[:,::1], float32[:,::1])", fastmath=True)
def _parted(row, rows):
    """Px into a row of each channel; the least coverage there is."""
    red, green, blue, least = rows[0], rows[1], rows[2], np.float32(255)
    for x in range(row.shape[0]):
        red[x], green[x], blue[x] = np.float32(row[x, 0]), np.float32(row[x, 1]), np.float32(row[x, 2])
        least = min(least, np.float32(row[x, 3]))
    return least


_BY_CURVES, _BY_CURVES_AND_MATRIX, _BY_BRIGHTNESS, _ELSE = 1, 2, 3, 0
"""How a grading is done to px that cover."""

_GRADING = "float32[:,:,:,::1], float32[:,:,:,::1], float32[:,::1], boolean[:,::1], int64[::1], float32[::1])"


@kernel(f"void(uint8[:,:,::1], {_DEEP}, {_GRADING}", f"void({_DEEP}, {_DEEP}, {_GRADING}", fastmath=True)
def _grade(pixels, out, lines, matrices, columns, has, how, shares):
    """`lines` and `matrices` are those of every grading, (n, 2, 3, 2048) and (n, 2, 3, 4), `columns` those of its
    matrix after, each four long; `has` says whether it has a matrix before, curves, a matrix after; `how` it is done to
    px that cover."""
    width, count = pixels.shape[1], shares.shape[0]
    rows, were = np.empty((3, width), np.float32), np.empty((3, width), np.float32)
    red, green, blue = rows[0], rows[1], rows[2]
    whole, thin = np.float32(255), np.float32(1e-3)
    for y in range(pixels.shape[0]):
        row, into = pixels[y], out[y]
        # Most rows that do not cover begin with a px that does not.
        covers, first, least = row[0, 3] == 255, 0, whole
        while covers and first < count and how[first] != _ELSE:
            if how[first] == _BY_CURVES:
                if first:
                    _solid_by_curves(into, into, lines[first])
                else:
                    least = _solid_by_curves(row, into, lines[first])
            elif how[first] == _BY_CURVES_AND_MATRIX:
                by = columns[first]
                if first:
                    _solid_by_curves_and_matrix(into, into, lines[first], by)
                else:
                    least = _solid_by_curves_and_matrix(row, into, lines[first], by)
            else:
                by = matrices[first, 0, 0]
                if first:
                    _solid_by_brightness(into, into, lines[first], by)
                else:
                    least = _solid_by_brightness(row, into, lines[first], by)
            covers = least == whole
            first += 1
        if covers and first == count:
            continue
        if covers:
            covers = (_parted(into, rows) if first else _parted(row, rows)) == whole
        if not covers:
            first = 0
            for x in range(width):
                # With next to nothing there is no colour to be told.
                part = whole / max(np.float32(row[x, 3]), thin)
                red[x] = min(np.float32(row[x, 0]) * part, whole)
                green[x] = min(np.float32(row[x, 1]) * part, whole)
                blue[x] = min(np.float32(row[x, 2]) * part, whole)
        for n in range(first, count):
            share = shares[n]
            if share < 1:
                were[:] = rows
            if has[n, 0]:
                _by_matrix(rows, matrices[n, 0])
            if has[n, 1]:
                _by_curves(rows, lines[n])
            if has[n, 2]:
                _by_matrix(rows, matrices[n, 1])
            if share < 1:
                for c in range(3):
                    for x in range(width):
                        rows[c, x] = were[c, x] + (rows[c, x] - were[c, x]) * share
        if covers:
            for x in range(width):
                into[x, 0], into[x, 1], into[x, 2], into[x, 3] = red[x], green[x], blue[x], whole
            continue
        for x in range(width):
            cover = np.float32(row[x, 3])
            part = cover * np.float32(1 / 255)
            into[x, 0], into[x, 1], into[x, 2], into[x, 3] = red[x] * part, green[x] * part, blue[x] * part, cover


def steps_of_tone() -> np.ndarray:
    """(1025,) float64: the values at which a curve is told."""
    return np.linspace(0, 1, FINE + 1)


def _told(curves: np.ndarray) -> np.ndarray:
    """(2, 3, 2048) float64: the straight line of each step of a curve, values 0..255: what is added, and what the
    place, in steps, is multiplied by."""
    lines = np.zeros((2, 3, _TOLD))
    slopes = np.diff(curves * 255)
    lines[0, :, :FINE] = curves[:, :-1] * 255 - slopes * np.arange(FINE)
    lines[1, :, :FINE] = slopes
    lines[0, :, FINE : FINE + FINE // 2] = curves[:, -1:] * 255
    lines[0, :, FINE + FINE // 2 :] = curves[:, :1] * 255
    return lines


def graded(patch: Patch, gradings: Sequence[Grading]) -> Patch:
    """The patch with gradings done to its colours one after the other, in one pass over its pixels. Each leaves colours
    of 0..1."""
    if patch.rect.empty or not gradings:
        return patch
    plain = patch.pixels.dtype == np.uint8 and patch.colour is None
    pixels = np.ascontiguousarray(patch.pixels if plain or patch.colour is None else deepened(patch))
    lines = np.zeros((len(gradings), 2, 3, _TOLD), np.float32)
    matrices = np.zeros((len(gradings), 2, 3, 4), np.float32)
    columns = np.zeros((len(gradings), 4, 4), np.float32)
    has = np.zeros((len(gradings), 3), np.bool_)
    for n, each in enumerate(gradings):
        has[n] = each.before is not None, each.curves is not None, each.after is not None
        if each.curves is not None:
            lines[n] = _told(each.curves)
        for m, matrix in enumerate((each.before, each.after)):
            if matrix is not None:
                matrices[n, m] = matrix
                matrices[n, m, :, 3] *= 255
        # Coverage stays whole.
        columns[n, :, :3], columns[n, 3, 3] = matrices[n, 1].T, 255
    out = np.empty(pixels.shape, np.float32)
    shares = np.array([each.share for each in gradings], np.float32)
    _grade(pixels, out, lines, matrices, columns.reshape(-1, 16), has, np.array([*map(_how, gradings)]), shares)
    return replace(patch, pixels=out, colour=None)


def _how(grading: Grading) -> int:
    if grading.curves is None or grading.share < 1:
        return _ELSE
    if grading.before is None:
        return _BY_CURVES if grading.after is None else _BY_CURVES_AND_MATRIX
    grey = bool((grading.before == grading.before[0]).all())
    return _BY_BRIGHTNESS if grey and grading.after is None else _ELSE


def saturating(by: float) -> np.ndarray:
    """(3, 3): colours drawn towards their own grey (0), left (1) or away from it; the luminance stays (W3C Filter
    Effects, `saturate`, with the weights of BT.709)."""
    return by * np.eye(3) + (1 - by) * np.tile(LUMA, (3, 1))
