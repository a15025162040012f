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


def field_lines(patch: Patch, matrix: Matrix) -> tuple[np.ndarray, np.ndarray]:
    """What `field` says, as (1, w) and (h, 1) where the axes stay what they are."""
    back = matrix.inverse()
    if not back.flat or back.b or back.c:
        return field(patch, matrix)
    x = np.arange(patch.width, dtype=np.float32) + np.float32(patch.x + 0.5)
    y = np.arange(patch.height, dtype=np.float32) + np.float32(patch.y + 0.5)
    across, down = x * np.float32(back.a) + np.float32(back.e), y * np.float32(back.d) + np.float32(back.f)
    return across[None, :], down[:, None]


def beyond(place: np.ndarray, edge: float, feather: float, pixel: float) -> np.ndarray:
    """Coverage 1 before an edge, falling to 0 over the feather that lies beyond it.

    Without feather the edge itself is antialiased over one `pixel`, the size of a painted one in the same space.
    """
    wide = max(feather, pixel)
    begins = edge - pixel / 2 * (1 - min(1.0, feather / pixel))
    return np.minimum(np.maximum(1 - (place - begins) / wide, 0), 1)


@kernel(
    "void(uint8[:,:,::1], float32[:,::1], float32[:,:,::1])", "void(float32[:,:,::1], float32[:,::1], float32[:,:,::1])"
)
def _masked(pixels, coverage, out):
    one, two, three = np.uint64(1), np.uint64(2), np.uint64(3)
    for y in range(coverage.shape[0]):
        # A row as one run of numbers: many px are done at a time.
        of, to, share = pixels[y].reshape(-1), out[y].reshape(-1), coverage[y]
        for x in range(np.uint64(coverage.shape[1])):
            at, part = x * np.uint64(4), share[x]
            to[at], to[at + one] = of[at] * part, of[at + one] * part
            to[at + two], to[at + three] = of[at + two] * part, of[at + three] * part


def masked(patch: Patch, coverage: np.ndarray) -> Patch:
    """The patch times a coverage of its own size, (h, w) 0..1, or of so many of its rows or columns as are not alike,
    (h, 1) or (1, w)."""
    if patch.rect.empty:
        return patch
    if patch.colour is not None:
        return replace(patch, pixels=np.multiply(patch.pixels, coverage, dtype=np.float32), extends=NOWHERE)
    out = np.empty(patch.pixels.shape, np.float32)
    if coverage.shape != out.shape[:2]:
        coverage = np.array(np.broadcast_to(coverage, out.shape[:2]))
    _masked(own(patch.pixels), np.ascontiguousarray(coverage, np.float32), out)
    return replace(patch, pixels=out, extends=NOWHERE)


@kernel("void(float32[::1], float32[::1], float32, float32[:,::1])", fastmath=True)
def _within(across, down, radius, out):
    none = np.float32(0)
    for y in range(down.shape[0]):
        row, v = out[y], down[y]
        for x in range(np.uint64(across.shape[0])):
            u = across[x]
            # Only beyond both ends of the straight sides is there a distance to a corner.
            corner = np.sqrt(max(u, none) ** 2 + max(v, none) ** 2)
            row[x] = radius - (corner if min(u, v) > none else max(u, v))


def within(across: np.ndarray, down: np.ndarray, radius: float) -> np.ndarray:
    """(h, w) how far each px lies inside a rectangle with round corners, below 0 outside: `across` (w,) and `down` (h,)
    say how far beyond the rectangle of the corners' middles its column and its row lie."""
    out = np.empty((len(down), len(across)), np.float32)
    _within(np.ascontiguousarray(across, np.float32), np.ascontiguousarray(down, np.float32), radius, out)
    return out


def carried_on(patch: Patch, box: Rect, edge: Rect) -> Patch:
    """A picture that ends at `box`, less than a px within `edge`, goes on to it: its outermost px is as its last whole
    one. All in px of the painted picture; it goes on to whole px alone."""
    pixels = patch.pixels
    short = (box.x0 - edge.x0, box.y0 - edge.y0, edge.x1 - box.x1, edge.y1 - box.y1)
    # The px along each side, and the one beside it further in.
    rows = (
        (1, edge.x0 - patch.x, 1),
        (0, edge.y0 - patch.y, 1),
        (1, edge.x1 - patch.x - 1, -1),
        (0, edge.y1 - patch.y - 1, -1),
    )
    for by, (axis, place, inward) in zip(short, rows):
        if not 1e-6 < by < 1 or place != int(place):
            continue
        outer, inner = int(place), int(place) + inward
        if min(outer, inner) < 0 or max(outer, inner) >= pixels.shape[axis]:
            continue
        pixels = pixels.copy() if pixels is patch.pixels else pixels
        np.moveaxis(pixels, axis, 0)[outer] = np.moveaxis(pixels, axis, 0)[inner]
    return patch if pixels is patch.pixels else replace(patch, pixels=pixels)


def framed(patch: Patch, inside: np.ndarray, wide: float, colour: RGB) -> Patch:
    """What of a patch lies within an edge, with a line of a colour within it: `inside` (h, w) says by how many px each
    px lies within, below 0 beyond, and `wide` is the line's width in px. The patch is no coverage of one colour."""
    out = np.empty(patch.pixels.shape, np.float32)
    _framed(own(patch.pixels), np.ascontiguousarray(inside, np.float32), wide, *colour, out)
    return replace(patch, pixels=out, extends=NOWHERE)


_FRAMED = "void({}, float32[:,::1], float32, float32, float32, float32, float32[:,:,::1])"


@kernel(_FRAMED.format("uint8[:,:,::1]"), _FRAMED.format("float32[:,:,::1]"), fastmath=True)
def _framed(pixels, inside, wide, red, green, blue, out):
    none, half, whole, full = np.float32(0), np.float32(0.5), np.float32(1), np.float32(255)
    one, two, three = np.uint64(1), np.uint64(2), np.uint64(3)
    for y in range(inside.shape[0]):
        # A row as one run of numbers: many px are done at a time, which is faster than to leave most of them alone.
        depth, of, to = inside[y], pixels[y].reshape(-1), out[y].reshape(-1)
        for x in range(np.uint64(inside.shape[1])):
            at = x * np.uint64(4)
            cover = min(max(depth[x] + half, none), whole)
            ring = cover - min(max(depth[x] - wide + half, none), whole)
            keep = cover * (whole - ring)
            to[at], to[at + one] = of[at] * keep + red * ring, of[at + one] * keep + green * ring
            to[at + two], to[at + three] = of[at + two] * keep + blue * ring, of[at + three] * keep + full * ring


def shifted(patch: Patch, dx: float, dy: float, colour: RGB) -> Patch:
    """The coverage of a patch in a colour, float32, moved by px: whole ones by its origin, the rest by linear
    weights."""
    whole_x, whole_y = math.floor(dx), math.floor(dy)
    cover = patch.pixels if patch.pixels.ndim == 2 else patch.pixels[..., 3]
    out = np.empty((patch.height + 1, patch.width + 1), np.float32)
    _shift(cover if cover.flags.writeable else cover.copy(), out, dx - whole_x, dy - whole_y)
    return Patch(out, patch.x + whole_x, patch.y + whole_y, colour=colour)


_SHIFT = "void({}[:,:], float32[:,::1], float32, float32)"


@kernel(_SHIFT.format("uint8"), _SHIFT.format("float32"), fastmath=True)
def _shift(cover, out, part_x, part_y):
    height, width = cover.shape
    # Each row is read once; there is nothing before the first and after the last, as there is beside each.
    here, above, row = np.zeros(width, np.float32), np.zeros(width, np.float32), np.zeros(width + 2, np.float32)
    inner = row[1:]
    for y in range(height + 1):
        to = out[y]
        if y < height:
            for x in range(np.uint64(width)):
                here[x] = cover[y, x]
        else:
            here[:] = 0
        for x in range(np.uint64(width)):
            inner[x] = here[x] + (above[x] - here[x]) * part_y
            above[x] = here[x]
        for x in range(np.uint64(width + 1)):
            to[x] = inner[x] + (row[x] - inner[x]) * part_x
