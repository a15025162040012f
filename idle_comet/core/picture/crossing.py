"""Pictures that cross in space, laid over each other by what is nearer at every px."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Sequence

import numpy as np

from .blend import area_of, going_on, over
from .kernel import kernel
from .patch import Patch, Rect, place_of

_BAND = 48
"""Rows done at a time."""

Nearness = tuple[float, float, float]
"""One by how far ahead a plane lies, at each px (x, y) of a painted picture: the first and the second for every px
across and down, and the third at the origin."""


def crossed(
    patches: Sequence[Patch], near: Sequence[Nearness], window: Rect, bodies: Sequence[Patch | None] = ()
) -> Patch:
    """Patches of planes over each other, at every px in the order in which they lie there. `bodies` tells of those that
    are none how near they are at each px; where that is 0 they are as near as their plane.

    Where two planes meet within a px, both orders count for the part of it that they hold in: so the cut is as smooth
    as any edge, whatever the pictures let through."""
    area = area_of(patches, window)
    if area.empty:
        return Patch.empty()
    x0, y0, x1, y1 = area.whole()
    out = np.empty((y1 - y0, x1 - x0, 4), np.float32)
    planes = np.array(near, np.float64)
    depths = np.zeros((len(patches) if any(bodies) else 0, y1 - y0, x1 - x0), np.float32)
    for into, body in zip(depths, bodies):
        place = None if body is None else place_of(replace(body, x=body.x - x0, y=body.y - y0), x1 - x0, y1 - y0)
        if body is not None and place is not None:
            x, y, left, up, wide, high = place
            into[y : y + high, x : x + wide] = body.pixels[up : up + high, left : left + wide]
    for top in range(y0, y1, _BAND):
        high = min(_BAND, y1 - top)
        deep = np.zeros((len(patches), high, x1 - x0, 4), np.float32)
        for into, patch in zip(deep, patches):
            over(into, replace(patch, x=patch.x - x0, y=patch.y - top))
        _by_nearness(deep, planes, depths, top - y0, float(x0), float(top), out[top - y0 : top - y0 + high])
    return Patch(out, x0, y0, extends=going_on(patches, area))


@kernel("float64(float64, float64, float64)")
def _slope(here, one, other):
    """The gentler of the slopes to both sides, of which one may lead past an edge."""
    before, after = here - one if one > 0 else 0.0, other - here if other > 0 else 0.0
    return before if abs(before) < abs(after) else after


@kernel("void(float32[:,:,:,::1], float64[:,::1], float32[:,:,::1], int64, float64, float64, float32[:,:,::1])")
def _by_nearness(layers, planes, depths, row, left, top, out):
    count, height, width = layers.shape[0], layers.shape[1], layers.shape[2]
    order, at = np.empty(count, np.int64), np.empty(count, np.float64)
    # How near each is in the middle of a px, and by how much more a px further across and down.
    near = np.empty((count, 3))
    for y in range(height):
        for x in range(width):
            there = 0
            for n in range(count):
                if layers[n, y, x, 3] > 0:
                    order[there] = n
                    there += 1
            for c in range(4):
                out[y, x, c] = 0
            if there == 0:
                continue
            if there == 1:
                for c in range(4):
                    out[y, x, c] = layers[order[0], y, x, c]
                continue
            px, py = left + x + 0.5, top + y + 0.5
            for i in range(there):
                n = order[i]
                near[n, 0], near[n, 1] = planes[n, 0], planes[n, 1]
                near[n, 2] = planes[n, 0] * px + planes[n, 1] * py + planes[n, 2]
                if depths.shape[0] > 0 and depths[n, row + y, x] > 0:
                    here = depths[n, row + y, x]
                    near[n, 0] = _slope(
                        here, depths[n, row + y, max(x - 1, 0)], depths[n, row + y, min(x + 1, width - 1)]
                    )
                    above, foot = max(row + y - 1, 0), min(row + y + 1, depths.shape[1] - 1)
                    near[n, 1], near[n, 2] = _slope(here, depths[n, above, x], depths[n, foot, x]), here
            sure = True
            for i in range(there):
                for j in range(i):
                    n, m = order[i], order[j]
                    a, b = near[n, 0] - near[m, 0], near[n, 1] - near[m, 1]
                    apart = abs(near[n, 2] - near[m, 2])
                    sure = sure and apart > (abs(a) + abs(b)) / 2
            # An order that is not sure is looked at in sixteen places of the px, spread evenly and in no line that two
            # planes could meet in (Roberts' R2 sequence).
            parts = 1 if sure else 16
            share = np.float32(1 / parts)
            for part in range(parts):
                sx = (part * 0.7548776662466927 + 0.171) % 1.0 - 0.5
                sy = (part * 0.5698402909980532 + 0.388) % 1.0 - 0.5
                for i in range(there):
                    n = order[i]
                    at[n] = near[n, 0] * sx + near[n, 1] * sy + near[n, 2]
                # What is furthest away first; those as far as each other stay as they lie.
                for i in range(1, there):
                    n, j = order[i], i
                    while j > 0 and (at[order[j - 1]] > at[n] or (at[order[j - 1]] == at[n] and order[j - 1] > n)):
                        order[j] = order[j - 1]
                        j -= 1
                    order[j] = n
                keep = np.float32(1)
                for i in range(there - 1, -1, -1):
                    n = order[i]
                    for c in range(4):
                        out[y, x, c] += layers[n, y, x, c] * keep * share
                    keep *= np.float32(1) - layers[n, y, x, 3] / np.float32(255)


def before(patch: Patch, border: tuple[float, float, float]) -> Patch:
    """What of a picture lies where a · x + b · y + c is above 0, in px of the painted picture, its edge cut between
    px."""
    if patch.rect.empty:
        return patch
    a, b, c = border
    x, y = np.arange(patch.width) + (patch.x + 0.5), np.arange(patch.height) + (patch.y + 0.5)
    over = a * x + b * y[:, None] + c
    share = np.clip(over / max(math.hypot(a, b), 1e-30) + 0.5, 0, 1).astype(np.float32)
    pixels = patch.pixels * (share if patch.pixels.ndim == 2 else share[..., None])
    return replace(patch, pixels=pixels)
