"""A model: an object from a file, with its own surfaces and its own motion."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from ..modelled import Frozen
from ..motion import Property
from ..space import AROUND
from ..steps import Choice, Parameter, share, whole
from .base import Id

_Word = Annotated[str, StringConstraints(max_length=60)]


class ModelFile(Frozen):
    """It stands in the middle of the frame, and turns about its own middle. Values and choices left out have their
    default."""

    kind: Literal["model"] = "model"
    media: Id
    values: Annotated[dict[_Word, Property], Field(max_length=40)] = {}
    choices: Annotated[dict[_Word, _Word], Field(max_length=8)] = {}


_TURN: dict[str, Any] = {
    "unit": "°",
    "default": 0,
    "low": -180,
    "high": 180,
    "least": -360_000,
    "most": 360_000,
    "digits": 1,
    "gentle": 3,
}

CHOICES = (
    Choice("plays", "Animation", ("over the clip", "as it is", "in a loop", "stands still")),
    Choice("around", "Environment", AROUND),
)

PARAMETERS = (
    Parameter("size", "Size", "px", 420, 0, 1280, 0, 20_000, neutral=420, digits=1, gentle=6),
    Parameter("tilt", "Rotation X", **_TURN),
    Parameter("swing", "Rotation Y", **_TURN),
    Parameter("roll", "Rotation Z", **_TURN),
    whole("animation", "Clip", 1, 1, 99).only("plays", *CHOICES[0].options[:3]),
    share("mirror", "Reflections", 1, 1),
    Parameter("turned", "Environment rotation", "°", 0, -180, 180, -36000, 36000),
)
"""Played once over the clip, a longer clip is a slower motion."""
