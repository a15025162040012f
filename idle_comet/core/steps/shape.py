"""Shape: a rule or a simple shape beside the words, in the same clip."""

from __future__ import annotations

import skia

from ..motion import Strengths
from ..picture import (
    Matrix,
    Patch,
    Rect,
    ellipse,
    gathered,
    outline_path,
    paint_box,
    paint_path,
    parse_colour,
    polygon,
    rounded,
)
from .growing import GROWS, grown
from .kind import Ready, Rest, StepContext, StepKind, Values
from .parameter import Choice, Parameter, colour, share, whole


class Shape(StepKind):
    """A width or height of 0 is as wide, or as high, as the words. It stands away from their box by `away`. A line has
    round ends."""

    kind = "shape"
    label = "Shape"
    group = "backing"
    takes = "drawing"
    synonyms = (
        "rule",
        "line",
        "rectangle",
        "ellipse",
        "polygon",
        "underline",
        "bar",
        "hexagon",
        "divider",
        "svg",
        "emblem",
    )
    says = "{width} × {height} px"
    keeps_means = True
    parameters = (
        Parameter("width", "Width", "px", 0, 0, 600, 0, 20000, digits=1),
        Parameter("height", "Height", "px", 3, 0, 300, 0, 20000, digits=1),
        Parameter("away", "Away", "px", 10, -100, 200, -20000, 20000, digits=1),
        Parameter("x", "X", "px", 0, -300, 300, -20000, 20000, digits=1),
        Parameter("y", "Y", "px", 0, -300, 300, -20000, 20000, digits=1),
        Parameter("turn", "Rotation", "°", 0, -180, 180, -36000, 36000, digits=1),
        Parameter("radius", "Corner radius", "px", 0, 0, 60, 0, 2000, digits=1),
        Parameter("stroke", "Stroke only", "px", 0, 0, 20, 0, 400, digits=1),
        whole("sides", "Sides", 6, 3, 24),
        colour("colour", "Colour", "#d98e32"),
        share("strength", "Opacity", 1, 0),
        share("shown", "Progress"),
    )
    choices = (
        Choice("form", "Form", ("rectangle", "line", "ellipse", "polygon", "drawing")),
        Choice("stands", "Stands", ("below", "above", "left", "right", "behind")),
        GROWS,
        Choice("order", "Order", ("behind the words", "before the words")),
    )
    ready = (
        Ready(
            "rule",
            "Rule below",
            ("underline grows", "thin rule"),
            away={"shown": 0},
            ease=Strengths(start=0.1, end=0.8),
            choices={"grows": "middle"},
        ),
        Ready(
            "bar-left",
            "Bar beside",
            ("vertical bar", "bar at the left"),
            away={"shown": 0},
            ease=Strengths(start=0.1, end=0.8),
            fixed={"width": 5, "height": 0, "away": 18},
            choices={"stands": "left", "grows": "bottom"},
        ),
    )

    def _box(self, values: Values, rest: Rest) -> Rect:
        x0, y0, x1, y1 = rest.box if rest.ink.empty else Rect(rest.ink.x0, rest.box.y0, rest.ink.x1, rest.box.y1)
        wide, high, away = values["width"] or x1 - x0, values["height"] or y1 - y0, values["away"]
        left, top = (x0 + x1 - wide) / 2, (y0 + y1 - high) / 2
        stands = values["stands"]
        if stands in ("below", "above"):
            # Lines that begin at one side of the frame are underlined from there.
            top = y1 + away if stands == "below" else y0 - away - high
            if values["grows"] in ("left", "right"):
                left = x0 if values["grows"] == "left" else x1 - wide
        elif stands in ("left", "right"):
            left = x0 - away - wide if stands == "left" else x1 + away
        return Rect(left + values["x"], top + values["y"], left + values["x"] + wide, top + values["y"] + high)

    def adds(self, values: Values, rest: Rest) -> Rect | None:
        if not self.changes_pixels(values):
            return None
        box = self._box(values, rest)
        return box.through(self._turned(values, box)).grown(values["stroke"])

    def _turned(self, values: Values, box: Rect) -> Matrix:
        x, y = (box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2
        return Matrix.shift(x, y) @ Matrix.turn(values["turn"]) @ Matrix.shift(-x, -y)

    def keeps_cover(self, values: Values) -> bool:
        return True

    def changes_pixels(self, values: Values) -> bool:
        return values["strength"] > 0 and values["shown"] > 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        whole_box = self._box(values, context.rest)
        box = grown(whole_box, values["shown"], values["grows"])
        matrix, colour = context.matrix @ self._turned(values, whole_box), parse_colour(values["colour"])
        if values["form"] == "rectangle" and values["stroke"] <= 0:
            drawn = paint_box(box, values["radius"], matrix, context.window, colour)
        else:
            path = None if box.empty else _outline(values, box, whole_box)
            if path is None:
                return patch
            window = _seen(box, whole_box, context) if values["form"] == "drawing" else context.window
            drawn = paint_path(path, matrix, window, colour, values["stroke"])
        drawn = drawn.faded(values["strength"])
        return gathered([drawn, patch] if values["order"] == "behind the words" else [patch, drawn], context.window)


def _outline(values: Values, box: Rect, whole_box: Rect) -> skia.Path | None:
    """The shape in the part of its box that is shown; a drawing is whole, and seen as far as it is shown."""
    form = values["form"]
    if form == "drawing":
        return _fitted(values["drawing"], whole_box)
    if form == "ellipse":
        return ellipse(box)
    if form == "polygon":
        return polygon(box, int(values["sides"]))
    return rounded(box, box.y1 - box.y0 if form == "line" else values["radius"])


def _fitted(outline: str, box: Rect) -> skia.Path | None:
    """A drawing, whole and in its own proportion, in the middle of a box; None where there is none."""
    path = outline_path(outline)
    bounds = path.computeTightBounds()
    if path.isEmpty() or bounds.width() <= 0 or bounds.height() <= 0:
        return None
    scale = min((box.x1 - box.x0) / bounds.width(), (box.y1 - box.y0) / bounds.height())
    matrix = skia.Matrix.Translate((box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2)
    matrix.preScale(scale, scale)
    matrix.preTranslate(-bounds.centerX(), -bounds.centerY())
    fitted = skia.Path()
    path.transform(matrix, fitted)
    return fitted


def _seen(shown: Rect, whole: Rect, context: StepContext) -> Rect:
    """The part of the window in which a drawing that grows is shown so far."""
    if shown == whole:
        return context.window
    return shown.grown(0.5).through(context.matrix).meets(context.window)
