"""How loud a film is: loudness by ITU-R BS.1770 and EBU R128, and the true peak."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import NamedTuple

import numpy as np
import scipy

RATE = 48_000
HOP = RATE // 10
"""Samples from one measured block to the next: 100 ms."""

MOMENTARY, SHORT_TERM = 4, 30
"""Hops of a block of 400 ms, and of 3 s."""

SILENCE = -120.0
"""LUFS or dB told of what is silent."""

_ABSOLUTE, _RELATIVE = -70.0, -10.0
"""Gates: blocks below −70 LUFS do not count, nor those 10 LU below the mean of the others."""

_WEIGHTING = np.array(
    [
        [1.53512485958697, -2.69169618940638, 1.19839281085285, 1, -1.69065929318241, 0.73248077421585],
        [1.0, -2.0, 1.0, 1, -1.99004745483398, 0.99007225036621],
    ]
)
"""The two stages of K-weighting at 48 kHz, as ITU-R BS.1770-5 prints them: a head's shelf, then a high-pass."""

TIMES = 8
"""Samples between two samples, among which the true peak is looked for: it is read at most 0.17 dB too low up to
half the band."""

_SIDE = 16
"""Samples on each side from which one between is made."""


class Loudness(NamedTuple):
    """LUFS of the whole and of its loudest three seconds, the true peak in dB of full scale, and the loudness range in
    LU."""

    integrated: float
    short_term: float
    true_peak: float
    range: float = 0.0


def lufs(energy: float | np.ndarray) -> float | np.ndarray:
    """LUFS of a mean square of K-weighted samples, summed over both sides."""
    told = -0.691 + 10 * np.log10(np.maximum(energy, 1e-13))
    return np.maximum(told, SILENCE)


def decibels(level: float) -> float:
    return max(SILENCE, 20 * math.log10(max(level, 1e-9)))


class LoudnessMeter:
    """Measures as the sound goes by, in blocks of any length; holds one number for every 100 ms."""

    def __init__(self) -> None:
        self._state = np.zeros((2, 2, 2))
        self._left = np.zeros((0, 2))
        self._hops: list[np.ndarray] = []
        self._peak = 0.0
        self._tail = np.zeros((_SIDE, 2))

    def add(self, samples: np.ndarray) -> None:
        """(n, 2) samples at 48 kHz, 1.0 full scale."""
        if not len(samples):
            return
        weighted, self._state = scipy.signal.sosfilt(_WEIGHTING, samples, axis=0, zi=self._state)
        left = np.concatenate([self._left, weighted])
        whole = len(left) // HOP * HOP
        if whole:
            self._hops.append((left[:whole] ** 2).reshape(-1, HOP * 2).sum(1) / HOP)
        self._left = left[whole:]
        joined = np.concatenate([self._tail, samples])
        self._peak = max(self._peak, peak_within(joined, self._peak))
        self._tail = joined[-2 * _SIDE :]

    def hops(self) -> np.ndarray:
        """(n,) mean square of every whole 100 ms, K-weighted, both sides together."""
        return np.concatenate(self._hops) if self._hops else np.zeros(0)

    def loudness(self) -> Loudness:
        hops = self.hops()
        loudest = float(np.max(over(hops, SHORT_TERM), initial=0.0))
        ended = np.concatenate([self._tail, np.zeros((_SIDE, 2))])
        peak = decibels(max(self._peak, peak_within(ended)))
        return Loudness(integrated(hops), float(lufs(loudest)), peak, loudness_range(hops))


def over(hops: np.ndarray, count: int) -> np.ndarray:
    """(n,) mean of every run of so many hops; of what is shorter than one run, the mean of all of it."""
    if not len(hops):
        return hops
    if len(hops) < count:
        return np.array([hops.sum() / count])
    sums = np.concatenate([[0.0], np.cumsum(hops)])
    return np.maximum(sums[count:] - sums[:-count], 0) / count


def integrated(hops: np.ndarray) -> float:
    """LUFS of the whole by gated blocks of 400 ms that overlap by three quarters (BS.1770-5, Annex 1)."""
    blocks = over(hops, MOMENTARY)
    loud = blocks[lufs(blocks) > _ABSOLUTE]
    if not len(loud):
        return SILENCE
    gate = lufs(loud.mean()) + _RELATIVE
    return float(lufs(loud[lufs(loud) > gate].mean()))


def loudness_range(hops: np.ndarray) -> float:
    """LU between the softest tenth and the loudest twentieth of all three seconds, gated at −70 LUFS and 20 LU below
    the mean of the others (EBU Tech 3342)."""
    runs = over(hops, SHORT_TERM) if len(hops) >= SHORT_TERM else np.zeros(0)
    loud = runs[lufs(runs) > _ABSOLUTE]
    if not len(loud):
        return 0.0
    kept = lufs(loud[lufs(loud) > lufs(loud.mean()) - 20.0])
    low, high = np.percentile(kept, [10, 95])
    return float(high - low)


@lru_cache(maxsize=1)
def _between() -> np.ndarray:
    """(TIMES, 2·SIDE): from the samples around, the one at each part of the way between two (Kaiser-windowed sinc)."""
    taps = np.arange(-_SIDE + 1, _SIDE + 1)
    places = np.arange(TIMES)[:, None] / TIMES
    off = taps[None, :] - places
    weights = np.sinc(off) * np.i0(7.0 * np.sqrt(np.clip(1 - (off / _SIDE) ** 2, 0, None))) / np.i0(7.0)
    return weights / weights.sum(1, keepdims=True)


@lru_cache(maxsize=1)
def _most() -> float:
    """How many times the highest sample nothing between samples can exceed."""
    return float(np.abs(_between()).sum(1).max())


_RUN = 2048


def peak_within(samples: np.ndarray, known: float = 0.0) -> float:
    """The highest level of (n, 2) samples and of the sound between them, as far as enough lies around it; runs that
    cannot exceed what is known are passed over."""
    best = float(np.abs(samples).max(initial=0.0))
    for begin in range(0, len(samples), _RUN):
        part = samples[begin : begin + _RUN + 2 * _SIDE - 1]
        if len(part) >= 2 * _SIDE and float(np.abs(part).max()) * _most() > max(best, known):
            best = max(best, float(_levels(part).max()))
    return best


def levels_between(samples: np.ndarray) -> np.ndarray:
    """(n,) the highest level of either side from each sample to the next, of (n, 2) samples with silence around."""
    return _levels(np.pad(samples, ((_SIDE - 1, _SIDE), (0, 0))))


def _levels(samples: np.ndarray) -> np.ndarray:
    windows = np.lib.stride_tricks.sliding_window_view(samples, 2 * _SIDE, axis=0)
    return np.abs(windows @ _between().astype(samples.dtype).T).max(axis=(1, 2))


class Level(NamedTuple):
    """What a meter shows at a moment: LUFS of the last 400 ms and of the last 3 s, and dB of the highest of both
    sides."""

    momentary: float
    short_term: float
    peak: float


def levels_at(samples: np.ndarray, ends: np.ndarray) -> list[Level]:
    """What meters show at the ends of runs of samples: `ends` count in (n, 2) samples, whose first lie at least three
    seconds before, or at the film's beginning, and which go on for a few after the last."""
    weighted = scipy.signal.sosfilt(_WEIGHTING, samples, axis=0)
    sums = np.concatenate([[0.0], np.cumsum((weighted**2).sum(1))])
    made, before = [], int(ends[0])
    between = levels_between(samples)
    for number, end in enumerate(ends):
        begin = before if number else max(0, int(end) - (int(ends[1]) - int(end) if len(ends) > 1 else HOP))
        energies = [max(0.0, sums[end] - sums[max(0, end - hops * HOP)]) / (hops * HOP) for hops in (4, 30)]
        made.append(
            Level(float(lufs(energies[0])), float(lufs(energies[1])), decibels(between[begin:end].max(initial=0.0)))
        )
        before = int(end)
    return made
