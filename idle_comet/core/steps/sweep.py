"""Sweep: shown along a direction by a soft edge that travels over it."""

from __future__ import annotations

from ..motion import Strengths
from ..picture import Patch, beyond, field, masked
from .directions import DIRECTIONS, along, towards
from .kind import Ready, StepContext, StepKind, Values
from .parameter import Parameter, share


class Sweep(StepKind):
    kind = "sweep"
    label = "Wipe"
    group = "arrival"
    synonyms = ("sweep", "wipe on", "soft wipe", "reading direction", "gradient wipe")
    says = "{shown} % shown"
    keeps_means = True
    parameters = (share("shown", "Progress"), Parameter("feather", "Feather", "px", 60, 0, 400, 0, 4000))
    choices = (towards("Towards", "right"),)
    ready = (
        Ready(
            "sweep",
            "Sweep on",
            ("sweep along the line", "soft wipe"),
            away={"shown": 0},
            ease=Strengths(start=0.2, end=0.6),
        ),
        Ready(
            "sweep-lines",
            "Sweep on, line by line",
            ("lines swept on",),
            away={"shown": 0},
            ease=Strengths(start=0.2, end=0.6),
            unit="line",
            delay=8,
        ),
    )

    def changes_pixels(self, values: Values) -> bool:
        return values["shown"] < 1

    def opacity(self, values: Values) -> float:
        return 1.0 if values["shown"] > 0 else 0.0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        way = DIRECTIONS[values["towards"]]
        sign = 1.0
        low, high = along(context.rest.box.grown(1), way)
        across, down = field(patch, context.matrix)
        # What it was shown by, it leaves by: the edge goes on in the same direction.
        if context.rest.leaving:
            sign, low, high = -1.0, -high, -low
        feather = values["feather"]
        border = low - feather + (high - low + feather) * values["shown"]
        return masked(
            patch, beyond((across * way[0] + down * way[1]) * sign, border, feather, 1 / max(context.scale, 1e-6))
        )

    def presence(self, values: Values) -> float:
        return values["shown"]
