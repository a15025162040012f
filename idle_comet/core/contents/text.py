"""Words set in a typeface."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints, field_validator, model_validator

from ..modelled import Frozen
from ..motion import Property
from ..motion.numbered import numbered
from ..motion.values import Colour
from ..steps import Parameter, colour
from .base import MAX_TEXT, HeldKey, Shorthand, fixed
from .caption import Caption

Typeface = Annotated[str, StringConstraints(max_length=100)]
HeldName = Literal["text", "typeface", "align", "stand_x", "stand_y", "measured_by"]
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
    weight: Shorthand = fixed(600)
    width: Property = fixed(100)
    """Of the letters, in % of the typeface's own, where it has that axis."""
    size: Property = fixed(64)
    tracking: Property = fixed(0)
    leading: Property = fixed(1.2)
    colour: Shorthand = fixed("#fff6e6")
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
    caption: Caption | None = None
    held: dict[HeldName, tuple[HeldKey, ...]] = {}
    """Words and choices that change within the clip; before a first key they are as set above."""

    @field_validator("held")
    @classmethod
    def _numbered(cls, held: dict[HeldName, tuple[HeldKey, ...]]) -> dict[HeldName, tuple[HeldKey, ...]]:
        return {name: numbered(keys) for name, keys in held.items()}

    @model_validator(mode="after")
    def _held_fit(self) -> "Text":
        for name, keys in self.held.items():
            for key in keys:
                if name in CHOICES and key.value not in CHOICES[name]:
                    raise ValueError(f"{key.value!r} is none of {', '.join(CHOICES[name])}")
                if name in ("text", "typeface") and not isinstance(key.value, str):
                    raise ValueError(f"{key.value!r} is no {name}")
        return self


CHOICES = {
    "align": ("left", "centre", "right"),
    "stand_x": ("left", "centre", "right"),
    "stand_y": ("top", "middle", "bottom"),
    "measured_by": ("ink", "type"),
}

PARAMETERS = (
    Parameter("weight", "Weight", "", 600, 100, 900, 1, 1000, neutral=400, gentle=80),
    Parameter("width", "Width", "%", 100, 62, 125, 25, 200, neutral=100, gentle=5),
    Parameter("size", "Size", "px", 64, 8, 240, 1, 2000),
    Parameter("tracking", "Tracking", "‰ em", 0, -100, 600, -500, 3000),
    Parameter("leading", "Leading", "×", 1.2, 0.6, 2.4, 0.1, 10, neutral=1, digits=2),
    colour("colour", "Colour", "#fff6e6"),
    Parameter("box", "Box", "px", 0, 0, 1280, 0, 20000),
)
