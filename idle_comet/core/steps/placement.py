"""Placement: where a picture stands, how large, how turned, how opaque."""

from __future__ import annotations

from ..motion import Free, Strengths
from ..picture import Matrix
from .kind import Ready, Rest, StepKind, Values
from .parameter import Parameter, point


class Placement(StepKind):
    """Moves by (x, y) and along a path, scales and turns about a pivot given from the content's own centre."""

    kind = "placement"
    label = "Placement"
    group = "place"
    synonyms = ("move", "position", "scale", "zoom", "rotation", "turn", "opacity", "fade", "travel", "path")
    weakens = ("opacity", "y", "x", "path", "scale", "rotation")
    says = "{scale} %, {x} across, {y} down"
    by_hand = True
    fades = ("opacity",)
    parameters = (
        Parameter("opacity", "Opacity", "%", 1, 0, 1, 0, 1, neutral=1, shown_times=100),
        Parameter("y", "Position Y", "px", 0, -200, 200, -20000, 20000, digits=1, gentle=3),
        Parameter("x", "Position X", "px", 0, -200, 200, -20000, 20000, digits=1, gentle=3),
        point("path", "Path", 400),
        Parameter("scale", "Scale", "%", 1, 0, 2, -50, 50, neutral=1, digits=1, shown_times=100, gentle=0.01),
        Parameter("rotation", "Rotation", "°", 0, -180, 180, -36000, 36000, digits=1, gentle=0.6),
        Parameter("pivot_x", "Pivot X", "px", 0, -400, 400, -20000, 20000),
        Parameter("pivot_y", "Pivot Y", "px", 0, -400, 400, -20000, 20000),
    )

    ready = (
        Ready("rise", "Rise and fade", ("come up", "arrive from below", "fade up"), away={"y": 40, "opacity": 0}),
        Ready("drop", "Drop and fade", ("come down", "arrive from above", "fall in"), away={"y": -40, "opacity": 0}),
        Ready(
            "slide",
            "Slide and fade",
            ("slide in", "arrive from the side", "fade across"),
            away={"x": -60, "opacity": 0},
        ),
        Ready(
            "words-rise",
            "Rise, word by word",
            ("word by word", "cascade", "words one after the other"),
            away={"y": 60, "opacity": 0},
            ease=Strengths(start=0.0, end=0.8),
            unit="word",
            delay=4,
        ),
        Ready(
            "letters-grow",
            "Grow, letter by letter",
            ("grow from the baseline", "letters grow", "pop up"),
            away={"scale": 0},
            ease=Strengths(start=0.1, end=0.7),
            unit="letter",
            order="from the middle",
            delay=2,
            pivot="baseline-centre",
        ),
        Ready(
            "pulse-in",
            "Pulse in",
            ("pop in", "from nothing past full size and back", "overshoot", "emblem"),
            beats={"scale": ((0, 0.0), (9, 1.16), (14, 0.94), (18, 1.0))},
            ease=Strengths(start=0.35, end=0.65),
        ),
        Ready(
            "drop-settle",
            "Drop and settle",
            ("fall into place", "bounce in", "land", "emblem"),
            beats={"y": ((0, -720.0), (10, 0.0), (14, -26.0), (18, 0.0), (21, -7.0), (24, 0.0))},
            ease=Free(x1=0.5, y1=0.05, x2=0.8, y2=0.7),
        ),
        Ready(
            "slide-from-left",
            "Slide in from the left",
            ("come in from beyond the edge", "fly in"),
            away={"x": -1280},
            ease=Strengths(start=0.0, end=0.85),
        ),
        Ready(
            "slide-from-right",
            "Slide in from the right",
            ("come in from beyond the edge", "fly in"),
            away={"x": 1280},
            ease=Strengths(start=0.0, end=0.85),
        ),
        Ready("push", "Grow slowly", ("push in", "zoom", "scale over the clip"), through={"scale": (1, 1.06)}),
        Ready("drift", "Slow rise", ("drift up", "float", "travel over the clip"), through={"y": (6, -6)}),
    )

    def place(self, values: Values, rest: Rest) -> Matrix:
        px, py = rest.anchor[0] + values["pivot_x"], rest.anchor[1] + values["pivot_y"]
        scale, path = values["scale"], values["path"]
        x, y = px + values["x"] + path[0], py + values["y"] + path[1]
        if not values["rotation"]:
            return Matrix(scale, 0.0, 0.0, scale, x - scale * px, y - scale * py)
        cos, sin = Matrix.turn(values["rotation"])[:2]
        a, b = cos * scale, sin * scale
        return Matrix(a, b, -b, a, x - a * px + b * py, y - b * px - a * py)

    def opacity(self, values: Values) -> float:
        return values["opacity"]

    def presence(self, values: Values) -> float:
        return values["opacity"] * min(1.0, values["scale"] ** 2)
