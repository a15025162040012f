"""Laying out lines of type. All distances are in em, so one layout serves every size."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

import uharfbuzz as hb

from ..picture import Rect
from .faces import Face, face_for


class Glyph(NamedTuple):
    """A shaped glyph: its number, its origin, the first character of its cluster, its advance."""

    gid: int
    x: float
    y: float
    cluster: int
    advance: float


class Line(NamedTuple):
    """A line: where it begins, its baseline, width, and its characters [start, end) of the text."""

    x: float
    baseline: float
    width: float
    start: int
    end: int
    carets: tuple[float, ...]
    """X of the caret before each character of the line, and after the last."""


@dataclass(frozen=True, slots=True)
class Layout:
    """A block of lines with its origin at the first baseline's alignment point.

    `ink` is the union of all glyph outlines; `type_box` runs from the first ascent to
    the last descent and over the advances.
    """

    face: Face
    glyphs: tuple[Glyph, ...]
    lines: tuple[Line, ...]
    ink: Rect
    type_box: Rect
    missing: str
    face_found: bool


def shape(face: Face, text: str, ligatures: bool = True) -> list[tuple[int, int, float, float, float]]:
    """HarfBuzz glyphs of one line in visual order: (gid, cluster, x offset, y offset, advance), in em, y down."""
    if not text:
        return []
    buffer = hb.Buffer()
    buffer.add_str(text)
    buffer.cluster_level = hb.BufferClusterLevel.MONOTONE_GRAPHEMES
    buffer.guess_segment_properties()
    hb.shape(face.hb_font, buffer, {} if ligatures else {"liga": False, "clig": False})
    unit = 1 / face.units
    return [
        (info.codepoint, info.cluster, at.x_offset * unit, -at.y_offset * unit, at.x_advance * unit)
        for info, at in zip(buffer.glyph_infos, buffer.glyph_positions)
    ]


def _line(face: Face, text: str, tracking: float) -> tuple[list[Glyph], float, list[float], set[str]]:
    """Glyphs from x = 0, width, caret stops, characters without a glyph.

    Tracking v/1000 em follows each cluster but the last; ligatures are off when tracked.
    """
    gap = tracking / 1000
    glyphs: list[Glyph] = []
    missing: set[str] = set()
    starts: dict[int, list[float]] = {}
    x, last = 0.0, None
    for gid, cluster, dx, dy, advance in shape(face, text, ligatures=gap == 0):
        if last is not None and cluster != last:
            x += gap
        if gid == 0 and text[cluster].isprintable():
            missing.add(text[cluster])
        glyphs.append(Glyph(gid, x + dx, dy, cluster, advance))
        span = starts.setdefault(cluster, [x, x])
        x += advance
        span[1] = x
        last = cluster
    return glyphs, x, _carets(text, starts, x), missing


def _carets(text: str, starts: dict[int, list[float]], width: float) -> list[float]:
    """A caret before every character; within a cluster of several they stand evenly."""
    edges = sorted(starts)
    rightward = len(edges) < 2 or starts[edges[0]][0] <= starts[edges[-1]][0]
    carets = [0.0] * (len(text) + 1)
    for place, cluster in enumerate(edges):
        following = edges[place + 1] if place + 1 < len(edges) else len(text)
        left, right = starts[cluster]
        for offset in range(following - cluster):
            share = offset / (following - cluster)
            carets[cluster + offset] = left + (right - left) * share if rightward else right - (right - left) * share
    carets[-1] = width if rightward else 0.0
    return carets


@lru_cache(maxsize=512)
def lay_out(text: str, typeface: str, weight: int, tracking: float, leading: float, align: str) -> Layout:
    """Shape and set a text. Lines break at line feeds; `leading` is baseline to baseline in em.

    Tracking keeps the line's alignment point fixed. An empty text has an empty ink box
    and a type box one ascent and descent high.
    """
    face, found = face_for(typeface, weight)
    glyphs: list[Glyph] = []
    lines: list[Line] = []
    missing: set[str] = set()
    ink, type_box = Rect(0, 0, 0, 0), Rect(0, 0, 0, 0)
    start = 0
    for number, words in enumerate(text.split("\n")):
        baseline = number * leading
        own, width, carets, absent = _line(face, words, tracking)
        missing |= absent
        left = {"left": 0.0, "centre": -width / 2, "right": -width}[align]
        for glyph in own:
            placed = glyph._replace(x=glyph.x + left, y=glyph.y + baseline, cluster=glyph.cluster + start)
            glyphs.append(placed)
            bounds = face.glyph(glyph.gid)[1]
            if bounds:
                x0, y0, x1, y1 = bounds
                ink = ink.joins(Rect(placed.x + x0, placed.y + y0, placed.x + x1, placed.y + y1))
        box = Rect(left, baseline - face.ascent, left + max(width, 1e-9), baseline + face.descent)
        type_box = type_box.joins(box)
        lines.append(Line(left, baseline, width, start, start + len(words), tuple(c + left for c in carets)))
        start += len(words) + 1
    return Layout(face, tuple(glyphs), tuple(lines), ink, type_box, "".join(sorted(missing)), found)
