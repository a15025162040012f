"""Mask: only what lies inside the step's masks is seen."""

from __future__ import annotations

from ..picture import Patch
from .kind import StepContext, StepKind, Values


class Mask(StepKind):
    """Takes away what lies outside its masks; before it has any, nothing."""

    kind = "mask"
    label = "Mask"
    group = "place"
    synonyms = ("cut out", "show a part", "matte", "window", "uncover", "shape of another clip")
    says = "only what lies inside is seen"
    outside = True
    keeps_means = True

    def changes_pixels(self, values: Values) -> bool:
        return True

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        return Patch.empty()
