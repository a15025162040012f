"""Smooth through many keys without overshoot: a monotone cubic."""

from __future__ import annotations

from bisect import bisect_right
from typing import Sequence


def monotone_slopes(xs: Sequence[float], ys: Sequence[float]) -> list[float]:
    """Slopes at the keys (Fritsch and Butland 1984: weighted harmonic means; three-point rule at the ends).

    `xs` rise strictly; at least two. A value that turns at a key has slope 0 there.
    """
    widths = [b - a for a, b in zip(xs, xs[1:])]
    rises = [(b - a) / width for a, b, width in zip(ys, ys[1:], widths)]
    if len(xs) == 2:
        return [rises[0], rises[0]]
    slopes = [_end(widths[0], widths[1], rises[0], rises[1])]
    for i in range(1, len(xs) - 1):
        before, after = rises[i - 1], rises[i]
        if before * after <= 0:
            slopes.append(0.0)
        else:
            w1, w2 = 2 * widths[i] + widths[i - 1], widths[i] + 2 * widths[i - 1]
            slopes.append((w1 + w2) / (w1 / before + w2 / after))
    slopes.append(_end(widths[-1], widths[-2], rises[-1], rises[-2]))
    return slopes


def _end(near: float, far: float, rise: float, next_rise: float) -> float:
    slope = ((2 * near + far) * rise - near * next_rise) / (near + far)
    if slope * rise <= 0:
        return 0.0
    return 3 * rise if rise * next_rise <= 0 and abs(slope) > 3 * abs(rise) else slope


def monotone_at(xs: Sequence[float], ys: Sequence[float], slopes: Sequence[float], x: float) -> float:
    """The cubic Hermite through the keys; held before the first and after the last."""
    if x <= xs[0]:
        return ys[0]
    if x >= xs[-1]:
        return ys[-1]
    i = bisect_right(xs, x) - 1
    width = xs[i + 1] - xs[i]
    t = (x - xs[i]) / width
    h00, h10 = (1 + 2 * t) * (1 - t) ** 2, t * (1 - t) ** 2
    h01, h11 = t * t * (3 - 2 * t), t * t * (t - 1)
    return h00 * ys[i] + h10 * width * slopes[i] + h01 * ys[i + 1] + h11 * width * slopes[i + 1]
