"""Motors: what drives a property without keys. Each is a closed form in time."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Annotated, Literal, Union

from pydantic import Field

from ..modelled import Frozen
from .ease import Ease, Strengths, ease_progress

Amount = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
Hertz = Annotated[float, Field(ge=0, le=60, allow_inf_nan=False)]
Seed = Annotated[int, Field(ge=0, le=2**31 - 1)]
FadeFrames = Annotated[int, Field(ge=0, le=10_000_000)]
Name = Annotated[str, Field(max_length=64)]


class _Motor(Frozen):
    """`fade_in` and `fade_out` are frames at the clip's two ends in which the motor's swing grows and dies."""

    fade_in: FadeFrames = 0
    fade_out: FadeFrames = 0


class Steady(_Motor):
    """From a value on, at so many units a second."""

    kind: Literal["steady"] = "steady"
    start: Amount = 0
    rate: Amount = 10


class Wobble(_Motor):
    """Smooth noise around a centre, never quicker than `rate` Hz and never further than the amplitude."""

    kind: Literal["wobble"] = "wobble"
    centre: Amount = 0
    amplitude: Amount = 3
    rate: Hertz = 0.6
    phase: Amount = 0
    """Turns of its quickest wave by which it is ahead."""
    seed: Seed = 1


class Oscillation(_Motor):
    """A wave around a centre; `phase` in turns. One that is eased goes from its lowest to its highest by `rise` within
    the share `up` of a turn, and back by `fall`."""

    kind: Literal["oscillation"] = "oscillation"
    shape: Literal["sine", "triangle", "pulse", "sawtooth", "eased"] = "sine"
    rise: Ease = Strengths()
    fall: Ease = Strengths()
    up: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 0.5
    centre: Amount = 0
    amplitude: Amount = 4
    rate: Hertz = 0.5
    phase: Amount = 0


class Follow(_Motor):
    """Another property's value, of this clip or of one named: gain · value(t − delay) + offset."""

    kind: Literal["follow"] = "follow"
    clip: Name | None = None
    step: Annotated[str, Field(max_length=129)]
    name: Name
    gain: Amount = 1
    offset: Amount = 0
    delay: Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False, description="frames")] = 0


Own = Literal["first", "middle", "last"]
"""Of a thing's own extent along an axis: its left or upper edge, its middle, its right or lower edge."""

Side = Literal["left", "right", "top", "bottom", "middle-x", "middle-y", "anchor-x", "anchor-y"]


class Tether(_Motor):
    """Where an edge, the middle or the anchor of another clip stands on the picture, px: gain · place + offset.

    With `own` the value is what brings that side of its own clip or mask there, however the steps after it place it.
    `held` is the least or the most that the place has been since the clip began, while the other clip is there.
    """

    kind: Literal["tether"] = "tether"
    clip: Name
    side: Side = "left"
    own: Own | None = None
    held: Literal["least", "most"] | None = None
    gain: Amount = 1
    offset: Amount = 0


class OnPoint(_Motor):
    """What a followed point of a shot does: gain · quantity + offset. Before the shot's head and past its end it stays
    as it is there.

    Of another `clip` it is where the point is seen on the picture, px; of its own (None) where it lies before any step
    moves it. With a `second` point `turn` is the direction from the first to the second, in degrees, and `size` how far
    they are apart, in heights of the frame. `aside` is a place seen from the point: in px, or with a second point in
    ways from the first to the second and across them, so that it turns and grows with both. `part` is all of it, or
    only what is slower, or quicker, than `smooth` seconds."""

    kind: Literal["on_point"] = "on_point"
    clip: Name | None = None
    point: Name
    second: Name | None = None
    gives: Literal["x", "y", "turn", "size"] = "x"
    aside: tuple[Amount, Amount] = (0.0, 0.0)
    part: Literal["whole", "slow", "quick"] = "whole"
    smooth: Annotated[float, Field(ge=0, le=60, allow_inf_nan=False)] = 0.0
    gain: Amount = 1
    offset: Amount = 0


class SoundLevel(_Motor):
    """How loud a sound is in a band: gain · level + offset, the level 0..1 of the loudest it becomes there.

    It rises to a louder level within `attack` seconds and falls to a softer one within `release`. The band is one that
    was measured of the sound."""

    kind: Literal["sound_level"] = "sound_level"
    clip: Name
    band: Annotated[int, Field(ge=0, le=31)] = 0
    attack: Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)] = 0.02
    release: Annotated[float, Field(ge=0, le=30, allow_inf_nan=False)] = 0.25
    gain: Amount = 1
    offset: Amount = 0


Motor = Annotated[Union[Steady, Wobble, Oscillation, Follow, Tether, OnPoint, SoundLevel], Field(discriminator="kind")]

CENTRES = {"steady": "start", "follow": "offset", "tether": "offset", "on_point": "offset", "sound_level": "offset"}
"""The field of a motor that shifts all of its values, by its kind; `centre` for the others."""

_SHARES = (0.31, 0.47, 0.61, 0.83, 1.0)
_WEIGHTS = (0.30, 0.25, 0.20, 0.15, 0.10)
"""A wobble's waves: shares of its rate, which no small whole numbers relate, and of its amplitude (together 1)."""


@lru_cache(maxsize=1024)
def _phases(seed: int) -> tuple[float, ...]:
    """A phase in 0..2π for each wave: an integer hash (SplitMix64) of seed and number, the same everywhere."""
    phases = []
    for number in range(len(_SHARES)):
        x = (seed * 0x9E3779B97F4A7C15 + number * 0xD1B54A32D192ED03 + 0x632BE59BD9B4E019) & (2**64 - 1)
        x = ((x ^ (x >> 30)) * 0xBF58476D1CE4E5B9) & (2**64 - 1)
        x = ((x ^ (x >> 27)) * 0x94D049BB133111EB) & (2**64 - 1)
        phases.append((x ^ (x >> 31)) / 2**64 * 2 * math.pi)
    return tuple(phases)


def wobble(motor: Wobble, seconds: float) -> float:
    """−1..1, with no frequency above the motor's rate."""
    turns = motor.rate * seconds + motor.phase
    return sum(
        weight * math.sin(2 * math.pi * share * turns + phase)
        for weight, share, phase in zip(_WEIGHTS, _SHARES, _phases(motor.seed))
    )


def oscillation(motor: Oscillation, seconds: float) -> float:
    """−1..1: sin 2πx, a triangle or a square wave of the same period and sign, a sawtooth from −1 to 1, or what its
    eases make of it (past both ends where they overshoot), x = rate · t + phase."""
    x = motor.rate * seconds + motor.phase
    if motor.shape == "sine":
        return math.sin(2 * math.pi * x)
    part = x - math.floor(x)
    if motor.shape == "pulse":
        return 1.0 if part < 0.5 else -1.0
    if motor.shape == "sawtooth":
        return 2 * part - 1
    if motor.shape == "eased":
        if part < motor.up:
            return 2 * ease_progress(motor.rise, part / motor.up) - 1
        return 1 - 2 * ease_progress(motor.fall, (part - motor.up) / (1 - motor.up))
    return 1 - 4 * abs(((part + 0.25) % 1.0) - 0.5)


def fade(motor: _Motor, frame: float, length: int) -> float:
    """The share of its swing a motor has at a frame of the clip, 0..1, rising evenly."""
    share = 1.0
    if motor.fade_in:
        share = min(share, max(0.0, frame / motor.fade_in))
    if motor.fade_out:
        share = min(share, max(0.0, (length - 1 - frame) / motor.fade_out))
    return share


def describe_motor(motor: Motor) -> str:
    """A motor in words."""
    if motor.kind == "steady":
        return f"{motor.rate:g} a second"
    if motor.kind == "follow":
        return "follows another value"
    if motor.kind == "tether":
        return f"goes with the {motor.side.replace('-', ', ')} of another clip"
    if motor.kind == "on_point":
        return "goes with a followed point"
    if motor.kind == "sound_level":
        return "goes with how loud a sound is"
    name = {"wobble": "wobbles", "oscillation": "swings"}[motor.kind]
    return f"{name} ±{abs(motor.amplitude):g} at {motor.rate:g} Hz"
