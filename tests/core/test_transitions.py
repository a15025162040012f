"""Transitions on pixels: whole at both ends, the right mix between, edges where they should be."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.compose.joining import joined
from idle_comet.core.edits import SetTransition, TrimClip, apply
from idle_comet.core.moment.course import course_of
from idle_comet.core.moment.scene import Join, Layer, PlainNow
from idle_comet.core.motion import Linear, Strengths
from idle_comet.core.picture import deepened, reached
from idle_comet.core.project.model import Clip, Plain, Project, Settings, Text, Track, Transition, fixed

WIDTH, HEIGHT = 160, 90
KINDS = ["dissolve", "dip", "wipe", "ellipse", "rectangle", "slide"]
SIDE = Layer("c", PlainNow("#000000"), ())


def pictures():
    """Two opaque pictures that differ everywhere, and a half transparent one."""
    dice = np.random.default_rng(5)
    before, after = (
        np.dstack([dice.integers(lo, lo + 100, (HEIGHT, WIDTH, 3)), np.full((HEIGHT, WIDTH), 255)]).astype(np.float32)
        for lo in (0, 150)
    )
    return before, after


def at(kind, progress, before=SIDE, after=SIDE, **more):
    """The patch's pixels at a progress; a missing side is nothing."""
    one, two = pictures()
    blank = np.zeros_like(one)
    join = Join(Transition(kind=kind, **more), progress, before, after)
    return deepened(joined(join, one.copy() if before else blank.copy(), two.copy() if after else blank.copy()))


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("towards", ["left", "right", "up", "down"])
@pytest.mark.parametrize("softness", [0.0, 0.08, 1.0])
def test_a_transition_begins_with_the_one_picture_and_ends_with_the_other(kind, towards, softness):
    one, two = pictures()
    assert np.array_equal(at(kind, 0.0, towards=towards, softness=softness), one)
    assert np.array_equal(at(kind, 1.0, towards=towards, softness=softness), two)
    # At a free end it comes from nothing and goes to nothing; a dip from its colour and to it.
    nothing = np.zeros_like(one) if kind != "dip" else np.broadcast_to(np.array([16, 32, 48, 255], np.uint8), one.shape)
    assert np.array_equal(at(kind, 0.0, before=None, towards=towards, softness=softness, colour="#102030"), nothing)
    assert np.array_equal(at(kind, 1.0, before=None, towards=towards, softness=softness), two)
    assert np.array_equal(at(kind, 0.0, after=None, towards=towards, softness=softness), one)
    assert np.array_equal(at(kind, 1.0, after=None, towards=towards, softness=softness, colour="#102030"), nothing)


@given(st.floats(0, 1))
def test_a_dissolve_is_the_sum_of_both_and_never_dips(progress):
    one, two = pictures()
    exact = one * (1 - progress) + two * progress
    assert np.abs(at("dissolve", progress).astype(float) - exact).max() <= 0.6
    alike = Join(Transition(), progress, SIDE, SIDE)
    assert np.array_equal(joined(alike, one.copy(), one).pixels, one)


@given(st.floats(0, 1))
def test_a_dip_goes_through_its_colour(progress):
    one, two = pictures()
    colour = np.array([200, 40, 10, 255])
    share = 2 * progress if progress < 0.5 else 2 - 2 * progress
    exact = (one if progress < 0.5 else two) * (1 - share) + colour * share
    assert np.abs(at("dip", progress, colour="#c8280a").astype(float) - exact).max() <= 0.6


@pytest.mark.parametrize("towards", ["left", "right", "up", "down"])
def test_a_hard_wipes_edge_stands_where_the_progress_says(towards):
    _, two = pictures()
    for progress in (0.25, 0.5, 0.8):
        new = (at("wipe", progress, towards=towards, softness=0.0) == two).all(2)
        assert new.mean() == pytest.approx(progress, abs=0.02)
        lines = new.mean(0 if towards in ("left", "right") else 1)
        # Whole lines are new, from the side the edge comes from, and the rest are old.
        order = lines if towards in ("right", "down") else lines[::-1]
        assert (np.diff(order) <= 0).all()


@settings(max_examples=40)
@given(st.sampled_from(["wipe", "ellipse", "rectangle"]), st.floats(0, 1), st.floats(0, 1), st.floats(0, 1))
def test_what_is_reached_stays_reached(kind, a, b, softness):
    early, late = (reached(kind, "right", progress, softness, WIDTH, HEIGHT) for progress in sorted((a, b)))
    assert early.min() >= 0 and late.max() <= 1 and (late - early).min() >= -1e-6


def test_an_iris_opens_from_the_middle_with_the_frames_own_shape():
    ellipse = reached("ellipse", "right", 0.5, 0.0, WIDTH, HEIGHT)
    # Half of the way to the corners: semi-axes of half the frame times √2 / 2.
    assert (ellipse > 0.5).mean() == pytest.approx(np.pi / 4 * 0.5, abs=0.02)
    assert (reached("rectangle", "right", 0.5, 0.0, WIDTH, HEIGHT) > 0.5).mean() == pytest.approx(0.25, abs=0.02)
    soft = reached("rectangle", "right", 0.6, 0.3, WIDTH, HEIGHT)[HEIGHT // 2]
    ramp = soft[(soft > 0) & (soft < 1)]
    assert ramp.size / 2 == pytest.approx(0.3 * WIDTH / 2, abs=2)


def test_a_slide_moves_the_new_picture_whole():
    one, two = pictures()
    half = at("slide", 0.5, towards="right", softness=0.0)
    assert np.array_equal(half[:, : WIDTH // 2 - 1], two[:, WIDTH // 2 : -1]) and np.array_equal(
        half[:, WIDTH // 2 + 1 :], one[:, WIDTH // 2 + 1 :]
    )


def words(id, head, length, colour, **more):
    return Clip(
        id=id,
        track="t",
        name=id,
        head=head,
        length=length,
        content=Text(text="SWARM", size=fixed(40), colour=colour),
        **more,
    )


def film(*clips):
    return Project(
        settings=Settings(name="F", width=WIDTH * 2, height=HEIGHT * 2, background="#204060"),
        tracks=(Track(id="t", name="T"),),
        clips={clip.id: clip for clip in clips},
    )


def painted(project, frame):
    return Painter(None).paint(plan(evaluate(project, frame), WIDTH * 2, HEIGHT * 2)).astype(float)


def test_titles_dissolve_over_what_lies_below_without_a_dark_rim():
    project = film(
        words("a", 0, 20, "#ffffff"), words("b", 20, 20, "#ffff00", opening=Transition(length=10, ease=Linear()))
    )
    one, two = (painted(film(words("x", 0, 50, colour)), 5) for colour in ("#ffffff", "#ffff00"))
    for k in range(10):
        share = (k + 0.5) / 10
        assert np.abs(painted(project, 15 + k) - (one * (1 - share) + two * share)).max() <= 1.5
    assert np.array_equal(painted(project, 14), one) and np.array_equal(painted(project, 25), two)


def test_a_transition_that_lost_its_room_is_shorter_and_says_so():
    project = film(words("a", 0, 20, "#ffffff"), words("b", 20, 20, "#ffff00", opening=Transition(length=16)))
    trimmed, _ = apply(project, TrimClip(clip="b", head=20, length=5))
    course = course_of(trimmed, trimmed.clips["b"])
    assert (course.joins[0].length, course.joins[0].asked, course.joins[0].between) == (10, 16, True)
    assert any("10 of 16 frames have room" in note for note in course.notes)
    for frame in range(25):
        painted(trimmed, frame)
    # Moved apart, each end is free again and has room for the whole.
    apart = trimmed.model_copy(
        update={"clips": {**trimmed.clips, "b": trimmed.clips["b"].model_copy(update={"head": 30, "length": 30})}}
    )
    assert (
        course_of(apart, apart.clips["b"]).joins[0].between is False
        and course_of(apart, apart.clips["b"]).joins[0].length == 16
    )


def test_presence_counts_what_a_transition_hides():
    clip = words("a", 0, 40, "#ffffff", opening=Transition(length=10, ease=Strengths()))
    shares = dict(course_of(film(clip), clip).presence)
    assert shares[0] == pytest.approx(0, abs=0.02) and shares[39] == 1
    assert next(share for frame, share in sorted(shares.items()) if frame >= 4.5) == pytest.approx(0.5, abs=0.06)


def test_a_plain_clip_dips_in_and_is_wiped_away():
    clip = Clip(
        id="p",
        track="t",
        name="P",
        head=0,
        length=30,
        content=Plain(colour="#ff0000"),
        opening=Transition(kind="dip", length=10, ease=Linear(), colour="#0000ff"),
    )
    project = film(clip)
    changed, _ = apply(project, SetTransition(clip="p", end="closing", transition=Transition(kind="wipe", length=10)))
    first, middle = painted(changed, 0), painted(changed, 15)
    assert (
        np.abs(first[5, 5, :3] - (0.05 * 255, 0, 0.95 * 255)).max() <= 1.5
        and np.abs(middle[5, 5, :3] - (255, 0, 0)).max() <= 1
    )
    last = painted(changed, 29)
    assert np.abs(last[5, 5, :3] - (32, 64, 96)).max() <= 2 and last[5, -3, 0] > 120
