"""Roll: credits that rise through the frame, or a crawl across it, at one speed."""

from __future__ import annotations

from ..picture import Matrix
from .directions import DIRECTIONS
from .kind import Ready, Rest, StepKind, Values
from .parameter import Choice, Parameter


class Roll(StepKind):
    """At 0 the words stand just outside the frame where they come from, at 1 just outside where they go."""

    kind = "roll"
    label = "Credits roll"
    group = "arrival"
    weakens = ("travelled",)
    synonyms = ("roll", "credits", "credits roll", "crawl", "scroll", "ticker")
    says = "{travelled} % of the way"
    parameters = (Parameter("travelled", "Progress", "%", 0.5, 0, 1, 0, 1, neutral=0.5, digits=1, shown_times=100),)
    choices = (Choice("towards", "Towards", ("up", "left", "down", "right")),)
    ready = (
        Ready("roll", "Roll past", ("roll credits",), through={"travelled": (0, 1)}),
        Ready("crawl", "Crawl", ("ticker", "news crawl"), through={"travelled": (0, 1)}, choices={"towards": "left"}),
    )

    def weakened(self, values: Values, mix: float) -> Values:
        """So much of its way from where the words stand."""
        return {**values, "share": mix}

    @staticmethod
    def seconds_to_read(rest: Rest, towards: str, text: str) -> float:
        """How long it must take at least, to be read at one speed: a line in half a second while it rises, or the
        words of a crawl at 15 characters a second; for as long as what is read takes to leave the frame too."""
        box = rest.box
        if towards in ("left", "right"):
            across = box.x1 - box.x0
            return len(text) / 15 * (across + rest.width) / max(across, 1e-6)
        down = box.y1 - box.y0
        lines = max(1, sum(1 for line in text.split("\n") if line.strip()))
        return lines / 2 * (down + rest.height) / max(down, 1e-6)

    def notes(self, values: Values, moving: frozenset[str], rest: Rest, text: str, seconds: float) -> list[str]:
        needed = self.seconds_to_read(rest, values["towards"], text) if "travelled" in moving else 0.0
        return (
            [f"It rolls faster than it can be read; at this size it needs {needed:.1f} s."]
            if seconds < needed - 0.05
            else []
        )

    def place(self, values: Values, rest: Rest) -> Matrix:
        way = DIRECTIONS[values["towards"]]
        if way[0]:
            low, high, frame = rest.box.x0, rest.box.x1, rest.width
        else:
            low, high, frame = rest.box.y0, rest.box.y1, rest.height
        first, last = (frame - low, -high) if sum(way) < 0 else (-high, frame - low)
        shift = (first + (last - first) * values["travelled"]) * values.get("share", 1.0)
        return Matrix.shift(shift if way[0] else 0.0, shift if way[1] else 0.0)
