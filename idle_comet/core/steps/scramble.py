"""Scramble: other characters run in each letter's place until its own is there."""

from __future__ import annotations

import random
from functools import lru_cache

from ..motion import Linear
from ..type import Face
from .kind import LetterNow, Ready, Rest, StepKind, Values
from .parameter import Choice, Parameter, share, whole

_POOLS = {
    "capitals": "ABCDEFGHIJKLMNOPQRSTUVWXYZ",
    "small letters": "abcdefghijklmnopqrstuvwxyz",
    "digits": "0123456789",
    "signs": "#%&/=+*<>?!$",
    "its own letters": "",
}


@lru_cache(maxsize=4096)
def _like(face: Face, gid: int, pool: str) -> str:
    """The characters of a pool that are about as wide as a glyph: the nearest third, so that none crowds its
    neighbours."""
    wide = face.hb_font.get_glyph_h_advance(gid)
    near = sorted(
        set(pool),
        key=lambda each: (
            abs(face.hb_font.get_glyph_h_advance(face.hb_font.get_nominal_glyph(ord(each)) or 0) - wide),
            each,
        ),
    )
    return "".join(near[: max(4, len(near) // 3)])


class Scramble(StepKind):
    kind = "scramble"
    label = "Scramble"
    group = "arrival"
    synonyms = ("decode", "random letters", "shuffle", "cipher")
    weakens = ("shown",)
    says = "{shown} % settled"
    text_only = True
    restless = True
    parameters = (
        share("shown", "Progress"),
        Parameter("ahead", "Lookahead", "%", 0.4, 0, 1, 0, 1, shown_times=100),
        Parameter("holds", "Hold frames", "frames", 2, 1, 12, 1, 1000, neutral=2, may_move=False),
        whole("seed", "Seed", 1, 1, 999),
    )
    choices = (
        Choice("pool", "Characters", ("capitals", "small letters", "digits", "signs", "its own letters")),
        Choice("order", "Settles", ("in order", "anyhow")),
    )
    ready = (Ready("scramble", "Scramble to text", ("decode", "scramble"), away={"shown": 0}, ease=Linear()),)

    def letters(self, values: Values, rest: Rest) -> tuple[LetterNow, ...] | None:
        if values["shown"] >= 1 or rest.layout is None:
            return None
        layout, count = rest.layout, len(rest.layout.units["letter"])
        own = "".join(layout.text[one.start] for one in layout.units["letter"])
        pool = _POOLS[values["pool"]] or own
        order = list(range(count))
        if values["order"] == "anyhow":
            random.Random(int(values["seed"])).shuffle(order)
        first = {glyph.letter: glyph for glyph in reversed(layout.glyphs)}
        turn, found = int(values["frame"] // max(1.0, values["holds"])), []
        for letter, place in enumerate(order):
            onset = (place + 1) / count * (1 - values["ahead"]) + values["ahead"]
            if values["shown"] >= onset - 1e-9:
                found.append(LetterNow())
            elif values["shown"] <= 0 or values["shown"] < onset - values["ahead"] - 1 / count:
                found.append(LetterNow(0.0))
            else:
                found.append(
                    LetterNow(
                        1.0,
                        random.Random(f"{values['seed']}:{turn}:{letter}").choice(
                            _like(first[letter].face, first[letter].gid, pool)
                        ),
                    )
                )
        return tuple(found)

    def presence(self, values: Values) -> float:
        return values["shown"]
