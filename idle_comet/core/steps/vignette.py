"""Vignette: the corners of a picture fall into the dark, or into a colour."""

from __future__ import annotations

import numpy as np

from ..picture import Matrix, Patch, Rect, field_of, parse_colour, tinged
from ..remember import kept_field
from .kind import StepContext, StepKind, Values
from .parameter import Parameter, colour, point, share


class Vignette(StepKind):
    """From the middle outwards: nothing up to the size (in % of half the picture's diagonal), all of it a softness
    later. At a roundness of 100 % it is a circle, at 0 % an ellipse of the picture's own sides."""

    kind = "vignette"
    label = "Vignette"
    group = "light"
    synonyms = ("dark corners", "edge darkening", "frame the middle")
    says = "{strength} %"
    parameters = (
        share("strength", "Strength", 0.45, 0.0),
        Parameter("size", "Size", "%", 0.4, 0, 1.5, 0, 5, neutral=0.4, shown_times=100),
        Parameter("softness", "Softness", "%", 0.7, 0.02, 1.5, 0.01, 5, neutral=0.7, shown_times=100),
        share("roundness", "Roundness", 0.4, 0.4),
        point("middle", "Centre", 640),
        colour("colour", "Colour", "#000000"),
    )

    def keeps_cover(self, values: Values) -> bool:
        return True

    def changes_pixels(self, values: Values) -> bool:
        return values["strength"] > 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        asked = tuple(values[name] for name in ("strength", "size", "softness", "roundness", "middle"))
        dark = _dark(context.matrix, patch.rect, context.rest.box, *asked)
        return tinged(patch, dark, parse_colour(values["colour"]))


@kept_field
def _dark(
    matrix: Matrix,
    area: Rect,
    box: Rect,
    strength: float,
    size: float,
    softness: float,
    roundness: float,
    middle: tuple[float, float],
) -> np.ndarray:
    """(h, w) float32: how much of the colour each px of an area takes on."""
    across, down = field_of(area, matrix)
    x = across - np.float32((box.x0 + box.x1) / 2 + middle[0])
    y = down - np.float32((box.y0 + box.y1) / 2 + middle[1])
    wide, high = max(1e-3, (box.x1 - box.x0) / 2), max(1e-3, (box.y1 - box.y0) / 2)
    diagonal = float(np.hypot(wide, high))
    # Both go through the corners.
    circle, ellipse = np.hypot(x, y) / diagonal, np.hypot(x / wide, y / high) / np.sqrt(np.float32(2))
    far = ellipse + (circle - ellipse) * np.float32(roundness)
    dark = np.clip((far - size) / max(1e-3, softness), 0, 1)
    return (dark * dark * (3 - 2 * dark) * strength).astype(np.float32)
