"""How loud a sound is in a band, moment by moment."""

from __future__ import annotations

import numpy as np
import scipy

from ..contents.sound import LEVELS_A_SECOND, HeardLevel
from .loudness import RATE

_HOP = RATE // LEVELS_A_SECOND
MOST_SECONDS = 1200


def heard_level(samples: np.ndarray, low: float = 20, high: float = 20_000) -> HeardLevel:
    """The root of the mean square of (n, 2) samples at 48 kHz between two frequencies, as shares of its highest: value
    k is that of the 20 ms around k/50 s."""
    mono = samples[: MOST_SECONDS * RATE].mean(1, dtype=np.float64)
    low, high = max(10.0, min(low, high / 1.05)), min(high, RATE / 2 * 0.99)
    if low > 21 or high < 19_000:
        mono = scipy.signal.sosfiltfilt(scipy.signal.butter(2, [low, high], "bandpass", fs=RATE, output="sos"), mono)
    count = -(-len(mono) // _HOP)
    padded = np.pad(mono, (_HOP // 2, _HOP * (count + 1) - len(mono)))
    power = (padded[: count * _HOP].reshape(count, _HOP) ** 2).mean(1) if count else np.zeros(0)
    level = np.sqrt(power)
    top = level.max(initial=0.0)
    values = np.round(level / top * 255).astype(int) if top > 1e-7 else np.zeros(len(level), int)
    return HeardLevel(low=round(low, 1), high=round(high, 1), values=tuple(int(each) for each in values))
