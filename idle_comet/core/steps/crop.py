"""Crop: the picture cut at its four edges."""

from __future__ import annotations

import numpy as np

from ..picture import Patch, field, masked
from .kind import StepContext, StepKind, Values
from .parameter import Choice, Parameter


class Crop(StepKind):
    """What is cut off each edge of the picture's box, in px of the frame or in % of it; the feather lies inside."""

    kind = "crop"
    label = "Crop"
    group = "place"
    synonyms = ("cut edges", "trim picture", "window", "letterbox edges")
    says = "{left}, {top}, {right}, {bottom}"
    keeps_means = True
    parameters = (
        *(
            Parameter(name, label, "", 0, 0, 400, -20000, 20000, digits=1)
            for name, label in (("left", "Left"), ("top", "Top"), ("right", "Right"), ("bottom", "Bottom"))
        ),
        Parameter("feather", "Feather", "px", 0, 0, 120, 0, 2000, digits=1),
    )
    choices = (Choice("told", "Told in", ("px", "%")),)

    def keeps_cover(self, values: Values) -> bool:
        return not self.changes_pixels(values)

    def changes_pixels(self, values: Values) -> bool:
        return any(values[name] > 0 for name in ("left", "top", "right", "bottom"))

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        box = context.rest.box
        across, down = field(patch, context.matrix)
        pixel = 1 / max(1e-6, context.scale)
        feather = max(values["feather"], pixel)
        wide, high = ((box.x1 - box.x0) / 100, (box.y1 - box.y0) / 100) if values["told"] == "%" else (1.0, 1.0)
        shown = np.ones((patch.height, patch.width), np.float32)
        for name, place, unit in (
            ("left", across - box.x0, wide),
            ("right", box.x1 - across, wide),
            ("top", down - box.y0, high),
            ("bottom", box.y1 - down, high),
        ):
            if values[name] > 0:
                inside = place - values[name] * unit
                # Without a feather the edge itself is antialiased: half of it lies outside.
                begins = inside + pixel / 2 * (1 - min(1.0, values["feather"] / pixel))
                shown *= np.clip(begins / feather, 0, 1)
        return masked(patch, shown)
