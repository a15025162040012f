"""Text moved unit by unit: when each has its turn, what stays still, and that nothing pops as it settles."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_comet.core.compose import evaluate, plan
from idle_comet.core.edits import CarryOver, ChangeText, EditError, SetProperty, SetUnits, apply
from idle_comet.core.moment.compiled import compiled
from idle_comet.core.moment.course import course_of
from idle_comet.core.moment.passing import passing_of
from idle_comet.core.moment.standing import layout_of, stand
from idle_comet.core.motion import Cascade, Driven, Key, Moving, Oscillation, ranks, timing
from idle_comet.core.project.model import Mask, Shutter, Step, Units, fixed
from idle_comet.core.steps import KINDS
from idle_comet.core.type import Block, Setting, lay_out

from .test_shutter import straight
from .typed import coloured_frame, edited, frame, ink_box, step, title

SENTENCE = "Found at dawn above the quiet heath"


def onset(film, unit, index, length=100):
    """First frame at which anything of a unit is seen, by its own columns and rows of the painted frames."""
    layer = evaluate(film, length // 2).layers[0]
    standing = stand(layer.content, 1280, 720)
    box = standing.layout.units[unit][index].ink.through(standing.matrix)
    columns = slice(int(box.x0) + 1, int(box.x1))
    return next(at for at in range(length) if frame(film, at)[:, columns].max() > 0)


def test_words_rise_four_frames_apart_and_leave_as_one_line():
    film = title(SENTENCE, "placement", "words-rise", length=120, arrival=12, departure=12)
    film = edited(film, SetUnits(clip="t", step="s", departure=Cascade(unit="all")))
    # At its own first frame a word is still wholly transparent; the next shows it.
    assert [onset(film, "word", word, 120) for word in range(7)] == [1 + 4 * word for word in range(7)]
    leaving = [part.values["y"] for part in evaluate(film, 114).layers[0].steps[0].parts]
    assert len(set(leaving)) == 1 and leaving[0] > 0
    # One source of words: a longer word moves no onset, and another face none.
    longer = edited(film, ChangeText(clip="t", text=SENTENCE.replace("dawn", "daybreak"), typeface="fraunces"))
    assert [onset(longer, "word", word, 120) for word in range(7)] == [1 + 4 * word for word in range(7)]


@pytest.mark.parametrize(
    "kind, values",
    [
        ("shadow", {"distance": 200.0, "angle": 180.0, "strength": 1.0, "colour": "#00ff00"}),
        ("long_shadow", {"length": 300.0, "angle": 180.0, "colour": "#0000ff"}),
        ("glow", {"gain": 3.0, "size": 120.0, "tint": 1.0, "near": "#0000ff", "far": "#0000ff"}),
    ],
)
def test_shadow_and_light_of_a_word_lie_below_the_ink_of_the_word_before(kind, values):
    lights = {"lights": "outside only"} if kind == "glow" else {}
    look = Step(id="look", kind=kind, values={name: fixed(value) for name, value in values.items()}, choices=lights)
    apart = Units(arrival=Cascade(unit="word", delay=10))
    rise = Moving(keys=(Key(counts_from="head", at=0, value=-60.0), Key(counts_from="head", at=40, value=0.0)))
    moved = Step(id="moved", kind="placement", values={"y": rise}, units=apart)

    def seen(*steps):
        film = title("HIVE HIVE", length=101, colour="#ff0000")
        clip = film.clips["t"].model_copy(update={"steps": steps})
        return coloured_frame(film.model_copy(update={"clips": {"t": clip}}), 25)

    bare, made = seen(moved), seen(look, moved)
    ink = bare.max(2) >= 254
    assert ink.sum() > 500
    assert np.abs(made - bare)[ink].max() <= 1
    assert np.abs(made - bare)[~ink].max() > 20


def test_a_second_sentence_begins_when_the_first_has_gone_and_takes_over_its_motion():
    film = title(SENTENCE, "placement", "words-rise", length=120, arrival=12, departure=12)
    plain = title("Bees keep their own calendar of heather", length=120)
    second = plain.clips["t"].model_copy(update={"id": "second", "head": 120})
    film = film.model_copy(update={"clips": {**film.clips, "second": second}})
    film = edited(film, CarryOver(source="t", clips=("second",), what="motion"))
    assert film.clips["second"].steps == film.clips["t"].steps and film.clips["second"].content.text.startswith("Bees")
    assert frame(film, 119).max() == 0 and frame(film, 121).max() > 0


def test_one_step_is_carried_over_with_its_motion_and_takes_the_place_of_its_like():
    film = title(SENTENCE, "placement", "words-rise", length=120)
    blur = Step(id="soft", kind="focus_blur", values={"radius": straight(9, 0)})
    source = film.clips["t"].model_copy(update={"steps": (blur, *film.clips["t"].steps)})
    bare = source.model_copy(update={"id": "bare", "head": 120, "steps": (Step(id="hand", kind="placement"),)})
    like = source.model_copy(update={"id": "like", "head": 240, "steps": (blur.model_copy(update={"since": 4}),)})
    film = film.model_copy(update={"clips": {"t": source, "bare": bare, "like": like}})
    carried = edited(film, CarryOver(source="t", clips=("t", "bare", "like"), step="soft"))
    assert [step.id for step in carried.clips["bare"].steps] == ["soft", "hand"]
    assert carried.clips["bare"].steps[0] == blur and carried.clips["like"].steps == (blur,)
    # A step that goes by a clip can't be carried over onto that clip.
    seen = blur.model_copy(update={"masks": (Mask(id="m", form="clip", clip="bare"),)})
    film = film.model_copy(update={"clips": {**film.clips, "t": source.model_copy(update={"steps": (seen,)})}})
    with pytest.raises(EditError, match="own clip"):
        apply(film, CarryOver(source="t", clips=("bare",), step="soft"))


@pytest.mark.parametrize(
    "order, expected",
    [
        ("forward", [0, 1, 2, 3, 4]),
        ("backward", [4, 3, 2, 1, 0]),
        ("from the middle", [2, 1, 0, 1, 2]),
        ("to the middle", [0, 1, 2, 1, 0]),
    ],
)
def test_units_take_turns_in_their_order(order, expected):
    assert ranks(5, order, 1) == expected


@given(
    st.integers(1, 200),
    st.sampled_from(["forward", "backward", "from the middle", "to the middle", "random"]),
    st.floats(1, 100),
    st.floats(1, 300),
    st.floats(0, 1),
)
def test_cascades_end_when_they_say(count, order, lasts, span, overlap):
    assert sorted(ranks(count, "random", 7)) == list(range(count))
    fit = timing(count, Cascade(unit="letter", order=order, by="fit"), lasts, span)
    if max(ranks(count, order, 1)) > 0:
        assert fit.longest + lasts == pytest.approx(max(span, lasts))
        shared = timing(count, Cascade(unit="letter", order=order, by="overlap", overlap=overlap), lasts, span)
        # All of them together take as long as one was made to.
        assert shared.longest + lasts / shared.rate == pytest.approx(lasts)


@pytest.mark.parametrize(
    "words, face",
    [
        (SENTENCE, "archivo"),
        ("AVATAR Tofy ffi", "fraunces"),
        ("مرحبا بالعالم", "archivo"),
        ("नमस्ते दुनिया", "archivo"),
        ("Ágota Ýrsson", "caveat"),
    ],
)
@pytest.mark.parametrize(
    "kind, ready",
    [
        ("placement", "letters-grow"),
        ("focus_blur", "focus-letters"),
        ("tumble", "tumble-in"),
        ("edge_reveal", "edge-words"),
        ("draw_on", "draw-letters"),
    ],
)
def test_at_rest_nothing_tells_that_letters_were_moved(words, face, kind, ready):
    film = title(words, kind, ready, length=240, typeface=face)
    assert np.array_equal(frame(film, 120), frame(title(words, length=240, typeface=face), 120))


@pytest.mark.parametrize("words", [SENTENCE, "AVATAR ffi Tofy", "مرحبا بالعالم"])
def test_nothing_pops_as_it_settles(words):
    still = title(words, length=100)
    film = title(words, "placement", "words-rise", length=100, arrival=20)
    near = next(
        at
        for at in range(1, 60)
        if all(
            abs(part.values["y"]) <= 0.01 and part.values["opacity"] > 0.999
            for part in evaluate(film, at).layers[0].steps[0].parts
        )
    )
    assert np.abs(frame(film, near) - frame(still, near)).max() <= 2


def test_letters_grow_from_the_middle_each_on_its_own_baseline_point():
    film = title("HARVEST", "placement", "letters-grow", length=120, arrival=10, size=120)
    layer = evaluate(film, 4).layers[0]
    standing = stand(layer.content, 1280, 720)
    scales = [layer.steps[0].parts[number].values["scale"] for number in layer.steps[0].of_letter]
    assert scales[3] == max(scales) and scales == pytest.approx(scales[::-1]) and scales[0] == 0
    kind = KINDS["placement"]
    for index, part in enumerate(layer.steps[0].parts):
        rest = standing.rest_of(part.unit, part.index, False, "baseline-centre")
        x, y = rest.anchor
        assert kind.place(part.values, rest).map(x, y) == pytest.approx((x, y))
        assert y == pytest.approx(standing.matrix.map(0, standing.layout.units["letter"][part.index].baseline)[1])


def test_a_motor_floats_letters_one_after_the_other():
    film = title("HARVEST", "placement", size=90)
    film = edited(
        film,
        SetProperty(clip="t", step="s", name="y", property=Driven(motor=Oscillation(amplitude=5, rate=0.5, centre=0))),
        SetUnits(clip="t", step="s", arrival=Cascade(unit="letter", delay=5)),
    )
    floating = evaluate(film, 40).layers[0].steps[0]
    heights = [floating.parts[number].values["y"] for number in floating.of_letter]
    assert heights == pytest.approx(
        [5 * np.sin(2 * np.pi * 0.5 * (40 - 5 * letter) / 25) for letter in range(7)], abs=1e-6
    )


def test_ten_thousand_letters_are_squeezed_into_the_clip_and_said_so():
    film = title("swarm " * 1600, "placement", "letters-grow", length=100, size=20)
    clip = film.clips["t"]
    passing = passing_of(clip, compiled(film, clip).steps[0], layout_of(evaluate(film, 50).layers[0].content))
    assert passing.squeezed and passing.arriving.longest + passing.leaving.longest <= 60 + 1e-6
    assert any("too little time" in note for note in course_of(film, clip).notes)
    assert frame(film, 50, 320, 180).max() > 0


def test_motion_blur_smears_each_word_by_its_own_speed():
    film = title("MMM MMM", "placement", "words-rise", length=100, arrival=20, size=80)
    film = step(film, units=Units(arrival=Cascade(unit="word", delay=10)))
    clip = film.clips["t"].model_copy(update={"shutter": Shutter(angle=360)})
    blurred = film.model_copy(update={"clips": {"t": clip}})
    at = 3
    sharp, smeared = frame(film, at), frame(blurred, at)
    half = [slice(0, 640), slice(640, 1280)]
    spread = [
        np.count_nonzero(smeared[:, side].max(1) > 4) - np.count_nonzero(sharp[:, side].max(1) > 4) for side in half
    ]
    speed = (
        evaluate(film, at - 0.5).layers[0].steps[0].parts[0].values["y"]
        - evaluate(film, at + 0.5).layers[0].steps[0].parts[0].values["y"]
    )
    assert spread[0] == pytest.approx(speed, abs=3) and spread[1] == 0
    # A light picture takes fewer moments than so fast a letter wants, and says so.
    far = blurred.model_copy(update={"clips": {"t": clip.model_copy(update={"shutter": Shutter(angle=360, smear=12)})}})
    taken, wanted = plan(evaluate(far, 6), 1280, 720, exact=False).samples
    assert 0 < taken < wanted and plan(evaluate(film, at), 1280, 720).samples == (0, 0)


def swaying(period):
    """Letters that sway one after the other, as a wave of so many frames."""
    sway = Driven(motor=Oscillation(amplitude=12, rate=25 / period, centre=0))
    return edited(
        title("HARVEST", "placement", length=100, size=90),
        SetProperty(clip="t", step="s", name="y", property=sway),
        SetUnits(clip="t", step="s", arrival=Cascade(unit="letter", delay=1)),
    )


@pytest.mark.parametrize(
    "film, smear, at",
    [
        (title("MMM MMM", "placement", "words-rise", length=100, arrival=4, size=80), 1, 1),
        (title("HARVEST", "placement", "letters-grow", length=100, arrival=9, size=90), 1, 5),
        (title("HARVEST", "placement", "letters-grow", length=100, arrival=9, size=90), 6, 8),
        (swaying(25), 1, 40),
        # As long as the shutter is open: it begins and ends alike, and stands between them half-way.
        (swaying(12), 12, 40),
    ],
)
def test_letters_that_move_are_blurred_as_by_many_samples(film, smear, at):
    clip = film.clips["t"].model_copy(update={"shutter": Shutter(angle=360, smear=smear)})
    blurred = frame(film.model_copy(update={"clips": {"t": clip}}), at, 640, 360)
    moments = at + smear * ((np.arange(300) + 0.5) / 300 - 0.5)
    many = np.mean([frame(film, float(moment), 640, 360) for moment in moments], axis=0)
    off = np.abs(blurred - many)
    assert off.max() <= 6 and off.mean() <= 0.05 and np.abs(frame(film, at, 640, 360) - many).max() > 5 * off.max()


# ---- layout


@pytest.mark.parametrize(
    "words, letters, why",
    [
        ("e\u0301tude", 5, "a mark goes with its letter"),
        ("नमस्ते", 3, "a conjunct is one"),
        ("👍🏽👨‍👩‍👧", 2, "emoji sequences are one each"),
        ("A  b\nc", 3, "white space is none"),
    ],
)
def test_letters_are_what_a_reader_calls_letters(words, letters, why):
    assert len(lay_out(words, Setting("fraunces", 400)).units["letter"]) == letters, why


def test_joined_letters_move_as_one_and_read_from_the_right():
    layout = lay_out("سلام دار", Setting("archivo", 500))
    words = ["سلام دار"[one.start : one.end] for one in layout.units["letter"]]
    # Lam-alef ends its joint; dal, alef and reh join to nothing after them.
    assert words == ["سلا", "م", "د", "ا", "ر"]
    assert layout.units["letter"][0].box.x0 > layout.units["letter"][-1].box.x1


def test_a_box_breaks_lines_evenly_and_never_wider_than_it_is():
    for measure in (4.0, 6.0, 9.0):
        layout = lay_out(
            "The bees came back on the first warm day of the year", Setting("archivo", 500), Block(measure=measure)
        )
        assert max(line.width for line in layout.lines) <= measure
        greedy = lay_out(
            "The bees came back on the first warm day of the year",
            Setting("archivo", 500),
            Block(measure=measure, justify=True, align="left"),
        )
        assert len(layout.lines) == len(greedy.lines)
        spaced = [line for line in greedy.lines[:-1] if " " in greedy.text[line.start : line.end]]
        assert spaced and all(line.width == pytest.approx(measure) for line in spaced)
        assert min(line.width for line in layout.lines) >= min(line.width for line in greedy.lines) - 1e-9


@settings(max_examples=60)
@given(st.text(max_size=40))
def test_any_text_has_units_that_hold_all_its_ink(words):
    layout = lay_out(words, Setting("archivo", 500))
    for kind, units in layout.units.items():
        assert len(layout.places[kind]) == len(layout.units["letter"])
        for glyph in layout.glyphs:
            if glyph.letter >= 0 and not glyph.ink.empty:
                box = units[layout.places[kind][glyph.letter]].ink
                assert box.x0 <= glyph.ink.x0 + 1e-9 and glyph.ink.x1 <= box.x1 + 1e-9


@pytest.mark.parametrize("order", ["forward", "backward"])
def test_words_that_have_arrived_are_sharp_beside_one_that_is_blurred_where_it_stands(order):
    blur = Step(
        id="s",
        kind="focus_blur",
        units=Units(arrival=Cascade(unit="word", delay=30, order=order)),
        values={"radius": Moving(keys=(Key(at=0, value=10), Key(at=10, value=0)))},
    )
    plain = title("one two", length=100)
    film = plain.model_copy(update={"clips": {"t": plain.clips["t"].model_copy(update={"steps": (blur,)})}})
    blurred, sharp = frame(film, 33), frame(plain, 33)
    left, _, right, _ = ink_box(sharp)
    third = (right - left) // 3
    arrived = slice(0, left + third) if order == "forward" else slice(right - third, None)
    assert np.abs(blurred[:, arrived] - sharp[:, arrived]).max() <= 1
    assert np.abs(blurred - sharp).max() > 40
