"""How many px of a picture have which value."""

from __future__ import annotations

import numpy as np

from ..modelled import Model
from .grade import LUMA

PARTS = 64
"""Even parts of 0..255 that px are counted in."""


class Tally(Model):
    """Shares of a picture's px, 0..1, by the part of 0..255 their red, green, blue and lightness lie in (64 each), and
    the shares with a channel at its least and at its most."""

    red: list[float]
    green: list[float]
    blue: list[float]
    light: list[float]
    least: float
    most: float


def tally(pixels: np.ndarray) -> Tally:
    """The tally of an opaque (h, w, 4) uint8 picture; lightness is the luma of ITU-R BT.709."""
    colours = pixels[..., :3].reshape(-1, 3)
    count = max(1, len(colours))
    red, green, blue = (np.bincount(colours[:, channel] >> 2, minlength=PARTS)[:PARTS] / count for channel in range(3))
    luma = colours.astype(np.float32) @ np.asarray(LUMA, np.float32)
    light = np.bincount((luma / 4).astype(np.int64).clip(0, PARTS - 1), minlength=PARTS) / count
    return Tally(
        red=red.round(6).tolist(),
        green=green.round(6).tolist(),
        blue=blue.round(6).tolist(),
        light=light.round(6).tolist(),
        least=float((colours == 0).any(-1).mean()),
        most=float((colours == 255).any(-1).mean()),
    )
