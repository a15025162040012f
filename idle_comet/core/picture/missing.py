"""What stands in for a picture that is not there: no one takes it for black, or for the picture."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

_GROUND, _STRIPE = (58, 50, 46, 255), (226, 119, 90, 255)
_EVERY, _WIDE = 64, 10


@lru_cache(maxsize=4)
def missing_picture(width: int, height: int) -> np.ndarray:
    """(h, w, 4) uint8 opaque: slanted stripes and a frame."""
    y, x = np.mgrid[0:height, 0:width]
    unit = max(width, height) / 1280
    stripes = (x + y) % (_EVERY * unit) < _WIDE * unit
    edge = 6 * unit
    frame = (x < edge) | (y < edge) | (x >= width - edge) | (y >= height - edge)
    picture = np.empty((height, width, 4), np.uint8)
    picture[:] = _GROUND
    picture[stripes | frame] = _STRIPE
    picture.setflags(write=False)
    return picture
