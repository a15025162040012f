"""Scan lines: darker lines across the picture, as on an old screen."""

from __future__ import annotations

import numpy as np

from ..picture import Matrix, Patch, Rect, field_of, tinged
from ..remember import kept_field
from .kind import StepContext, StepKind, Values
from .parameter import Parameter, share


class ScanLines(StepKind):
    """A line every `apart` px, darkest in its middle and as wide as its share of the way to the next. Finer than a
    painted px they are their own mean."""

    kind = "scan_lines"
    label = "Scan lines"
    group = "texture"
    synonyms = ("interlaced look", "monitor", "tube", "television")
    says = "{strength} %, every {apart} px"
    parameters = (
        share("strength", "Strength", 0.35, 0.0),
        Parameter("apart", "Apart", "px", 4, 2, 24, 1, 400, neutral=4, digits=1),
        share("width", "Width", 0.5, 0.5),
        Parameter("moved", "Moved", "px", 0, -40, 40, -20000, 20000, digits=1),
    )

    def keeps_cover(self, values: Values) -> bool:
        return True

    def changes_pixels(self, values: Values) -> bool:
        return values["strength"] > 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        pixel = 1 / max(1e-6, context.scale)
        asked = tuple(values[name] for name in ("strength", "apart", "width", "moved"))
        return tinged(patch, _dark(context.matrix, patch.rect, pixel, *asked), (0, 0, 0))


@kept_field
def _dark(
    matrix: Matrix, area: Rect, pixel: float, strength: float, apart: float, width: float, moved: float
) -> np.ndarray:
    """(h, w) float32: how much darker each px of an area is."""
    down = field_of(area, matrix)[1] - np.float32(moved)
    # The mean of the line over the px: the integral of a comb of boxes, from its start to its end.
    dark = (_covered(down + pixel / 2, apart, width) - _covered(down - pixel / 2, apart, width)) / pixel
    return (np.float32(strength) * np.clip(dark, 0, 1)).astype(np.float32)


def _covered(place: np.ndarray, apart: float, width: float) -> np.ndarray:
    """How much of the way up to a place is line."""
    periods = np.floor(place.astype(np.float64) / apart)
    return periods * apart * width + np.minimum(place - periods * apart, apart * width)
