"""Directions, joins, breaks and kerning where scripts and files meet, against independent sources."""

import numpy as np
import pytest
import uharfbuzz as hb
from bidi import get_display
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.motion import Fixed
from idle_comet.core.project.model import Clip, Project, Settings, Text, Track
from idle_comet.core.type import Setting, lay_out
from idle_comet.core.type.bidi import levels
from idle_comet.core.type.faces import faces_of
from idle_comet.core.type.setting import Block

REMOVED = "\u202a\u202b\u202c\u202d\u202e\u200b"


def in_order(text, found):
    """Indexes from left to right as seen, straight from rule L2."""
    out = list(range(len(text)))
    for level in range(max(found, default=0), 0, -1):
        start = 0
        while start < len(out):
            end = start
            while end < len(out) and found[out[end]] >= level:
                end += 1
            out[start:end] = out[start:end][::-1]
            start = max(end, start + 1)
    return out


@settings(max_examples=400)
@given(st.text("abאבجد12٣٤ .,+-$%()[]\u2066\u2067\u2068\u2069" + REMOVED + "\u0300\u064b!", max_size=14))
def test_every_direction_is_as_an_independent_reading_of_the_annex_has_it(text):
    # That reading takes a space or an isolate at the end under an override for what it is overridden to; rule L1 goes
    # by what it is.
    assume(not (set(text) & set("\u202d\u202e") and text.strip(REMOVED)[-1:] in tuple(" \u2066\u2067\u2068\u2069")))
    mine = "".join(text[index] for index in in_order(text, levels(text)))
    assert [each for each in mine if each not in REMOVED] == [each for each in get_display(text) if each not in REMOVED]


@pytest.mark.parametrize(
    "words",
    ["\u2066Wren\u2069", "ab \u2067שלום\u2069 cd", "\u2068الحصاد\u2069 2", "\u2069\u2069\u2066x", "\u2067" * 200 + "x"],
)
def test_words_pasted_with_isolates_are_set(words):
    layout = lay_out(words, Setting("archivo"))
    assert {glyph.cluster for glyph in layout.glyphs} <= set(range(len(words))) and not layout.ink.empty


@settings(max_examples=150)
@given(
    st.text(max_size=30)
    | st.text(
        "aא\u0627\u2066\u2067\u2069\u202e\u200d\u0e01\u0e33\u1780\u17d2\t\r\u2028\ufeff\u0300😀\ufe0f\U000e0020",
        max_size=16,
    ),
    st.sampled_from([0, 200]),
    st.sampled_from([None, 3.0]),
)
def test_nothing_that_can_be_typed_stops_the_layout(text, tracking, measure):
    for line in lay_out(text, Setting("archivo", tracking=tracking), Block(measure=measure)).lines:
        assert len(line.carets) == line.end - line.start + 1


def test_tracking_opens_no_join():
    """Glyphs that were joined still touch; between words and after letters that do not join on, the gap is there."""
    words = "الحصاد البطيء"
    close, tracked = (lay_out(words, Setting("noto-sans", tracking=value)) for value in (0, 200))
    assert [glyph.gid for glyph in tracked.glyphs] == [glyph.gid for glyph in close.glyphs], "other forms"
    gaps = [
        round((b.x - a.x) - (d.x - c.x), 6)
        for a, b, c, d in zip(tracked.glyphs, tracked.glyphs[1:], close.glyphs, close.glyphs[1:])
    ]
    # ا|لحصا|د| |ا|لبطي|ء: alef, dal, the space and the hamza's neighbour stand apart, everything else is one stroke.
    assert sorted(set(gaps)) == [0.0, 0.2] and gaps.count(0.2) == 6


@pytest.mark.parametrize("words", ["धीमी फ़सल २५", "ধীর ফসল"])
def test_a_headline_runs_through_each_tracked_word(words):
    """The row with most ink is the headline: under tracking it has as many runs as before, and spaces are wider."""

    def runs(tracking):
        project = Project(
            settings=Settings(name="f", width=1280, height=200),
            tracks=(Track(id="a", name="a"),),
            clips={
                "t": Clip(
                    id="t",
                    track="a",
                    name="t",
                    head=0,
                    length=9,
                    content=Text(text=words, size=Fixed(value=60), tracking=Fixed(value=tracking)),
                )
            },
        )
        ink = Painter(None).paint(plan(evaluate(project, 4), 1280, 200))[..., 0] > 100
        row = ink[ink.sum(1).argmax()]
        edges = np.flatnonzero(np.diff(row.astype(int)))
        return len(edges) // 2, edges[-1] - edges[0]

    (close, narrow), (tracked, wide) = runs(0), runs(300)
    assert tracked == close and wide > narrow + 15


def test_thai_and_khmer_lines_break_between_words():
    for words, whole in (
        ("ภาษาไทยเป็นภาษาที่สวยงาม", {"ภาษา", "ไทย", "เป็น", "ที่", "สวยงาม"}),
        ("សួស្តីពិភពលោក", {"សួស្តី", "ពិភពលោក"}),
    ):
        lines = lay_out(words, Setting("noto-sans"), Block(measure=4.0)).lines
        assert len(lines) > 1
        for line in lines:
            piece = words[line.start : line.end]
            while piece:
                first = next(word for word in sorted(whole, key=len, reverse=True) if piece.startswith(word))
                piece = piece[len(first) :]


def test_letters_of_two_files_of_one_family_are_kerned():
    """ "Tő" as "To": the accented letter comes from another file, whose kerning knows no T."""
    first = faces_of("archivo", 600, 100)[0]

    def origin(words):
        return lay_out(words, Setting("archivo", 600), Block(align="left")).glyphs[1].x

    buffer = hb.Buffer()
    buffer.add_str("To")
    buffer.guess_segment_properties()
    hb.shape(first.hb_font, buffer)
    kerned = buffer.glyph_positions[0].x_advance / first.units
    assert not first.has([ord("ő")]) and kerned < lay_out("T", Setting("archivo", 600)).lines[0].width - 0.02
    assert origin("Tő") == pytest.approx(kerned, abs=1e-4) and origin("To") == pytest.approx(kerned, abs=1e-4)
