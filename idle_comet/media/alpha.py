"""Transparency in files: finding it, and premultiplying what is stored straight."""

from __future__ import annotations

import av
import numpy as np


def has_alpha(format: av.VideoFormat) -> bool:
    return any(component.is_alpha for component in format.components) or format.name == "pal8"


def premultiplied(rgba: np.ndarray) -> np.ndarray:
    """Straight (h, w, 4) uint8 to premultiplied."""
    alpha = rgba[..., 3:].astype(np.uint16)
    out = rgba.copy()
    out[..., :3] = (rgba[..., :3] * alpha + 127) // 255
    return out
