"""A part of a sound."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, BeforeValidator, Field, field_validator

from ..modelled import Frozen
from ..motion import Ease
from ..steps import Parameter
from .base import MAX_FRAMES, Frames, Id, Shorthand, Speed, as_property, fixed, speeds

SILENT = -96.0
"""dB; a gain of this or less lets nothing through."""

PARAMETERS = (
    Parameter("gain", "Gain", "dB", 0, -48, 12, SILENT, 24, digits=1, gentle=1),
    Parameter("pan", "Pan", "%", 0, -1, 1, -1, 1, shown_times=100),
    Parameter("speed", "Speed", "%", 1, 0, 3, 0.1, 10, neutral=1, shown_times=100, integrated=True),
)


class SoundHit(Frozen):
    """A moment at which something begins in a sound, in seconds of its source, and how strong it is, 0..1."""

    at: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)]
    strength: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 1.0


MOST_HITS = 5000

LEVELS_A_SECOND = 50
"""How often a sound's level is told."""


class HeardLevel(Frozen):
    """How loud a sound is between two frequencies, fifty times a second from its beginning on: 0..255 of the loudest it
    becomes there."""

    low: Annotated[float, Field(ge=10, le=24_000)] = 20
    high: Annotated[float, Field(ge=10, le=24_000)] = 20_000
    values: Annotated[tuple[Annotated[int, Field(ge=0, le=255)], ...], Field(max_length=60_000)] = ()


MOST_LEVELS = 8


class Sound(Frozen):
    """A part of a sound, heard and not seen. Times are finer than a frame: fractions count."""

    kind: Literal["sound"] = "sound"
    media: Id
    start: Annotated[float, Field(ge=-1, le=MAX_FRAMES, allow_inf_nan=False)] = 0.0
    """First source moment heard, in frames of the project's rate; below 0 it begins within its first frame."""
    speed: Annotated[Speed, BeforeValidator(as_property), AfterValidator(speeds(0.1, 10))] = fixed(1)
    """Seconds of the source a second."""
    keeps_pitch: bool = False
    """Whether its pitch stays as it is at another speed, or goes with it."""
    gain: Shorthand = fixed(0)
    """dB."""
    pan: Shorthand = fixed(0)
    """−1 is left, 1 is right."""
    fade_in: Frames = 0
    fade_out: Frames = 0
    """Frames of the fade in at its head and of the fade out at its tail."""
    fade_in_ease: Ease | None = None
    fade_out_ease: Ease | None = None
    """From silence to full, for either end; None has equal power where two cross: a quarter of a sine."""
    fade_before: Frames = 0
    fade_after: Frames = 0
    """Frames of its fades that lie before its head and past its end, since it was cut there."""
    muted: bool = False
    hits: Annotated[tuple[SoundHit, ...], Field(max_length=MOST_HITS)] = ()
    """In order of time; found, moved and added by hand."""
    levels: Annotated[tuple[HeardLevel, ...], Field(max_length=MOST_LEVELS)] = ()
    """What was measured of it, for values that go with it."""

    @field_validator("hits")
    @classmethod
    def _in_order(cls, hits: tuple[SoundHit, ...]) -> tuple[SoundHit, ...]:
        return tuple(sorted(hits, key=lambda hit: hit.at))


def cut_fades(content: Sound, before: int, after: int) -> Sound:
    """A sound without so many frames at its head and at its end: what is left of its fades goes on as it was."""
    into, out = content.fade_before + before, content.fade_after + after
    changes: dict[str, int] = {}
    if before:
        changes |= {"fade_in": content.fade_in, "fade_before": into} if into < content.fade_in else _NO_FADE_IN
    if after:
        changes |= {"fade_out": content.fade_out, "fade_after": out} if out < content.fade_out else _NO_FADE_OUT
    return content.model_copy(update=changes)


_NO_FADE_IN, _NO_FADE_OUT = {"fade_in": 0, "fade_before": 0}, {"fade_out": 0, "fade_after": 0}
