"""The document: data without behaviour. Every model is frozen; an edit makes a new one.

Lengths are px of the project's own frame, times are whole frames of its rate.
"""

from __future__ import annotations

from typing import Annotated, Literal, Union

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from ..clock import Rate
from ..motion import Fixed, Property

MAX_TEXT = 10_000
MAX_FRAMES = 10_000_000

Id = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,63}$")]
Name = Annotated[str, StringConstraints(min_length=1, max_length=200)]
Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9a-f]{6}$")]
Frames = Annotated[int, Field(ge=0, le=MAX_FRAMES)]


class Frozen(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


def fixed(value: float) -> Fixed:
    return Fixed(value=value)


class Text(Frozen):
    """Words set in a typeface and aligned to the frame."""

    kind: Literal["text"] = "text"
    text: Annotated[str, StringConstraints(max_length=MAX_TEXT)]
    typeface: Annotated[str, StringConstraints(max_length=100)] = "archivo"
    weight: int = Field(default=600, ge=1, le=1000)
    size: Property = fixed(64)
    tracking: Property = fixed(0)
    leading: Property = fixed(1.2)
    colour: Colour = "#fff6e6"
    align: Literal["left", "centre", "right"] = "centre"
    """Where the lines meet within the block."""
    stand_x: Literal["left", "centre", "right"] = "centre"
    stand_y: Literal["top", "middle", "bottom"] = "middle"
    """Where the block stands in the frame (at an edge: in the title safe area)."""
    measured_by: Literal["ink", "type"] = "ink"
    """Optical (ink) or metric (first ascent to last descent, advances) alignment."""


class Footage(Frozen):
    """A part of a shot."""

    kind: Literal["footage"] = "footage"
    media: Id
    start: Frames = 0
    """First source moment shown, in frames of the project's rate."""
    fit: Literal["fill", "fit", "own"] = "fill"


class Still(Frozen):
    """A photograph or graphic, with its transparency."""

    kind: Literal["still"] = "still"
    media: Id
    fit: Literal["fill", "fit", "own"] = "fill"
    """"own": one px of the picture on one px of the frame."""


class Plain(Frozen):
    """One colour all over the frame."""

    kind: Literal["plain"] = "plain"
    colour: Colour = "#211e1b"


Content = Annotated[Union[Text, Footage, Still, Plain], Field(discriminator="kind")]


class Step(Frozen):
    """One thing done to a clip's picture. Parameters left out have their default."""

    id: Id
    kind: Annotated[str, StringConstraints(max_length=60)]
    on: bool = True
    mix: Property = fixed(1)
    values: dict[str, Property] = {}


class Clip(Frozen):
    """Something on a track for a length of time, with its three spans and its steps."""

    id: Id
    track: Id
    name: Name
    head: Frames
    length: int = Field(ge=1, le=MAX_FRAMES)
    arrival: Frames = 0
    departure: Frames = 0
    content: Content
    steps: tuple[Step, ...] = Field(default=(), max_length=100)


class Track(Frozen):
    """A lane of the timeline; clips on one track never overlap."""

    id: Id
    name: Name


class Media(Frozen):
    """What a clip needs to know of a media file; the bytes are found by their hash."""

    id: Id
    name: Name
    kind: Literal["video", "still"] = "video"
    alpha: bool = False
    """Whether it has transparency."""
    hash: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")]
    path: Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9][A-Za-z0-9_-]*(\.[A-Za-z0-9_-]+)*$", max_length=200)]
    """The file's name within the media folder."""
    width: int = Field(gt=0, le=16384)
    height: int = Field(gt=0, le=16384)
    rate: Rate = Rate(num=25)
    frames: int = Field(gt=0, le=MAX_FRAMES)


class Settings(Frozen):
    """The film's frame."""

    name: Name
    width: int = Field(default=1280, ge=16, le=8192, multiple_of=2)
    height: int = Field(default=720, ge=16, le=8192, multiple_of=2)
    rate: Rate = Rate(num=25)
    background: Colour = "#000000"


class Project(Frozen):
    """A film: its settings, tracks from the top of the picture down, clips and media."""

    settings: Settings
    tracks: tuple[Track, ...] = Field(default=(), max_length=500)
    media: dict[Id, Media] = {}
    clips: dict[Id, Clip] = {}
