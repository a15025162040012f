"""Laying out lines of type. All distances are in em of the text, so one layout serves every size."""

from __future__ import annotations

import unicodedata
from dataclasses import dataclass, field
from functools import lru_cache
from typing import NamedTuple

import uharfbuzz as hb

from ..picture import Rect
from ..remember import Remembered, kept
from .cursive import SCRIPTS, connects_back, connects_on, under_one_headline
from .faces import Face, face_for, faces_of, family_of
from .lines import broken
from .runs import Run, cut, in_visual_order
from .setting import SMALL, Block, Range, Setting, cased
from .units import Unit, regions_of, units_of

_REGIONS: "Remembered[Layout, dict[str, tuple[Rect, ...]]]" = Remembered()


class Glyph(NamedTuple):
    """A shaped glyph: its number in its face, its origin, the first character of its cluster, its advance, its size."""

    gid: int
    x: float
    y: float
    cluster: int
    advance: float
    face: Face
    size: float
    colour: str | None
    letter: int = -1
    """Its letter's place among the layout's letters; -1 for white space."""

    @property
    def ink(self) -> Rect:
        """Its ink where it stands; empty for white space."""
        picture = self.face.picture(self.gid)
        bounds = picture[1] if picture else self.face.glyph(self.gid)[1]
        if bounds is None:
            return Rect(0, 0, 0, 0)
        return Rect(
            self.x + bounds[0] * self.size,
            self.y + bounds[1] * self.size,
            self.x + bounds[2] * self.size,
            self.y + bounds[3] * self.size,
        )


class Line(NamedTuple):
    """A line: where it begins, its baseline, width, and its characters [start, end) of the text."""

    x: float
    baseline: float
    width: float
    start: int
    end: int
    carets: tuple[float, ...]
    """X of the caret before each character of the line, and after the last."""
    ascent: float
    descent: float


@dataclass(frozen=True, slots=True, weakref_slot=True)
class Layout:
    """A block of lines with its origin at the first baseline's alignment point.

    `ink` is the union of all glyph outlines; `type_box` runs from the first ascent to
    the last descent and over the advances.
    """

    glyphs: tuple[Glyph, ...]
    lines: tuple[Line, ...]
    text: str
    ink: Rect
    type_box: Rect
    missing: tuple[str, ...]
    """Characters without a glyph anywhere."""
    face_found: bool
    units: dict[str, tuple[Unit, ...]] = field(hash=False)
    """"all", "line", "word" and "letter", each in reading order."""
    places: dict[str, tuple[int, ...]] = field(hash=False)
    """For each kind of unit, which one every letter belongs to."""
    rows: tuple[tuple[int, int, Rect], ...] = ()
    """Of each line the glyphs [first, end) and their ink."""
    of_letter: tuple[tuple[Glyph, ...], ...] = ()
    """The glyphs of every letter."""
    colours: frozenset[str] = frozenset()
    """Colours of ranges that have their own."""
    pictures: bool = False
    """Whether some glyphs are pictures in colours."""


def shape(run: Run, text: str, joined: bool = True) -> list[tuple[int, int, float, float, float]]:
    """HarfBuzz glyphs of one run in visual order: (gid, cluster, x offset, y offset, advance), in em, y down."""
    if run.start == run.end:
        return []
    buffer = hb.Buffer()
    # The whole line is given, so that letters at the border of a run know what they join.
    buffer.add_codepoints([ord(each) for each in text], run.start, run.end - run.start)
    buffer.cluster_level = hb.BufferClusterLevel.MONOTONE_GRAPHEMES
    buffer.direction = "rtl" if run.level % 2 else "ltr"
    buffer.script = run.script if run.script != "Zyyy" else "Latn"
    buffer.guess_segment_properties()
    features: dict[str, bool | int] = {} if joined else {"liga": False, "clig": False, "calt": False}
    if not run.setting.kerning:
        features["kern"] = False
    if run.setting.case == "small":
        features["smcp"] = True
    features.update({tag: True for tag in run.setting.features})
    hb.shape(run.face.hb_font, buffer, features)
    unit = 1 / run.face.units
    return [
        (info.codepoint, info.cluster, at.x_offset * unit, -at.y_offset * unit, at.x_advance * unit)
        for info, at in zip(buffer.glyph_infos, buffer.glyph_positions)
    ]


class _Cluster(NamedTuple):
    """A cluster on a line: its characters, its stretch, its setting's ascent and descent."""

    start: int
    end: int
    x0: float
    x1: float
    script: str
    rightward: bool


class _Set(NamedTuple):
    """One line set from x = 0, its baseline at 0."""

    glyphs: list[Glyph]
    width: float
    clusters: list[_Cluster]
    carets: list[float]
    ascent: float
    descent: float
    missing: set[str]


@kept
def _set(words: str, offset: int, base: Setting, ranges: tuple[Range, ...], stretch: float = 0.0) -> _Set:
    """A line shaped. Tracking follows each cluster but the last and those that are joined to the next, by a stroke or a
    headline; ligatures are off when tracked. `stretch` is added to each space."""
    glyphs: list[Glyph] = []
    found: list[_Cluster] = []
    missing: set[str] = set()
    first = face_for(base.typeface, base.weight, base.width)[0]
    ascent, descent = (first.ascent, first.descent) if not words else (0.0, 0.0)
    x, gap, previous = 0.0, 0.0, None
    runs = in_visual_order(cut(words, offset, base, ranges))
    for run in runs:
        setting = run.setting
        own, back = cased(words[run.start : run.end], setting.case)
        size = setting.size * _smaller(run, own)
        text = words[: run.start] + own + words[run.end :] if own != words[run.start : run.end] else words
        shaped = shape(
            run._replace(end=run.start + len(own)), text, joined=setting.tracking == 0 or run.script in SCRIPTS
        )
        ascent, descent = (
            max(ascent, run.face.ascent * setting.size + setting.shift),
            max(descent, run.face.descent * setting.size - setting.shift),
        )
        starts = sorted({item[1] for item in shaped})
        ends = dict(zip(starts, [*starts[1:], run.start + len(own)]))
        last, before, previous = None, previous, run
        for gid, cluster, dx, dy, advance in shaped:
            begin, end = (
                run.start + back[cluster - run.start],
                run.start
                + (back[ends[cluster] - run.start] if ends[cluster] - run.start < len(back) else run.end - run.start),
            )
            if cluster != last:
                if last is None and before is not None:
                    x += _kerned_across(words, before, run) * setting.size
                one = _Cluster(begin, max(end, begin + 1), x, x, run.script, run.level % 2 == 0)
                # Within a join there is no gap: the stroke would be torn.
                x += 0.0 if found and _joint(words, found[-1], one) else gap
                gap = setting.tracking / 1000 * setting.size
                found.append(one._replace(x0=x, x1=x))
                if words[begin] in " \u00a0":
                    advance += stretch / size
            if gid == 0 and words[begin].isprintable():
                absent = [each for each in words[begin:end] if not run.face.has([ord(each)])]
                # A mark alone would sit on whatever stands before it in the note.
                missing.update(
                    "\u25cc" + each if unicodedata.combining(each) else each for each in absent or [words[begin]]
                )
            glyphs.append(
                Glyph(
                    gid,
                    x + dx * size,
                    dy * size - setting.shift,
                    offset + begin,
                    advance * size,
                    run.face,
                    size,
                    setting.colour,
                )
            )
            x += advance * size
            found[-1] = found[-1]._replace(x1=x)
            last = cluster
    return _Set(glyphs, x, found, _carets(words, found, x), ascent, descent, missing)


def _joint(words: str, before: _Cluster, one: _Cluster) -> bool:
    """Whether a cluster, seen right of `before`, is joined to it."""
    if one.start != before.end and one.end != before.start:
        return False
    left, right = words[before.start : before.end], words[one.start : one.end]
    first, then = (left, right) if before.rightward else (right, left)
    return (
        connects_on(first)
        and connects_back(then)
        or (before.script == one.script and under_one_headline(one.script, first, then))
    )


_PLAIN = str.maketrans("łŁđĐøØħĦıŧŦ", "lLdDoOhHitT")
"""Letters with a stroke or without a dot have no decomposition; they are kerned as what they are made from."""


def _kerned_across(words: str, before: Run, run: Run) -> float:
    """Kerning in em between two runs of one family that lie in different files of it: a file's kerning ends at its own
    glyphs.

    A letter with marks is kerned as its base letter, which is how kerning classes are drawn up.
    """
    if (
        before.level % 2
        or run.level % 2
        or before.setting != run.setting
        or before.end != run.start
        or not run.setting.kerning
        or before.face is run.face
    ):
        return 0.0
    family = faces_of(run.setting.typeface, run.setting.weight, run.setting.width)
    if before.face not in family or run.face not in family:
        return 0.0
    left, right = (
        unicodedata.normalize("NFD", words[place])[0].translate(_PLAIN) for place in (before.end - 1, run.start)
    )
    face = next((each for each in family if each.has([ord(left), ord(right)])), None)
    return _pair(face, left, right) if face else 0.0


@lru_cache(maxsize=4096)
def _pair(face: Face, left: str, right: str) -> float:
    """What kerning adds between two letters of one face, em."""
    widths = []
    for kern in (True, False):
        buffer = hb.Buffer()
        buffer.add_str(left + right)
        buffer.guess_segment_properties()
        hb.shape(face.hb_font, buffer, {"kern": kern, "liga": False})
        widths.append(sum(at.x_advance for at in buffer.glyph_positions))
    return (widths[0] - widths[1]) / face.units


def _smaller(run: Run, text: str) -> float:
    """Small capitals the face does not have are not made here: its `smcp` feature does them, or the letters stay."""
    return SMALL if run.setting.case == "small" and not _has_feature(run.face, "smcp") and text.islower() else 1.0


@lru_cache(maxsize=256)
def _has_feature(face: Face, tag: str) -> bool:
    return tag in face.hb_face.get_language_feature_tags("GSUB")


def _carets(text: str, clusters: list[_Cluster], width: float) -> list[float]:
    """A caret before every character; within a cluster of several they stand evenly."""
    carets = [0.0] * (len(text) + 1)
    for one in clusters:
        for place in range(one.start, min(one.end, len(text))):
            share = (place - one.start) / (one.end - one.start)
            carets[place] = one.x0 + (one.x1 - one.x0) * share if one.rightward else one.x1 - (one.x1 - one.x0) * share
    last = max(clusters, key=lambda each: each.end, default=None)
    carets[-1] = (last.x1 if last.rightward else last.x0) if last else width
    return carets


@kept
def lay_out(text: str, base: Setting, block: Block = Block(), ranges: tuple[Range, ...] = ()) -> Layout:
    """Shape and set a text. Lines break at line feeds and, with a measure, where they would grow too long.

    Tracking keeps the line's alignment point fixed. Each further baseline lies `leading` times the line's largest
    size below the one before. An empty text has an empty ink box and a type box one ascent and descent high.
    """
    glyphs: list[Glyph] = []
    lines: list[Line] = []
    letters: list[tuple[int, int, float, float, int, str]] = []
    missing: set[str] = set()
    type_box = Rect(0, 0, 0, 0)
    boxes: list[tuple[float, float, float]] = []
    rows: list[tuple[int, int]] = []
    baseline = 0.0
    spans = broken(
        text, block.measure, lambda start, end: _set(text[start:end], start, base, ranges).width, not block.justify
    )
    for number, (start, end, natural) in enumerate(spans):
        words = text[start:end]
        made = _set(words, start, base, ranges)
        if block.justify and block.measure and not natural:
            spaces = words.rstrip().count(" ")
            made = _set(words, start, base, ranges, max(0.0, block.measure - made.width) / spaces) if spaces else made
        if number:
            baseline += block.leading * _largest(start, end, base, ranges)
        left = {"left": 0.0, "centre": -made.width / 2, "right": -made.width}[block.align]
        rows.append((len(glyphs), len(glyphs) + len(made.glyphs)))
        for glyph in made.glyphs:
            glyphs.append(glyph._replace(x=glyph.x + left, y=glyph.y + baseline))
        for one in made.clusters:
            letters.append((start + one.start, start + one.end, one.x0 + left, one.x1 + left, number, one.script))
        type_box = type_box.union(
            Rect(left, baseline - made.ascent, left + max(made.width, 1e-9), baseline + made.descent)
        )
        boxes.append((baseline, made.ascent, made.descent))
        lines.append(
            Line(
                left, baseline, made.width, start, end, tuple(c + left for c in made.carets), made.ascent, made.descent
            )
        )
        missing |= made.missing
    units, places, letter_of = units_of(text, letters, glyphs, boxes)
    placed = tuple(glyph._replace(letter=letter_of.get(glyph.cluster, -1)) for glyph in glyphs)
    inks = [(first, end, Rect.around(glyph.ink for glyph in placed[first:end])) for first, end in rows]
    of_letter: list[list[Glyph]] = [[] for _ in units["letter"]]
    for glyph in placed:
        if glyph.letter >= 0:
            of_letter[glyph.letter].append(glyph)
    return Layout(
        placed,
        tuple(lines),
        text,
        Rect.around(ink for _, _, ink in inks),
        type_box,
        tuple(sorted(missing)),
        family_of(base.typeface) is not None,
        units,
        places,
        tuple(inks),
        tuple(map(tuple, of_letter)),
        frozenset(glyph.colour for glyph in placed if glyph.colour),
        any(glyph.face.colourful for glyph in placed),
    )


def regions(layout: Layout, kind: str) -> tuple[Rect, ...]:
    """All of the plane shared out among the layout's units of a kind, em; "all" has all of it."""
    known = _REGIONS.find(layout)
    if known is None:
        known = _REGIONS.keep(layout, {})
    if kind not in known:
        known[kind] = (
            regions_of(layout.units[kind])
            if kind != "all"
            else (Rect(-1e6, -1e6, 1e6, 1e6),) * max(1, len(layout.units["all"]))
        )
    return known[kind]


def _largest(start: int, end: int, base: Setting, ranges: tuple[Range, ...]) -> float:
    """The largest size set on a line: a small second line stands closer, a large one further away."""
    covered = [each for each in ranges if each.start < max(end, start + 1) and start < each.end]
    whole = any(each.start <= start and end <= each.end for each in covered)
    sizes = [each.setting.size for each in covered] + ([] if whole else [base.size])
    return max(sizes, default=1.0)
