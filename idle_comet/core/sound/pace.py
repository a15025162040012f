"""A sound at another speed: sampled between its samples, its pitch going with it."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Callable

import numpy as np

_REACH = 32
"""Samples on each side that count for one; of a faster sound as many times more."""

_BETA = 9.0
"""Of the Kaiser window: what it lets through beside its band lies 90 dB below."""

_PHASES = 2048
"""Places between two samples for which the filter is known; between two of them it is straight."""

_BLOCK = 4096
"""Samples made at a time."""


def paced(read: Callable[[int, int], np.ndarray], place: float, pace: float, count: int) -> np.ndarray:
    """(count, 2) float64 samples from `place` of a source on, `pace` of its samples apart.

    The filter is a sinc under a Kaiser window (Smith, "Digital Audio Resampling"); of a sound that is faster than it
    was, it lets through no more than the new rate can hold.
    """
    # Paces that are nearly alike share a filter: it is only as wide as the wider of them.
    wide = math.ceil(max(1.0, pace) * 64) / 64
    table = _filters(wide)
    reach = table.shape[1] // 2
    places = place + pace * np.arange(count)
    first = math.floor(places[0]) - reach
    source = read(first, math.floor(places[-1]) + reach + 2 - first).astype(np.float64)
    windows = np.lib.stride_tricks.sliding_window_view(source, 2 * reach, axis=0)
    out = np.empty((count, 2))
    for begin in range(0, count, _BLOCK):
        part = places[begin : begin + _BLOCK]
        whole = np.floor(part).astype(np.int64)
        phase = (part - whole) * _PHASES
        before = phase.astype(np.int64)
        share = (phase - before)[:, None]
        weights = table[before] * (1 - share) + table[before + 1] * share
        taken = windows[whole - first - reach + 1]
        out[begin : begin + _BLOCK] = np.matmul(taken, weights[:, :, None])[:, :, 0]
    return out


@lru_cache(maxsize=16)
def _filters(wide: float) -> np.ndarray:
    """(phases + 1, taps): what the samples around a place count for it, at every place between two of them."""
    reach = math.ceil(_REACH * wide)
    # A filter has a roll-off before the end of its band.
    band = 0.95 / wide
    off = np.arange(-reach + 1, reach + 1)[None, :] - (np.arange(_PHASES + 1) / _PHASES)[:, None]
    weights = np.i0(_BETA * np.sqrt(np.clip(1 - (off / reach) ** 2, 0, None))) * np.sinc(off * band)
    return weights / weights.sum(1, keepdims=True)
