"""How a mask falls at its edge."""

from __future__ import annotations

import numpy as np


def fallen(outside: np.ndarray, feather: float, outward: float, pixel: float) -> np.ndarray:
    """1 inside, falling to 0 over the feather, of which a share lies outside; a hard edge is as wide as a px.

    It falls as 3t² − 2t³, so that no line is seen where it begins and ends; one of a px falls evenly, as a px is
    covered."""
    shift = feather * (outward - 0.5)
    share = np.clip(0.5 - (outside - shift) / max(feather, pixel), 0, 1).astype(np.float32)
    soft = np.float32(min(1.0, max(0.0, feather / pixel - 1)))
    return share if soft == 0 else share + soft * (share * share * (3 - 2 * share) - share)
