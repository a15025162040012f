"""Showing only a part of a patch."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from .colour import RGB
from .kernel import kernel, own
from .matrix import Matrix
from .patch import NOWHERE, Patch, Rect


def field(patch: Patch, matrix: Matrix) -> tuple[np.ndarray, np.ndarray]:
    """Where each pixel's centre lies in the space that `matrix` leads out of: two (h, w) float32 arrays, px."""
    return field_of(patch.rect, matrix)


def field_of(area: Rect, matrix: Matrix) -> tuple[np.ndarray, np.ndarray]:
    """The same for every px of an area in whole px."""
    x0, y0, x1, y1 = area.whole()
    width, height = x1 - x0, y1 - y0
    back = matrix.inverse()
    x = (np.arange(width, dtype=np.float32) + np.float32(x0 + 0.5))[None, :]
    y = (np.arange(height, dtype=np.float32) + np.float32(y0 + 0.5))[:, None]
    across, down = back.a * x + back.c * y + back.e, back.b * x + back.d * y + back.f
    if not back.flat:
        w = back.g * x + back.h * y + back.i
        across, down = across / w, down / w
    whole = (np.broadcast_to(each, (height, width)).astype(np.float32) for each in (across, down))
    return next(whole), next(whole)


def beyond(place: np.ndarray, edge: float, feather: float, pixel: float) -> np.ndarray:
    """Coverage 1 before an edge, falling to 0 over the feather that lies beyond it.

    Without feather the edge itself is antialiased over one `pixel`, the size of a painted one in the same space.
    """
    wide = max(feather, pixel)
    begins = edge - pixel / 2 * (1 - min(1.0, feather / pixel))
    return np.clip(1 - (place - begins) / wide, 0, 1)


@kernel(
    "void(uint8[:,:,::1], float32[:,::1], float32[:,:,::1])", "void(float32[:,:,::1], float32[:,::1], float32[:,:,::1])"
)
def _masked(pixels, coverage, out):
    height, width = coverage.shape
    for y in range(height):
        of, to, share = pixels[y], out[y], coverage[y]
        for x in range(width):
            for channel in range(4):
                to[x, channel] = of[x, channel] * share[x]


def masked(patch: Patch, coverage: np.ndarray) -> Patch:
    """The patch times a coverage of its own size, (h, w) 0..1."""
    if patch.rect.empty:
        return patch
    if patch.colour is not None:
        return replace(patch, pixels=np.multiply(patch.pixels, coverage, dtype=np.float32), extends=NOWHERE)
    out = np.empty(patch.pixels.shape, np.float32)
    _masked(own(patch.pixels), np.ascontiguousarray(coverage, np.float32), out)
    return replace(patch, pixels=out, extends=NOWHERE)


def framed(patch: Patch, inside: np.ndarray, wide: float, colour: RGB) -> Patch:
    """What of a patch lies within an edge, with a line of a colour within it: `inside` (h, w) says by how many px each
    px lies within, below 0 beyond, and `wide` is the line's width in px. The patch is no coverage of one colour."""
    out = np.empty(patch.pixels.shape, np.float32)
    _framed(own(patch.pixels), np.ascontiguousarray(inside, np.float32), wide, *colour, out)
    return replace(patch, pixels=out, extends=NOWHERE)


_FRAMED = "void({}, float32[:,::1], float32, float32, float32, float32, float32[:,:,::1])"


@kernel(_FRAMED.format("uint8[:,:,::1]"), _FRAMED.format("float32[:,:,::1]"))
def _framed(pixels, inside, wide, red, green, blue, out):
    height, width = inside.shape
    none, half, whole = np.float32(0), np.float32(0.5), np.float32(1)
    for y in range(height):
        depth, of, to = inside[y], pixels[y], out[y]
        shown, made = of.reshape(-1), to.reshape(-1)
        x = 0
        while x < width:
            # Within the line nothing is done: a run of px there is one run of numbers.
            end = x
            while end < width and depth[end] >= wide + half:
                end += 1
            if end > x:
                run, taken = made[4 * x : 4 * end], shown[4 * x : 4 * end]
                for at in range(len(run)):
                    run[at] = taken[at]
            x = end
            while x < width and depth[x] < wide + half:
                cover = min(max(depth[x] + half, none), whole)
                ring = cover - min(max(depth[x] - wide + half, none), whole)
                keep = cover * (whole - ring)
                to[x, 0], to[x, 1] = of[x, 0] * keep + red * ring, of[x, 1] * keep + green * ring
                to[x, 2], to[x, 3] = of[x, 2] * keep + blue * ring, of[x, 3] * keep + np.float32(255) * ring
                x += 1


def shifted(patch: Patch, dx: float, dy: float) -> Patch:
    """Coverage of one colour, float32, moved by px: whole ones by its origin, the rest by linear weights."""
    whole_x, whole_y = math.floor(dx), math.floor(dy)
    height, width = patch.pixels.shape
    out = np.empty((height + 1, width + 1), np.float32)
    _shift(patch.pixels, out, dx - whole_x, dy - whole_y)
    return Patch(out, patch.x + whole_x, patch.y + whole_y, colour=patch.colour)


@kernel("void(float32[:,::1], float32[:,::1], float32, float32)")
def _shift(pixels, out, part_x, part_y):
    height, width = pixels.shape
    none = np.zeros(width, np.float32)
    row = np.empty(width, np.float32)
    for y in range(height + 1):
        here = pixels[y] if y < height else none
        above = pixels[y - 1] if y > 0 else none
        for x in range(width):
            row[x] = here[x] + (above[x] - here[x]) * part_y
        to = out[y]
        to[0], to[width] = row[0] * (1 - part_x), row[width - 1] * part_x
        for x in range(1, width):
            to[x] = row[x] + (row[x - 1] - row[x]) * part_x
