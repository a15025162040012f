"""Tile: the picture again and again within its own box, as it is or mirrored."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..picture import NOWHERE, Patch, Rect, bent_by, paint_rectangle
from .kind import StepContext, StepKind, Values
from .parameter import Choice, Parameter


class Tile(StepKind):
    """So many across and down fill the box. Mirrored, neighbours meet at the same edge. A half that is mirrored
    replaces the other half."""

    kind = "tile"
    label = "Mirror and tile"
    group = "texture"
    synonyms = ("mirror", "repeat", "kaleidoscope", "tile", "reflect")
    says = "{across} × {down}"
    parameters = (
        Parameter("across", "Across", "×", 2, 1, 8, 1, 100, neutral=1, digits=2),
        Parameter("down", "Down", "×", 2, 1, 8, 1, 100, neutral=1, digits=2),
        Parameter("x", "Moved across", "%", 0, -1, 1, -100, 100, shown_times=100),
        Parameter("y", "Moved down", "%", 0, -1, 1, -100, 100, shown_times=100),
    )
    choices = (
        Choice("as_it_is", "Neighbours", ("mirrored", "as they are")),
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
        shown = bent_by(_everywhere(box, context, area), context.matrix, area, lambda across, down: (across, down))
        whole = shown.pixels if made.pixels.ndim == 2 else shown.pixels[..., None]
        covers = patch.extends if box.through(context.matrix).meets(context.window) == context.window else NOWHERE
        return replace(made, pixels=made.pixels * (whole / np.float32(255)), extends=covers)

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
        if values["as_it_is"] == "as they are":
            return along - np.floor(along)
        turned = np.mod(along, 2)
        return np.where(turned > 1, 2 - turned, turned)


def _everywhere(box: Rect, context: StepContext, area: Rect) -> Patch:
    """Coverage of the box itself."""
    return paint_rectangle(box, context.matrix, area, (255, 255, 255))
