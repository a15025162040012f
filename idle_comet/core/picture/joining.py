"""Mixing two pictures by a share that may differ from place to place."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from .kernel import kernel


@kernel("void(float32[:,:,::1], float32[:,:,::1], float32[:,::1])")
def _mix(before, after, shares):
    height, width = shares.shape
    for row in range(height):
        a, b, share = before[row], after[row], shares[row]
        for column in range(width):
            part = share[column]
            for channel in range(4):
                a[column, channel] += (b[column, channel] - a[column, channel]) * part


def mix_pictures(before: np.ndarray, after: np.ndarray, share: float | np.ndarray) -> np.ndarray:
    """A(1 − s) + B·s on premultiplied (h, w, 4) float32, written over `before`; `share` 0..1, one or (h, w)."""
    shares = np.empty(before.shape[:2], np.float32)
    shares[:] = np.clip(share, 0, 1)
    _mix(before, after, shares)
    return before


@lru_cache(maxsize=16)
def _field(kind: str, towards: str, width: int, height: int) -> np.ndarray:
    """When each pixel is reached, 0 (first) to 1 (last), as (h, w) float32."""
    x = (np.arange(width, dtype=np.float32) + np.float32(0.5)) / np.float32(width)
    y = (np.arange(height, dtype=np.float32) + np.float32(0.5)) / np.float32(height)
    if kind == "wipe":
        along = {"right": x, "left": 1 - x}.get(towards)
        if along is not None:
            return np.broadcast_to(along, (height, width)).astype(np.float32)
        return np.broadcast_to((y if towards == "down" else 1 - y)[:, None], (height, width)).astype(np.float32)
    across, down = np.abs(2 * x - 1)[None, :], np.abs(2 * y - 1)[:, None]
    if kind == "ellipse":
        # An ellipse of the frame's own shape reaches its corners at √2 of its half axes.
        return np.sqrt((across**2 + down**2) / 2).astype(np.float32)
    return np.maximum(across, down).astype(np.float32)


def reached(kind: str, towards: str, progress: float, softness: float, width: int, height: int) -> np.ndarray:
    """The share of the new picture at each pixel for a wipe, an ellipse or a rectangle, (h, w) float32.

    The edge is `softness` wide and lies outside the frame at progress 0 and 1. Its profile is 3u² − 2u³.
    """
    field = _field(kind, towards, width, height)
    soft = max(softness, 1.0 / max(width, height))
    u = np.clip((np.float32(progress * (1 + soft)) - field) / np.float32(soft), 0, 1)
    return u * u * (3 - 2 * u)
