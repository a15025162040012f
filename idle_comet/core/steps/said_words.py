"""Word highlight: the current word shows in a colour of its own, upcoming words are dimmed."""

from __future__ import annotations

import re

from ..picture import parse_colour
from .kind import LetterNow, Ready, Rest, StepKind, Values
from .parameter import Choice, Parameter, colour, share

_WORD = re.compile(r"\S+")

Times = tuple[tuple[float, float], ...]
"""From when to when each word is said, in seconds."""


def lit(times: Times, at: float, over: float, stays: bool) -> list[float]:
    """How much of its colour each word has at a moment. It rises over so many seconds and is whole when the word
    begins; it falls as the next one rises, or, before a pause, towards its own end."""

    def gone_up(begin: float) -> float:
        return float(at >= begin) if over <= 0 else min(1.0, max(0.0, (at - begin) / over + 1))

    found = []
    for number, (begin, end) in enumerate(times):
        follows = times[number + 1][0] if number + 1 < len(times) else end
        until = follows if follows - end < _PAUSE else end
        found.append(max(0.0, gone_up(begin) - (0.0 if stays else gone_up(max(begin, until)))))
    return found


_PAUSE = 0.5
"""Seconds without a word up to which the last one keeps its colour."""


class SaidWords(StepKind):
    kind = "said_words"
    label = "Word highlight"
    group = "surface"
    of_ink = True
    synonyms = ("words as said", "caption highlight", "word by word", "sing along", "spoken words", "subtitle")
    says = "{colour}"
    text_only = True
    restless = True
    hears = True
    weakens = ("strength", "coming")
    parameters = (
        colour("colour", "Current word", "#f0b440"),
        Parameter("strength", "Spoken", "%", 1, 0, 1, 0, 1, neutral=0, shown_times=100),
        share("coming", "Upcoming"),
        Parameter("over", "Blend time", "s", 0.06, 0, 0.5, 0, 5, digits=2, neutral=0, may_move=False),
    )
    choices = (Choice("after", "Then", ("as before", "stays")),)
    ready = (
        Ready("said-words", "Words as they are said", ("highlight each word",)),
        Ready("said-words-come", "Words come as they are said", ("words appear one by one",), fixed={"coming": 0}),
    )

    def styles(self, values: Values, text: str, own: str) -> tuple[tuple[int, int, str], ...]:
        words = [found.span() for found in _WORD.finditer(text)]
        much = lit(values["said"], values["seconds"], values["over"], values["after"] == "stays")
        if values["strength"] <= 0:
            return ()
        from_, to = parse_colour(own), parse_colour(values["colour"])
        found = []
        for (start, end), share_now in zip(words, much):
            if share_now > 0:
                mixed = (round(a + (b - a) * share_now * values["strength"]) for a, b in zip(from_, to))
                found.append((start, end, "#" + "".join(f"{each:02x}" for each in mixed)))
        return tuple(found)

    def letters(self, values: Values, rest: Rest) -> tuple[LetterNow, ...] | None:
        if rest.layout is None or values["coming"] >= 1:
            return None
        words = [found.span() for found in _WORD.finditer(rest.layout.text)]
        there = lit(values["said"], values["seconds"], values["over"], True)
        much = [1.0] * len(rest.layout.text)
        for (start, end), share_there in zip(words, there):
            much[start:end] = [values["coming"] + (1 - values["coming"]) * share_there] * (end - start)
        return tuple(LetterNow(min(much[one.start : one.end], default=1.0)) for one in rest.layout.units["letter"])
