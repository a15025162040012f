"""The document: data without behaviour. Every model is frozen; an edit makes a new one.

Lengths are px of the project's own frame, times are whole frames of its rate.
"""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field, StringConstraints, field_validator

from ..clock import Rate
from ..contents import (
    CHOICES,
    MAX_FRAMES,
    MAX_TEXT,
    Camera,
    Content,
    Feature,
    Footage,
    Frames,
    Frozen,
    Generated,
    Group,
    HeldKey,
    Id,
    Light,
    ModelFile,
    Name,
    Plain,
    Shape,
    Sound,
    Still,
    Styled,
    Text,
    Treatment,
    fixed,
)
from ..contents.sound import SILENT
from ..motion import Cascade, Ease, Linear, Property
from ..motion.values import Colour
from ..picture import Mode
from ..type import Pivot
from .mask import Mask


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


class Units(Frozen):
    """How a step's motion is passed on from unit to unit of a text, and about which point of itself each unit turns and
    grows.

    Without a `departure` of its own a step departs as it arrives.
    """

    arrival: Cascade = Cascade()
    departure: Cascade | None = None
    pivot: Pivot = "own"


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
    choices: dict[
        Annotated[str, StringConstraints(max_length=60)], Annotated[str, StringConstraints(max_length=200)]
    ] = {}
    units: Units | None = None
    drawing: Annotated[str, StringConstraints(max_length=100_000)] = ""
    """An outline of its own, as SVG path data."""
    media: Id | None = None
    """A picture of the film it uses."""
    masks: Annotated[tuple[Mask, ...], Field(max_length=20)] = ()
    """Where it is done."""
    masked_from: Id | None = None
    """A step before it from which on the masks hold: for all that both and those between do. None is itself alone."""


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
    handles: tuple[Frames, Frames] = (0, 0)
    """Of what it was cut from, frames before the head and after the end at which a transition shows it."""
    content: Content
    steps: tuple[Step, ...] = Field(default=(), max_length=100)
    seen: Literal["shown", "hidden", "alone"] = "shown"
    """While any clip is "alone", only those are seen."""
    rides: Id | None = None
    """The shot it moves along with."""
    opening: Transition | None = None
    closing: Transition | None = None
    blend: Mode = "normal"
    """How it is blended with what lies below (W3C names)."""
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


Language = Annotated[str, StringConstraints(pattern=r"^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$", max_length=35)]
"""A language by its tag (BCP 47)."""


class CaptionTrack(Frozen):
    """What a track of captions has of its file: the language, and what stands before its first caption and
    after its last."""

    language: Language = "en"
    head: Annotated[str, StringConstraints(max_length=20_000)] = ""
    foot: Annotated[str, StringConstraints(max_length=20_000)] = ""
    lines: Literal["\n", "\r\n"] = "\n"
    """How its file ends a line."""


class Track(Frozen):
    """A lane of a timeline; clips on one track never overlap."""

    id: Id
    name: Name
    within: Id | None = None
    """The group's clip whose timeline it belongs to; None is the film's own."""
    hidden: bool = False
    """Neither seen nor heard."""
    locked: bool = False
    muted: bool = False
    """Seen, not heard."""
    alone: bool = False
    """While any track of a timeline is heard alone, only those are heard."""
    gain: Annotated[float, Field(ge=SILENT, le=24, allow_inf_nan=False)] = 0.0
    """dB added to all that is heard on it."""
    height: int | None = Field(default=None, ge=20, le=240)
    """Px on the Desk; None is its own measure."""
    side: Literal["front", "back"] | None = None
    """Of a group that is turned over: what lies on it is seen from that side only."""
    captions: CaptionTrack | None = None
    """It holds captions, and can be written as a file of them."""


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
    """What is marked on the ruler: markers in order of time."""

    markers: tuple[Marker, ...] = Field(default=(), max_length=5000)


class InToOut(Frozen):
    """The range that loops and is exported: its first and last frame; None is the film's own end."""

    first: Frames | None = None
    last: Frames | None = None


class MediaSound(Frozen):
    """The sound of a media file: samples a second, channels, and how long it lasts, as they are in the file."""

    rate: int = Field(gt=0, le=1_000_000)
    channels: int = Field(gt=0, le=64)
    seconds: Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)]
    loudest: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)] = 0.0
    """Its loudest moment, in seconds."""


Pixel = Annotated[int, Field(ge=0, le=16384)]


class Media(Frozen):
    """What a clip needs to know of a media file; the bytes are found by their hash.

    A sound alone has a size of 1 × 1."""

    id: Id
    name: Name
    kind: Literal["video", "still", "table", "sound", "model"] = "video"
    """A "table" of colours has as many entries along each axis as it is wide. A "model" has as many frames, 25 a
    second, as its own motion lasts; its size is in thousandths of its longest side, whichever that is."""
    alpha: bool = False
    """Whether it has transparency."""
    ink: tuple[Pixel, Pixel, Pixel, Pixel] | None = None
    """Of a still with transparency: left, top, right and bottom of what is seen of it, in its own px."""
    hash: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")]
    path: Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9][A-Za-z0-9_-]*(\.[A-Za-z0-9_-]+)*$", max_length=200)]
    """The file's name within the media folder."""
    size: Annotated[int, Field(ge=0)] | None = None
    """Bytes of the file; None where it was added before that was noted."""
    width: int = Field(gt=0, le=16384)
    height: int = Field(gt=0, le=16384)
    rate: Rate = Rate(num=25)
    frames: int = Field(gt=0, le=MAX_FRAMES)
    sound: MediaSound | None = None
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
    """How type is set throughout the series: the look of a text without its words, and its surface (outline, shadow,
    backing)."""

    id: Id
    name: Name
    look: Text
    surface: Annotated[tuple[Step, ...], Field(max_length=20)] = ()


class KeptLook(Frozen):
    """Steps without motion, kept under a name."""

    id: Id
    name: Name
    steps: Annotated[tuple[Step, ...], Field(min_length=1, max_length=40)]


class FilmSound(Frozen):
    """How loud the film is as a whole."""

    MOST: ClassVar[float] = 48.0

    gain: Annotated[float, Field(ge=-48, le=48, allow_inf_nan=False)] = 0.0
    """dB added to all that is heard."""
    ceiling: Annotated[float, Field(ge=-20, le=0, allow_inf_nan=False)] | None = -1.0
    """dB of true peak above which nothing rises; None lets it be cut off at full scale."""
    pan_law: Literal["0 dB", "-3 dB", "-4.5 dB", "-6 dB"] = "0 dB"
    """The level of a mono sound on either side, in the middle."""


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
    looks: tuple[KeptLook, ...] = Field(default=(), max_length=100)
    sound: FilmSound = FilmSound()


class Project(Frozen):
    """A film: its settings, tracks from the top of the picture down, clips and media."""

    settings: Settings
    tracks: tuple[Track, ...] = Field(default=(), max_length=500)
    media: dict[Id, Media] = {}
    clips: dict[Id, Clip] = {}
    marks: Marks = Marks()
    range: InToOut = InToOut()


__all__ = [
    "CHOICES",
    "Camera",
    "Light",
    "ModelFile",
    "CaptionTrack",
    "Clip",
    "Content",
    "Feature",
    "FilmSound",
    "Footage",
    "Frames",
    "Frozen",
    "Generated",
    "Group",
    "HeldKey",
    "Id",
    "KeptLook",
    "Language",
    "MAX_FRAMES",
    "MAX_TEXT",
    "Marker",
    "Marks",
    "Mask",
    "Media",
    "MediaSound",
    "Name",
    "PaletteColour",
    "Plain",
    "Project",
    "SavedEase",
    "Settings",
    "Shape",
    "Shutter",
    "Sound",
    "Step",
    "Still",
    "Styled",
    "Text",
    "Track",
    "Transition",
    "Treatment",
    "TypeStyle",
    "Units",
    "fixed",
]
