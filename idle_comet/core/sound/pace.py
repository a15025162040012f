"""A sound at another speed: sampled between its samples, its pitch going with it."""

from __future__ import annotations

import math
from typing import Callable

import numpy as np

_REACH = 32
"""Samples on each side that count for one; of a faster sound as many times more."""

_BETA = 9.0
"""Of the Kaiser window: what it lets through beside its band lies 90 dB below."""


def paced(read: Callable[[int, int], np.ndarray], place: float, pace: float, count: int) -> np.ndarray:
    """(count, 2) float64 samples from `place` of a source on, `pace` of its samples apart.

    The filter is a sinc under a Kaiser window (Smith, "Digital Audio Resampling"); of a sound that is faster than it
    was, it lets through no more than the new rate can hold.
    """
    wide = max(1.0, pace)
    reach = math.ceil(_REACH * wide)
    places = place + pace * np.arange(count)
    first = math.floor(places[0]) - reach
    source = read(first, math.floor(places[-1]) + reach + 2 - first).astype(np.float64)
    out = np.empty((count, 2))
    # A filter has a roll-off before the end of its band.
    band = 0.95 / wide
    steps = np.arange(-reach + 1, reach + 1)
    for begin in range(0, count, _BLOCK):
        part = places[begin : begin + _BLOCK]
        whole = np.floor(part).astype(np.int64)
        off = steps[None, :] - (part - whole)[:, None]
        weights = _window(off / reach) * np.sinc(off * band)
        weights /= weights.sum(1, keepdims=True)
        taken = source[(whole - first)[:, None] + steps[None, :]]
        out[begin : begin + _BLOCK] = np.einsum("nk,nkc->nc", weights, taken)
    return out


_BLOCK = 4096
"""Samples made at a time."""


def _window(x: np.ndarray) -> np.ndarray:
    return np.i0(_BETA * np.sqrt(np.clip(1 - x * x, 0, None))) / np.i0(_BETA)
