"""Captions: files read and written, heard words broken into lines, words coloured as they are said."""

from typing import get_args

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from idle_comet.core.captions.breaking import LINES, LONGEST, WIDTH, broken, cues_of
from idle_comet.core.captions.cues import Cue, HeardWord
from idle_comet.core.captions.encodings import ENCODINGS
from idle_comet.core.captions.of_film import film_captions
from idle_comet.core.captions.reading import CaptionsError, read_captions
from idle_comet.core.captions.writing import write_captions
from idle_comet.core.clock import Rate
from idle_comet.core.contents.caption import SpokenWord, said
from idle_comet.core.edits import (
    AddCaptions,
    ChangeSettings,
    ChangeText,
    ChangeTrack,
    GivenCue,
    MoveClips,
    SplitClips,
    StyleCaptions,
    TrimClip,
    UseRecipe,
    apply,
)
from idle_comet.core.moment.evaluate import evaluate
from idle_comet.core.project.model import CaptionTrack, Project, Settings
from idle_comet.core.recipes import shipped_recipes
from idle_comet.service.routers.captions import Encoding

from .typed import coloured_frame

SRT = """1
00:00:01,234 --> 00:00:03,007
<i>The heather</i> opened late,
and we waited.

2
00:00:03,007 --> 00:00:04,800 X1:100 X2:600
— Was there a swarm?
— Two of them.

7
00:00:05,001 --> 00:00:06,999
Für die Bienen &amp; uns: żółć

"""

VTT = """WEBVTT - The Slow Harvest
Kind: captions

STYLE
::cue { color: #f0b440 }

NOTE spoken by Ottoline

opening
00:01.200 --> 00:02.400 line:80% align:start
<v Ottoline>We were <c.loud>late</c>.

00:59:59.999 --> 01:00:01.000
Marrow Lane

NOTE the end
"""


def film(read, rate=Rate(num=25), language="en", **more):
    captions = CaptionTrack(language=language, head=read.head, foot=read.foot, lines=read.lines)
    edit = AddCaptions(cues=tuple(GivenCue.of(cue) for cue in read.cues), seed="c", captions=captions, **more)
    return apply(Project(settings=Settings(name="F", rate=rate)), edit)[0]


@pytest.mark.parametrize("text, sort", [(SRT, "srt"), (SRT.replace("\n", "\r\n"), "srt"), (VTT, "vtt")])
@pytest.mark.parametrize("rate", [Rate(num=25), Rate(num=24000, den=1001), Rate(num=60)])
def test_a_file_comes_back_from_the_film_byte_for_byte(text, sort, rate):
    project = Project.model_validate_json(film(read_captions(text.encode()), rate).model_dump_json())
    captions, cues = film_captions(project, "en")
    written = write_captions(cues, sort, captions.head, captions.foot, captions.lines).decode()
    assert written.rstrip() == text.replace("01.200", "01.200").rstrip().replace("\n00:01.2", "\n00:00:01.2").replace(
        "00:02.400", "00:00:02.400"
    )


def test_what_a_file_says_is_shown_to_the_nearest_frame_and_edited_words_lose_their_marks():
    project = film(read_captions(SRT.encode()))
    first = project.clips["c-1"]
    assert (first.head, first.end) == (31, 75) and first.content.text == "The heather opened late,\nand we waited."
    project, _ = apply(project, ChangeText(clip="c-1", text="The heather came late."))
    project, _ = apply(project, MoveClips(heads={"c-1": 6}))
    cue = film_captions(project, "en")[1][0]
    # Moved by 25 frames it keeps its part of a frame.
    assert (cue.begin, cue.end) == (234, 2007)
    assert b"\nThe heather came late.\n" in write_captions([cue], "srt")


@given(
    st.lists(
        st.tuples(
            st.integers(0, 3_600_000),
            st.integers(1, 10_000),
            st.text("abc <>&é-ß\n", min_size=1, max_size=30).filter(lambda text: "\n\n" not in text and text.strip()),
        ),
        min_size=1,
        max_size=6,
    ),
    st.sampled_from(["srt", "vtt"]),
)
def test_what_is_written_is_read_again(given_cues, sort):
    cues = sorted(
        (Cue(begin, begin + length, "\n".join(" ".join(line.split()) for line in text.split("\n") if line.strip()))
         for begin, length, text in given_cues), key=lambda cue: (cue.begin, cue.end)
    )  # fmt: skip
    cues = [cue for cue in cues if sort == "vtt" or not any(mark in cue.text for mark in "<>&")]
    cues = [cue for cue in cues if "-->" not in cue.text and "->" not in cue.text]
    if cues:
        found = read_captions(write_captions(cues, sort)).cues
        wanted = [(each.begin, each.end, each.text) for each in cues]
        assert [(each.begin, each.end, each.text) for each in found] == wanted


def test_odd_files_are_read_as_far_as_they_can_be_and_told():
    odd = (
        "1\n00:00:05,000 --> 00:00:03,000\nThe wrong way round\n\n"
        "2\n00:00:04.5 -> 00:00:09,000\nOver the first\n\n"
        "3\n99:xx:00,000 --> later\nNo times at all\n\n"
        "4\n00:00:01,000 --> 00:00:01,000\nNo length, and too early\n"
    )
    found = read_captions(odd.encode("utf-16"))
    assert sorted(cue.text for cue in found.cues) == sorted(
        ["The wrong way round", "Over the first", "No times at all", "No length, and too early"]
    )
    assert len(found.notes) == 4 and all(cue.end > cue.begin for cue in found.cues)
    project = film(found)
    # Those that lie over each other are on a track of their own, and nothing is lost in the file.
    assert len(project.tracks) == 2
    for track in project.tracks:
        own = sorted((clip.head, clip.end) for clip in project.clips.values() if clip.track == track.id)
        assert all(one[1] <= other[0] for one, other in zip(own, own[1:]))
    assert len(film_captions(project, "en")[1]) == 4
    old = read_captions("1\n00:00:01,000 --> 00:00:02,000\nZur Blüte\n".encode("cp1252"))
    assert old.cues[0].text == "Zur Blüte" and "Western European" in old.notes[0]


@pytest.mark.parametrize("data", [b"", b"\n\n", b"just words", bytes(range(256)) * 40, b"1\n00:00 -- 00:01\nx"])
def test_what_is_no_file_of_captions_is_told(data):
    with pytest.raises(CaptionsError):
        read_captions(data)


@example(b"\\u0000", b"1\n00:00:01,000 --> 00:00:02,000\n")
@given(st.binary(max_size=400), st.sampled_from([b"", b"WEBVTT\n\n", b"1\n00:00:01,000 --> 00:00:02,000\n"]))
def test_any_bytes_are_read_or_refused(data, before):
    try:
        found = read_captions(before + data)
    except CaptionsError:
        return
    project = film(found)
    assert Project.model_validate_json(project.model_dump_json()) == project


HEARD = [
    HeardWord(word, 0.2 + 0.4 * number + (1.5 if number > 10 else 0), 0.5 + 0.4 * number + (1.5 if number > 10 else 0))
    for number, word in enumerate(
        "The heather opened late this year and we waited for it. Then it came, all of it at once, over the whole heath."
        .split()
    )
]  # fmt: skip


def test_heard_words_become_captions_that_can_be_read():
    cues = cues_of(HEARD)
    assert " ".join(" ".join(cue.text.split()) for cue in cues) == " ".join(word.text for word in HEARD)
    assert cues[0].text.replace("\n", " ").endswith("waited for it.") and len(cues) == 2
    for cue in cues:
        lines = cue.text.split("\n")
        assert len(lines) <= LINES and all(len(line) <= WIDTH for line in lines)
        assert 0.9 <= (cue.end - cue.begin) / 1000 <= LONGEST + 1
        assert not lines[0].endswith((" the", " and", " of")) and len(cue.text.split()) > 2
    assert cues[0].begin == 200 and cues[0].words[1] == SpokenWord(text="heather", begin=0.4, end=0.7)


def test_lines_are_even_and_no_word_is_torn():
    words = "It was the second week of the heather and the bees had come home early".split()
    upper, lower = broken(words, WIDTH).split("\n")
    assert abs(len(upper) - len(lower)) <= 8 and f"{upper} {lower}".split() == words
    assert broken(["x" * 60], WIDTH) == "x" * 60


def test_words_keep_their_times_through_edits_of_the_text():
    words = tuple(SpokenWord(text=text, begin=at, end=at + 0.4) for at, text in enumerate("we were late".split()))
    assert [(each.begins, each.ends) for each in said("We were late.", words, 5)] == [(0, 0.4), (1, 1.4), (2, 2.4)]
    # One corrected word is the one that was heard; one put between shares the pause.
    assert [each.begins for each in said("We are late", words, 5)] == [0, 1, 2]
    more = said("We were so very late", words, 5)
    assert [each.begins for each in more] == pytest.approx([0, 1, 1.4, 1.4 + 0.6 * 3 / 8, 2])
    assert [(each.begins, each.ends) for each in said("one two", (), 4)] == [(0, 2), (2, 4)]


def coloured(project, at):
    """Columns in which the honey colour is seen, and those in which anything is."""
    picture = coloured_frame(project, at, 640, 360)
    honey = (picture[..., 0] > 150) & (picture[..., 2] < 110)
    return np.flatnonzero(honey.any(0)), np.flatnonzero((picture.max(2) > 150).any(0))


def test_each_word_is_coloured_while_it_is_said_to_the_frame():
    words = [HeardWord("late", 0.4, 0.8), HeardWord("harvest", 0.8, 1.6)]
    cues = tuple(GivenCue.of(cue) for cue in cues_of(words))
    project, _ = apply(Project(settings=Settings(name="F")), AddCaptions(cues=cues, seed="c", frame=10))
    project, _ = apply(project, UseRecipe(clips=("c-1",), recipe=shipped_recipes()["honey-words"]))
    clip = project.clips["c-1"]
    assert clip.head == 20 and clip.content.caption.words[1].text == "harvest"
    middle = 320

    def side(at):
        lit, _ = coloured(project, at)
        return "none" if not len(lit) else "first" if lit.mean() < middle - 20 else "second"

    for project in (project, *halves(project)):
        assert [side(at) for at in (20, 28, 30, 33, 49)] == ["first", "first", "second", "second", "second"]


def halves(project):
    """The same film with the caption cut, trimmed from its head, and moved there and back."""
    cut, _ = apply(project, SplitClips(clips=("c-1",), frame=25, seed="h"))
    yield cut
    clip = project.clips["c-1"]
    longer, _ = apply(project, TrimClip(clip="c-1", head=15, length=clip.length + 5))
    yield longer


def _only(project, id):
    return project.model_copy(update={"clips": {id: project.clips[id]}})


def test_a_track_is_set_as_one_and_a_second_language_stands_beside_the_first():
    project = film(read_captions(SRT.encode()))
    project, _ = apply(project, StyleCaptions(track="captions-1", recipe=shipped_recipes()["word-by-word"]))
    assert {clip.recipe for clip in project.clips.values()} == {"word-by-word"}
    assert project.clips["c-1"].content.caption.marked.startswith("<i>")
    second = AddCaptions(
        cues=(GivenCue(begin=1000, end=2000, text="Spät"),), seed="d", captions=CaptionTrack(language="de")
    )
    project, _ = apply(project, second)
    assert [cue.text for cue in film_captions(project, "de")[1]] == ["Spät"]
    assert len(film_captions(project, "en")[1]) == 3
    # It stands above the first, and still does when it is set another way.
    project, _ = apply(project, StyleCaptions(track="captions-2", recipe=shipped_recipes()["plain-speech"]))
    rows = [
        np.flatnonzero((coloured_frame(_only(project, id), 40, 640, 360).max((1, 2)) > 100)) for id in ("c-1", "d-1")
    ]
    assert rows[1].max() < rows[0].min()
    other, _ = apply(project, ChangeTrack(track="captions-2", language="nl"))
    with pytest.raises(KeyError):
        film_captions(other, "de")
    # As a file only: a track that is not shown is not burnt in, and written all the same.
    hidden, _ = apply(project, ChangeTrack(track="captions-1", hidden=True))
    assert not [layer for layer in evaluate(hidden, 60).layers] and len(film_captions(hidden, "en")[1]) == 3


def test_at_another_rate_a_caption_keeps_its_times_to_the_millisecond():
    project = film(read_captions(SRT.encode()))
    for rate in (Rate(num=24), Rate(num=60), Rate(num=25)):
        project, _ = apply(project, ChangeSettings(rate=rate))
        found = [(cue.begin, cue.end) for cue in film_captions(project, "en")[1]]
        assert found == [(1234, 3007), (3007, 4800), (5001, 6999)]


def test_a_caption_that_ends_after_years_is_shown_as_long_as_it_takes_to_read():
    found = read_captions(b"1\n00:00:01,000 --> 99999:00:00,000\nThe bees are back\n")
    (cue,) = found.cues
    assert cue.begin == 1000 and cue.end < 5000 and "ended after more than a day" in found.notes[0]


SPOKEN = {
    "cp1250": "Zażółć gęślą jaźń, rzekła Ottoline.\nPszczoły wróciły późno, a wrzosy kwitły jeszcze.",
    "iso8859_2": "Příliš žluťoučký kůň úpěl ďábelské ódy.\nVčely se vrátily pozdě a vřes ještě kvetl.",
    "cp1251": "Пчёлы вернулись поздно, и вереск ещё цвёл.\nБыл ли рой? Их было два.",
    "koi8_r": "Пчёлы вернулись поздно, и вереск ещё цвёл.\nБыл ли рой? Их было два.",
    "utf-16-le": "Пчёлы вернулись поздно, и вереск ещё цвёл.\nБыл ли рой? Их было два.",
    "utf-16-be": "The bees came home late.\nWas there a swarm?",
    "cp932": "蜂は遅く帰ってきた。\nヒースはまだ咲いていた。群れはいましたか。",
    "euc_jp": "蜂は遅く帰ってきた。\nヒースはまだ咲いていた。群れはいましたか。",
    "gb18030": "蜜蜂很晚才回来，石楠花还开着。\n有蜂群吗？有两群。",
    "big5hkscs": "蜜蜂很晚才回來，石楠花還開著。\n有蜂群嗎？有兩群。",
    "cp949": "벌들은 늦게 돌아왔고 히스는 아직 피어 있었다.\n떼가 있었나요? 둘이었어요.",
    "cp1252": "Für die Bienen blühte die Heide spät, sagte Ottoline – „schön“.\nLe rucher était déjà fermé.",
    "cp1253": "Οι μέλισσες γύρισαν αργά και τα ρείκια άνθιζαν ακόμη.\nΥπήρχε σμήνος;",
    "cp1255": "הדבורים חזרו מאוחר והאברש עוד פרח.\nהיה נחיל?",
    "cp1256": "عاد النحل متأخرا وكان الخلنج لا يزال مزهرا.\nهل كان هناك سرب؟",
    "utf-8": "Zażółć gęślą jaźń – 蜂は遅く帰ってきた。\nПчёлы вернулись поздно.",
}


@pytest.mark.parametrize("encoding", SPOKEN)
def test_a_file_in_any_encoding_keeps_its_letters(encoding):
    lines = SPOKEN[encoding].split("\n")
    text = "".join(f"{n}\r\n00:00:0{n},000 --> 00:00:0{n},900\r\n{line}\r\n\r\n" for n, line in enumerate(lines, 1))
    read = read_captions(text.encode(encoding))
    assert [cue.text for cue in read.cues] == lines
    assert bool(read.notes) == (encoding != "utf-8")
    # One that is chosen counts, whatever is likely.
    chosen = "utf-16" if encoding.startswith("utf-16") else encoding
    assert [cue.text for cue in read_captions(text.encode(encoding), chosen).cues] == lines
    assert set(ENCODINGS) == set(get_args(Encoding))


SIGNS = st.text(st.sampled_from("ab3 <>&;{}\\/xiy-.:é—"), min_size=1, max_size=30)


@given(st.lists(SIGNS.filter(lambda text: text.strip()), min_size=1, max_size=3))
def test_words_are_the_same_in_both_sorts_of_file(texts):
    texts = [" ".join(text.replace("-->", "->").split()) for text in texts]
    cues = [Cue(1000 * n, 1000 * n + 900, text) for n, text in enumerate(texts)]
    for first, other in (("srt", "vtt"), ("vtt", "srt")):
        read = read_captions(write_captions(cues, first))
        assert [cue.text for cue in read.cues] == texts
        again = read_captions(write_captions(read.cues, other, read.head, read.foot))
        assert [cue.text for cue in again.cues] == texts


def test_marks_that_both_sorts_have_are_kept_in_the_other_and_no_other_is():
    srt = "1\n00:00:01,000 --> 00:00:02,000 X1:100\n<i>I <3 you & me</i>, x<y>z {\\an8}<font color=red>now</font>\n"
    written = write_captions(read_captions(srt.encode()).cues, "vtt").decode()
    assert written == "WEBVTT\n\n00:00:01.000 --> 00:00:02.000\n<i>I &lt;3 you &amp; me</i>, x&lt;y&gt;z now\n"
    read = read_captions(VTT.encode())
    written = write_captions(read.cues, "srt", read.head, read.foot).decode()
    assert "We were late." in written and "<" not in written and "line:80%" not in written and "NOTE" not in written
    (cue,) = read_captions(b"WEBVTT\n\n00:01.000 --> 00:02.000\n<b>A &lt;i&gt; &amp; b</b>\n").cues
    again = read_captions(write_captions([cue], "srt", "WEBVTT"))
    assert cue.text == again.cues[0].text == "A <i> & b"
