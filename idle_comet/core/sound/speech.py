"""Where speech lies in a sound."""

from __future__ import annotations

import numpy as np
import scipy

from .loudness import RATE

_HOP = RATE // 100
"""Samples of one look: 10 ms."""

_BAND = (180, 3800)
"""Where voices have most of their power."""

_OVER = 9.0
"""dB above the sound's own quiet from which on it is loud enough to be speech."""

_QUIET = -55.0
"""dB of full scale below which nothing is."""

_SHORTEST, _GAP, _ROOM = 0.18, 0.3, 0.06
"""Seconds: what is shorter is no speech; a pause up to so long belongs to it; how much is added at both ends."""


def speech(samples: np.ndarray) -> list[tuple[float, float]]:
    """From when to when something is said in (n, 2) samples at 48 kHz, in seconds: where the band of voices is loud
    against the quiet of the same sound."""
    mono = scipy.signal.sosfilt(
        scipy.signal.butter(2, _BAND, "bandpass", fs=RATE, output="sos"), samples.mean(1, dtype=np.float64)
    )
    looks = len(mono) // _HOP
    if not looks:
        return []
    power = (mono[: looks * _HOP].reshape(looks, _HOP) ** 2).mean(1)
    level = 10 * np.log10(scipy.ndimage.uniform_filter1d(power, 5) + 1e-12)
    floor = max(_QUIET - _OVER, float(np.percentile(level, 10)))
    # Where it is loud all along, half of what it rises by.
    over = min(_OVER, max(3.0, (float(np.percentile(level, 95)) - floor) / 2))
    loud = level > floor + over
    loud = scipy.ndimage.binary_closing(np.pad(loud, 64), np.ones(round(_GAP * 100)))[64:-64]
    edges = np.flatnonzero(np.diff(np.concatenate([[0], loud.astype(np.int8), [0]])))
    lasts = looks / 100
    return [
        (max(0.0, begin / 100 - _ROOM), min(lasts, end / 100 + _ROOM))
        for begin, end in edges.reshape(-1, 2)
        if (end - begin) / 100 >= _SHORTEST
    ]
