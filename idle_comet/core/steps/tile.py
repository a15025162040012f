"""Tile: the picture again and again within its own box, as it is or mirrored."""

from __future__ import annotations

import numpy as np

from ..picture import Patch, Rect, bent_by, covered_by, masked, paint_rectangle
from .kind import StepContext, StepKind, Values
from .parameter import Choice, Parameter


class Tile(StepKind):
    """So many across and down fill the box. Mirrored, neighbours meet at the same edge. A half that is mirrored
    replaces the other half."""

    kind = "tile"
    label = "Tile"
    group = "texture"
    synonyms = ("mirror and tile", "mirror", "repeat", "kaleidoscope", "tile", "reflect")
    says = "{across} × {down}"
    parameters = (
        Parameter("across", "Across", "×", 2, 1, 8, 1, 100, neutral=1, digits=2),
        Parameter("down", "Down", "×", 2, 1, 8, 1, 100, neutral=1, digits=2),
        Parameter("x", "Offset X", "%", 0, -1, 1, -100, 100, shown_times=100),
        Parameter("y", "Offset Y", "%", 0, -1, 1, -100, 100, shown_times=100),
    )
    choices = (
        Choice("neighbours", "Neighbours", ("mirrored", "as they are")),
        Choice("half", "Mirror", ("nothing", "left half", "right half", "upper half", "lower half")),
    )

    def changes_pixels(self, values: Values) -> bool:
        return not self.rests(values) or values["half"] != "nothing"

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        box = context.rest.box
        area = box.through(context.matrix).meets(context.window)
        if patch.rect.empty or area.empty:
            return patch
        made = bent_by(patch, context.matrix, area, lambda across, down: self._from(across, down, values, box))
        if covered_by(box, context.matrix, Rect(*area.whole())):
            return made
        # Where the box ends within a px, so does what fills it.
        inside = paint_rectangle(box, context.matrix, Rect(*area.whole()), (255, 255, 255))
        cover = np.zeros((made.height, made.width), np.float32)
        top, left = inside.y - made.y, inside.x - made.x
        cover[top : top + inside.height, left : left + inside.width] = inside.alpha / 255
        return masked(made, cover)

    def _from(self, across: np.ndarray, down: np.ndarray, values: Values, box: Rect) -> tuple[np.ndarray, np.ndarray]:
        """Where what is shown at these places stands."""
        wide, high = max(1e-6, box.x1 - box.x0), max(1e-6, box.y1 - box.y0)
        u = self._of((across - np.float32(box.x0)) / wide, values["across"], values["x"], values)
        v = self._of((down - np.float32(box.y0)) / high, values["down"], values["y"], values)
        half = values["half"]
        if half in ("left half", "right half"):
            u = np.where((u > 0.5) == (half == "left half"), 1 - u, u)
        elif half in ("upper half", "lower half"):
            v = np.where((v > 0.5) == (half == "upper half"), 1 - v, v)
        return (u * wide + box.x0).astype(np.float32), (v * high + box.y0).astype(np.float32)

    def _of(self, place: np.ndarray, count: float, moved: float, values: Values) -> np.ndarray:
        along = (place - 0.5) * count + 0.5 - moved
        if values["neighbours"] == "as they are":
            return along - np.floor(along)
        turned = np.mod(along, 2)
        return np.where(turned > 1, 2 - turned, turned)
