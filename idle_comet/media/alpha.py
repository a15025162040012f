"""Transparency in files: finding it, and premultiplying what is stored straight."""

from __future__ import annotations

import av
import numpy as np


def has_alpha(format: av.VideoFormat) -> bool:
    return any(component.is_alpha for component in format.components) or format.name == "pal8"


def premultiplied(rgba: np.ndarray) -> np.ndarray:
    """Straight (h, w, 4) uint8 to premultiplied."""
    out = np.empty_like(rgba)
    # Some rows at a time: what is between has twice the bytes.
    for row in range(0, len(rgba), 256):
        part = rgba[row : row + 256]
        out[row : row + 256, :, :3] = (part[..., :3] * part[..., 3:].astype(np.uint16) + 127) // 255
        out[row : row + 256, :, 3] = part[..., 3]
    return out
