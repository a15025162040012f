"""Draw on: outlines are drawn along their length, then filled."""

from __future__ import annotations

from ..motion import Strengths
from ..type import Inking
from .kind import Ready, Rest, StepKind, Values
from .parameter import Parameter, share


class DrawOn(StepKind):
    kind = "draw_on"
    label = "Draw on"
    group = "arrival"
    synonyms = ("stroke on", "handwritten", "outline drawn", "trace", "pen")
    weakens = ("start", "end", "fill")
    says = "drawn {start} to {end} %, filled {fill} %"
    text_only = True
    parameters = (
        share("start", "Start", 0, 0),
        share("end", "End"),
        share("fill", "Fill"),
        Parameter("pen", "Pen", "px", 2.5, 0.5, 12, 0, 200, digits=1),
    )
    ready = (
        Ready(
            "draw-on",
            "Draw on, all at once",
            ("draw the outlines", "handwriting"),
            away={"end": 0, "fill": 0},
            during={"end": (0, 0.75), "fill": (0.6, 1)},
            ease=Strengths(start=0.35, end=0.5),
        ),
        Ready(
            "draw-letters",
            "Draw on, letter by letter",
            ("write letters",),
            away={"end": 0, "fill": 0},
            during={"end": (0, 0.75), "fill": (0.6, 1)},
            ease=Strengths(start=0.2, end=0.5),
            unit="letter",
            delay=2,
        ),
    )

    def inking(self, values: Values, rest: Rest) -> Inking | None:
        if values["fill"] >= 1:
            return None
        return Inking(values["start"], values["end"], values["pen"] / max(rest.em, 1e-6), values["fill"])

    def opacity(self, values: Values) -> float:
        return 0.0 if values["fill"] <= 0 and (values["end"] <= values["start"] or values["pen"] <= 0) else 1.0

    def presence(self, values: Values) -> float:
        return max(values["fill"], 0.35 * max(0.0, values["end"] - values["start"]))
