"""What step kinds have in common that do the same to a colour wherever it is."""

from __future__ import annotations

from ..picture import Patch, graded
from .kind import StepContext, StepKind, Values


class Grades(StepKind):
    """A kind that says by its `grading` what becomes of a colour."""

    group = "colour"
    covers_by_cover = True

    def keeps_cover(self, values: Values) -> bool:
        return True

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        grading = self.grading(values)
        return patch if grading is None else graded(patch, [grading])
