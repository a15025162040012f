"""Shadow: the shape of the ink again, behind it, moved and blurred."""

from __future__ import annotations

import math

from ..picture import Patch, blur_patch, parse_colour, reach, shifted
from .beneath import Beneath
from .kind import Rest, StepContext, Values
from .parameter import Parameter, colour, share


class Shadow(Beneath):
    """It falls along an angle of the picture (0° to the right, clockwise), whatever the words do before."""

    kind = "shadow"
    label = "Shadow"
    of_ink = True
    synonyms = ("drop shadow", "depth", "soft shadow", "lift off")
    says = "{distance} px at {angle}°"
    dresses = True
    parameters = (
        Parameter("distance", "Distance", "px", 5, 0, 60, 0, 2000, digits=1),
        Parameter("angle", "Angle", "°", 60, -180, 180, -36000, 36000, gentle=4),
        Parameter("blur", "Blur", "px", 6, 0, 40, 0, 400, digits=1),
        colour("colour", "Colour", "#000000"),
        share("strength", "Opacity", 0.6, 0),
    )

    def margin(self, values: Values, rest: Rest) -> float:
        return values["distance"] + reach(values["blur"])

    def changes_pixels(self, values: Values) -> bool:
        return values["strength"] > 0

    def beneath(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        turn = math.radians(values["angle"])
        matrix = context.matrix
        dx, dy = math.cos(turn) * values["distance"], math.sin(turn) * values["distance"]
        # The way of the shadow in painted px, at the middle of what is shadowed.
        x, y = context.rest.anchor
        (ax, ay), (bx, by) = matrix.map(x, y), matrix.map(x + dx, y + dy)
        shade = shifted(patch, bx - ax, by - ay, parse_colour(values["colour"]))
        return blur_patch(shade, values["blur"] * context.scale, context.window)
