"""LUT: every colour is looked up in a table from a `.cube` file."""

from __future__ import annotations

from ..picture import Patch, looked_up
from .kind import StepContext, StepKind, Values
from .parameter import share


class ColourTable(StepKind):
    """The table says what becomes of encoded colours. Between its entries they are interpolated (`picture/cube.py`)."""

    kind = "colour_table"
    label = "LUT"
    group = "colour"
    synonyms = ("colour table", "cube", "lut", "lookup table", "film emulation", "grade file")
    says = "{strength} %"
    takes = "table"
    parameters = (share("strength", "Strength", 1.0, 0.0),)

    def keeps_cover(self, values: Values) -> bool:
        return True

    def changes_pixels(self, values: Values) -> bool:
        return values["strength"] > 0 and values["table"] is not None

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        cube = context.table_of(values["table"]) if context.table_of is not None else None
        return patch if cube is None else looked_up(patch, cube, values["strength"])
