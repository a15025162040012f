"""What every demo shot gets at the end: vignette and grain, as from one camera."""

from __future__ import annotations

import numpy as np

from ..core.picture import kernel
from .paintbox import smooth


class Finish:
    """Vignette and grain for frames of one size."""

    def __init__(
        self, rng: np.random.Generator, width: int, height: int, vignette: float = 0.34, grain: float = 2.0
    ) -> None:
        self._width, self._height = width, height
        rows, columns = np.mgrid[0:height, 0:width].astype(np.float32)
        x, y = (columns / width - 0.5) * 1.9, (rows / height - 0.5) * 1.75
        self._vignette = (1 - vignette * smooth(0.35, 1.5, np.sqrt(x * x + y * y))).astype(np.float32)
        self._none = np.zeros((1, width, 3), np.float32)
        self._grain = (rng.standard_normal((height + 64, width + 64)) * grain).astype(np.float32)

    def __call__(
        self, picture: np.ndarray, seconds: float, veil: np.ndarray | None = None, exposure: float = 1.0
    ) -> np.ndarray:
        """Finish an opaque (h, w, 4) uint8 frame in place; `veil` (h, w, 3) is light added before."""
        step = int(round(seconds * 1000))
        light = self._none if veil is None else veil
        _finished(picture, light, self._vignette, exposure, self._grain, (step * 37) % 64, (step * 23) % 64)
        return picture


@kernel("void(uint8[:,:,::1], float32[:,:,::1], float32[:,::1], float32, float32[:,::1], int64, int64)")
def _finished(picture, veil, vignette, exposure, grain, dy, dx):
    for y in range(picture.shape[0]):
        lit = veil[y % veil.shape[0]]
        for x in range(picture.shape[1]):
            share, speck = vignette[y, x] * exposure, grain[y + dy, x + dx] + np.float32(0.5)
            for c in range(3):
                light = (np.float32(picture[y, x, c]) + lit[x, c]) * share + speck
                picture[y, x, c] = np.uint8(min(max(light, np.float32(0)), np.float32(255)))
