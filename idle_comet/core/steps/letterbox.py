"""Letterbox: bars that give the frame another shape."""

from __future__ import annotations

from ..motion import Strengths
from ..picture import Patch, Rect, gathered, paint_path, parse_colour, rounded
from .kind import Ready, Rest, StepContext, StepKind, Values
from .parameter import Choice, Parameter, colour, share

_SHAPES = {
    "2.39 : 1": 2.39,
    "2 : 1": 2.0,
    "1.85 : 1": 1.85,
    "16 : 9": 16 / 9,
    "4 : 3": 4 / 3,
    "1 : 1": 1.0,
    "9 : 16": 9 / 16,
}


class Letterbox(StepKind):
    """Bars above and below, or at both sides, of the film's frame, so that what is left has the ratio; over all that
    the step is done to."""

    kind = "letterbox"
    label = "Letterbox"
    group = "texture"
    synonyms = ("bars", "aspect ratio", "widescreen", "black bars", "pillarbox")
    says = "{ratio} : 1"
    parameters = (
        share("shown", "Shown", 1.0, 0.0),
        Parameter("ratio", "Ratio", ": 1", 2.39, 1, 3, 0.1, 20, neutral=2.39, digits=2),
        colour("colour", "Colour", "#000000"),
    )
    choices = (Choice("shape", "Shape", ("free", *_SHAPES)),)
    ready = (
        Ready("bars-close", "Bars close in", ("bars slide in",), away={"shown": 0}, ease=Strengths(start=0.2, end=0.8)),
    )

    def _bars(self, values: Values, rest: Rest) -> list[Rect]:
        ratio: float = _SHAPES.get(values["shape"]) or values["ratio"]
        wide, high = rest.width, rest.height
        above, beside = max(0.0, (high - wide / ratio) / 2), max(0.0, (wide - high * ratio) / 2)
        above, beside = above * values["shown"], beside * values["shown"]
        bars = []
        if above > 0:
            bars += [Rect(0, 0, wide, above), Rect(0, high - above, wide, high)]
        if beside > 0:
            bars += [Rect(0, 0, beside, high), Rect(wide - beside, 0, wide, high)]
        return bars

    def adds(self, values: Values, rest: Rest) -> Rect | None:
        return Rect(0, 0, rest.width, rest.height) if self._bars(values, rest) else None

    def keeps_cover(self, values: Values) -> bool:
        return True

    def changes_pixels(self, values: Values) -> bool:
        return values["shown"] > 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        tone, rest = parse_colour(values["colour"]), context.rest
        bars = [paint_path(rounded(bar, 0), context.matrix, context.window, tone) for bar in self._bars(values, rest)]
        return gathered([patch, *bars], context.window) if bars else patch
