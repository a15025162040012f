"""A part of a shot."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, BeforeValidator, Field

from ..modelled import Frozen
from ..steps import Parameter
from .base import MAX_FRAMES, Id, Shorthand, Speed, as_property, fixed, speeds
from .points import FollowedPoint

PARAMETERS = (
    Parameter("gain", "Gain", "dB", 0, -48, 12, -96, 24, digits=1, gentle=1),
    Parameter("speed", "Speed", "%", 1, -1, 3, -100, 100, neutral=1, shown_times=100, integrated=True),
)


class Footage(Frozen):
    """A part of a shot."""

    kind: Literal["footage"] = "footage"
    media: Id
    start: Annotated[float, Field(ge=0, le=MAX_FRAMES, allow_inf_nan=False)] = 0.0
    """First source moment shown, in frames of the project's rate."""
    speed: Annotated[Speed, BeforeValidator(as_property), AfterValidator(speeds(-100, 100))] = fixed(1)
    """Source frames a frame: 0 holds the first, below 0 runs backwards. The source moment shown is `start` and the
    integral of the speed since the clip's head."""
    between: Literal["nearest", "mixed"] = "nearest"
    """What is shown at a moment between two source frames: the one that has begun, or both by their shares."""
    fit: Literal["fill", "fit", "own"] = "fill"
    gain: Shorthand = fixed(0)
    """How loud its own sound is, dB."""
    muted: bool = False
    keeps_pitch: bool = True
    """Whether its sound keeps its pitch at another speed."""
    points: Annotated[tuple[FollowedPoint, ...], Field(max_length=40)] = ()
    """Points of its picture that were followed."""
