"""A sound at another speed with its pitch as it was: made once for each speed, and kept beside it."""

from __future__ import annotations

import math
import os
import threading
import uuid
from pathlib import Path
from typing import Iterator, Protocol

import numpy as np
from python_stretch import Signalsmith

from ..core.sound import SOUND_RATE
from ..disk import put

_KEPT = 6
"""Speeds kept of one sound; the one that was not asked for longest goes first."""

_AT_ONCE = 2.0
"""How many times slower or faster a sound is made at once, so that what is struck stays at its moment, within a few
milliseconds; more is done in several passes."""

_PART, _AROUND, _FADE = 600 * SOUND_RATE, 2 * SOUND_RATE, SOUND_RATE // 20
"""Samples that are stretched at once, those around them that are heard with them, and those over which one part is
faded into the next."""

_locks: dict[Path, threading.Lock] = {}
_finding = threading.Lock()


def stretched_path(samples: Path, pace: float) -> Path:
    return samples.with_name(f"{samples.name.removesuffix('.f32')}.stretched-{pace:.5f}.f32")


class Cuttable(Protocol):
    """(n, 2) float32 samples, to be cut."""

    def __len__(self) -> int: ...

    def __getitem__(self, places: slice) -> np.ndarray: ...


def stretched(path: Path, samples: Cuttable, pace: float) -> Path:
    """Samples at a pace, as a file of their own beside the `path` of their file: made where there is none yet."""
    target = stretched_path(path, pace)
    with _finding:
        own = _locks.setdefault(target, threading.Lock())
    with own:
        if target.exists():
            os.utime(target)
            return target
        unfinished = target.with_name(f".{uuid.uuid4().hex}.f32")
        try:
            with unfinished.open("wb") as out:
                for block in _through(samples, pace):
                    out.write(np.ascontiguousarray(block, "<f4").tobytes())
            put(unfinished, target)
        finally:
            unfinished.unlink(missing_ok=True)
        others = target.parent.glob(f"{target.name.split('.stretched-')[0]}.stretched-*.f32")
        kept = sorted(others, key=lambda file: file.stat().st_mtime)
        for old in kept[:-_KEPT]:
            old.unlink(missing_ok=True)
        return target


def _through(samples: Cuttable, pace: float) -> Iterator[np.ndarray]:
    """(n, 2) blocks, part by part. Every part is stretched with what lies around it, and taken from where it begins."""
    whole, left = round(len(samples) / pace), np.zeros((0, 2), np.float32)
    for begin in range(0, len(samples), _PART):
        first, last = max(0, begin - _AROUND), min(len(samples), begin + _PART + _AROUND)
        made = stretched_at_once(samples[first:last], pace)
        start, end = round(begin / pace), min(whole, round((begin + _PART) / pace))
        skipped = round(first / pace)
        part = made[start - skipped : end - skipped + _FADE]
        share = np.linspace(0, 1, len(left), dtype=np.float32)[:, None]
        part[: len(left)] = part[: len(left)] * share + left * (1 - share)
        # The last part has no next one.
        left = part[end - start :].copy()
        yield np.pad(part[: end - start], ((0, max(0, end - start - len(part))), (0, 0)))


def stretched_at_once(samples: np.ndarray, pace: float) -> np.ndarray:
    """(n, 2) float32 samples at a pace."""
    made = np.ascontiguousarray(samples.T, np.float32)
    for _ in range(passes := max(1, math.ceil(abs(math.log2(pace)) - 1e-9))):
        made = _stretched(made, pace ** (1 / passes))
    return made.T


def _stretched(sound: np.ndarray, pace: float) -> np.ndarray:
    """(2, n) float32 at a pace that is not far from 1."""
    stretch = Signalsmith.Stretch()
    stretch.preset(2, SOUND_RATE)
    stretch.timeFactor = pace
    return np.asarray(stretch.process(sound), np.float32)
