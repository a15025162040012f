"""A speed that moves: which moment of its source a shot shows, and what is heard of it."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad

from idle_comet.core.compose import Painter
from idle_comet.core.edits import EditError, SetMotor, SetProperty, SetRepeat, SetSpeed, SplitClips, TrimClip, apply
from idle_comet.core.moment.evaluate import evaluate
from idle_comet.core.motion import Bounce, Fixed, Free, Hold, Key, Linear, Moving, Repeat, Spring, Strengths, value_at
from idle_comet.core.motion.motors import Wobble
from idle_comet.core.project.model import Clip, Footage, Project, Settings, Track
from idle_comet.core.project.retiming import retiming
from idle_comet.core.project.times import clock_of
from idle_comet.media.film import paint_frame

EASES = [Linear(), Hold(), Strengths(), Strengths(start=0.9, end=0.1), Free(x1=0.1, y1=1.4, x2=0.6, y2=0.9)]
SPEEDS = st.integers(-100, 400).map(lambda percent: percent / 100)
EASES += [Spring(damping=0.3)]


def shot(*keys, length=120, start=40.0, **more):
    """A shot whose speed has keys (frame, speed, ease)."""
    speed = Moving(keys=tuple(Key(at=at, value=value, ease=ease) for at, value, ease in keys))
    content = Footage(media="m", start=start, speed=speed, **more)
    return Clip(id="shot", track="shots", name="Shot", head=30, length=length, content=content)


def a_film(media, *clips):
    return Project(
        settings=Settings(name="A film"),
        tracks=(Track(id="shots", name="Shots"),),
        media={"m": media},
        clips={clip.id: clip for clip in clips},
    )


@pytest.fixture(scope="module")
def media(heath):
    """A shot of 4,000 frames at the film's rate; nothing is read of it."""
    return heath[1].model_copy(update={"id": "m", "frames": 4000, "sound": None})


def shown(project):
    """The source frame, and the share of the next, at every frame of the film that shows any."""
    found = {}
    for frame in range(0, 200):
        for layer in evaluate(project, frame).layers:
            found[frame] = (layer.content.frame, layer.content.next_share)
    return found


def test_between_two_keys_of_a_straight_ramp_the_source_goes_by_the_closed_form():
    """s(t) = s₀ + v₀t + (v₁ − v₀)t²/2T, and at the last speed after it."""
    clip = shot((20, 1, Linear()), (70, 0.2, Linear()))
    way = retiming(clip)
    for local in (0, 7, 20, 33, 33.5, 50, 70, 71, 119.25):
        t = min(max(local - 20, 0), 50)
        s = 40 + min(local, 20) + t - 0.8 * t * t / 100 + 0.2 * max(0, local - 70)
        assert way.at(local) == pytest.approx(s, abs=1e-9)
        assert way.when(s) == pytest.approx(local, abs=1e-6)


@given(st.lists(st.tuples(st.integers(0, 119), SPEEDS, st.sampled_from(EASES)), min_size=2, max_size=6))
def test_the_way_is_the_integral_of_the_speed_that_is_shown(keys):
    clip = shot(*sorted({at: (at, value, ease) for at, value, ease in keys}.values()))
    content, way = clip.content, retiming(clip)

    def speed(local):
        return value_at(content.speed, local, clock_of(clip))

    for local in (13, 64.5, 120):
        breaks = sorted({float(key.at) for key in content.speed.keys if 0 < key.at < local})
        edges = [0.0, *breaks, local]
        gone = sum(quad(speed, a, b, limit=400, epsabs=1e-9)[0] for a, b in zip(edges, edges[1:]))
        assert way.at(local) == pytest.approx(40 + gone, abs=1e-4)


@given(
    st.integers(31, 149),
    st.lists(st.tuples(st.integers(0, 119), SPEEDS, st.sampled_from([*EASES, Bounce()])), min_size=2),
    st.sampled_from(["nearest", "mixed"]),
)
def test_its_halves_and_what_is_left_of_it_show_what_the_whole_showed(media, at, keys, between):
    clip = shot(*sorted({each[0]: each for each in keys}.values()), start=900.0, between=between)
    whole = a_film(media, clip)
    before = shown(whole)
    halves, _ = apply(whole, SplitClips(clips=["shot"], frame=at, seed="cut"))
    assert shown(halves) == before
    trimmed, _ = apply(whole, TrimClip(clip="shot", head=at, length=150 - at))
    assert shown(trimmed) == {frame: each for frame, each in before.items() if frame >= at}
    shorter, _ = apply(whole, TrimClip(clip="shot", head=30, length=at - 30))
    assert shown(shorter) == {frame: each for frame, each in before.items() if frame < at}
    # Drawn out again, and further: what was there is as it was.
    longer, _ = apply(trimmed, TrimClip(clip="shot", head=20, length=135))
    assert {frame: each for frame, each in shown(longer).items() if 30 <= frame < 150} == before


def test_between_two_source_frames_the_nearest_is_shown_or_both_by_their_shares(media):
    slow = shot((0, 0.25, Linear()), (100, 0.25, Linear()), start=10.0, between="mixed")
    film = a_film(media, slow)
    assert [shown(film)[30 + local] for local in range(5)] == [(10, 0), (10, 0.25), (10, 0.5), (10, 0.75), (11, 0)]
    nearest = a_film(media, slow.model_copy(update={"content": slow.content.model_copy(update={"between": "nearest"})}))
    assert [shown(nearest)[30 + local][0] for local in range(5)] == [10, 10, 10, 10, 11]


def test_a_mixed_frame_is_painted_as_the_mean_of_its_neighbours(film, sources):
    def painted(start, between):
        content = Footage(media=film.clips["shot"].content.media, start=start, speed=0, between=between)
        only = film.clips["shot"].model_copy(update={"content": content})
        project = film.model_copy(update={"clips": {"shot": only}})
        return paint_frame(Painter(sources), project, 0, 640, 360).astype(float)

    one, other, between = painted(10.0, "nearest"), painted(11.0, "nearest"), painted(10.25, "mixed")
    assert np.abs(one - other).max() > 20
    assert np.abs(between - (0.75 * one + 0.25 * other)).max() <= 2


def test_one_speed_again_shows_the_same_part_of_the_source(media):
    """Over the ramp 1 → 0.2 of 50 frames, between 20 at 1 and 50 at 0.2, it comes by 20 + 30 + 10 source frames."""
    film = a_film(media, shot((20, 1, Linear()), (70, 0.2, Linear())))
    even, _ = apply(film, SetSpeed(clip="shot", speed=1, keep="part"))
    assert even.clips["shot"].content.speed == Fixed(value=1) and even.clips["shot"].length == 60


def test_a_speed_has_no_motor_and_no_repeat(media):
    film = a_film(media, shot((20, 1, Linear()), (70, 0.2, Linear())))
    for edit in (
        SetMotor(clip="shot", step="content", name="speed", motor=Wobble()),
        SetRepeat(clip="shot", step="content", name="speed", repeat=Repeat()),
        SetProperty(clip="shot", step="content", name="speed", property=Fixed(value=400)),
    ):
        with pytest.raises(EditError):
            apply(film, edit)
