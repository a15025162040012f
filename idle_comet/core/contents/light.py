"""A light: shines on what stands in space, and on what is solid, while it lasts."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..modelled import Frozen
from ..motion import Property
from ..steps import Choice, Parameter, colour, share

_Word = Annotated[str, StringConstraints(max_length=60)]


class Light(Frozen):
    """It shows nothing itself. Values and choices left out have their default."""

    kind: Literal["light"] = "light"
    values: Annotated[dict[_Word, Property], Field(max_length=40)] = {}
    choices: Annotated[dict[_Word, _Word], Field(max_length=8)] = {}


SORTS = ("spot", "point", "everywhere")
_PLACED = ("spot", "point")


def _place(name: str, label: str, default: float, low: float, high: float, *sorts: str) -> Parameter:
    return Parameter(name, label, "px", default, low, high, -100_000, 100_000, digits=1, gentle=4).only("sort", *sorts)


CHOICES = (
    Choice("sort", "Shines", SORTS),
    Choice("fades", "Falloff", ("stays as strong", "fades")),
    Choice("shadows", "Shadows", ("cast", "none")),
)

PARAMETERS = (
    colour("colour", "Colour", "#fff1dc"),
    Parameter("strength", "Strength", "%", 1, 0, 3, 0, 50, neutral=1, shown_times=100),
    _place("x", "X", -420, -1280, 1280, *_PLACED),
    _place("y", "Y", -420, -720, 720, *_PLACED),
    _place("z", "Z", -800, -2400, 2400, *_PLACED),
    _place("aim_x", "Aim X", 0, -640, 640, "spot"),
    _place("aim_y", "Aim Y", 0, -360, 360, "spot"),
    _place("aim_z", "Aim Z", 0, -800, 2400, "spot"),
    Parameter("cone", "Cone", "°", 50, 5, 120, 0, 180, neutral=50, digits=1, gentle=2).only("sort", "spot"),
    share("feather", "Cone softness", 0.5, 0.5).only("sort", "spot"),
    Parameter("reach", "Full strength at", "px", 1000, 50, 4000, 1, 100_000, neutral=1000).only("fades", "fades"),
    Parameter("size", "Source size", "px", 60, 0, 400, 0, 10_000, neutral=0, digits=1).only("shadows", "cast"),
)
"""Places count from the middle of the frame, as those of what stands in space do. At a strength of 100 % a white
surface that faces it is exactly white. The wider a light is, the softer are its shadows."""
