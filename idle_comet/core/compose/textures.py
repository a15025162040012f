"""Pictures on surfaces, packed for the rasteriser."""

from __future__ import annotations

import cv2
import numpy as np


class Textures:
    """Pictures one after the other, each as a pyramid down to 1 × 1 (see `space/shade.py`)."""

    def __init__(self) -> None:
        self._texels: list[np.ndarray] = []
        self._sheets: list[tuple[int, int, int]] = []
        self._end = 0

    def add(self, picture: np.ndarray) -> int:
        """A picture (h, w, 4) uint8; gives its number."""
        number = len(self._sheets)
        sheet = np.ascontiguousarray(picture)
        while True:
            high, wide = sheet.shape[:2]
            self._sheets.append((self._end, wide, high))
            self._texels.append(sheet.reshape(-1))
            self._end += sheet.size
            if wide == high == 1:
                return number
            sheet = cv2.resize(sheet, (max(1, wide // 2), max(1, high // 2)), interpolation=cv2.INTER_AREA)

    def packed(self) -> tuple[np.ndarray, np.ndarray]:
        """All texels, and of each sheet where it begins and its size."""
        texels = np.concatenate(self._texels) if self._texels else np.zeros(4, np.uint8)
        return texels, np.array(self._sheets, np.int64).reshape(-1, 3)


def turned_around(surrounding: np.ndarray, degrees: float, mirror: float) -> np.ndarray:
    """Surroundings (levels, h, w, 3) turned about the upright, and as bright as they are mirrored."""
    if not len(surrounding):
        return surrounding
    turned = round(degrees / 360 * surrounding.shape[2])
    return np.ascontiguousarray(np.roll(surrounding, turned, 2) * np.float32(mirror))
