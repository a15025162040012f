"""Turn over: turned in depth about a line through a point of its own; a card shows its other side from behind."""

from __future__ import annotations

import math

import numpy as np

from ..motion import Linear, Strengths
from ..picture import Matrix, Patch
from .kind import Ready, Rest, StepContext, StepKind, Values
from .parameter import Parameter, share


class TurnOver(StepKind):
    """The eye looks straight at the point it turns about, wherever that is in the frame: at a quarter turn it is
    edge-on, and nothing of it is seen. A clip with a front and a back then shows its back, the right way round."""

    kind = "turn_over"
    label = "Flip"
    group = "place"
    synonyms = ("turn over", "flip", "card", "turn in depth", "two sides", "spin", "coin")
    weakens = ("turn", "shade")
    turns_over = True
    says = "turned {turn}°"
    parameters = (
        Parameter("turn", "Rotation", "°", 0, -180, 360, -360_000, 360_000, digits=1, gentle=3),
        Parameter("axis", "Axis", "°", 90, 0, 180, -36000, 36000, neutral=90, digits=1),
        Parameter("x", "Pivot X", "px", 0, -640, 640, -20000, 20000, digits=1),
        Parameter("y", "Pivot Y", "px", 0, -360, 360, -20000, 20000, digits=1),
        Parameter("eye", "Camera distance", "px", 1200, 200, 4000, 60, 100_000, neutral=1200),
        share("shade", "Shading", 0.35, 0),
    )
    ready = (
        Ready(
            "turn-in",
            "Turn in from edge-on",
            ("flip in", "swing round"),
            away={"turn": -90},
            ease=Strengths(start=0.1, end=0.85),
        ),
        Ready("turn-once", "Turn round once", ("full turn", "spin once"), through={"turn": (0, 360)}),
        Ready(
            "turn-on", "Keep turning", ("spin", "rotate for ever", "coin"), through={"turn": (0, 1440)}, ease=Linear()
        ),
    )

    def shows_back(self, values: Values) -> bool | None:
        """Whether it is turned so far that its back is seen; None where it is exactly edge-on."""
        faces = math.cos(math.radians(values["turn"]))
        return None if abs(faces) < 1e-9 else faces < 0

    def place(self, values: Values, rest: Rest) -> Matrix | None:
        # The back of a card lies on it the other way round.
        turn = values["turn"] - (180 if values.get("back") else 0)
        if turn % 360 == 0:
            return None
        lean = values["axis"] - 90
        turned = Matrix.turn(lean) @ Matrix.tilt(0, turn, 0, max(values["eye"], 1.0)) @ Matrix.turn(-lean)
        return turned.about(rest.anchor[0] + values["x"], rest.anchor[1] + values["y"])

    def seen_from(self, values: Values, rest: Rest) -> tuple[float, float, float]:
        return rest.anchor[0] + values["x"], rest.anchor[1] + values["y"], max(values["eye"], 1.0)

    def changes_pixels(self, values: Values) -> bool:
        return values["shade"] > 0 and values["turn"] % 180 != 0

    def keeps_cover(self, values: Values) -> bool:
        return True

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        """As bright as a matt board lit from the eye (Lambert), so far as it is shaded at all."""
        light = 1 - values["shade"] * (1 - abs(math.cos(math.radians(values["turn"]))))
        if patch.rect.empty:
            return patch
        if patch.colour is not None:
            red, green, blue = (int(round(each * light)) for each in patch.colour)
            return Patch(patch.pixels, patch.x, patch.y, (red, green, blue), patch.opacity, patch.extends)
        factors = np.array([light, light, light, 1], np.float32)
        return Patch(
            np.multiply(patch.pixels, factors, dtype=np.float32), patch.x, patch.y, None, patch.opacity, patch.extends
        )
