"""A part of a sound."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, field_validator

from ..modelled import Frozen
from ..steps import Parameter
from .base import MAX_FRAMES, Frames, Id, Shorthand, fixed

SILENT = -96.0
"""dB; a gain of this or less lets nothing through."""

PARAMETERS = (
    Parameter("gain", "Gain", "dB", 0, -48, 12, SILENT, 24, digits=1, gentle=1),
    Parameter("pan", "Pan", "%", 0, -1, 1, -1, 1, shown_times=100),
)


class SoundHit(Frozen):
    """A moment at which something begins in a sound, in seconds of its source, and how strong it is, 0..1."""

    at: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)]
    strength: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 1.0


MOST_HITS = 5000


class Sound(Frozen):
    """A part of a sound, heard and not seen. Times are finer than a frame: fractions count."""

    kind: Literal["sound"] = "sound"
    media: Id
    start: Annotated[float, Field(ge=0, le=MAX_FRAMES, allow_inf_nan=False)] = 0.0
    """First source moment heard, in frames of the project's rate."""
    speed: Annotated[float, Field(ge=0.1, le=10, allow_inf_nan=False)] = 1.0
    """Seconds of the source a second; its pitch goes with it."""
    gain: Shorthand = fixed(0)
    """dB."""
    pan: Shorthand = fixed(0)
    """−1 is left, 1 is right."""
    fade_in: Frames = 0
    fade_out: Frames = 0
    """Frames over which it comes up at its head and goes down at its end, with equal power."""
    muted: bool = False
    hits: Annotated[tuple[SoundHit, ...], Field(max_length=MOST_HITS)] = ()
    """In order of time; found, moved and added by hand."""

    @field_validator("hits")
    @classmethod
    def _in_order(cls, hits: tuple[SoundHit, ...]) -> tuple[SoundHit, ...]:
        return tuple(sorted(hits, key=lambda hit: hit.at))
