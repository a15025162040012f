"""A part of a shot."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..modelled import Frozen
from ..steps import Parameter
from .base import MAX_FRAMES, Id, Shorthand, fixed
from .points import FollowedPoint

PARAMETERS = (Parameter("gain", "Gain", "dB", 0, -48, 12, -96, 24, digits=1, gentle=1),)


class Footage(Frozen):
    """A part of a shot."""

    kind: Literal["footage"] = "footage"
    media: Id
    start: Annotated[float, Field(ge=0, le=MAX_FRAMES, allow_inf_nan=False)] = 0.0
    """First source moment shown, in frames of the project's rate."""
    speed: Annotated[float, Field(ge=-100, le=100, allow_inf_nan=False)] = 1.0
    """Source frames a frame: 0 holds the first, below 0 runs backwards from `start`."""
    fit: Literal["fill", "fit", "own"] = "fill"
    gain: Shorthand = fixed(0)
    """How loud its own sound is, dB."""
    muted: bool = False
    keeps_pitch: bool = True
    """Whether its sound keeps its pitch at another speed."""
    points: Annotated[tuple[FollowedPoint, ...], Field(max_length=40)] = ()
    """Points of its picture that were followed."""
