"""Crop: the picture cut at its four edges."""

from __future__ import annotations

import numpy as np

from ..picture import Matrix, Patch, Rect, field_of, masked
from ..remember import kept_field
from .kind import StepContext, StepKind, Values
from .parameter import Choice, Parameter


class Crop(StepKind):
    """What is cut off each edge of the picture's box, in px of the frame or in % of it; the feather lies inside."""

    kind = "crop"
    label = "Crop"
    group = "place"
    covers_by_cover = True
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
        pixel = 1 / max(1e-6, context.scale)
        edges = tuple(values[name] for name in _EDGES)
        return masked(
            patch, _shown(context.matrix, patch.rect, context.rest.box, pixel, edges, values["told"], values["feather"])
        )


_EDGES = ("left", "top", "right", "bottom")


@kept_field
def _shown(
    matrix: Matrix, area: Rect, box: Rect, pixel: float, edges: tuple[float, ...], told: str, feather: float
) -> np.ndarray:
    """(h, w) float32: how much of each px of an area is left."""
    across, down = field_of(area, matrix)
    wide, high = ((box.x1 - box.x0) / 100, (box.y1 - box.y0) / 100) if told == "%" else (1.0, 1.0)
    places = (across - box.x0, down - box.y0, box.x1 - across, box.y1 - down)
    shown = np.ones(across.shape, np.float32)
    for edge, place, unit in zip(edges, places, (wide, high, wide, high)):
        if edge > 0:
            inside = place - edge * unit
            # Without a feather the edge itself is antialiased: half of it lies outside.
            begins = inside + pixel / 2 * (1 - min(1.0, feather / pixel))
            shown *= np.clip(begins / max(feather, pixel), 0, 1)
    return shown
