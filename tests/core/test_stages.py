"""What the Steps panel shows, and what can be pointed at in the Preview."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from idle_comet.core.compose import Painter
from idle_comet.core.compose.stage import plan_stage
from idle_comet.core.edits import AddStep, GatherClips, MoveClips, SetValue, apply
from idle_comet.core.moment.handles import clip_at, handles_of
from idle_comet.core.project.model import Step, fixed
from idle_comet.core.project.timeline import own_frame
from idle_comet.core.recipes import apply_recipe, shipped_recipes

from .stacked import film as stacked
from .stacked import square
from .typed import frame, ink_box, title


def stage(film, done, at, painter, clip="t"):
    return painter.paint(plan_stage(film, clip, done, at, 240, 135))[..., :3].astype(int)


def test_each_stage_adds_what_its_step_does():
    film = title("Ottoline Brask\nhead beekeeper")
    strap = apply_recipe(film, film.clips["t"], shipped_recipes()["marrow-lane"], {})
    film = film.model_copy(update={"clips": {"t": strap}})
    kinds = [step.kind for step in strap.steps]
    painter = Painter(None)
    stages = [stage(film, done, 50, painter) for done in range(len(kinds) + 1)]
    ground = stages[0][0, 0]
    shares = [np.mean(np.abs(each - ground).max(-1) > 12) for each in stages]
    # At rest a reveal shows what was there; the backing and the rule each add to it.
    assert np.array_equal(stages[0], stages[1])
    assert shares[2] > 2 * shares[1] > 0 and shares[3] > shares[2]
    # A placement is shown in the whole frame: low on the left.
    rows, columns = np.nonzero(stages[4].max(-1) > 40)
    assert rows.min() > 135 / 2 and columns.max() < 240 / 2
    # Off the clip, its stay is shown.
    assert np.array_equal(stage(film, 3, 5000, painter), stages[3])


def test_a_stage_lies_in_front_of_what_is_below_and_behind_nothing(film, sources):
    painter = Painter(sources)
    shown, alone = (
        stage(each, 2, 100, painter, "title")
        for each in (film, film.model_copy(update={"clips": {"title": film.clips["title"]}}))
    )
    assert np.abs(shown[:40] - alone[:40]).mean() > 20
    shot = stage(film, 0, 100, painter, "shot")
    assert np.abs(shot[:40] - shown[:40]).mean() < 1 and np.abs(shot - shown).max() > 60


@pytest.mark.parametrize(
    "words, shown",
    [
        ("WREN", "whole"),
        ("THE SLOW HARVEST OF THE HEATH", "its left end"),
        ("מסע ארוך מאוד אל תוך הלילה של הדבורים", "its right end"),
    ],
)
def test_a_stage_shows_all_words_that_can_be_read_or_where_they_begin(words, shown):
    pixels = stage(title(words, size=64), 0, 50, Painter(None))
    columns = np.nonzero(np.abs(pixels - pixels[0, 0]).max(-1).max(0) > 20)[0]
    left, right = columns[0] > 8, columns[-1] < 240 - 8
    assert (left, right) == {"whole": (True, True), "its left end": (True, False), "its right end": (False, True)}[
        shown
    ]


@given(st.floats(-200, 200), st.floats(-100, 100), st.floats(0.4, 2), st.floats(-80, 80))
def test_corners_lie_round_the_ink_however_it_is_placed(x, y, scale, turn):
    film = title("BEES", "placement", size=90, arrival=0, departure=0, length=40)
    for name, value in (("x", x), ("y", y), ("scale", scale), ("rotation", turn)):
        film, _ = apply(film, SetValue(clip="t", step="s", name=name, value=value))
    told = handles_of(film, "t", 10)
    seen = ink_box(frame(film, 10), 30)
    corners = np.array(told.ink)
    low, high = corners.min(0) - 1, corners.max(0) + 1
    assert low[0] <= seen[0] and low[1] <= seen[1] and seen[2] <= high[0] and seen[3] <= high[1]
    middle = corners.mean(0)
    assert middle == pytest.approx((640 + x, 360 + y), abs=0.6)
    sides = [np.linalg.norm(corners[1] - corners[0]), np.linalg.norm(corners[2] - corners[1])]
    plain = ink_box(frame(title("BEES", size=90, arrival=0, departure=0, length=40), 10), 30)
    assert sides == pytest.approx([scale * (plain[2] - plain[0]), scale * (plain[3] - plain[1])], abs=2 * scale + 0.1)
    assert np.arctan2(*(corners[1] - corners[0])[::-1]) == pytest.approx(np.deg2rad(turn), abs=1e-6)
    # A press in its middle takes it, one well outside nothing.
    assert clip_at(film, 10, *middle) == "t" and clip_at(film, 10, middle[0], middle[1] + 400) is None


def test_carets_stand_between_letters_in_reading_order():
    film = title("HI\nשלום", size=90)
    carets = handles_of(film, "t", 50).carets
    assert [caret.index for caret in carets] == [0, 1, 2, 3, 4, 5, 6, 7]
    latin, hebrew = [caret.top[0] for caret in carets[:3]], [caret.top[0] for caret in carets[3:]]
    assert latin == sorted(latin) and hebrew == sorted(hebrew, reverse=True)
    assert all(caret.foot[1] > caret.top[1] for caret in carets)


def test_within_a_group_a_clip_is_pointed_at_and_taken_hold_of_where_the_film_shows_it():
    inner = square("inner", "#ffffff", "a", head=10, x=40)
    one, _ = apply(stacked(inner), GatherClips(clips=("inner",), group="g"))
    place = Step(id="p", kind="placement", values={"x": fixed(-60), "scale": fixed(0.5)})
    one, _ = apply(one, AddStep(clip="g", at=0, step=place))
    moved, _ = apply(one, MoveClips(heads={"g": 25}))
    # The group's middle lies 60 px left of the frame's, and what it holds is half as large there.
    middle = (160 - 60 + 40 * 0.5, 90)
    assert clip_at(moved, 30, *middle) == "g" and clip_at(moved, 30, *middle, ("g",)) == "inner"
    assert clip_at(moved, 30, middle[0] + 30, 90, ("g",)) is None
    told = handles_of(moved, "inner", 30)
    x, y = np.mean(told.corners, 0)
    assert (x, y) == pytest.approx(middle) and told.across == pytest.approx((0.5, 0)) and told.meets == []
    assert own_frame(moved, moved.clips["inner"], 30) == 5 and handles_of(moved, "inner", 80) is None
