"""Mixing two patches by a share that may differ from place to place."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from .blend import deepened
from .patch import Patch


def mixed(before: Patch, after: Patch, share: float | np.ndarray) -> Patch:
    """(1 − share) of one patch and `share` of the other, pixel by pixel.

    `share` 0..1 is one number, or (h, w) float32 over the bounds of both patches together.
    """
    area = before.rect.union(after.rect)
    if area.empty:
        return after
    x0, y0, x1, y1 = area.whole()
    flat = before.colour is not None and before.colour == after.colour
    total = np.zeros((y1 - y0, x1 - x0) if flat else (y1 - y0, x1 - x0, 4), np.float32)
    for patch, weight in ((before, 1 - share), (after, share)):
        if patch.rect.empty:
            continue
        rows, columns = (
            slice(patch.y - y0, patch.y - y0 + patch.height),
            slice(patch.x - x0, patch.x - x0 + patch.width),
        )
        part = patch.pixels if flat or patch.colour is None else deepened(patch)
        by = weight[rows, columns] if isinstance(weight, np.ndarray) else np.float32(weight)
        if isinstance(by, np.ndarray) and not flat:
            by = by[..., None]
        total[rows, columns] += part * (by * np.float32(patch.opacity))
    return replace(
        after,
        pixels=total,
        x=x0,
        y=y0,
        colour=before.colour if flat else None,
        opacity=1.0,
        extends=before.extends.both(after.extends),
    )
