"""The film's sound as it is heard and exported: mixed, brought to its level, and kept below its ceiling."""

from __future__ import annotations

from typing import Callable

import numpy as np
import scipy

from ..project.model import FilmSound, Project
from .loudness import SILENCE, Loudness, LoudnessMeter, levels_between
from .mixing import SoundSources, mixed

REACH = 1200
"""Samples, 25 ms, before and after a peak over which the level goes down to it and comes back."""

_MARGIN = 2 * REACH + 128

_BELOW = 10 ** (-0.03 / 20)
"""The ceiling is kept with so much to spare: what lies between samples is read a little too low."""


Mix = Callable[[Project, SoundSources, int, int], np.ndarray]
"""(count, 2) samples of a film from one on, before its gain and ceiling."""


class MixedOnce:
    """The mix of one film, for who asks for it again and again at other gains and ceilings: made once, and kept as
    float32 where it has no more than `most` samples."""

    _BLOCK = 5 * 48_000

    def __init__(self, samples: int, most: int = 6 * 60 * 48_000) -> None:
        self._keeps = samples <= most
        self._blocks: dict[int, np.ndarray] = {}

    def __call__(self, project: Project, sources: SoundSources, first: int, count: int) -> np.ndarray:
        if not self._keeps:
            return mixed(project, sources, first, count)
        low, high = first // self._BLOCK, -(-(first + count) // self._BLOCK)
        parts = [self._block(project, sources, number) for number in range(low, high)]
        begin = first - low * self._BLOCK
        return np.concatenate(parts)[begin : begin + count].astype(np.float64)

    def _block(self, project: Project, sources: SoundSources, number: int) -> np.ndarray:
        if number not in self._blocks:
            made = mixed(project, sources, number * self._BLOCK, self._BLOCK)
            self._blocks[number] = made.astype(np.float32)
        return self._blocks[number]


def heard(project: Project, sources: SoundSources, first: int, count: int, mix: Mix = mixed) -> np.ndarray:
    """(count, 2) float64 of the film from sample `first` on, as exported: the same wherever one begins."""
    sound = project.settings.sound
    if sound.ceiling is None:
        return mix(project, sources, first, count) * 10 ** (sound.gain / 20)
    wide = mix(project, sources, first - _MARGIN, count + 2 * _MARGIN)
    return kept_below(wide * 10 ** (sound.gain / 20), sound.ceiling)[_MARGIN : _MARGIN + count]


def kept_below(samples: np.ndarray, ceiling: float) -> np.ndarray:
    """(n, 2) samples with their level taken down around what would be louder than a ceiling, in dB of true peak.

    The share that each sample may keep is held for a reach before and after it, then smoothed over the same reach: a
    mean of shares none of which is above what the peak may keep.
    """
    most = 10 ** (ceiling / 20) * _BELOW
    if np.abs(samples).max(initial=0.0) * 3 < most:
        return samples
    level = levels_between(samples)
    level[1:] = np.maximum(level[1:], level[:-1])
    if level.max(initial=0.0) <= most:
        return samples
    share = np.minimum(1.0, most / np.maximum(level, 1e-9))
    held = scipy.ndimage.minimum_filter1d(share, 2 * REACH + 1, mode="constant", cval=1.0)
    window = scipy.signal.windows.hann(2 * REACH + 3)[1:-1]
    taken = scipy.signal.fftconvolve(1 - held, window / window.sum(), mode="same")
    # Where nothing is taken the transform leaves its own rounding.
    return samples * (1 - np.where(taken < 1e-9, 0.0, taken))[:, None]


Pass = Callable[[FilmSound], Loudness]
"""Measures the film at a gain and a ceiling."""


def measured(
    project: Project,
    sources: SoundSources,
    samples: int,
    at_once: int = 10 * 48_000,
    pause: Callable[[], None] = lambda: None,
    mix: Mix = mixed,
) -> LoudnessMeter:
    """The film's first so many samples, measured. `pause` is called between stretches; what it raises ends it."""
    meter = LoudnessMeter()
    for begin in range(0, samples, at_once):
        pause()
        meter.add(heard(project, sources, begin, min(at_once, samples - begin), mix))
    return meter


class TooQuiet(ValueError):
    """There is nothing in the film that could be brought to a loudness."""


def brought_to(target: float, ceiling: float, measure: Pass) -> FilmSound:
    """The gain at which the film has a loudness, in LUFS, below a ceiling.

    Without a peak above the ceiling it is the difference; with one, what is taken from the peaks is added again, by
    secants, until less than 0.05 LU is missing or nothing more is gained.
    """
    plain = measure(FilmSound(gain=0, ceiling=None))
    if plain.integrated <= SILENCE:
        raise TooQuiet("Nothing is heard in this film, or it is too quiet to be measured.")
    gain = target - plain.integrated
    if plain.true_peak + gain <= ceiling:
        return FilmSound(gain=round(_within(gain), 2), ceiling=ceiling)
    tried: list[tuple[float, float]] = []
    for _ in range(6):
        gain = _within(gain)
        missing = target - measure(FilmSound(gain=gain, ceiling=ceiling)).integrated
        if abs(missing) < 0.05 or (tried and abs(gain - tried[-1][0]) < 0.01):
            break
        slope = (tried[-1][1] - missing) / (gain - tried[-1][0]) if tried else 1.0
        tried.append((gain, missing))
        gain += missing / min(1.5, max(0.2, slope))
    return FilmSound(gain=round(gain, 2), ceiling=ceiling)


def _within(gain: float) -> float:
    return min(FilmSound.MOST, max(-FilmSound.MOST, gain))
