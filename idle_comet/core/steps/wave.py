"""Wave: rows or columns of the picture swing aside, and the swing travels."""

from __future__ import annotations

import math

import numpy as np

from ..motion import Linear
from ..picture import Patch, bent, places, widened
from .kind import Ready, Rest, StepContext, StepKind, Values
from .parameter import Choice, Parameter


class Wave(StepKind):
    """Aside by amplitude · sin(2π · (place / length + phase / 360°)); 360° of phase bring it back to itself."""

    kind = "wave"
    label = "Wave"
    group = "texture"
    synonyms = ("ripple", "flag", "water", "sway", "undulate")
    says = "{amplitude} px, {length} px long"
    parameters = (
        Parameter("amplitude", "Amplitude", "px", 8, 0, 80, 0, 2000, neutral=0, digits=1),
        Parameter("length", "Length", "px", 180, 10, 1200, 2, 20000, neutral=180, digits=1),
        Parameter("phase", "Phase", "°", 0, -360, 360, -360000, 360000, gentle=10),
    )
    choices = (Choice("swings", "Swings", ("across", "down")),)
    ready = (
        Ready("wave-travels", "Travelling wave", ("flag in wind", "loop"), through={"phase": (0, 360)}, ease=Linear()),
        Ready("wave-out", "Wave out of water", ("ripple in",), away={"amplitude": 40}),
    )

    def margin(self, values: Values, rest: Rest) -> float:
        return values["amplitude"] + 1

    def changes_pixels(self, values: Values) -> bool:
        return values["amplitude"] > 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        area = widened(patch, values["amplitude"] * context.scale, context.window)
        if patch.rect.empty or area.empty:
            return patch
        across, down = places(area, context.matrix)
        box, turn = context.rest.box, math.radians(values["phase"])
        along = down - np.float32(box.y0) if values["swings"] == "across" else across - np.float32(box.x0)
        aside = np.float32(values["amplitude"]) * np.sin(
            np.float32(2 * math.pi / values["length"]) * along + np.float32(math.fmod(turn, 2 * math.pi))
        )
        if values["swings"] == "across":
            return bent(patch, context.matrix, area, across - aside, down)
        return bent(patch, context.matrix, area, across, down - aside)
