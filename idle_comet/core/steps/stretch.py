"""Stretch: wider or taller than it is, about a point of its own."""

from __future__ import annotations

from math import radians, tan

from ..motion import Strengths
from ..picture import Matrix
from .kind import Ready, Rest, StepKind, Values
from .parameter import Parameter

_IN = ((0, 0.0), (4, 1.32), (8, 1.0))


class Stretch(StepKind):
    kind = "stretch"
    label = "Stretch"
    group = "arrival"
    synonyms = ("stretch in", "squash", "widen", "narrow", "snap in")
    weakens = ("across", "down", "lean")
    says = "{across} % wide, {down} % high"
    parameters = (
        Parameter("across", "Width", "%", 1, 0, 2, 0, 50, neutral=1, digits=1, shown_times=100, gentle=0.02),
        Parameter("down", "Height", "%", 1, 0, 2, 0, 50, neutral=1, digits=1, shown_times=100, gentle=0.02),
        Parameter("lean", "Skew", "°", 0, -45, 45, -80, 80, digits=1, gentle=1),
    )
    ready = (
        Ready(
            "stretch-in",
            "Stretch in",
            ("stretch from nothing", "overshoot width"),
            beats={"across": _IN},
            ease=Strengths(start=0.3, end=0.3),
        ),
        Ready(
            "stretch-words",
            "Stretch in, word by word",
            ("words on a beat",),
            beats={"across": _IN},
            ease=Strengths(start=0.3, end=0.3),
            unit="word",
            delay=12,
        ),
        Ready(
            "stretch-up",
            "Shoot up",
            ("grow tall", "rise tall"),
            beats={"down": ((0, 0.0), (5, 1.18), (9, 1.0))},
            ease=Strengths(start=0.2, end=0.4),
            unit="letter",
            delay=1,
            pivot="baseline-centre",
        ),
    )

    def place(self, values: Values, rest: Rest) -> Matrix | None:
        if values["across"] == values["down"] == 1 and values["lean"] == 0:
            return None
        x, y = rest.anchor
        lean = Matrix(1.0, 0.0, -tan(radians(values["lean"])), 1.0)
        return (lean @ Matrix.grow(values["across"], values["down"])).about(x, y)

    def presence(self, values: Values) -> float:
        return min(1.0, values["across"] * values["down"])
