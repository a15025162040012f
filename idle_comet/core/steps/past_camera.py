"""Past the camera: things come from behind the viewer to their place."""

from __future__ import annotations

from ..motion import Strengths
from ..picture import Matrix
from .kind import Ready, Rest, StepKind, Values
from .parameter import Parameter


class PastCamera(StepKind):
    """At depth p (0 at rest, 1 at the viewer) a thing is drawn 1/(1 − p) times as large about the middle of the
    frame."""

    kind = "past_camera"
    label = "Past the camera"
    group = "arrival"
    synonyms = ("fly in", "from behind", "through the lens", "towards the viewer")
    weakens = ("nearer",)
    says = "{nearer} % of the way to the viewer"
    parameters = (
        Parameter("nearer", "Nearer", "%", 0, -1, 1, -50, 1, digits=1, shown_times=100),
        Parameter("clears", "Clears by", "%", 0.5, 0, 1, 0.01, 1, neutral=0.01, digits=0, shown_times=100),
    )
    ready = (
        Ready(
            "past-camera",
            "Come past the camera",
            ("letters fly in", "come past the viewer"),
            away={"nearer": 1},
            ease=Strengths(start=0.0, end=0.9),
            unit="letter",
            order="random",
            delay=2,
        ),
        Ready(
            "from-far",
            "From far away",
            ("out of the distance",),
            away={"nearer": -12},
            ease=Strengths(start=0.0, end=0.9),
            unit="word",
            delay=5,
        ),
    )

    def place(self, values: Values, rest: Rest) -> Matrix | None:
        if values["nearer"] == 0:
            return None
        x, y = rest.width / 2, rest.height / 2
        return Matrix.grow(1 / max(1 - values["nearer"], 0.01)).about(x, y)

    def opacity(self, values: Values) -> float:
        """What is nearer than it clears fades; far away it comes out of nothing."""
        nearer = values["nearer"]
        if nearer < 0:
            return 1 / (1 - nearer) ** 0.5
        share = min(1.0, (1 - nearer) / values["clears"])
        return share * share * (3 - 2 * share)
