"""Fray: broken up into blocks, of which some, all or none are missing."""

from __future__ import annotations

import numpy as np

from ..motion import Linear
from ..picture import Patch, field, masked
from .kind import Ready, StepContext, StepKind, Values
from .parameter import Parameter, whole
from .scatter import chance


class Fray(StepKind):
    kind = "fray"
    label = "Tiled dissolve"
    group = "arrival"
    synonyms = ("fray", "break up", "blocks", "dissolve in blocks", "glitch", "mosaic")
    says = "{gone} % gone"
    keeps_means = True
    parameters = (
        Parameter("gone", "Progress", "%", 0, 0, 1, 0, 1, shown_times=100),
        Parameter("wide", "Block width", "px", 26, 2, 200, 1, 4000, neutral=26),
        Parameter("high", "Block height", "px", 12, 2, 200, 1, 4000, neutral=12),
        whole("seed", "Seed", 1, 1, 999),
    )
    ready = (Ready("fray-in", "Fray in", ("break-up", "come together from blocks"), away={"gone": 1}, ease=Linear()),)

    def changes_pixels(self, values: Values) -> bool:
        return values["gone"] > 0

    def opacity(self, values: Values) -> float:
        return 1.0 if values["gone"] < 1 else 0.0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        across, down = field(patch, context.matrix)
        box = context.rest.box
        column, row = np.floor((across - box.x0) / values["wide"]), np.floor((down - box.y0) / values["high"])
        return masked(patch, (chance(column, row, int(values["seed"])) >= values["gone"]).astype(np.float32))

    def presence(self, values: Values) -> float:
        return 1 - values["gone"]
