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


def ink_of(picture: np.ndarray) -> tuple[int, int, int, int] | None:
    """Left, top, right and bottom of what is seen of an (h, w, 4) picture, in its px; None where nothing is."""
    seen = picture[..., 3] > 0
    rows, columns = np.flatnonzero(seen.any(1)), np.flatnonzero(seen.any(0))
    if not len(rows):
        return None
    return int(columns[0]), int(rows[0]), int(columns[-1]) + 1, int(rows[-1]) + 1
