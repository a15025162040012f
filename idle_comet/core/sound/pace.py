"""A sound at another speed: sampled between its samples, its pitch going with it."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Any, Callable

import numpy as np

from ..picture import kernel

_REACH = 32
"""Samples on each side that count for one; of a faster sound as many times more."""

_BETA = 9.0
"""Of the Kaiser window: what it lets through beside its band lies 90 dB below."""

_PHASES = 2048
"""Places between two samples for which the filter is known; between two of them it is straight."""


def paced(read: Callable[[int, int], np.ndarray], places: np.ndarray, pace: float) -> np.ndarray:
    """(n, 2) float64 samples at places of a source, in order, which lie at most `pace` of its samples apart.

    The filter is a sinc under a Kaiser window (Smith, "Digital Audio Resampling"); of a sound that is faster than it
    was, it lets through no more than the new rate can hold.
    """
    # Paces that are nearly alike share a filter: it is only as wide as the wider of them.
    wide = math.ceil(max(1.0, pace) * 64) / 64
    table = _filters(wide)
    reach = table.shape[1] // 2
    first = math.floor(places[0]) - reach
    source = read(first, math.floor(places[-1]) + reach + 2 - first).astype(np.float64)
    out = np.empty((len(places), 2))
    _sampled(np.ascontiguousarray(source), places - first, table, out)
    return out


@kernel("void(float64[:,::1], float64[::1], float64[:,::1], float64[:,::1])")
def _sampled(source: Any, places: Any, table: Any, out: Any) -> None:
    """Samples of (m, 2) at places of its own: each from those around it, by the filter between the two nearest that are
    known."""
    phases, taps = table.shape[0] - 1, table.shape[1]
    for number in range(len(places)):
        whole = int(np.floor(places[number]))
        phase = (places[number] - whole) * phases
        before = int(phase)
        share = phase - before
        first = whole - taps // 2 + 1
        left = right = 0.0
        for tap in range(taps):
            weight = table[before, tap] * (1 - share) + table[before + 1, tap] * share
            left += source[first + tap, 0] * weight
            right += source[first + tap, 1] * weight
        out[number, 0] = left
        out[number, 1] = right


@lru_cache(maxsize=16)
def _filters(wide: float) -> np.ndarray:
    """(phases + 1, taps): what the samples around a place count for it, at every place between two of them."""
    reach = math.ceil(_REACH * wide)
    # A filter has a roll-off before the end of its band.
    band = 0.95 / wide
    off = np.arange(-reach + 1, reach + 1)[None, :] - (np.arange(_PHASES + 1) / _PHASES)[:, None]
    weights = np.i0(_BETA * np.sqrt(np.clip(1 - (off / reach) ** 2, 0, None))) * np.sinc(off * band)
    return weights / weights.sum(1, keepdims=True)
