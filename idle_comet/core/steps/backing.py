"""Backing: a shape behind the words that follows their size."""

from __future__ import annotations

import numpy as np

from ..motion import Strengths
from ..picture import Patch, Rect, field, gathered, paint_box, parse_colour
from .growing import GROWS, grown
from .kind import Ready, Rest, StepContext, StepKind, Values
from .parameter import Choice, Parameter, colour, share


class Backing(StepKind):
    kind = "backing"
    label = "Backing"
    group = "backing"
    synonyms = ("box behind", "plate", "panel", "highlight", "bar behind text", "lozenge")
    says = "{pad_x} and {pad_y} px wider, {strength} %"
    keeps_means = True
    dresses = True
    parameters = (
        Parameter("pad_x", "Padding X", "px", 22, -40, 120, -2000, 4000, digits=1),
        Parameter("pad_y", "Padding Y", "px", 10, -40, 120, -2000, 4000, digits=1),
        Parameter("radius", "Corner radius", "px", 0, 0, 60, 0, 2000, digits=1),
        colour("colour", "Colour", "#8c2f1b"),
        colour("second", "Second colour", "#d98e32"),
        share("strength", "Opacity", 0.92, 0),
        share("shown", "Progress"),
    )
    choices = (
        GROWS,
        Choice("behind", "Behind", ("the block", "each line", "each word")),
        Choice("fits", "Fits", ("the type", "the ink")),
        Choice("gradient", "Second colour", ("none", "to the right", "down")),
    )
    ready = (
        Ready(
            "backing-grows",
            "Backing grows",
            ("bar grows", "panel slides open"),
            away={"shown": 0},
            ease=Strengths(start=0.1, end=0.8),
        ),
    )

    def _boxes(self, values: Values, rest: Rest) -> list[Rect]:
        if rest.layout is None:
            found = [rest.box]
        else:
            units = rest.layout.units[{"the block": "all", "each line": "line", "each word": "word"}[values["behind"]]]
            found = [(one.ink if values["fits"] == "the ink" else one.box).through(rest.to_frame) for one in units]
        padded = [
            Rect(x0 - values["pad_x"], y0 - values["pad_y"], x1 + values["pad_x"], y1 + values["pad_y"])
            for x0, y0, x1, y1 in found
        ]
        return [box for each in padded if not (box := grown(each, values["shown"], values["grows"])).empty]

    def adds(self, values: Values, rest: Rest) -> Rect | None:
        boxes = self._boxes(values, rest) if self.changes_pixels(values) else []
        whole = Rect(0, 0, 0, 0)
        for box in boxes:
            whole = whole.union(box)
        return None if whole.empty else whole

    def keeps_cover(self, values: Values) -> bool:
        return True

    def changes_pixels(self, values: Values) -> bool:
        return values["strength"] > 0 and values["shown"] > 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        colours = parse_colour(values["colour"]), parse_colour(values["second"])
        painted = [
            paint_box(box, values["radius"], context.matrix, context.window, colours[0])
            for box in self._boxes(values, context.rest)
        ]
        backs = [each for each in painted if not each.rect.empty]
        if not backs:
            return patch
        back = gathered(backs, context.window)
        if values["gradient"] != "none":
            box = self.adds({**values, "shown": 1.0}, context.rest)
            back = back if box is None else _graded(back, colours, values["gradient"], box, context)
        return gathered([back.faded(values["strength"]), patch], context.window)


def _graded(
    back: Patch, colours: tuple[tuple[int, int, int], tuple[int, int, int]], way: str, box: Rect, context: StepContext
) -> Patch:
    across, down = field(back, context.matrix)
    share = (across - box.x0) / (box.x1 - box.x0) if way == "to the right" else (down - box.y0) / (box.y1 - box.y0)
    share = np.clip(share, 0, 1)[..., None]
    first, second = (np.asarray(each, np.float32) for each in colours)
    mixed = first * (1 - share) + second * share
    alpha = back.alpha[..., None]
    return Patch(np.concatenate([mixed * alpha / 255, alpha], axis=-1, dtype=np.float32), back.x, back.y)
