"""Cell: the picture goes from the whole frame into a place of its own, and back."""

from __future__ import annotations

import math

import numpy as np

from ..picture import Matrix, Patch, Rect, carried_on, field_of, framed, gathered, masked, parse_colour, within
from ..remember import kept_field
from .kind import Rest, StepContext, StepKind, Values
from .parameter import Choice, Parameter, colour

COMES = ("the whole frame", "beyond the edge", "its middle")
"""What a picture is before it is in its cell: all of the frame, its cell beyond the nearest edge, or nothing in the
middle of its cell."""


class Cell(StepKind):
    """A cell is a rectangle of the frame, in px from its upper left corner. The picture fills it, as large as its
    detail wants; on the way its own proportions are kept, and the cell is filled at every moment."""

    kind = "cell"
    label = "Frame layout"
    group = "place"
    covers_by_cover = True
    synonyms = (
        "cell",
        "picture in picture",
        "tuck",
        "split screen",
        "squeeze back",
        "quad",
        "pair",
        "arrangement",
        "inset",
    )
    weakens = ("share",)
    says = "{share} % in its cell"
    parameters = (
        Parameter("share", "Progress", "%", 1, 0, 1, 0, 1, neutral=0, shown_times=100, gentle=0.05),
        Parameter("x", "Left", "px", 780, 0, 1280, -20000, 20000, digits=1),
        Parameter("y", "Top", "px", 440, 0, 720, -20000, 20000, digits=1),
        Parameter("width", "Width", "px", 440, 16, 1280, 1, 20000, digits=1),
        Parameter("height", "Height", "px", 248, 16, 720, 1, 20000, digits=1),
        Parameter("zoom", "Zoom", "%", 1, 1, 4, 0.05, 50, neutral=1, digits=1, shown_times=100, gentle=0.02),
        Parameter("detail_x", "Focus X", "px", 0, -400, 400, -20000, 20000, digits=1),
        Parameter("detail_y", "Focus Y", "px", 0, -400, 400, -20000, 20000, digits=1),
        Parameter("turn", "Rotation", "°", 0, -45, 45, -36000, 36000, digits=1),
        Parameter("radius", "Radius", "px", 0, 0, 80, 0, 4000, digits=1),
        Parameter("outline", "Outline", "px", 0, 0, 16, 0, 400, digits=1),
        colour("colour", "Outline colour", "#fff6e6"),
    )
    choices = (Choice("comes", "Comes from", COMES), Choice("fills", "Fills", ("the cell", "as it is")))

    def _rect(self, values: Values, rest: Rest) -> Rect:
        """Where the picture is seen at a moment, in px of the frame."""
        share = values["share"]
        cell = Rect(values["x"], values["y"], values["x"] + values["width"], values["y"] + values["height"])
        before = _before(values["comes"], cell, rest)
        return Rect(*(a + (b - a) * share for a, b in zip(before, cell)))

    def _seen(self, values: Values, rest: Rest) -> tuple[float, float, float]:
        """How large the picture is shown, and which point of it stands in the middle of where it is seen."""
        share, box, here = values["share"], _box(rest), self._rect(values, rest)
        cell = Rect(0, 0, values["width"], values["height"])
        whole = values["fills"] == "as it is"
        fits = (min if whole else max)((cell.x1 / (box.x1 - box.x0), cell.y1 / (box.y1 - box.y0)))
        goal = fits * max(1e-3, values["zoom"])
        own = ((box.x0 + box.x1) / 2 + values["detail_x"], (box.y0 + box.y1) / 2 + values["detail_y"])
        if values["comes"] != "the whole frame":
            scale, middle = goal, own
        else:
            # Sizes go by a constant ratio, as a camera's do.
            scale = goal**share
            frame = (rest.width / 2, rest.height / 2)
            middle = (frame[0] + (own[0] - frame[0]) * share, frame[1] + (own[1] - frame[1]) * share)
        if whole or share <= 0:
            return (scale, *middle)
        wide, high = here.x1 - here.x0, here.y1 - here.y0
        scale = max(scale, wide / (box.x1 - box.x0), high / (box.y1 - box.y0))
        # However far off the detail lies, no edge of the picture comes into its cell.
        x = min(max(middle[0], box.x0 + wide / 2 / scale), box.x1 - wide / 2 / scale)
        y = min(max(middle[1], box.y0 + high / 2 / scale), box.y1 - high / 2 / scale)
        return scale, x, y

    def place(self, values: Values, rest: Rest) -> Matrix | None:
        if values["share"] <= 0 and values["comes"] == "the whole frame":
            return Matrix()
        here = self._rect(values, rest)
        scale, x, y = self._seen(values, rest)
        placed = Matrix(scale, 0, 0, scale, (here.x0 + here.x1) / 2 - scale * x, (here.y0 + here.y1) / 2 - scale * y)
        return _turned(values, here) @ placed if values["turn"] else placed

    def changes_pixels(self, values: Values) -> bool:
        return values["share"] > 0 or values["comes"] != "the whole frame"

    def opacity(self, values: Values) -> float:
        return 0.0 if values["share"] <= 0 and values["comes"] == "its middle" else 1.0

    def rests(self, values: Values) -> bool:
        return values["share"] <= 0 and values["comes"] == "the whole frame"

    def leaves(self, values: Values, rest: Rest) -> Rect | None:
        here = self._rect(values, rest)
        return here.through(_turned(values, here)) if values["turn"] else here

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty or not self.changes_pixels(values):
            return patch
        here = self._rect(values, context.rest)
        matrix = context.matrix
        if not values["turn"] and matrix.flat and matrix.b == matrix.c == 0 and min(matrix.a, matrix.d) > 0:
            here, edge = _on_grid(here, matrix)
            if values["fills"] == "the cell" and values["share"] >= 1:
                placed = matrix @ (self.place(values, context.rest) or Matrix())
                patch = carried_on(patch, _box(context.rest).through(placed), edge)
        pixel = 1 / max(1e-6, abs(matrix.scale))
        radius = min(values["radius"] * values["share"], (here.x1 - here.x0) / 2, (here.y1 - here.y0) / 2)
        matrix = matrix @ _turned(values, here) if values["turn"] else matrix
        inside = _inside(patch.rect, matrix, here, max(0.0, radius)) / np.float32(pixel)
        wide = max(0.0, values["outline"] * min(1.0, values["share"]) / pixel)
        if patch.colour is None:
            return framed(patch, inside, wide, parse_colour(values["colour"]))
        shown = np.clip(inside + 0.5, 0, 1).astype(np.float32)
        made = masked(patch, shown)
        if wide <= 0:
            return made
        ring = shown - np.clip(inside - wide + 0.5, 0, 1).astype(np.float32)
        line = Patch(ring * 255, patch.x, patch.y, colour=parse_colour(values["colour"]))
        return gathered([made, line], context.window)


def _box(rest: Rest) -> Rect:
    """The picture's own bounds; of one without any, the frame."""
    box = rest.box
    if box.x1 - box.x0 < 1 or box.y1 - box.y0 < 1:
        return Rect(0, 0, rest.width, rest.height)
    return box


def _before(comes: str, cell: Rect, rest: Rest) -> Rect:
    if comes == "the whole frame":
        return Rect(0, 0, rest.width, rest.height)
    x, y = (cell.x0 + cell.x1) / 2, (cell.y0 + cell.y1) / 2
    if comes == "its middle":
        return Rect(x, y, x, y)
    # By the nearest edge, until nothing of it is in the frame.
    ways = {
        (-cell.x1, 0.0): x,
        (rest.width - cell.x0, 0.0): rest.width - x,
        (0.0, -cell.y1): y,
        (0.0, rest.height - cell.y0): rest.height - y,
    }
    dx, dy = min(ways, key=lambda way: (round(ways[way], 3), way))
    return Rect(cell.x0 + dx, cell.y0 + dy, cell.x1 + dx, cell.y1 + dy)


def _turned(values: Values, here: Rect) -> Matrix:
    """A cell turns about its middle, as far as the picture is in it."""
    return Matrix.turn(values["turn"] * values["share"]).about((here.x0 + here.x1) / 2, (here.y0 + here.y1) / 2)


def _on_grid(here: Rect, matrix: Matrix) -> tuple[Rect, Rect]:
    """The rectangle with each side that lies on a whole px of the frame moved to the nearest whole px of the painted
    picture: there, and in px of the painted picture. Cells that share a side share it at every size, so that nothing
    shows between them."""

    def side(at: float, scale: float, begins: float) -> tuple[float, float]:
        seen = at * scale + begins
        near = math.floor(seen + 0.5) if abs(at - round(at)) < 1e-6 else seen
        return (near - begins) / scale, near

    (x0, left), (x1, right) = (side(x, matrix.a, matrix.e) for x in (here.x0, here.x1))
    (y0, top), (y1, foot) = (side(y, matrix.d, matrix.f) for y in (here.y0, here.y1))
    return Rect(x0, y0, x1, y1), Rect(left, top, right, foot)


@kept_field
def _inside(area: Rect, matrix: Matrix, rect: Rect, radius: float) -> np.ndarray:
    """(h, w) how far each px of an area lies inside a rectangle with round corners, in px of the frame; below 0
    outside."""
    upright = matrix.flat and matrix.b == matrix.c == 0
    if upright:
        x0, y0, x1, y1 = area.whole()
        across = ((np.arange(x0, x1, dtype=np.float32) + np.float32(0.5 - matrix.e)) / np.float32(matrix.a))[None, :]
        down = ((np.arange(y0, y1, dtype=np.float32) + np.float32(0.5 - matrix.f)) / np.float32(matrix.d))[:, None]
    else:
        across, down = field_of(area, matrix)
    x = np.abs(across - np.float32((rect.x0 + rect.x1) / 2)) - np.float32((rect.x1 - rect.x0) / 2 - radius)
    y = np.abs(down - np.float32((rect.y0 + rect.y1) / 2)) - np.float32((rect.y1 - rect.y0) / 2 - radius)
    if upright:
        return within(x[0], y[:, 0], radius)
    corner = np.hypot(np.maximum(x, 0), np.maximum(y, 0))
    return np.float32(radius) - np.where((x > 0) & (y > 0), corner, np.maximum(x, y))
