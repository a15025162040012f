"""How a handheld camera turns: over its clip, and how often."""

from __future__ import annotations

import numpy as np

from ..modelled import Model
from ..motion.handheld import turns_at
from ..project.model import Clip, Project
from .compiled import compiled

_SHOWN = 240
_SECONDS, _RATE, _PART = 80.0, 50.0, 512
"""A spectrum is of so many seconds of the path, at so many moments a second, in parts of so many."""


class Traces(Model):
    """`turns` are (frame of the clip, yaw, pitch, roll) in degrees; `spectrum` (Hz, yaw, pitch, roll), the standard
    deviation in degrees that a band of 1 Hz would have."""

    turns: list[tuple[float, float, float, float]]
    spectrum: list[tuple[float, float, float, float]]


def traces_of(project: Project, clip: Clip, step: str) -> Traces | None:
    """None where the step is no handheld camera that is on."""
    own = next((each for each in compiled(project, clip).steps if each.id == step and each.kind == "handheld"), None)
    if own is None:
        return None
    rate = float(project.settings.rate.fraction)
    frames = np.linspace(0, clip.length - 1, min(_SHOWN, clip.length))
    values = [own.told(own.values(at), at, own.mixed(at)) for at in frames]
    much = np.array([[each[name] * each["intensity"] for name in ("across", "down", "roll")] for each in values])
    first = values[0]
    seed, situation, speed = int(first["seed"]), first["situation"], first["speed"]
    turns = turns_at(situation, seed, (frames + own.skipped) / rate * speed) * much
    rates, powers = _spectrum(turns_at(situation, seed, np.arange(0, _SECONDS, 1 / _RATE) * speed))
    powers = np.sqrt(powers) * much.max(0)
    shown = (rates > 0.05) & (rates < 16)
    return Traces(
        turns=[(float(at), *(float(each) for each in row)) for at, row in zip(frames, turns)],  # type: ignore[misc]
        spectrum=[
            (float(at), *(float(each) for each in row))  # type: ignore[misc]
            for at, row in zip(rates[shown], powers[shown])
        ],
    )


def _spectrum(path: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Power per Hz by the mean of windowed parts that overlap by half (Welch, 1967)."""
    window = np.hanning(_PART)[:, None]
    parts = [path[begin : begin + _PART] for begin in range(0, len(path) - _PART + 1, _PART // 2)]
    powers = [np.abs(np.fft.rfft((part - part.mean(0)) * window, axis=0)) ** 2 for part in parts]
    return np.fft.rfftfreq(_PART, 1 / _RATE), 2 * np.mean(powers, axis=0) / (_RATE * (window**2).sum())
