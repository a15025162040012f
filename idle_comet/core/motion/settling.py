"""Springs and bounces: motion that comes to rest by itself, in closed form."""

from __future__ import annotations

import math
from functools import lru_cache

_REST = 1000
"""At the span's end no more than 1/1000 of the way is left."""


@lru_cache(maxsize=256)
def spring_frequency(damping: float) -> float:
    """ω, in radians a span, at which a spring of this damping is at rest by the span's end.

    What is left at u = 1 is at most e^(−p)·k for the slow rate p: with p = ζω below critical damping,
    p = ω(ζ − √(ζ² − 1)) above; k is the smaller of the envelope's height there and 1 + p.
    """
    critical = 9.2334135  # (1 + p)·e^(−p) = 1/1000
    if damping < 1:
        return min(math.log(_REST / math.sqrt(1 - damping**2)), critical) / damping
    split = math.sqrt(damping**2 - 1)
    rate = critical if split == 0 else min(math.log(_REST * (damping + split) / (2 * split)), critical)
    return rate / (damping - split)


def spring_progress(damping: float, u: float) -> float:
    """Progress of a damped harmonic let go at rest, u in 0..1 (ζ is the damping, ω from `spring_frequency`).

    ζ < 1: 1 − e^(−ζωu)(cos ω_d u + ζω/ω_d · sin ω_d u), ω_d = ω√(1 − ζ²); ζ = 1: 1 − e^(−ωu)(1 + ωu);
    ζ > 1: 1 − (q·e^(−pu) − p·e^(−qu))/(q − p) with p, q = ω(ζ ∓ √(ζ² − 1)).
    """
    omega = spring_frequency(damping)
    # Close to critical the other two forms divide by almost nothing.
    if abs(damping - 1) < 1e-6:
        return 1 - math.exp(-omega * u) * (1 + omega * u)
    if damping < 1:
        swing = omega * math.sqrt(1 - damping**2)
        return 1 - math.exp(-damping * omega * u) * (
            math.cos(swing * u) + damping * omega / swing * math.sin(swing * u)
        )
    split = math.sqrt(damping**2 - 1)
    p, q = omega * (damping - split), omega * (damping + split)
    return 1 - (q * math.exp(-p * u) - p * math.exp(-q * u)) / (q - p)


def bounce_progress(bounces: int, kept: float, u: float) -> float:
    """Progress of a ball dropped from 0 onto 1 that bounces so often, keeping this share of its speed.

    The fall lasts 1, bounce k lasts 2·kept^k and reaches the height kept^(2k); all scaled to the span.
    """
    time = u * (1 + 2 * sum(kept**k for k in range(1, bounces + 1)))
    if time < 1:
        return time * time
    time -= 1
    for k in range(1, bounces + 1):
        length = 2 * kept**k
        if time < length:
            return 1 - time * (length - time)
        time -= length
    return 1.0
