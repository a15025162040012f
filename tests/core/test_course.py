"""What the timeline, the lanes and the Preview draw: curves, speeds, trails, cells, from the same values as the
painter's."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from idle_comet.core.compose import evaluate
from idle_comet.core.compose.beside import cells, plan_beside
from idle_comet.core.edits import (
    AddStep,
    RideWith,
    SetProperty,
    SetShutter,
    SetSpanEase,
    SetSpans,
    SetValue,
    SplitClips,
    apply,
)
from idle_comet.core.moment.course import course_of
from idle_comet.core.moment.evaluate import evaluate_clip
from idle_comet.core.moment.handles import handles_of
from idle_comet.core.moment.placed import total_matrix
from idle_comet.core.moment.standing import stand
from idle_comet.core.moment.trail import trail_of
from idle_comet.core.motion import Driven, Key, Linear, Moving, Oscillation, Strengths
from idle_comet.core.project.model import Shutter, Step


def with_property(film, name, prop, step="placement"):
    return apply(film, SetProperty(clip="title", step=step, name=name, property=prop))[0]


def curve(film, name, clip="title"):
    return next(each for each in course_of(film, film.clips[clip]).curves if each.name == name)


def test_speeds_are_the_values_slope_and_the_fastest_is_half_as_fast_again_as_the_mean(film):
    film = with_property(film, "x", Moving(keys=(Key(at=0, value=0), Key(at=50, value=100))))
    drawn = curve(film, "x")
    # 3u² − 2u³ over 50 frames at 25 a second: 1.5 times 100 px in 2 s.
    assert drawn.fastest == pytest.approx(1.5 * 100 / 2, rel=0.01)
    frames = [frame for frame, _ in drawn.points]
    way = sum(speed * (b - a) / 25 for (_, speed), a, b in zip(drawn.speeds, frames, frames[1:]))
    assert way == pytest.approx(100, rel=1e-6)
    assert [key[:2] for key in drawn.keys] == [(0, 0), (50, 100)]


def test_a_path_is_drawn_by_its_way_and_a_colour_by_its_colours(film):
    film = with_property(
        film, "path", Moving(keys=(Key(at=0, value=(0, 0), ease=Linear()), Key(at=100, value=(300, 400))))
    )
    assert curve(film, "path").points[-1][1] == pytest.approx(500, rel=1e-3)
    film = with_property(
        film,
        "colour",
        Moving(keys=(Key(at=0, value="#000000", ease=Linear()), Key(at=100, value="#ff0000"))),
        "content",
    )
    drawn = curve(film, "colour")
    assert (drawn.sort, drawn.points, drawn.colours[0][1], drawn.colours[-1][1]) == ("colour", [], "#000000", "#ff0000")
    film = with_property(film, "rotation", Driven(motor=Oscillation(amplitude=4, rate=1)))
    drawn = curve(film, "rotation")
    assert (drawn.state, drawn.keys) == ("driven", []) and "1 Hz" in drawn.says
    assert max(value for _, value in drawn.points) == pytest.approx(4, rel=0.05)


@given(st.integers(0, 149))
def test_handles_tell_every_value_as_the_painter_has_it(film, frame):
    told = handles_of(film, "title", 25 + frame).values
    layer = evaluate(film, 25 + frame).layers[-1]
    for step, id in zip(layer.steps, ("focus", "placement")):
        for name, value in step.values.items():
            assert told[f"{id}.{name}"] == pytest.approx(value)
    assert (told["content.size"], told["content.colour"]) == (layer.content.size, layer.content.colour)


def test_a_trail_is_dashed_as_the_shutter_sees_it(film):
    film = with_property(film, "y", Moving(keys=(Key(at=0, value=0),)))
    film = with_property(
        film, "path", Moving(keys=(Key(at=0, value=(0, 0), ease=Linear()), Key(at=100, value=(500, 0))))
    )
    film, _ = apply(film, SetShutter(clips=("title",), shutter=Shutter(angle=180)))
    trail = trail_of(film, "title")
    assert trail.every == 1 and len(trail.dashes) == 150
    dash = trail.dashes[50].points
    # Five px a frame, open for half of it, around the frame.
    assert math.dist(dash[0], dash[-1]) == pytest.approx(2.5, abs=1e-6)
    middle = ((dash[0][0] + dash[-1][0]) / 2, dash[0][1])
    assert middle == pytest.approx((640 + 250, 360), abs=0.5)
    assert all(direction == pytest.approx((1, 0)) for _, direction in trail.crossbars) and len(trail.crossbars) == 21
    assert [round(point.frame) for point in trail.points] == [0, 100]
    first, last = trail.ends
    assert last.corners[0][0] - first.corners[0][0] == pytest.approx(500, abs=1e-6)
    still, _ = apply(film, SetValue(clip="title", step="placement", name="x", value=3))
    assert trail_of(still, "title") is not None and trail_of(film, "shot") is None


def test_a_trail_is_where_the_clip_is_at_every_moment(film):
    """Also where its values are held, at which it is worked out once."""
    moved, _ = apply(film, SetShutter(clips=("title",), shutter=Shutter(angle=180)))
    trail, clip = trail_of(moved, "title"), moved.clips["title"]
    for dash in trail.dashes:
        layer = evaluate_clip(moved, clip, dash.frame)
        standing = stand(layer.content, 1280, 720)
        assert dash.points[1] == pytest.approx(total_matrix(layer, standing).map(*standing.anchor), abs=1e-9)
    assert len({dash.points[1] for dash in trail.dashes}) > 20


def test_a_cut_half_has_only_the_spans_it_shows(film):
    halves, _ = apply(film, SplitClips(clips=("title",), frame=25 + 20, seed="half"))
    left, right = course_of(halves, halves.clips["title"]), course_of(halves, halves.clips["half-1"])
    assert (left.arrival.frames, left.departure.frames) == (20, 0) and (
        right.arrival.frames,
        right.departure.frames,
    ) == (20, 30)
    whole = dict(course_of(film, film.clips["title"]).presence)
    assert dict(right.presence)[0] == pytest.approx(whole[20], abs=0.03)


def test_a_title_that_reaches_past_its_shot_is_told(film):
    riding, _ = apply(film, RideWith(clips=("title",), shot="shot"))
    assert not any("reaches past" in note for note in course_of(riding, riding.clips["title"]).notes)
    long = riding.model_copy(
        update={"clips": {**riding.clips, "title": riding.clips["title"].model_copy(update={"length": 190})}}
    )
    assert any("reaches past" in note for note in course_of(long, long.clips["title"]).notes)


@given(st.integers(1, 9), st.integers(64, 1400), st.integers(48, 900))
def test_cells_side_by_side_keep_the_pictures_shape_and_never_overlap(count, width, height):
    made = cells(count, width, height)
    assert len(made) == count
    taken = np.zeros((height, width), int)
    for cell in made:
        assert 0 <= cell.x and 0 <= cell.y and cell.x + cell.width <= width and cell.y + cell.height <= height
        taken[cell.y : cell.y + cell.height, cell.x : cell.x + cell.width] += 1
        assert (
            abs(cell.width / cell.height - width / height) < 0.15 * width / height or min(cell.width, cell.height) < 12
        )
    assert taken.max() == 1


def test_variants_side_by_side_are_evaluated_at_the_same_frame(film):
    variants = [
        apply(film, SetSpanEase(clip="title", span="arrival", ease=Strengths(start=start, end=end)))[0]
        for start, end in ((0, 1), (1, 0), (0.5, 0.5))
    ]
    planned = plan_beside(variants, 45, 640, 360, True)
    opacities = [each.picture.children[-1].opacity for _, each in planned]
    assert opacities[0] > opacities[2] > opacities[1]
    assert opacities == [
        pytest.approx(evaluate(variant, 45).layers[-1].steps[1].values["opacity"]) for variant in variants
    ]


def test_shorter_spans_are_drawn_where_they_apply(film):
    crowded, _ = apply(film, SetSpans(clip="title", arrival=100, departure=100))
    course = course_of(crowded, crowded.clips["title"])
    assert course.shrunk and course.arrival.frames + course.departure.frames == 150
    assert any("made shorter to fit" in note for note in course.notes)


@given(st.floats(0.5, 3), st.floats(-200, 200), st.floats(-30, 30))
def test_the_first_and_last_framing_of_a_move_lie_where_the_frame_sees_the_picture(film, scale, across, turn):
    still, _ = apply(film, AddStep(clip="shot", at=0, step=Step(id="s", kind="placement")))
    assert course_of(still, still.clips["shot"]).framings == []
    for name, end in (("scale", scale), ("x", across), ("rotation", turn)):
        still, _ = apply(
            still,
            SetProperty(
                clip="shot",
                step="s",
                name=name,
                property=Moving(
                    keys=(
                        Key(counts_from="proportion", at=0, value=1 if name == "scale" else 0),
                        Key(counts_from="proportion", at=1, value=end),
                    )
                ),
            ),
        )
    first, last = course_of(still, still.clips["shot"]).framings
    # A shot of the frame's own shape is seen whole at first; then turned and grown about its middle, and shifted.
    assert first == [pytest.approx(corner, abs=1e-9) for corner in ((0, 0), (1, 0), (1, 1), (0, 1))]
    back = np.deg2rad(-turn)
    for (x, y), (u, v) in zip(((0, 0), (1280, 0), (1280, 720), (0, 720)), last):
        dx, dy = (x - 640 - across) / scale, (y - 360) / scale
        assert (u, v) == pytest.approx(
            ((640 + dx * np.cos(back) - dy * np.sin(back)) / 1280, (360 + dx * np.sin(back) + dy * np.cos(back)) / 720),
            abs=1e-9,
        )
