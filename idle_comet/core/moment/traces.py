"""How a handheld camera turns: over its clip, and how often."""

from __future__ import annotations

import numpy as np

from ..modelled import Model
from ..motion.handheld import turns_at
from ..motion.tracks import write_track
from ..project.model import Clip, Project
from ..steps import HANDHELD, Values
from .compiled import CompiledStep, compiled

_SHOWN, _WRITTEN = 240, 400_000
_SECONDS, _RATE, _PART = 80.0, 50.0, 512
"""A spectrum is of so many seconds of the path, at so many moments a second, in parts of so many."""


class Traces(Model):
    """`turns` are (frame of the clip, yaw, pitch, roll) in degrees; `spectrum` (Hz, yaw, pitch, roll), the standard
    deviation in degrees that a band of 1 Hz would have."""

    turns: list[tuple[float, float, float, float]]
    spectrum: list[tuple[float, float, float, float]]


def recorded(project: Project, clip: Clip, step: str) -> str | None:
    """The turns of a handheld camera at every frame of its clip as lines of a track (`motion/tracks.py`)."""
    frames = np.arange(min(clip.length, _WRITTEN), dtype=float)
    found = _turns(project, clip, step, frames)
    return None if found is None else write_track(frames / float(project.settings.rate.fraction), found)


def traces_of(project: Project, clip: Clip, step: str) -> Traces | None:
    """None where the step is no handheld camera that is on."""
    frames = np.linspace(0, clip.length - 1, min(_SHOWN, clip.length))
    turns = _turns(project, clip, step, frames)
    own = _camera(project, clip, step)
    if turns is None or own is None:
        return None
    values = [own.told(own.values(at), at, own.mixed(at)) for at in frames]
    much = np.array([_much(each) for each in values]).max(0)
    seconds = np.arange(0, _SECONDS, 1 / _RATE) * values[0]["speed"]
    rates, powers = _spectrum(turns_at(values[0]["situation"], int(values[0]["seed"]), seconds))
    powers = np.sqrt(powers) * much
    shown = (rates > 0.05) & (rates < 16)
    return Traces(
        turns=[(float(at), *(float(each) for each in row)) for at, row in zip(frames, turns)],  # type: ignore[misc]
        spectrum=[
            (float(at), *(float(each) for each in row))  # type: ignore[misc]
            for at, row in zip(rates[shown], powers[shown])
        ],
    )


def _camera(project: Project, clip: Clip, step: str) -> CompiledStep | None:
    return next(
        (each for each in compiled(project, clip).steps if each.id == step and each.kind == HANDHELD.kind), None
    )


def _much(values: Values) -> tuple[float, float, float]:
    return tuple(values[name] * values["intensity"] for name in ("across", "down", "roll"))


def _turns(project: Project, clip: Clip, step: str, frames: np.ndarray) -> np.ndarray | None:
    """(n, 3) yaw, pitch and roll in degrees at frames of the clip."""
    own = _camera(project, clip, step)
    if own is None:
        return None
    values = [own.told(own.values(at), at, own.mixed(at)) for at in frames]
    seconds = (frames + own.skipped) / float(project.settings.rate.fraction) * values[0]["speed"]
    shaken = turns_at(values[0]["situation"], int(values[0]["seed"]), seconds)
    turned = np.array([[each[name] for name in ("yaw", "pitch", "turned")] for each in values])
    return shaken * np.array([_much(each) for each in values]) + turned


def _spectrum(path: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Power per Hz by the mean of windowed parts that overlap by half (Welch, 1967)."""
    window = np.hanning(_PART)[:, None]
    parts = [path[begin : begin + _PART] for begin in range(0, len(path) - _PART + 1, _PART // 2)]
    powers = [np.abs(np.fft.rfft((part - part.mean(0)) * window, axis=0)) ** 2 for part in parts]
    return np.fft.rfftfreq(_PART, 1 / _RATE), 2 * np.mean(powers, axis=0) / (_RATE * (window**2).sum())
