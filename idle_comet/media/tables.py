"""Tables of colours, read from `.cube` files."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from ..core.picture import Cube, CubeError, Patch, looked_up, read_cube
from .probe import MediaError

_LARGEST = 96 << 20
"""Bytes; a table of 129 entries along each axis has 60 million letters."""


def read_table(path: Path, name: str) -> Cube:
    """A table from its file. Raises MediaError with the reason."""
    if path.stat().st_size > _LARGEST:
        raise MediaError(f"“{name}” has {path.stat().st_size >> 20} MB; a LUT has at most {_LARGEST >> 20}.")
    try:
        return read_cube(path.read_text("utf-8", "replace"))
    except CubeError as error:
        raise MediaError(f"“{name}” is no LUT that can be used: {error}. It was not added.") from error


def sample_of(cube: Cube) -> np.ndarray:
    """(54, 96, 4) uint8: hues across and lightness down, as the table makes them, to be known by."""
    across, down = np.linspace(0, 1, 96, dtype=np.float32)[None, :], np.linspace(1, 0, 54, dtype=np.float32)[:, None]
    hues = np.stack([np.abs(((across * 6 + turn) % 6) - 3) - 1 for turn in (0, 4, 2)], -1).clip(0, 1)
    grey = np.float32(0.5)
    colours = np.where(down[..., None] < 0.5, hues * down[..., None] * 2, 1 - (1 - hues) * (1 - down[..., None]) * 2)
    colours = grey + (colours - grey) * np.float32(0.9)
    pixels = np.full((54, 96, 4), 255, np.float32)
    pixels[..., :3] = colours * 255
    return np.rint(looked_up(Patch(pixels, 0, 0), cube, 1.0).pixels).clip(0, 255).astype(np.uint8)
