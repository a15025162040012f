"""Extrude: words and shapes become bodies with a front, sides and edges, lit and seen in perspective."""

from __future__ import annotations

from ..motion import Strengths
from ..space import AROUND, BEVELS, WORKED, Bevel
from .kind import Ready, Rest, Solid, StepKind, Values
from .parameter import Choice, Parameter, colour, share

_EDGED = tuple(each for each in ("round", "flat", "hollow", "stepped") if each in BEVELS)


class MakeSolid(StepKind):
    """The front stays where the flat ink was; the body reaches away from the viewer. Steps that move, turn and pass the
    picture on move the bodies."""

    kind = "solid"
    label = "Extrude"
    of_ink = True
    synonyms = ("make solid", "3d type", "extrude", "bevel", "thick letters", "metal", "gold", "chrome", "block")
    weakens = ("depth", "wide", "deep")
    says = "{depth} px deep"
    takes = "picture"
    lit = True
    parameters = (
        Parameter("depth", "Depth", "px", 36, 0, 200, 0, 4000, digits=1, gentle=2),
        Parameter("wide", "Bevel width", "px", 3, 0, 30, 0, 400, digits=1).only("bevel", *_EDGED),
        Parameter("deep", "Bevel depth", "px", 3, 0, 30, 0, 400, digits=1).only("bevel", *_EDGED),
        colour("edge_colour", "Bevel colour", "#fff2d6").only("sides", "in their own colours"),
        colour("side_colour", "Side colour", "#7a3f1d").only("sides", "in their own colours"),
        share("metal", "Metallic", 0, 0),
        share("rough", "Roughness", 0.35, 0.35),
        share("shine", "Specular", 0.5, 0.5),
        share("mirror", "Reflections", 1, 1),
        Parameter("coarse", "Texture size", "px", 240, 40, 800, 1, 10_000, neutral=240).only("worked", *WORKED[1:]),
        share("own_light", "Emission", 0, 0),
        Parameter("turned", "Environment rotation", "°", 0, -180, 180, -36000, 36000),
    )
    choices = (
        Choice("bevel", "Bevel", (*_EDGED, "none")),
        Choice("sides", "Sides and edges", ("as the front, darker", "in their own colours")),
        Choice("worked", "Surface", WORKED),
        Choice("around", "Environment", AROUND),
        Choice("worn", "The picture", ("on the front", "on all sides", "all around, mirrored"), given=True),
    )
    ready = (
        Ready("solid-gold", "Gold", ("metal", "brass", "award"), fixed={"metal": 1, "rough": 0.28, "depth": 48}),
        Ready(
            "solid-grow",
            "Grow in depth",
            ("extrude in", "rise out"),
            away={"depth": 0},
            ease=Strengths(start=0.1, end=0.85),
        ),
        Ready(
            "solid-light", "Light passes over", ("sheen", "gleam", "reflection moves"), through={"turned": (-120, 60)}
        ),
    )

    def makes_body(self, values: Values) -> bool:
        return values["depth"] > 0

    def solid(self, values: Values, rest: Rest) -> Solid | None:
        if not self.makes_body(values):
            return None
        looks = tuple((name, values[name]) for name in (*_LOOKS, *(each.name for each in self.choices)))
        bevel: Bevel = "none" if values["wide"] <= 0 or values["deep"] <= 0 else values["bevel"]
        return Solid(
            values["depth"],
            bevel,
            values["wide"],
            min(values["deep"], values["depth"]),
            looks,
            values.get("lights"),
            values["picture"],
            rest.ink,
            rest.to_frame,
        )


_LOOKS = ("edge_colour", "side_colour", "coarse", "metal", "rough", "shine", "mirror", "own_light", "turned")
