"""Edge reveal: words slide from behind an edge that does not move."""

from __future__ import annotations

import numpy as np

from ..motion import Strengths
from ..picture import Matrix, Patch, beyond, field_lines, masked
from .directions import DIRECTIONS, towards
from .kind import Ready, Rest, StepContext, StepKind, Values
from .parameter import Choice, Parameter, share


class EdgeReveal(StepKind):
    """The window is the resting cell of the text (or of each unit): the union of its own type box and its ink, ending
    half-way to what stands beside it.

    Towards "up" the words come from below its lower edge e; the feather φ lies beyond e. They are hidden once
    y1 + dy ≥ e + φ, so they travel (y2 − y1) + g + φ, g the gap between box and edge.
    """

    kind = "edge_reveal"
    label = "Edge reveal"
    group = "arrival"
    by_cell = True
    synonyms = ("slide from behind an edge", "wipe up", "rise from a line", "reveal", "mask reveal")
    weakens = ("shown",)
    says = "{shown} % shown"
    keeps_means = True
    parameters = (
        share("shown", "Progress"),
        Parameter("feather", "Feather", "px", 0, 0, 20, 0, 400, digits=1),
        # The edge's own antialiasing must never touch resting ink, so the gap is never nothing.
        Parameter("gap", "Edge offset", "px", 2, 1, 40, 1, 2000, neutral=1, digits=1),
    )
    choices = (
        towards("Towards", "up", "apart", "together"),
        Choice("leaves", "Leaves", ("back by the same edge", "on by the far edge")),
    )
    ready = (
        Ready(
            "edge-up",
            "Edge reveal in and out",
            ("edge reveal up", "rise from behind an edge"),
            away={"shown": 0},
            ease=Strengths(start=0.0, end=0.85),
        ),
        Ready(
            "edge-lines",
            "Edge reveal, lines apart",
            ("upper line up lower line down", "strap reveal"),
            away={"shown": 0},
            ease=Strengths(start=0.0, end=0.85),
            unit="line",
            delay=0,
            choices={"towards": "apart"},
        ),
        Ready(
            "edge-words",
            "Edge reveal, word by word",
            ("words from behind an edge",),
            away={"shown": 0},
            ease=Strengths(start=0.0, end=0.85),
            unit="word",
            delay=3,
        ),
    )

    def _way(self, values: Values, rest: Rest) -> tuple[float, float]:
        """The direction travelled on arrival; of units "apart", the first half up and the rest down."""
        chosen = values["towards"]
        if chosen in ("apart", "together"):
            first = rest.index < rest.count / 2 if rest.count > 1 else True
            return DIRECTIONS["up" if first == (chosen == "apart") else "down"]
        return DIRECTIONS[chosen]

    def _side(self, values: Values, rest: Rest) -> float:
        """−1 while it is before its place (behind the edge it came by), 1 where it has gone on past it."""
        return 1.0 if rest.leaving and values["leaves"].startswith("on") else -1.0

    def place(self, values: Values, rest: Rest) -> Matrix | None:
        if values["shown"] >= 1:
            return None
        (wx, wy), side = self._way(values, rest), self._side(values, rest)
        beyond_edge = values["gap"] + values["feather"]
        # On a slant it is hidden as soon as one of the two edges has all of it.
        needs = [
            (size + beyond_edge) / abs(part)
            for size, part in ((rest.cell.x1 - rest.cell.x0, wx), (rest.cell.y1 - rest.cell.y0, wy))
            if part
        ]
        travel = min(needs) * (1 - values["shown"]) * side
        return Matrix.shift(wx * travel, wy * travel)

    def changes_pixels(self, values: Values) -> bool:
        return values["shown"] < 1

    def opacity(self, values: Values) -> float:
        return 1.0 if values["shown"] > 0 else 0.0

    def hidden(self, values: Values) -> bool:
        return values["shown"] <= 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        rest = context.rest
        (wx, wy), side = self._way(values, rest), self._side(values, rest)
        across, down = field_lines(patch, context.matrix)
        pixel = 1 / max(context.scale, 1e-6)
        coverage = np.ones((1, 1), np.float32)
        for place, part, low, high in (
            (across, wx, rest.cell.x0, rest.cell.x1),
            (down, wy, rest.cell.y0, rest.cell.y1),
        ):
            if part:
                # Where it hides is the side it stands on now: before its place, or past it.
                sign = np.sign(part) * side
                edge = (high if sign > 0 else -low) + values["gap"]
                coverage = coverage * beyond(place * np.float32(sign), edge, values["feather"], pixel)
        return masked(patch, coverage)

    def presence(self, values: Values) -> float:
        return values["shown"]
