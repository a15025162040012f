"""Hits: the moments at which something begins in a sound."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

_RATE = 48_000
_WINDOW, _HOP = 1024, 240
"""Samples that are looked at together, and from one look to the next: 5 ms."""

_BANDS = 40
_FLOOR = 1e-3
"""Loudness is told as log(1 + level/floor): what is far below counts for little."""

_AROUND = 0.10
"""Seconds on both sides whose usual change a hit has to exceed."""

_FINE = 48
"""Samples, 1 ms, to which the beginning is found within the loudest rise."""


class Hit(NamedTuple):
    """A moment, in seconds from the sound's first sample, and how strong it is beside the strongest: 0..1."""

    seconds: float
    strength: float


def find_hits(samples: np.ndarray, least: float = 0.12, apart: float = 0.06) -> list[Hit]:
    """The hits of (n, 2) samples at 48 kHz, in order: those of at least a strength, no nearer than so many seconds.

    The change of loudness from look to look, in bands as wide as an ear's, is summed where it rises (spectral flux;
    Bello and others, "A Tutorial on Onset Detection in Music Signals", 2005). A hit is where that stands out of its
    surroundings; its moment is where the sound's own rise is steepest there, to a millisecond.
    """
    mono = samples.mean(1, dtype=np.float32)
    if len(mono) < _WINDOW:
        return []
    flux = _flux(mono)
    reach = max(1, round(_AROUND * _RATE / _HOP))
    usual = _running_median(flux, reach)
    over = flux - 1.5 * usual
    top = over.max(initial=0.0)
    if top <= 1e-6:
        return []
    gap = max(1, round(apart * _RATE / _HOP))
    found: list[Hit] = []
    for place in np.argsort(-over):
        strength = over[place] / top
        if strength < least:
            break
        near = over[max(0, place - 2) : place + 3]
        if over[place] < near.max():
            continue
        moment = _begins(mono, place * _HOP)
        if all(abs(moment - each.seconds * _RATE) >= gap * _HOP for each in found):
            found.append(Hit(moment / _RATE, float(strength)))
    return sorted(found)


def _flux(mono: np.ndarray) -> np.ndarray:
    """(m,) how much louder it becomes in all bands, at every look; look k is centred on sample k · 240."""
    padded = np.pad(mono, (_WINDOW // 2, _WINDOW))
    looks = 1 + len(mono) // _HOP
    window = np.hanning(_WINDOW)
    weights = _bands()
    before = np.zeros(_BANDS)
    flux = np.zeros(looks)
    for begin in range(0, looks, _AT_ONCE):
        rows = np.arange(begin, min(looks, begin + _AT_ONCE))
        blocks = padded[rows[:, None] * _HOP + np.arange(_WINDOW)] * window
        levels = np.log1p((np.abs(np.fft.rfft(blocks)) @ weights) / (_WINDOW / 4) / _FLOOR)
        all_levels = np.concatenate([before[None], levels])
        flux[rows] = np.clip(np.diff(all_levels, axis=0), 0, None).sum(1)
        before = levels[-1]
    return flux


_AT_ONCE = 2048
"""Looks taken together."""


def _bands() -> np.ndarray:
    """(bins, bands): triangles over frequencies, even on a logarithmic scale from 60 Hz up."""
    bins = np.fft.rfftfreq(_WINDOW, 1 / _RATE)
    edges = np.geomspace(60, 16_000, _BANDS + 2)
    rise = (bins[:, None] - edges[None, :-2]) / (edges[1:-1] - edges[:-2])
    fall = (edges[None, 2:] - bins[:, None]) / (edges[2:] - edges[1:-1])
    weights = np.clip(np.minimum(rise, fall), 0, None)
    # Of a band narrower than a bin the nearest one is taken.
    for band in np.flatnonzero(weights.sum(0) == 0):
        weights[np.abs(bins - edges[band + 1]).argmin(), band] = 1
    return weights


def _running_median(values: np.ndarray, reach: int) -> np.ndarray:
    padded = np.pad(values, reach, mode="edge")
    return np.median(np.lib.stride_tricks.sliding_window_view(padded, 2 * reach + 1), axis=1)


def _begins(mono: np.ndarray, about: int) -> int:
    """The sample at which the loudness of a few milliseconds rises most, near a place."""
    reach = _WINDOW // 2 + 2 * _HOP
    first, last = max(0, about - reach), min(len(mono), about + reach)
    count = (last - first) // _FINE
    if count < 6:
        return about
    energy = (mono[first : first + count * _FINE].astype(np.float64).reshape(count, _FINE) ** 2).mean(1)
    loud = np.log1p(np.sqrt(energy) / _FLOOR)
    # Three milliseconds after against five before.
    after = np.convolve(loud, np.ones(3) / 3)[2:][: count - 2]
    before = np.convolve(np.concatenate([np.full(5, loud[0]), loud]), np.ones(5) / 5)[4:][: count - 2]
    return first + int(np.argmax(after - before)) * _FINE
