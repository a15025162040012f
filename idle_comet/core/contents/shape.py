"""A shape: a filled form, a line around it, or both."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..modelled import Frozen
from ..motion import Corner, Outline, Property
from ..steps import Choice, Parameter, colour, share, whole

_Word = Annotated[str, StringConstraints(max_length=60)]

FORMS = ("rectangle", "ellipse", "polygon", "star", "line", "outline", "drawing")
"""An "outline" is drawn by hand and can become another; a "drawing" is path data that was read from a file."""


class Shape(Frozen):
    """A form about a middle of its own. Values and choices left out have their default."""

    kind: Literal["shape"] = "shape"
    values: Annotated[dict[_Word, Property], Field(max_length=60)] = {}
    choices: Annotated[dict[_Word, _Word], Field(max_length=20)] = {}
    drawing: Annotated[str, StringConstraints(max_length=100_000)] = ""
    """SVG path data of the form "drawing"; its bounds are fitted to width and height."""


FIRST = Outline(corners=tuple(Corner(at=at) for at in ((0.0, -140.0), (160.0, 120.0), (-160.0, 120.0))))

_SOLID = tuple(form for form in FORMS if form not in ("line", "outline"))

PARAMETERS = (
    Parameter("x", "Centre X", "px", 0, -640, 640, -20000, 20000, digits=1, gentle=3),
    Parameter("y", "Centre Y", "px", 0, -360, 360, -20000, 20000, digits=1, gentle=3),
    Parameter("width", "Width", "px", 320, 0, 1280, 0, 40000, digits=1).only("form", *_SOLID, "line"),
    Parameter("height", "Height", "px", 180, 0, 720, 0, 40000, digits=1).only("form", *_SOLID),
    Parameter("turn", "Rotation", "°", 0, -180, 180, -36000, 36000, digits=1),
    Parameter("radius", "Corners", "px", 0, 0, 120, 0, 20000, digits=1).only("form", "rectangle", "polygon", "star"),
    whole("sides", "Sides", 6, 3, 24).only("form", "polygon", "star"),
    share("depth", "Depth", 0.5, 0.5).only("form", "star"),
    Parameter("outline", "Outline", "px", FIRST, -1280, 1280, -40000, 40000, sort="outline").only("form", "outline"),
    share("filled", "Fill", 1, 0),
    colour("colour", "Fill colour", "#d98e32"),
    colour("second", "Second colour", "#7a3f1d").only("shading", "straight", "round"),
    Parameter("angle", "Angle", "°", 90, -180, 180, -36000, 36000).only("shading", "straight"),
    Parameter("stroke", "Line", "px", 0, 0, 40, 0, 2000, digits=1),
    colour("line_colour", "Line colour", "#fff6e6"),
    share("drawn", "Line drawn"),
)
"""Places count from the middle of the frame. A "line" is as long as it is wide, and `stroke` thick. `drawn` is the
share of the line that is there, from where the form begins."""

CHOICES = (
    Choice("form", "Form", FORMS),
    Choice("shading", "Shading", ("plain", "straight", "round")),
    Choice("joins", "Line’s corners", ("sharp", "round")),
)
