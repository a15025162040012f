"""The document: data without behaviour. Every model is frozen; an edit makes a new one.

Lengths are px of the project's own frame, times are whole frames of its rate.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal, Union

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, StringConstraints, field_validator, model_validator

from ..clock import Rate
from ..motion import Cascade, Ease, Fixed, Linear, Property
from ..motion.property import Colour, CountsFrom

MAX_TEXT = 10_000
MAX_FRAMES = 10_000_000

Id = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,63}$")]
Name = Annotated[str, StringConstraints(min_length=1, max_length=200)]
Frames = Annotated[int, Field(ge=0, le=MAX_FRAMES)]


class Frozen(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


def fixed(value: float | str | tuple[float, float]) -> Fixed:
    return Fixed(value=value)


def _as_property(value: Any) -> Any:
    # Colours were plain strings before they could move.
    return Fixed(value=value) if isinstance(value, str) else value


ColourProperty = Annotated[Property, BeforeValidator(_as_property)]


class HeldKey(Frozen):
    """From its frame on a choice or the words are these; times are counted as a key's."""

    counts_from: CountsFrom = "head"
    at: Annotated[float, Field(ge=-1e7, le=1e7, allow_inf_nan=False)]
    value: Annotated[str, StringConstraints(max_length=MAX_TEXT)] | int


class Shutter(Frozen):
    """How long each frame is exposed: angle in degrees of a turn, times `smear`, before, on or after the frame."""

    angle: Annotated[float, Field(ge=0, le=360, allow_inf_nan=False)] = 180
    smear: Annotated[float, Field(ge=0, le=16, allow_inf_nan=False)] = 1
    sits: Literal["before", "on", "after"] = "on"


class Transition(Frozen):
    """How a clip takes over from its neighbour, or comes from nothing and goes to it at a free end.

    `softness` 0..1 is the width of an edge against the frame; `towards` where the edge travels.
    """

    kind: Literal["dissolve", "dip", "wipe", "ellipse", "rectangle", "slide"] = "dissolve"
    length: int = Field(default=12, ge=1, le=MAX_FRAMES)
    ease: Ease = Linear()
    softness: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 0.08
    towards: Literal["right", "left", "down", "up"] = "right"
    colour: Colour = "#000000"
    """What is dipped to."""


Typeface = Annotated[str, StringConstraints(max_length=100)]
Feature = Annotated[str, StringConstraints(pattern=r"^[a-zA-Z0-9]{4}$")]


class Styled(Frozen):
    """Characters [start, end) of a text set in their own way; what is None is the text's."""

    start: Annotated[int, Field(ge=0, le=MAX_TEXT)]
    end: Annotated[int, Field(ge=0, le=MAX_TEXT)]
    typeface: Typeface | None = None
    weight: Annotated[float, Field(ge=1, le=1000, allow_inf_nan=False)] | None = None
    width: Annotated[float, Field(ge=25, le=200, allow_inf_nan=False)] | None = None
    size: Annotated[float, Field(ge=0.05, le=20, allow_inf_nan=False)] | None = None
    """Times the text's size."""
    tracking: Annotated[float, Field(ge=-500, le=3000, allow_inf_nan=False)] | None = None
    colour: Colour | None = None
    shift: Annotated[float, Field(ge=-5, le=5, allow_inf_nan=False)] | None = None
    """Lifts the baseline, in em of the text."""
    case: Literal["typed", "upper", "lower", "small"] | None = None


class Text(Frozen):
    """Words set in a typeface and aligned to the frame."""

    kind: Literal["text"] = "text"
    text: Annotated[str, StringConstraints(max_length=MAX_TEXT)]
    typeface: Typeface = "archivo"
    weight: Property = fixed(600)
    width: Property = fixed(100)
    """Of the letters, in % of the typeface's own, where it has that axis."""
    size: Property = fixed(64)
    tracking: Property = fixed(0)
    leading: Property = fixed(1.2)
    colour: ColourProperty = fixed("#fff6e6")
    align: Literal["left", "centre", "right"] = "centre"
    """Where the lines meet within the block."""
    stand_x: Literal["left", "centre", "right"] = "centre"
    stand_y: Literal["top", "middle", "bottom"] = "middle"
    """Where the block stands in the frame (at an edge: in the title safe area)."""
    measured_by: Literal["ink", "type"] = "ink"
    """Optical (ink) or metric (first ascent to last descent, advances) alignment."""
    case: Literal["typed", "upper", "lower", "small"] = "typed"
    kerning: bool = True
    features: Annotated[tuple[Feature, ...], Field(max_length=40)] = ()
    """OpenType features that are on."""
    box: Property = fixed(0)
    """Width in px the lines are held to; 0 leaves them as typed."""
    box_does: Literal["wrap", "justify", "fit"] = "wrap"
    """Lines are broken at the box, broken and filled to it, or the type is sized so that the widest line fills it."""
    ranges: Annotated[tuple[Styled, ...], Field(max_length=500)] = ()
    """Parts set in their own way; where two meet, the later rules."""
    type_style: Annotated[str, StringConstraints(max_length=64)] | None = None
    """The type style of the film it is set in."""
    held: dict[Literal["text", "typeface", "align", "stand_x", "stand_y", "measured_by"], tuple[HeldKey, ...]] = {}
    """Words and choices that change within the clip; before a first key they are as set above."""

    @model_validator(mode="before")
    @classmethod
    def _weight_moves(cls, data: Any) -> Any:
        # A weight was a whole number, held by keys of its own, before it could move.
        if not isinstance(data, dict) or not isinstance(data.get("weight", 0), (int, float)):
            return data
        held = dict(data.get("held") or {})
        keys = held.pop("weight", None)
        data = {**data, "weight": {"state": "fixed", "value": data.get("weight", 600)}, "held": held} if "weight" in data or keys else data
        if keys:
            first = {"at": 0, "value": data["weight"]["value"], "ease": {"kind": "hold"}}
            data["weight"] = {"state": "moving", "keys": [first, *({**key, "ease": {"kind": "hold"}} for key in keys)]}
        return data

    @model_validator(mode="after")
    def _held_fit(self) -> "Text":
        for name, keys in self.held.items():
            for key in keys:
                if name in CHOICES and key.value not in CHOICES[name]:
                    raise ValueError(f"{key.value!r} is none of {', '.join(CHOICES[name])}")
                if name in ("text", "typeface") and not isinstance(key.value, str):
                    raise ValueError(f"{key.value!r} is no {name}")
        return self


CHOICES = {"align": ("left", "centre", "right"), "stand_x": ("left", "centre", "right"), "stand_y": ("top", "middle", "bottom"),
           "measured_by": ("ink", "type")}


class Footage(Frozen):
    """A part of a shot."""

    kind: Literal["footage"] = "footage"
    media: Id
    start: Annotated[float, Field(ge=0, le=MAX_FRAMES, allow_inf_nan=False)] = 0.0
    """First source moment shown, in frames of the project's rate."""
    speed: Annotated[float, Field(ge=-100, le=100, allow_inf_nan=False)] = 1.0
    """Source frames a frame: 0 holds the first, below 0 runs backwards from `start`."""
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
    colour: ColourProperty = fixed("#211e1b")


Content = Annotated[Union[Text, Footage, Still, Plain], Field(discriminator="kind")]


class Units(Frozen):
    """How a step's motion is passed on from unit to unit of a text, and about which point of itself each unit turns and grows.

    Without a `departure` of its own a step departs as it arrives.
    """

    arrival: Cascade = Cascade()
    departure: Cascade | None = None
    pivot: Literal["own", "centre", "baseline-left", "baseline-centre", "baseline-right", "top", "bottom", "left", "right"] = "own"


class Step(Frozen):
    """One thing done to a clip's picture. Parameters and choices left out have their default."""

    id: Id
    kind: Annotated[str, StringConstraints(max_length=60)]
    on: bool = True
    since: Frames = 0
    """It is done from so many frames after the clip's head…"""
    until: Frames = 0
    """…up to so many frames before its end."""
    mix: Property = fixed(1)
    values: dict[str, Property] = {}
    choices: dict[Annotated[str, StringConstraints(max_length=60)], Annotated[str, StringConstraints(max_length=200)]] = {}
    units: Units | None = None
    drawing: Annotated[str, StringConstraints(max_length=100_000)] = ""
    """An outline of its own, as SVG path data."""
    media: Id | None = None
    """A picture of the film it uses."""


class Clip(Frozen):
    """Something on a track for a length of time, with its three spans and its steps."""

    id: Id
    track: Id
    name: Name
    head: Frames
    length: int = Field(ge=1, le=MAX_FRAMES)
    arrival: Frames = 0
    departure: Frames = 0
    skipped: Frames = 0
    """Frames of its motion that lie before its first, since it was cut…"""
    cut_off: Frames = 0
    """…and past its last."""
    content: Content
    steps: tuple[Step, ...] = Field(default=(), max_length=100)
    seen: Literal["shown", "hidden", "alone"] = "shown"
    """While any clip is "alone", only those are seen."""
    rides: Id | None = None
    """The shot it moves along with."""
    opening: Transition | None = None
    closing: Transition | None = None
    shutter: Shutter | None = None
    """Its own motion blur; without one it has the film's."""
    recipe: Id | None = None
    """The recipe its look and motion came from."""
    palette: dict[Annotated[str, StringConstraints(max_length=140)], Id] = {}
    """Which of its colours ("content.colour", "STEP.VALUE") are colours of the film's palette."""

    @property
    def end(self) -> int:
        """The frame after its last."""
        return self.head + self.length


class Track(Frozen):
    """A lane of the timeline; clips on one track never overlap."""

    id: Id
    name: Name
    hidden: bool = False
    locked: bool = False
    height: int | None = Field(default=None, ge=20, le=240)
    """Px on the Desk; None is its own measure."""


class Marker(Frozen):
    """A named frame of the film."""

    id: Id
    frame: Frames
    name: Annotated[str, StringConstraints(max_length=200)] = ""


class SavedEase(Frozen):
    """An ease kept under a name."""

    name: Name
    ease: Ease


class Marks(Frozen):
    """What is marked on the ruler: markers in order of time, and the range that loops and is exported."""

    markers: tuple[Marker, ...] = Field(default=(), max_length=5000)
    first: Frames | None = None
    last: Frames | None = None


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
    notes: Annotated[tuple[Annotated[str, StringConstraints(max_length=200)], ...], Field(max_length=20)] = ()
    """What is done to show it as it is meant, in words."""

    @field_validator("rate")
    @classmethod
    def _shots_number_nothing(cls, rate: Rate) -> Rate:
        # How timecode is numbered is the film's affair; a shot's rate is only a speed.
        return rate.model_copy(update={"non_drop": False})


class PaletteColour(Frozen):
    """A colour of the series, by name."""

    id: Id
    name: Name
    value: Colour


class TypeStyle(Frozen):
    """How type is set throughout the series: the look of a text without its words, and its surface (outline, shadow, backing)."""

    id: Id
    name: Name
    look: Text
    surface: Annotated[tuple[Step, ...], Field(max_length=20)] = ()


class Settings(Frozen):
    """The film's frame, and what its titles have in common."""

    name: Name
    width: int = Field(default=1280, ge=16, le=8192, multiple_of=2)
    height: int = Field(default=720, ge=16, le=8192, multiple_of=2)
    rate: Rate = Rate(num=25)
    background: Colour = "#000000"
    shutter: Shutter = Shutter(angle=0)
    eases: tuple[SavedEase, ...] = Field(default=(), max_length=200)
    palette: tuple[PaletteColour, ...] = Field(default=(), max_length=100)
    type_styles: tuple[TypeStyle, ...] = Field(default=(), max_length=100)


class Project(Frozen):
    """A film: its settings, tracks from the top of the picture down, clips and media."""

    settings: Settings
    tracks: tuple[Track, ...] = Field(default=(), max_length=500)
    media: dict[Id, Media] = {}
    clips: dict[Id, Clip] = {}
    marks: Marks = Marks()
