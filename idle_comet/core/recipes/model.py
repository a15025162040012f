"""What a recipe holds. Lengths are px of a frame 720 high and times frames at 25 a second; applying scales both."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..motion.values import Colour
from ..project.model import Frames, Frozen, Name, Shutter, Step, Text

SORTS = ("title", "strap", "chapter", "quote", "counter", "end card", "credits", "caption")
HEIGHT, RATE = 720, 25


class LineStyle(Frozen):
    """How one line of the words is set; what is None is the text's."""

    typeface: Annotated[str, StringConstraints(max_length=100)] | None = None
    weight: Annotated[float, Field(ge=1, le=1000, allow_inf_nan=False)] | None = None
    width: Annotated[float, Field(ge=25, le=200, allow_inf_nan=False)] | None = None
    size: Annotated[float, Field(ge=0.05, le=20, allow_inf_nan=False)] | None = None
    tracking: Annotated[float, Field(ge=-500, le=3000, allow_inf_nan=False)] | None = None
    colour: Colour | None = None
    case: Literal["typed", "upper", "lower", "small"] | None = None


class FillIn(Frozen):
    """Something the next editor fills in. `places` are values it goes to: "content.colour", "STEP.VALUE", "STEP.media"
    or "line.N.colour"."""

    name: Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9 ]{0,39}$")]
    kind: Literal["words", "colour", "number", "picture"]
    value: Colour | float | Annotated[str, StringConstraints(max_length=2000)]
    """What it is unless filled in; of words, a sample that is never put over words that are there."""
    places: Annotated[tuple[Annotated[str, StringConstraints(max_length=140)], ...], Field(max_length=40)] = ()


Sort = Literal["title", "strap", "chapter", "quote", "counter", "end card", "credits", "caption"]


class Recipe(Frozen):
    """A design for words.

    `lines` are styles by line; a text with more lines sets them as the last. `sizes` are (characters, px): a size
    for the longest line, between two of them in proportion.
    """

    id: Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,63}$")]
    name: Name
    sort: Sort
    note: Annotated[str, StringConstraints(max_length=500)] = ""
    content: Text
    lines: Annotated[tuple[LineStyle, ...], Field(max_length=50)] = ()
    sizes: Annotated[
        tuple[tuple[Annotated[int, Field(ge=1, le=10_000)], Annotated[float, Field(gt=0, le=2000)]], ...],
        Field(max_length=20),
    ] = ()
    arrival: Frames = 0
    departure: Frames = 0
    length: Frames = 100
    """How long a new clip of it is, in frames."""
    shutter: Shutter | None = None
    steps: Annotated[tuple[Step, ...], Field(max_length=100)] = ()
    fill_ins: Annotated[tuple[FillIn, ...], Field(max_length=40)] = ()
