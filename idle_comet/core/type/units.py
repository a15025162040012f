"""Units of a text: what moves together when words, lines or letters are moved one by one."""

from __future__ import annotations

import unicodedata
from bisect import bisect_right
from typing import Any, Literal, NamedTuple, get_args

import regex

from ..picture import Rect
from .cursive import connects_back, connects_on

KINDS = ("all", "line", "word", "letter")

Pivot = Literal["own", "centre", "baseline-left", "baseline-centre", "baseline-right", "top", "bottom", "left", "right"]
"""What a unit turns and grows about; its own is the point its text has."""

PIVOTS: tuple[str, ...] = get_args(Pivot)[1:]
"""Points of a unit about which it turns and grows."""

_VIRAMA = 9
"""Combining class of the sign that joins a consonant to the next one."""

_WORD = regex.compile(r"[\p{Han}\p{Hiragana}\p{Katakana}]\p{M}*|[^\s\p{Han}\p{Hiragana}\p{Katakana}]+")


class Unit(NamedTuple):
    """Characters [start, end) of the text. `box` is the union of its own type box and its ink; all in em.

    `cell` is the box as far as it is the unit's own: it ends half-way to the ink of the line above and below, and
    half-way in the gap to the unit beside it.
    """

    start: int
    end: int
    ink: Rect
    box: Rect
    baseline: float
    line: int
    cell: Rect = Rect(0, 0, 0, 0)

    def pivot(self, name: str) -> tuple[float, float]:
        """One of `PIVOTS`; sideways points are the ink's, where there is ink."""
        side = self.box if self.ink.empty else self.ink
        across = {"baseline-left": side.x0, "left": side.x0, "baseline-right": side.x1, "right": side.x1}.get(
            name, (side.x0 + side.x1) / 2
        )
        down = (
            self.baseline
            if name.startswith("baseline")
            else {"top": side.y0, "bottom": side.y1}.get(name, (side.y0 + side.y1) / 2)
        )
        return across, down


def units_of(
    text: str,
    clusters: list[tuple[int, int, float, float, int, str]],
    glyphs: list[Any],
    lines: list[tuple[float, float, float]],
) -> tuple[dict[str, tuple[Unit, ...]], dict[str, tuple[int, ...]], dict[int, int]]:
    """Units by kind, the units each letter belongs to, and the letter of each cluster's first character.

    `clusters` are (start, end, x0, x1, line, script) and `lines` (baseline, ascent, descent). White space is no letter.
    """
    inks: dict[int, Rect] = {}
    for glyph in glyphs:
        inks[glyph.cluster] = inks.get(glyph.cluster, Rect(0, 0, 0, 0)).union(glyph.ink)
    letters: list[Unit] = []
    letter_of: dict[int, int] = {}
    open_joint = False
    for start, end, x0, x1, line, script in sorted(clusters):
        if text[start:end].isspace():
            open_joint = False
            continue
        baseline, ascent, descent = lines[line]
        ink = inks.get(start, Rect(0, 0, 0, 0))
        box = Rect(x0, baseline - ascent, max(x1, x0 + 1e-9), baseline + descent).union(ink)
        if (
            open_joint
            and letters
            and letters[-1].line == line
            and (connects_back(text[start:end]) or unicodedata.combining(text[letters[-1].end - 1]) == _VIRAMA)
        ):
            last = letters[-1]
            letters[-1] = last._replace(end=end, ink=last.ink.union(ink), box=last.box.union(box))
        else:
            letters.append(Unit(start, end, ink, box, baseline, line))
        letter_of[start] = len(letters) - 1
        open_joint = connects_on(text[start:end]) or unicodedata.combining(text[end - 1]) == _VIRAMA
    words = [match.start() for match in _WORD.finditer(text)]
    groups = {
        "all": [0] * len(letters),
        "line": _ranked([one.line for one in letters]),
        "word": _ranked([bisect_right(words, one.start) for one in letters]),
        "letter": list(range(len(letters))),
    }
    units = {kind: _celled(_joined(letters, places), kind) for kind, places in groups.items()}
    return units, {kind: tuple(places) for kind, places in groups.items()}, letter_of


def _ranked(keys: list[int]) -> list[int]:
    """Keys in reading order, renumbered from 0 without gaps."""
    known: dict[int, int] = {}
    return [known.setdefault(key, len(known)) for key in keys]


def _joined(letters: list[Unit], places: list[int]) -> list[Unit]:
    parts: list[list[Unit]] = []
    for one, place in zip(letters, places):
        if place == len(parts):
            parts.append([])
        parts[place].append(one)
    return [
        part[0]._replace(
            end=max(one.end for one in part),
            ink=Rect.around(one.ink for one in part),
            box=Rect.around(one.box for one in part),
        )
        for part in parts
    ]


def _celled(units: list[Unit], kind: str) -> tuple[Unit, ...]:
    """The units with their cells; ink always lies within its own."""
    inks: dict[int, list[Rect]] = {}
    for one in units:
        inks.setdefault(one.line, []).append(one.ink)
    rows = {line: Rect.around(own) for line, own in inks.items()}
    beside: dict[int, tuple[float | None, float | None]] = {}
    ordered = sorted(units, key=lambda one: (one.line, one.box.x0))
    for before, one, after in zip([None, *ordered], ordered, [*ordered[1:], None]):
        beside[one.start] = (
            before.box.x1 if before and before.line == one.line else None,
            after.box.x0 if after and after.line == one.line else None,
        )
    found = []
    for one in units:
        x0, y0, x1, y1 = one.box
        if kind != "all":
            above, below, own = rows.get(one.line - 1), rows.get(one.line + 1), rows[one.line]
            if above and not above.empty and not own.empty and above.y1 <= own.y0:
                y0 = max(y0, (above.y1 + own.y0) / 2)
            if below and not below.empty and not own.empty and own.y1 <= below.y0:
                y1 = min(y1, (own.y1 + below.y0) / 2)
        if kind in ("word", "letter"):
            left, right = beside[one.start]
            x0 = x0 if left is None else (left + x0) / 2
            x1 = x1 if right is None else (right + x1) / 2
        found.append(one._replace(cell=Rect(x0, y0, x1, y1).union(one.ink)))
    return tuple(found)


_FAR = 1e6
"""Em; further than anything stands."""


def regions_of(units: tuple[Unit, ...]) -> tuple[Rect, ...]:
    """All of the plane shared out among units: half-way to the next line, and half-way in the gap to the unit beside
    it."""
    rows: dict[int, Rect] = {}
    for one in units:
        rows[one.line] = rows.get(one.line, Rect(0, 0, 0, 0)).union(one.box)
    order = sorted(rows, key=lambda line: rows[line].y0)
    borders = [-_FAR, *((rows[a].y1 + rows[b].y0) / 2 for a, b in zip(order, order[1:])), _FAR]
    heights = {line: (borders[place], borders[place + 1]) for place, line in enumerate(order)}
    found: dict[int, Rect] = {}
    for line in order:
        beside = sorted(
            (number for number, one in enumerate(units) if one.line == line), key=lambda number: units[number].box.x0
        )
        edges = [-_FAR, *((units[a].box.x1 + units[b].box.x0) / 2 for a, b in zip(beside, beside[1:])), _FAR]
        for place, number in enumerate(beside):
            found[number] = Rect(edges[place], heights[line][0], edges[place + 1], heights[line][1])
    return tuple(found[number] for number in range(len(units)))
