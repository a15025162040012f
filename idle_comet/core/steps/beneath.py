"""What step kinds have in common that lay something below a picture which only its coverage tells."""

from __future__ import annotations

from ..picture import Patch, Rect, gathered
from .kind import StepContext, StepKind, Values

_ALONE = "alone"
"""Among the values, where only what lies below is painted."""


class Beneath(StepKind):
    """A kind that says by its `beneath` what lies below a picture; its value `strength` says how much of it is seen."""

    covers_by_cover = True

    def beneath(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        """What lies below, in full. Nothing of the patch counts but what it covers: what is found is kept while that
        stays, though the picture moves."""
        raise NotImplementedError

    def keeps_cover(self, values: Values) -> bool:
        return True

    def parted(self, values: Values) -> tuple[Values, Values | None] | None:
        return {**values, _ALONE: True}, None

    def over(self, below: Patch, patch: Patch, values: Values, context: StepContext) -> Patch:
        """The picture over what lies below it."""
        below = below.faded(values["strength"] * patch.opacity)
        return gathered([below] if values.get(_ALONE) else [below, patch], Rect(*context.window.whole()))

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        return self.over(self.beneath(patch, values, context), patch, values, context)
