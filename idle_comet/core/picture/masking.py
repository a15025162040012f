"""Showing only a part of a patch."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

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


def masked(patch: Patch, coverage: np.ndarray) -> Patch:
    """The patch times a coverage of its own size, (h, w) 0..1."""
    if patch.rect.empty:
        return patch
    share = coverage if patch.colour is not None else coverage[..., None]
    return replace(patch, pixels=np.multiply(patch.pixels, share, dtype=np.float32), extends=NOWHERE)
