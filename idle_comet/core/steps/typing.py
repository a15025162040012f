"""Typing: letters appear one at a time, at a constant or a human rate."""

from __future__ import annotations

import random
from bisect import bisect_right
from functools import lru_cache
from typing import NamedTuple

from ..motion import Linear
from ..picture import Patch, Rect, gathered, paint_rectangle, parse_colour
from ..type import Layout, clusters
from .kind import LetterNow, Ready, Rest, StepContext, StepKind, Values
from .parameter import Choice, Parameter, colour, share, whole


class Typed(NamedTuple):
    """A grapheme cluster, characters [start, end) of the text, and the share of the typing at which it is there."""

    start: int
    end: int
    when: float


@lru_cache(maxsize=256)
def onsets(text: str, uneven: float, seed: int) -> tuple[Typed, ...]:
    """When each grapheme cluster is there, in order; line feeds take no time of their own.

    At a constant rate cluster k of n is there from k/n on. Uneven, the gaps vary by a seeded share of themselves,
    and a new word and what follows a stop wait a little longer.
    """
    typed = typed_clusters(text)
    chance = random.Random(f"{seed}:{len(typed)}")
    gaps = []
    for start, _ in typed:
        before = text[start - 1] if start else ""
        waits = 1.6 if before in ".,;:!?" else 0.5 if before == " " else 0.0
        gaps.append(max(0.15, 1 + uneven * (chance.uniform(-0.7, 0.7) + waits)))
    total, done, found = sum(gaps), 0.0, []
    for (start, end), gap in zip(typed, gaps):
        done += gap
        found.append(Typed(start, end, done / total))
    return tuple(found)


def typed_clusters(text: str) -> list[tuple[int, int]]:
    """The grapheme clusters of a text that are typed, one at a time: all but line feeds."""
    return [(start, end) for start, end in clusters(text) if text[start:end] != "\n"]


class Typing(StepKind):
    kind = "typing"
    label = "Typing"
    group = "arrival"
    synonyms = ("typewriter", "type on", "letter by letter", "caret", "keyboard")
    weakens = ("shown",)
    says = "{shown} % typed"
    text_only = True
    parameters = (
        share("shown", "Progress"),
        Parameter("uneven", "Variation", "%", 0, 0, 1, 0, 1, shown_times=100, may_move=False),
        whole("seed", "Seed", 1, 1, 999),
        colour("caret_colour", "Caret", "#fff6e6"),
    )
    choices = (
        Choice("caret", "Caret", ("bar", "block", "underline", "none")),
        Choice("caret_stays", "Caret is there", ("while typing", "always")),
    )
    ready = (
        Ready("typing", "Typing, evenly", ("type at a constant rate",), away={"shown": 0}, ease=Linear()),
        Ready(
            "typing-human",
            "Typing by hand",
            ("human rate", "uneven typing"),
            away={"shown": 0},
            ease=Linear(),
            fixed={"uneven": 0.6},
        ),
    )

    def _there(self, values: Values, layout_text: str) -> int:
        """How many grapheme clusters are typed."""
        times = onsets(layout_text, values["uneven"], int(values["seed"]))
        # A hair of room: a frame computed to be the onset must not miss it by a rounding.
        return bisect_right([each.when for each in times], values["shown"] + 1e-9)

    def letters(self, values: Values, rest: Rest) -> tuple[LetterNow, ...] | None:
        if values["shown"] >= 1 or rest.layout is None:
            return None
        layout = rest.layout
        times = onsets(layout.text, values["uneven"], int(values["seed"]))
        done = self._there(values, layout.text)
        after = times[done - 1].end if done else 0
        return tuple(LetterNow(1.0 if one.end <= after else 0.0) for one in layout.units["letter"])

    def _caret(self, values: Values, rest: Rest) -> Rect | None:
        if (
            rest.layout is None
            or values["caret"] == "none"
            or (values["caret_stays"] == "while typing" and not 0 < values["shown"] < 1)
        ):
            return None
        layout: Layout = rest.layout
        times = onsets(layout.text, values["uneven"], int(values["seed"]))
        done = self._there(values, layout.text)
        after = times[done - 1].end if done else 0
        line = next((each for each in reversed(layout.lines) if each.start <= after), layout.lines[0])
        x = line.carets[min(max(after - line.start, 0), len(line.carets) - 1)]
        wide = {"bar": 0.07, "block": 0.52, "underline": 0.52}[values["caret"]]
        top = line.baseline + 0.08 if values["caret"] == "underline" else line.baseline - line.ascent * 0.86
        foot = line.baseline + 0.16 if values["caret"] == "underline" else line.baseline + line.descent * 0.7
        return Rect(x + 0.04, top, x + 0.04 + wide, foot).through(rest.to_frame)

    def adds(self, values: Values, rest: Rest) -> Rect | None:
        return self._caret(values, rest)

    def changes_pixels(self, values: Values) -> bool:
        return values["caret"] != "none" and (values["caret_stays"] == "always" or 0 < values["shown"] < 1)

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        caret = self._caret(values, context.rest)
        if caret is None:
            return patch
        painted = paint_rectangle(caret, context.matrix, context.window, parse_colour(values["caret_colour"]))
        return gathered([patch, painted], context.window)

    def presence(self, values: Values) -> float:
        return values["shown"]
