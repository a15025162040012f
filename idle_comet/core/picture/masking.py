"""Showing only a part of a patch."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from .matrix import Matrix
from .patch import NOWHERE, Patch


def field(patch: Patch, matrix: Matrix) -> tuple[np.ndarray, np.ndarray]:
    """Where each pixel's centre lies in the space that `matrix` leads out of: two (h, w) float32 arrays, px."""
    back = matrix.inverse()
    x = (np.arange(patch.width, dtype=np.float32) + np.float32(patch.x + 0.5))[None, :]
    y = (np.arange(patch.height, dtype=np.float32) + np.float32(patch.y + 0.5))[:, None]
    across, down = back.a * x + back.c * y + back.e, back.b * x + back.d * y + back.f
    if not back.flat:
        w = back.g * x + back.h * y + back.i
        across, down = across / w, down / w
    return np.broadcast_to(across, (patch.height, patch.width)).astype(np.float32), np.broadcast_to(
        down, (patch.height, patch.width)
    ).astype(np.float32)


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
