"""Sharpen: what differs from its surroundings differs more."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np

from ..picture import Patch, deepened, gaussian_blur, unsharp
from .kind import StepContext, StepKind, Values
from .parameter import Parameter


class Sharpen(StepKind):
    """Unsharp masking on encoded values: the difference to a Gaussian of the radius, times the amount, where it is more
    than the threshold."""

    kind = "sharpen"
    label = "Sharpen"
    synonyms = ("crisp", "unsharp mask", "detail", "clarity")
    says = "{amount} %, {radius} px"
    parameters = (
        Parameter("amount", "Amount", "%", 0.6, 0, 3, 0, 10, neutral=0, shown_times=100),
        Parameter("radius", "Radius", "px", 1.5, 0.3, 20, 0.1, 200, neutral=1.5, digits=1),
        Parameter("threshold", "Threshold", "", 0, 0, 40, 0, 255, digits=1),
    )

    def keeps_cover(self, values: Values) -> bool:
        return True

    def changes_pixels(self, values: Values) -> bool:
        return values["amount"] > 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        pixels = np.ascontiguousarray(deepened(patch))
        soft = gaussian_blur(pixels, values["radius"] * context.scale, cv2.BORDER_REPLICATE, patch.x, patch.y)
        unsharp(pixels, soft, values["amount"], values["threshold"])
        return replace(patch, pixels=pixels, colour=None)
