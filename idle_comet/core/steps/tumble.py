"""Tumble: turned in depth about its own centre, seen in perspective."""

from __future__ import annotations

from typing import Any

from ..motion import Spring, Strengths
from ..picture import Matrix
from .kind import Ready, Rest, StepKind, Values
from .parameter import Parameter

_ANGLE: dict[str, Any] = {
    "unit": "°",
    "default": 0,
    "low": -180,
    "high": 180,
    "least": -36000,
    "most": 36000,
    "digits": 1,
    "gentle": 2,
}


class Tumble(StepKind):
    """The vanishing point is the turned thing's own centre: at a quarter turn it is edge-on and nothing of it is
    seen."""

    kind = "tumble"
    label = "Tumble"
    group = "arrival"
    synonyms = ("turn in depth", "flip", "swing", "rotate 3d", "perspective", "tilt")
    weakens = ("tilt", "swing", "roll", "size")
    says = "rotation {tilt}° X, {swing}° Y, {roll}° Z"
    parameters = (
        Parameter(name="tilt", label="Rotation X", **_ANGLE),
        Parameter(name="swing", label="Rotation Y", **_ANGLE),
        Parameter(name="roll", label="Rotation Z", **_ANGLE),
        Parameter("size", "Size", "%", 1, 0, 2, 0, 50, neutral=1, digits=1, shown_times=100, gentle=0.02),
        Parameter("eye", "Camera distance", "px", 900, 200, 4000, 60, 100_000, neutral=900),
    )
    ready = (
        Ready(
            "tumble-in",
            "Tumble in",
            ("fall in", "tumble letters"),
            away={"tilt": -110, "swing": 40, "roll": -35, "size": 0},
            ease=Spring(damping=0.55),
            unit="letter",
            delay=2,
        ),
        Ready(
            "swing-in",
            "Swing open",
            ("door", "hinge"),
            away={"swing": 90},
            ease=Strengths(start=0.0, end=0.85),
            unit="word",
            delay=4,
            pivot="left",
        ),
        Ready(
            "flip-up",
            "Flip up",
            ("board", "flap"),
            away={"tilt": 90},
            ease=Strengths(start=0.1, end=0.8),
            unit="letter",
            delay=2,
            pivot="bottom",
        ),
    )

    def place(self, values: Values, rest: Rest) -> Matrix | None:
        if values["tilt"] == values["swing"] == values["roll"] == 0 and values["size"] == 1:
            return None
        x, y = rest.anchor
        turned = Matrix.tilt(values["tilt"], values["swing"], values["roll"], max(values["eye"], 1.0))
        return (turned @ Matrix.grow(values["size"])).about(x, y)

    def seen_from(self, values: Values, rest: Rest) -> tuple[float, float, float]:
        return *rest.anchor, max(values["eye"], 1.0)

    def presence(self, values: Values) -> float:
        return min(1.0, values["size"] ** 2)
