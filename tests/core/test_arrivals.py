"""Kinds of arrival, measured on painted frames."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_comet.core.compose import evaluate
from idle_comet.core.contents.base import fixed
from idle_comet.core.edits import AddStep, ChangeText, GatherClips, SetChoice, SetProperty, StyleLine, TrimClip
from idle_comet.core.moment.standing import stand
from idle_comet.core.motion import Cascade, Fixed, Key, Linear, Moving
from idle_comet.core.picture import Matrix
from idle_comet.core.project.model import Clip, Project, Settings, Shape, Shutter, Step, Styled, Track, Units
from idle_comet.core.steps import KINDS
from idle_comet.core.steps.counter import read_number, write_number
from idle_comet.core.steps.directions import DIRECTIONS
from idle_comet.core.steps.typing import onsets
from idle_comet.core.type import families

from .typed import edited, frame, ink_box, step, title

NAME = "Ágota Ýrsson-Jędrzejczyk"


def standing_of(film, at):
    return stand(evaluate(film, at).layers[0].content, 1280, 720)


def gathered(*edits):
    """A group of two shapes left of the middle, as steps are added to it."""
    film = Project(settings=Settings(name="G"), tracks=(Track(id="p", name="P"),))
    for id, x in (("one", 220), ("two", 380)):
        shape = Shape(values={"x": fixed(x), "y": fixed(300), "width": fixed(100), "height": fixed(80)})
        clip = Clip(id=id, track=id, name=id, head=0, length=100, content=shape)
        tracks = (*film.tracks, Track(id=id, name=id))
        film = film.model_copy(update={"tracks": tracks, "clips": {**film.clips, id: clip}})
    return edited(film, GatherClips(clips=["one", "two"], group="g", name="G"), *edits)


def test_an_edge_reveal_of_a_group_goes_by_what_is_to_be_seen_of_it():
    bare = gathered()
    at_rest = ink_box(frame(bare, 50))
    film = edited(bare, AddStep(clip="g", ready="edge-up", step=Step(id="s", kind="edge_reveal")))
    assert (frame(film, 50) == frame(bare, 50)).all()
    arrival = film.clips["g"].arrival
    seen = [ink_box(frame(film, at)) for at in range(1, arrival)]
    # It rises within its own height, at its own edge; a reveal by the frame begins far below.
    assert all(each[1] >= at_rest[1] - 1 and each[3] <= at_rest[3] + 3 for each in seen if each is not None)
    assert sum(each is not None for each in seen) > 0.7 * len(seen)


def test_a_group_turns_round_about_the_middle_of_what_is_to_be_seen_of_it():
    bare = gathered()
    x0, _, x1, _ = ink_box(frame(bare, 50))
    film = edited(bare, AddStep(clip="g", ready="turn-once", step=Step(id="s", kind="turn_over")))
    for at in (6, 12, 18):
        seen = ink_box(frame(film, at))
        # But for the perspective: half its width, as seen from 1200 px.
        assert (seen[0] + seen[2]) / 2 == pytest.approx((x0 + x1) / 2, abs=15)


@settings(max_examples=25, deadline=None)
@given(
    st.text("AÁgjpqÝyfl Ñß.", min_size=1, max_size=12).filter(str.strip),
    st.sampled_from(sorted(families())),
    st.floats(20, 140),
    st.sampled_from(sorted(DIRECTIONS)),
    st.floats(0, 20),
    st.floats(1, 12),
    st.floats(0, 1),
    st.booleans(),
)
def test_no_ink_is_ever_outside_its_window(words, face, size, towards, feather, gap, shown, leaving):
    film = title(words, "edge_reveal", "edge-up", size=size, typeface=face)
    film = edited(
        film,
        SetChoice(clip="t", step="s", name="towards", value=towards),
        SetChoice(clip="t", step="s", name="leaves", value="on by the far edge"),
        SetProperty(clip="t", step="s", name="feather", property=Fixed(value=feather)),
        SetProperty(clip="t", step="s", name="gap", property=Fixed(value=gap)),
        SetProperty(
            clip="t",
            step="s",
            name="shown",
            property=Moving(
                keys=(
                    Key(at=0, value=shown, ease=Linear()),
                    Key(at=30, value=1.0),
                    Key(counts_from="tail", at=-30, value=1.0, ease=Linear()),
                    Key(counts_from="tail", at=0, value=shown),
                )
            ),
        ),
    )
    box = standing_of(film, 50).box
    seen = ink_box(frame(film, 99 if leaving else 0), above=0)
    if seen is None:
        return
    side = 1 if leaving else -1
    way = DIRECTIONS[towards]
    reach = gap + feather + 1
    # On the side it hides at, nothing passes the edge and its feather; a pixel is as fine as can be seen.
    if way[0]:
        assert seen[2] <= box.x1 + reach + 1 if way[0] * side > 0 else seen[0] >= box.x0 - reach - 1
    if way[1]:
        assert seen[3] <= box.y1 + reach + 1 if way[1] * side > 0 else seen[1] >= box.y0 - reach - 1


@pytest.mark.parametrize("towards", sorted(DIRECTIONS))
def test_a_reveal_begins_with_nothing_and_its_window_holds_all_ink_at_rest(towards):
    film = edited(
        title(NAME, "edge_reveal", "edge-up", size=90), SetChoice(clip="t", step="s", name="towards", value=towards)
    )
    assert frame(film, 0).max() == 0 and frame(film, 99).max() == 0
    still = title(NAME, size=90)
    assert np.array_equal(frame(film, 50), frame(still, 50))
    # A hair before rest, nothing is cut yet: the window is larger than the ink.
    nearly = edited(film, SetProperty(clip="t", step="s", name="shown", property=Fixed(value=0.999999)))
    assert np.abs(frame(nearly, 50) - frame(still, 50)).max() <= 2


def test_two_lines_part_from_one_edge_between_them():
    film = title("Ottoline Brask\nhead beekeeper, gypsum", "edge_reveal", "edge-lines", size=60, departure=20)
    at_rest = standing_of(film, 50)
    upper, lower = (one.ink.through(at_rest.matrix) for one in at_rest.layout.units["line"])
    edge = (upper.y1 + lower.y0) / 2
    dark = Styled(start=0, end=0, colour="#000000")
    alone = [edited(film, StyleLine(clip="t", line=1 - line, style=dark)) for line in (0, 1)]
    for at in range(1, 21, 2):
        first, second = (ink_box(frame(one, at), above=0) for one in alone)
        # Neither line ever reaches past its own side of the edge, nor past its own place.
        assert first is None or upper.y0 - 2 <= first[1] and first[3] <= edge + 4
        assert second is None or edge - 4 <= second[1] and second[3] <= lower.y1 + 2
    assert ink_box(frame(alone[0], 50), above=0) is not None


def test_motion_blur_of_a_reveal_is_as_long_as_its_speed_and_shutter_say():
    # One tall stroke alone, so that its smear can be measured along its way.
    film = edited(
        title("¯", "edge_reveal", "edge-up", size=200, arrival=40),
        SetProperty(
            clip="t",
            step="s",
            name="shown",
            property=Moving(keys=(Key(at=0, value=0.0, ease=Linear()), Key(at=40, value=1.0))),
        ),
    )
    clip = film.clips["t"].model_copy(update={"shutter": Shutter(angle=180)})
    blurred = film.model_copy(update={"clips": {"t": clip}})
    rest = standing_of(film, 50).rest()
    at = [
        KINDS["edge_reveal"].place({**evaluate(film, moment).layers[0].steps[0].values}, rest).f
        for moment in (35.75, 36.25)
    ]
    travel = at[0] - at[1]
    columns = slice(620, 660)
    profile = frame(blurred, 36)[:, columns].mean(1)
    sharp = frame(film, 36)[:, columns].mean(1)
    assert travel > 2

    # The second moment of a box of that length is added to the stroke's own.
    def spread(p):
        y = np.arange(len(p))
        middle = (p * y).sum() / p.sum()
        return (p * (y - middle) ** 2).sum() / p.sum()

    assert np.sqrt((spread(profile) - spread(sharp)) * 12) == pytest.approx(travel, rel=0.05)


def test_words_stretch_past_their_width_on_a_beat_and_nothing_flashes():
    film = title("WAX WOOD WORK", "stretch", "stretch-words", length=110, size=90)
    widths = {0: 0.0, 4: 1.32, 8: 1.0}
    at_rest = standing_of(film, 55)
    for word in range(3):
        box = at_rest.layout.units["word"][word].ink.through(at_rest.matrix)
        middle = (box.x0 + box.x1) / 2
        for at, factor in widths.items():
            matrix = KINDS["stretch"].place(
                evaluate(film, at + 12 * word).layers[0].steps[0].parts[word].values,
                at_rest.rest_of("word", word, False, "own"),
            )
            assert (matrix or Matrix()).a == pytest.approx(factor)
            columns = frame(film, at + 12 * word)[:, int(middle - box.x1 + box.x0) : int(middle + box.x1 - box.x0)].max(
                0
            )
            seen = np.count_nonzero(columns > 127)
            if factor == 0:
                assert frame(film, 12 * word)[:, int(box.x0) + 2 : int(box.x1) - 2].max() == 0
            elif word == 2 or factor == 1:
                own = np.nonzero(frame(film, at + 12 * word).max(0) > 127)[0]
                assert seen > 0 and own[-1] + 1 == pytest.approx(middle + factor * (box.x1 - box.x0) / 2, abs=1.5)
    assert frame(film, 109).max() == 0 and not np.isnan([frame(film, at).sum() for at in range(0, 110, 7)]).any()


@pytest.mark.parametrize("uneven", [0.0, 0.6])
def test_letter_k_is_there_from_its_onset_on(uneven):
    words = "found at dawn, 4 km from home"
    film = title(words, "typing", "typing", length=140, arrival=60, departure=10, size=40, align="left")
    film = edited(
        film,
        SetChoice(clip="t", step="s", name="caret", value="none"),
        SetProperty(clip="t", step="s", name="uneven", property=Fixed(value=uneven)),
    )
    units = standing_of(film, 80)
    times = {each.start: each.when for each in onsets(words, uneven, 1)}
    for letter, one in enumerate(units.layout.units["letter"]):
        box = one.ink.through(units.matrix)
        first = int(np.ceil(times[one.start] * 60 - 1e-9))
        cut = np.s_[int(box.y0) : int(box.y1) + 1, int(box.x0) + 1 : max(int(box.x1), int(box.x0) + 2)]
        assert frame(film, first - 1)[cut].max() == 0 if first else True
        assert frame(film, first)[cut].max() > 0, (letter, words[one.start])
    if not uneven:
        assert np.diff([when for when in times.values()]) == pytest.approx(1 / len(words))


def test_the_caret_stands_after_the_last_letter_typed_and_goes_when_all_is_there():
    film = title("dawn at sea", "typing", "typing", length=100, arrival=44, size=60)
    without = edited(film, SetChoice(clip="t", step="s", name="caret", value="none"))
    caret = ink_box(frame(film, 21) - frame(without, 21))
    letters = ink_box(frame(without, 21))
    assert caret[0] > letters[2] - 1 and caret[0] - letters[2] < 20
    assert np.array_equal(frame(film, 50), frame(without, 50))


def test_outlines_are_drawn_along_their_length_then_filled():
    film = title("O", "draw_on", "draw-on", length=100, arrival=40, size=300)
    inked = [frame(film, at).sum() for at in (2, 8, 16, 24, 32, 40, 50)]
    assert all(a < b for a, b in zip(inked[:-1], inked[1:-1])) and frame(film, 0).max() == 0
    middle, full = frame(film, 20), frame(film, 50)
    row = full[360]
    stroke = np.nonzero(row > 250)[0]
    within = stroke[: np.nonzero(np.diff(stroke) > 1)[0][0] + 1] if (np.diff(stroke) > 1).any() else stroke
    # Before the fill comes, the middle of the letter's stroke is empty, and a part of its outline is drawn.
    assert middle[360, within[len(within) // 2]] == 0 and middle.max() > 120


def test_blocks_come_together_and_end_clean():
    film = title("SWARM", "fray", "fray-in", length=90, arrival=14, size=160)
    shares = [frame(film, at).sum() / frame(film, 45).sum() for at in range(0, 15)]
    assert shares[0] == 0 and shares[-1] == 1 and all(a <= b + 1e-9 for a, b in zip(shares, shares[1:]))
    assert np.array_equal(frame(film, 45), frame(title("SWARM", length=90, size=160), 45))


def test_a_tear_falls_to_nothing_and_is_the_same_every_time():
    film = title("SIGNAL", "signal_tear", "tear-in", length=90, arrival=12, size=120)
    still = frame(title("SIGNAL", length=90, size=120), 45)
    off = [np.abs(frame(film, at) - still).mean() for at in (2, 6, 12)]
    assert off[0] > off[1] > 0 and off[2] == 0
    assert np.array_equal(frame(film, 3), frame(film, 3))
    other = edited(film, SetProperty(clip="t", step="s", name="seed", property=Fixed(value=5)))
    assert not np.array_equal(frame(film, 3), frame(other, 3))


def test_scrambled_letters_stand_in_their_own_places_and_settle_in_order():
    film = title("HEATHER HONEY", "scramble", "scramble", length=100, arrival=40, size=70)
    rest = standing_of(film, 50).rest()
    values = evaluate(film, 22).layers[0].steps[0].values
    letters = KINDS["scramble"].letters(values, rest)
    settled = [one.swap is None and one.opacity == 1 for one in letters]
    assert settled == sorted(settled, reverse=True) and any(settled) and any(one.swap for one in letters)
    assert np.array_equal(frame(film, 50), frame(title("HEATHER HONEY", length=100, size=70), 50))


@pytest.mark.parametrize(
    "written, value, again",
    [
        ("1,250", 1250, "625"),
        ("1.250,50", 1250.5, "625,25"),
        ("12 000", 12000, "6 000"),
        ("7.5", 7.5, "3.8"),
        ("3,141", 3141, "1,571"),
        ("1'250'000", 1250000, "625'000"),
        ("48", 48, "24"),
    ],
)
def test_numbers_are_counted_as_they_are_written(written, value, again):
    found, grouping, decimal, digits = read_number(written)
    assert found == value
    assert write_number(value / 2 + (1e-9 if digits < 2 else 0), grouping, decimal, digits) == again
    assert write_number(found, grouping, decimal, digits) == written


def test_a_counter_runs_to_what_the_words_say():
    count = KINDS["counter"].words
    rest = {"counted": 1.0, "start": 0.0, "written": "as typed"}
    half = {**rest, "counted": 0.5}
    assert count(half, "€ 1,250 raised") == "€ 625 raised" and count(rest, "€ 1,250 raised") == "€ 1,250 raised"
    assert (
        count(half, "at 12:30 sharp") == "at 06:15 sharp"
        and count({**half, "start": 750.0}, "from 12:30") == "from 12:30"
    )
    assert (
        count({**rest, "written": "1 234,5"}, "1,250.5 jars") == "1\u202f250,5 jars"
        and count(half, "no number") == "no number"
    )


def test_credits_roll_at_one_speed_from_outside_to_outside():
    film = title("\n".join(f"Name {number}" for number in range(30)), "roll", "roll", length=251, size=40)
    ys = [
        KINDS["roll"].place(evaluate(film, at).layers[0].steps[0].values, standing_of(film, at).rest()).f
        for at in range(0, 251, 25)
    ]
    assert np.diff(ys) == pytest.approx(np.diff(ys)[0]) and np.diff(ys)[0] < 0
    assert frame(film, 0).max() == 0 and frame(film, 250).max() == 0 and frame(film, 125).max() > 0
    longer = edited(film, TrimClip(clip="t", head=0, length=301))
    assert frame(longer, 300).max() == 0


def test_a_tumbling_letter_is_edge_on_at_a_quarter_turn_and_a_true_perspective_before():
    kind = KINDS["tumble"]
    film = title("H", size=200)
    rest = standing_of(film, 50).rest()
    values = {"tilt": 0.0, "swing": 0.0, "roll": 0.0, "size": 1.0, "eye": 800.0}
    assert kind.place(values, rest) is None
    matrix = kind.place({**values, "swing": 40.0}, rest)
    x, y = rest.anchor
    for dx, dy in ((-90, -60), (90, -60), (90, 60), (-90, 60), (0, 0)):
        # By hand: turned about the upright axis, then seen from 800 px before it.
        cos, sin = np.cos(np.radians(40)), np.sin(np.radians(40))
        w = 800 / (800 - dx * sin)
        assert matrix.map(x + dx, y + dy) == pytest.approx((x + dx * cos * w, y + dy * w))
    assert matrix.inverse().map(*matrix.map(x + 33, y - 21)) == pytest.approx((x + 33, y - 21))
    turned = edited(
        title("H", "tumble", "swing-in", size=200),
        SetProperty(clip="t", step="s", name="swing", property=Fixed(value=90)),
    )
    assert frame(turned, 50).max() == 0


def test_letters_come_past_the_viewer_about_the_middle_of_the_frame():
    kind = KINDS["past_camera"]
    rest = standing_of(title("Night"), 10).rest()
    matrix = kind.place({"nearer": 0.5, "clears": 0.5}, rest)
    assert matrix.map(640, 360) == pytest.approx((640, 360)) and matrix.a == pytest.approx(2)
    assert kind.opacity({"nearer": 1.0, "clears": 0.5}) == 0 and kind.opacity({"nearer": 0.5, "clears": 0.5}) == 1


def test_an_arrival_differs_from_a_departure_when_it_is_asked_to():
    film = title("one two three", "edge_reveal", "edge-words", length=120)
    film = step(
        film,
        units=Units(arrival=Cascade(unit="word", delay=5), departure=Cascade(unit="letter", order="random", delay=1)),
    )
    arriving, leaving = evaluate(film, 10).layers[0].steps[0], evaluate(film, 112).layers[0].steps[0]
    assert {part.unit for part in arriving.parts} == {"word"} and {part.unit for part in leaving.parts} == {"letter"}
    assert frame(film, 60).max() > 0 and frame(film, 119).max() == 0


def test_words_changed_while_a_step_runs_keep_its_motion():
    film = title("Found at down", "edge_reveal", "edge-words", length=100)
    mended = edited(film, ChangeText(clip="t", text="Found at dawn"))
    assert mended.clips["t"].steps == film.clips["t"].steps
