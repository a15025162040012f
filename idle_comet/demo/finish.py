"""What every demo shot gets at the end: vignette and grain, as from one camera."""

from __future__ import annotations

import numpy as np

from .paintbox import smooth


class Finish:
    """Vignette and grain for frames of one size."""

    def __init__(
        self, rng: np.random.Generator, width: int, height: int, vignette: float = 0.34, grain: float = 2.0
    ) -> None:
        self._width, self._height = width, height
        rows, columns = np.mgrid[0:height, 0:width].astype(np.float32)
        x, y = (columns / width - 0.5) * 1.9, (rows / height - 0.5) * 1.75
        self._vignette = (1 - vignette * smooth(0.35, 1.5, np.sqrt(x * x + y * y)))[..., None].astype(np.float32)
        self._grain = (rng.standard_normal((height + 64, width + 64)) * grain).astype(np.float32)

    def __call__(
        self, picture: np.ndarray, seconds: float, veil: np.ndarray | None = None, exposure: float = 1.0
    ) -> np.ndarray:
        """Finish an opaque (h, w, 4) uint8 frame in place; `veil` (h, w, 3) is light added before."""
        rgb = picture[..., :3].astype(np.float32)
        if veil is not None:
            rgb += veil
        rgb *= self._vignette * np.float32(exposure)
        step = int(round(seconds * 1000))
        dy, dx = (step * 37) % 64, (step * 23) % 64
        rgb += self._grain[dy : dy + self._height, dx : dx + self._width, None]
        picture[..., :3] = np.clip(rgb + 0.5, 0, 255)
        return picture
