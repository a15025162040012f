"""The handheld camera: small turns as of a camera that is held, by situation, as functions of time and a seed."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import NamedTuple

import numpy as np

_WAVES = 9
"""Sines in a band: enough for no two seconds to be alike."""


class Band(NamedTuple):
    """Noise between two frequencies in Hz, and its standard deviation in yaw, pitch and roll, in degrees."""

    low: float
    high: float
    yaw: float
    pitch: float
    roll: float


class Gait(NamedTuple):
    """Footsteps: so many a second; each nods the camera, every second one swings and rolls it. Degrees, from rest to
    peak."""

    rate: float
    yaw: float
    pitch: float
    roll: float


class Situation(NamedTuple):
    """How and where a camera is held. `says` is shown to the editor."""

    says: str
    bands: tuple[Band, ...]
    gait: Gait | None = None


def _held(sway: float, body: float, tremor: float, roll: float = 0.5) -> tuple[Band, ...]:
    """The three bands of a held camera: slow sway, the body, and tremor; the roll as a share of the rest."""
    bands = ((0.2, 0.8, sway), (0.8, 2.5, body), (6.0, 11.0, tremor))
    return tuple(Band(low, high, much, 0.8 * much, roll * much) for low, high, much in bands)


SITUATIONS: dict[str, Situation] = {
    "shoulder": Situation("standing, the camera on the shoulder", _held(0.13, 0.045, 0.006)),
    "settled": Situation("a tripod that has nearly settled", _held(0.012, 0.006, 0.0012, 0.3)),
    "braced": Situation("sitting, elbows on the knees", _held(0.06, 0.02, 0.006)),
    "stabilised": Situation("a long lens on the shoulder, stabilised", _held(0.055, 0.009, 0.0015, 0.3)),
    "walking": Situation("walking along", _held(0.34, 0.12, 0.012), Gait(1.85, 0.16, 0.28, 0.25)),
    "running": Situation("running after it", _held(0.7, 0.4, 0.03), Gait(2.7, 0.5, 0.9, 0.8)),
    "passenger": Situation("from the passenger's seat", (*_held(0.1, 0.16, 0.02), Band(8.0, 14.0, 0.012, 0.04, 0.02))),
    "boat": Situation(
        "in a small boat", (Band(0.08, 0.22, 0.5, 0.7, 1.3), Band(0.25, 0.7, 0.2, 0.25, 0.3), *_held(0.04, 0.03, 0.004))
    ),
    "cold": Situation("with cold hands", _held(0.14, 0.06, 0.035)),
    "cranked": Situation(
        "a cranked projector's gate", (Band(0.3, 1.5, 0.008, 0.012, 0.01), Band(3.0, 9.0, 0.006, 0.014, 0.006))
    ),
}


@lru_cache(maxsize=256)
def _waves(seed: int, situation: str) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Frequencies in Hz, phases, and amplitudes in degrees of yaw, pitch and roll: (3, n) each."""
    found: list[np.ndarray] = []
    for axis in range(3):
        rows = []
        for number, band in enumerate(SITUATIONS[situation].bands):
            chance = np.random.Generator(np.random.PCG64([seed & 0xFFFFFFFF, axis, number])).random((2, _WAVES))
            # One in each of as many equal parts of the band: no gap, and nothing that beats.
            rates = band.low + (band.high - band.low) * (np.arange(_WAVES) + chance[0]) / _WAVES
            # n sines of amplitude a deviate by a·√(n/2).
            amplitude = band[2 + axis] * math.sqrt(2 / _WAVES)
            rows.append(np.stack([rates, 2 * math.pi * chance[1], np.full(_WAVES, amplitude)]))
        found.append(np.concatenate(rows, axis=1))
    return tuple(np.stack([each[row] for each in found]) for row in range(3))  # type: ignore[return-value]


def turns_at(situation: str, seed: int, seconds: np.ndarray) -> np.ndarray:
    """(n, 3) yaw, pitch and roll in degrees at (n,) moments, counted in seconds of the situation's own pace."""
    rates, phases, amplitudes = _waves(seed, situation)
    angles = 2 * math.pi * rates[:, None, :] * seconds[None, :, None] + phases[:, None, :]
    turns = (np.sin(angles) * amplitudes[:, None, :]).sum(-1).T
    gait = SITUATIONS[situation].gait
    if gait is not None:
        begins = np.random.Generator(np.random.PCG64([seed & 0xFFFFFFFF, 77])).random()
        stride = math.pi * (gait.rate * seconds + begins)
        # A step falls quickly and rises slowly: the foot's landing is in the first harmonic above it.
        nod = (np.sin(2 * stride) + 0.35 * np.sin(4 * stride + 0.6)) / 1.2
        turns = turns + np.stack(
            [gait.yaw * np.sin(stride), gait.pitch * nod, gait.roll * np.sin(stride + 0.8)], axis=1
        )
    return turns


def focal_px(width: float, focal: np.ndarray, sensor: float) -> np.ndarray:
    """A focal length in px of a frame: (W/2) / tan(hfov/2) with hfov = 2·atan(sensor / 2·focal), both in mm."""
    return width * focal / sensor
