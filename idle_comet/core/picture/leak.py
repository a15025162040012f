"""Light that leaks in from the sides of a picture."""

from __future__ import annotations

import math

import numpy as np

from .noise import smoothly


def leaking(
    u: np.ndarray,
    v: np.ndarray,
    time: float,
    near: np.ndarray,
    far: np.ndarray,
    reach: float,
    strength: float,
    seed: int,
) -> np.ndarray:
    """(h, w, 3) float32 light 0..1 at places told as shares of the picture's width and height.

    Three soft streaks that the seed places and turns, each brightest at an edge, from the light `near` to that `far`;
    they drift with `time`, in turns.
    """
    chance = np.random.Generator(np.random.PCG64(seed)).random((3, 4))
    reached = np.float32(0.08 + 0.6 * reach)
    # Three lights over each other are screened one after the other: 1 − (1 − a)(1 − b)(1 − c).

    def light(u: np.ndarray, v: np.ndarray) -> np.ndarray:
        dark = np.ones((*u.shape, 3), np.float32)
        for number, (place, angle, drift, wide) in enumerate(chance):
            side = number % 2
            middle = place + 0.35 * math.sin(2 * math.pi * (time * (0.5 + drift) + place))
            lean = (angle - 0.5) * 0.9
            along = v - np.float32(middle) + (u - side) * np.float32(lean)
            # From the edge inwards, and about the middle along it.
            inward = u if side == 0 else 1 - u
            deep, long = reached * np.float32(0.5 + wide), np.float32(0.28 + 0.3 * wide)
            amount = np.exp(-((inward / deep) ** 2) - (along / long) ** 2) * np.float32(strength)
            tone = near + (far - near) * np.float32(number / 2)
            dark *= 1 - np.minimum(amount[..., None] * tone, 1)
        return 1 - dark

    # Light is smooth: a hundredth of the picture apart is near enough.
    return smoothly(u, v, 0.01, light)
