"""Outline: a line along the edge of the ink, outside it, on it or inside."""

from __future__ import annotations

import math

import cv2
import numpy as np

from ..picture import Patch, distance_outside, gathered, parse_colour
from .kind import Rest, StepContext, StepKind, Values
from .parameter import Choice, Parameter, colour, share


class Outline(StepKind):
    """Its coverage follows from each pixel's distance to the edge, so it is round at corners and any number can be put
    one round the other."""

    kind = "outline"
    label = "Outline"
    of_ink = True
    synonyms = ("stroke", "border", "contour", "edge line", "hollow")
    says = "{width} px"
    dresses = True
    parameters = (
        Parameter("width", "Width", "px", 3, 0, 24, 0, 400, digits=1),
        Parameter("softness", "Softness", "px", 0, 0, 20, 0, 200, digits=1),
        colour("colour", "Colour", "#211e1b"),
        share("strength", "Opacity"),
        share("fill", "Keep fill"),
    )
    choices = (Choice("sits", "Sits", ("outside", "on the edge", "inside")),)

    def _outer(self, values: Values) -> float:
        return {"outside": 1.0, "on the edge": 0.5, "inside": 0.0}[values["sits"]] * values["width"]

    def margin(self, values: Values, rest: Rest) -> float:
        return self._outer(values) + values["softness"] + 1

    def keeps_cover(self, values: Values) -> bool:
        return values["fill"] >= 1

    def changes_pixels(self, values: Values) -> bool:
        return values["width"] > 0 and values["strength"] > 0 or values["fill"] < 1

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        scale = context.scale
        outer, inner = self._outer(values) * scale, (values["width"] - self._outer(values)) * scale
        soft = max(1.0, values["softness"] * scale)
        room = math.ceil(outer + soft / 2 + 1)
        alpha = cv2.copyMakeBorder(patch.alpha, room, room, room, room, cv2.BORDER_CONSTANT, value=0)
        line = np.clip((outer - distance_outside(alpha)) / soft + 0.5, 0, 1) if outer > 0 else alpha / 255
        if inner > 0:
            # Where the ink is deeper than the line, it is no longer the line.
            line = np.clip(line - np.clip((distance_outside(255 - alpha) - inner) / soft + 0.5, 0, 1), 0, 1)
        cover = (line * np.float32(255 * values["strength"])).astype(np.float32)
        drawn = Patch(
            cover, patch.x - room, patch.y - room, colour=parse_colour(values["colour"]), opacity=patch.opacity
        )
        inside = patch.faded(values["fill"])
        if values["sits"] == "outside":
            if values["fill"] < 1:
                # Hollow: the line alone must not show through where the fill was.
                hole = 1 - alpha / 255 * np.float32(1 - values["fill"])
                drawn = Patch(cover * hole, drawn.x, drawn.y, colour=drawn.colour, opacity=patch.opacity)
            return gathered([drawn, inside], context.window)
        return gathered([inside, drawn], context.window)
