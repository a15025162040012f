"""Where a step is done."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..contents.base import Id
from ..modelled import Frozen
from ..motion import Corner, Outline, Property
from ..steps import Parameter, share

Form = Literal["rectangle", "ellipse", "outline", "clip", "wipe"]
OF_ANOTHER = ("clip", "wipe")
"""Forms that are taken from another clip."""
Joining = Literal["intersect", "add", "subtract"]


class Mask(Frozen):
    """A form over the step's picture, the shape or the brightness of another clip, or what another clip wipes: what it
    has gone past, up to its outline.

    A form lies in px of the project's frame and goes along with what the steps after this one do.
    """

    id: Id
    form: Form = "ellipse"
    clip: Id | None = None
    """The clip that is looked at, for the forms "clip" and "wipe"."""
    held: bool = True
    """Whether what was wiped stays so when the other clip goes back."""
    by: Literal["shape", "brightness"] = "shape"
    invert: bool = False
    joined: Joining = "intersect"
    """What it does to the masks before it: keeps only what lies in both, adds its own, or takes its own away."""
    values: Annotated[dict[str, Property], Field(max_length=40)] = {}
    """Values left out have their default."""


STRENGTH = share("strength", "Opacity", 1, 0)


def _border(softly: float) -> tuple[Parameter, ...]:
    """What can be set of any border of a mask."""
    return (
        Parameter("grow", "Expand", "px", 0, -200, 200, -20000, 20000, digits=1),
        Parameter("feather", "Feather", "px", softly, 0, 200, 0, 20000, digits=1),
        share("outward", "Feather balance", 0.5, 0.5),
        STRENGTH,
    )


_FIRST = Outline(
    corners=tuple(Corner(at=at) for at in ((-240.0, -135.0), (240.0, -135.0), (240.0, 135.0), (-240.0, 135.0)))
)

MASK_PARAMETERS: dict[str, tuple[Parameter, ...]] = {
    form: (
        Parameter("x", "Centre X", "px", 640, 0, 1280, -20000, 20000, digits=1),
        Parameter("y", "Centre Y", "px", 360, 0, 720, -20000, 20000, digits=1),
        Parameter("width", "Width", "px", 480, 0, 1280, 0, 40000, digits=1),
        Parameter("height", "Height", "px", 270, 0, 720, 0, 40000, digits=1),
        Parameter("turn", "Rotation", "°", 0, -180, 180, -36000, 36000, digits=1),
        *((Parameter("radius", "Corner radius", "px", 0, 0, 200, 0, 20000, digits=1),) if form == "rectangle" else ()),
        *_border(24),
    )
    for form in ("rectangle", "ellipse")
}
MASK_PARAMETERS |= {
    "outline": (
        Parameter("outline", "Outline", "px", _FIRST, -1280, 1280, -40000, 40000, sort="outline"),
        *(each for each in MASK_PARAMETERS["ellipse"] if each.name not in ("width", "height")),
    ),
    "clip": _border(0),
    "wipe": (
        Parameter("way", "Direction", "°", 0, -180, 180, -36000, 36000, digits=1),
        share("edge", "Edge position", 0.5, 0.5),
        Parameter("offset", "Edge offset", "px", 0, -200, 200, -20000, 20000, digits=1),
        Parameter("feather", "Feather", "px", 0, 0, 200, 0, 20000, digits=1),
        share("outward", "Feather balance", 0.5, 0.5),
        STRENGTH,
    ),
}
"""What can be set of a mask, by its form. `outward` is the share of the feather that lies outside the edge. The corners
of an outline count from its middle. Of a clip's brightness only the opacity counts. A wipe goes along its `way`, 0° to
the right and 90° down."""
