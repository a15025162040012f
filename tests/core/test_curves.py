"""Eases, motors and paths against SciPy and closed forms."""

import math

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy import integrate, interpolate, signal

from idle_comet.core.clock import LocalClock
from idle_comet.core.motion import (
    Bounce,
    Driven,
    EaseError,
    Fixed,
    Follow,
    Jumps,
    Key,
    Linear,
    Moving,
    Oscillation,
    Repeat,
    Spring,
    Steady,
    Strengths,
    Traced,
    Wobble,
    ease_progress,
    mirrored,
    path_segments,
    read_css,
    resolve_keys,
    sampler,
    stronger,
    write_css,
)
from idle_comet.core.motion.path import Segment, along, arc_length, bezier_point
from idle_comet.core.motion.settling import spring_frequency

CLOCK = LocalClock.of(101, 0, 0)


def moving(*keys, **more):
    return Moving(keys=tuple(Key(at=at, value=value, ease=Linear()) for at, value in keys), **more)


@pytest.mark.parametrize("damping", [0.05, 0.2, 0.5, 0.9, 0.999, 1.0, 1.001, 1.5, 4.0])
def test_a_spring_is_the_solution_of_its_equation_and_rests_at_the_end(damping):
    omega = spring_frequency(damping)
    solved = integrate.solve_ivp(
        lambda t, y: [y[1], omega**2 * (1 - y[0]) - 2 * damping * omega * y[1]],
        (0, 1.3),
        [0, 0],
        t_eval=np.linspace(0, 1.3, 261),
        rtol=1e-9,
        atol=1e-11,
        method="DOP853" if damping < 3 else "Radau",
    )
    for t, y in zip(solved.t, solved.y[0]):
        if t < 1:
            assert ease_progress(Spring(damping=damping), t) == pytest.approx(y, abs=1e-5)
        else:
            assert abs(y - 1) <= 1.01e-3


@given(st.integers(1, 12), st.floats(0.05, 0.95))
def test_a_bounce_falls_with_one_gravity_and_keeps_its_share_of_speed(bounces, kept):
    u = np.linspace(0, 1, 4001)
    height = 1 - np.array([ease_progress(Bounce(bounces=bounces, kept=kept), x) for x in u])
    assert height.min() >= -1e-9 and height[-1] == 0
    total = 1 + 2 * sum(kept**k for k in range(1, bounces + 1))
    # The same acceleration in flight everywhere: −2 in units of the fall's own time.
    flying = np.diff(height, 2) / (u[1] * total) ** 2
    assert np.median(flying) == pytest.approx(-2, rel=1e-3)
    # The first rebound reaches the square of what is kept of its speed.
    after = height[(u * total > 1) & (u * total < 1 + 2 * kept)]
    assert after.max() == pytest.approx(kept**2, abs=2e-3)


@given(
    st.lists(st.tuples(st.integers(0, 100), st.floats(-500, 500)), min_size=2, max_size=8, unique_by=lambda key: key[0])
)
def test_smooth_through_is_the_monotone_cubic_and_never_overshoots(keys):
    keys = sorted(keys)
    at = sampler(moving(*keys, through=True), CLOCK)
    theirs = interpolate.PchipInterpolator([x for x, _ in keys], [y for _, y in keys])
    for frame in np.linspace(keys[0][0], keys[-1][0], 57):
        assert at(frame) == pytest.approx(float(theirs(frame)), abs=1e-6 * max(1, *(abs(y) for _, y in keys)))
    for (x0, y0), (x1, y1) in zip(keys, keys[1:]):
        assert all(min(y0, y1) - 1e-6 <= at(x) <= max(y0, y1) + 1e-6 for x in np.linspace(x0, x1, 13))


corner = st.tuples(st.floats(-400, 400), st.floats(-400, 400))


@settings(max_examples=20)
@given(corner, corner, corner, corner, st.floats(0, 1))
def test_a_path_is_travelled_by_its_length(a, b, c, d, share):
    segment = Segment(a, b, c, d)

    def speed(t):
        s = 1 - t
        return math.hypot(
            *(3 * s * s * (b[i] - a[i]) + 6 * s * t * (c[i] - b[i]) + 3 * t * t * (d[i] - c[i]) for i in (0, 1))
        )

    whole = integrate.quad(speed, 0, 1, limit=400)[0]
    assert arc_length(segment) == pytest.approx(whole, rel=2e-4, abs=1e-3)
    ts = np.linspace(0, 1, 20_001)
    way = np.concatenate([[0], integrate.cumulative_trapezoid([speed(t) for t in ts], ts)])
    there = bezier_point(segment, float(np.interp(share * way[-1], way, ts)))
    assert math.dist(along(segment, share), there) < 0.02 + whole * 1e-4


@given(corner, corner, corner, corner, st.floats(0.01, 0.5))
def test_an_overshoot_goes_on_past_a_paths_end_in_its_direction(a, b, c, d, over):
    segment = Segment(a, b, c, d)
    assume(math.dist(c, d) > 1 and math.dist(a, b) > 1)
    whole = arc_length(segment)
    past, before = along(segment, 1 + over), along(segment, -over)
    assert past == pytest.approx(
        [d[i] + (d[i] - c[i]) / math.dist(c, d) * over * whole for i in (0, 1)], abs=1e-6 * whole
    )
    assert before == pytest.approx(
        [a[i] + (a[i] - b[i]) / math.dist(a, b) * over * whole for i in (0, 1)], abs=1e-6 * whole
    )


def test_a_journey_over_a_bent_path_keeps_its_speed():
    keys = (
        Key(at=0, value=(0.0, 0.0), ease=Linear(), out=(300.0, 0.0)),
        Key(at=50, value=(100.0, 100.0), ease=Linear(), into=(0.0, -20.0)),
    )
    at = sampler(Moving(keys=keys), CLOCK)
    steps = [math.dist(at(f), at(f + 1)) for f in range(50)]
    assert max(steps) / min(steps) < 1.02
    assert path_segments(resolve_keys(Moving(keys=keys), CLOCK))[0].b == (300, 0)
    # Over several points, one smooth way of constant speed where the times ask for it.
    long = moving((0, (0.0, 0.0)), (30, (90.0, 0.0)), (100, (90.0, 210.0)), through=True)
    at = sampler(long, CLOCK)
    steps = [math.dist(at(f), at(f + 1)) for f in range(5, 95)]
    assert max(steps) / min(steps) < 1.5 and at(30) == pytest.approx((90, 0), abs=1e-6)


@given(st.floats(0.1, 12), st.floats(-5, 5), st.floats(0, 20))
def test_oscillations_are_their_closed_forms(rate, phase, frame):
    def swings(shape):
        driven = Driven(motor=Oscillation(shape=shape, centre=3, amplitude=2, rate=rate, phase=phase))
        return (sampler(driven, CLOCK)(frame) - 3) / 2

    x = rate * frame / 25 + phase
    assert swings("sine") == pytest.approx(math.sin(2 * math.pi * x), abs=1e-9)
    assert swings("triangle") == pytest.approx(2 / math.pi * math.asin(math.sin(2 * math.pi * x)), abs=1e-6)
    if abs(math.sin(2 * math.pi * x)) > 1e-6:
        assert swings("pulse") == math.copysign(1, math.sin(2 * math.pi * x))
    part = x % 1
    if 1e-6 < part < 1 - 1e-6:
        assert swings("sawtooth") == pytest.approx(signal.sawtooth(2 * math.pi * part), abs=1e-9)
    # Softly up within a half of its turn, and softly down.
    u = 2 * part if part < 0.5 else 2 - 2 * part
    assert swings("eased") == pytest.approx(2 * (3 * u**2 - 2 * u**3) - 1, abs=1e-6)
    assert sampler(Driven(motor=Steady(start=1, rate=5)), CLOCK)(frame) == pytest.approx(1 + 5 * frame / 25)


@pytest.mark.parametrize("seed", [1, 2, 977])
def test_a_wobble_stays_within_its_amplitude_and_below_its_rate(seed):
    wobble = Driven(motor=Wobble(centre=10, amplitude=4, rate=2, seed=seed))
    at = sampler(wobble, LocalClock.of(10_000, 0, 0))
    values = np.array([at(f) for f in range(8192)]) - 10
    assert 1.6 < np.abs(values).max() <= 4
    power = np.abs(np.fft.rfft(values * np.hanning(8192))) ** 2
    above = np.fft.rfftfreq(8192, 1 / 25) > 2.05
    assert power[above].sum() < 1e-6 * power.sum()
    assert at(33) == sampler(wobble, LocalClock.of(500, 0, 0))(
        33
    )  # its strength has nothing to do with the clip's length
    assert (
        abs(
            sampler(wobble.model_copy(update={"motor": wobble.motor.model_copy(update={"seed": seed + 1})}), CLOCK)(33)
            - at(33)
        )
        > 1e-3
    )


def test_motors_fade_at_the_clips_ends():
    at = sampler(Driven(motor=Oscillation(amplitude=8, rate=0, phase=0.25, fade_in=10, fade_out=20)), CLOCK)
    assert [at(f) for f in (0, 5, 10, 50, 80, 90, 100)] == pytest.approx([0, 4, 8, 8, 8, 4, 0])


def test_a_run_repeats_and_mirrors_as_often_as_it_says():
    saw = moving((10, 0), (20, 10), repeat=Repeat(times=3))
    at = sampler(saw, CLOCK)
    assert [at(f) for f in (0, 15, 25, 35, 45, 90)] == pytest.approx([0, 5, 5, 5, 10, 10])
    swing = sampler(moving((10, 0), (20, 10), repeat=Repeat(mode="mirror")), CLOCK)
    assert [swing(f) for f in (22, 28, 30, 33, 98)] == pytest.approx([8, 2, 0, 3, 8])


def test_colours_move_channel_by_channel_and_never_leave_their_range():
    at = sampler(
        Moving(
            keys=(
                Key(at=0, value="#000000", ease=read_css("cubic-bezier(0.2, 0.9, 0.3, 1.6)")),
                Key(at=10, value="#ff8000"),
            )
        ),
        CLOCK,
    )
    assert at(0) == "#000000" and at(10) == "#ff8000" and at(4)[1:3] == "ff"
    assert sampler(moving((0, "#102030"), (10, "#304050")), CLOCK)(5) == "#203040"


ease_kinds = st.one_of(
    st.builds(Strengths, start=st.floats(0, 1), end=st.floats(0, 1)),
    st.builds(Spring, damping=st.floats(0.1, 2)),
    st.builds(Jumps, count=st.integers(1, 30), at=st.sampled_from(["start", "end"])),
    st.builds(Bounce),
)


@given(ease_kinds, st.floats(0.001, 0.999))
def test_a_mirrored_ease_runs_backwards(ease, u):
    if ease.kind == "jumps" and abs(u * ease.count - round(u * ease.count)) < 1e-6:
        return
    loose = 0.02 if ease.kind in ("spring", "bounce") else 1e-9
    assert ease_progress(mirrored(ease), u) == pytest.approx(1 - ease_progress(ease, 1 - u), abs=loose)


@given(ease_kinds)
def test_css_reads_back_what_it_wrote(ease):
    back = read_css(write_css(ease))
    for u in np.linspace(0.01, 0.99, 25):
        if ease.kind != "jumps" or abs(u * ease.count - round(u * ease.count)) > 1e-6:
            assert ease_progress(back, float(u)) == pytest.approx(
                ease_progress(ease, float(u)), abs=0.02 if ease.kind in ("spring", "bounce") else 1e-3
            )


@pytest.mark.parametrize(
    "wrong",
    [
        "",
        "slow",
        "cubic-bezier(1, 2, 3)",
        "cubic-bezier(2, 0, 0, 1)",
        "linear(1)",
        "linear(0 5px, 1)",
        "steps(0)",
        "steps(2, middle)",
        "cubic-bezier(0,0,0,1",
        "cubic-bezier(nan, 0, 1, 1)",
        "linear(0, 200 50%, 1)",
        "spring(1)",
    ],
)
def test_what_is_no_ease_is_refused_in_words(wrong):
    with pytest.raises(EaseError):
        read_css(wrong)


def test_stronger_grows_both_ends_and_stops_at_the_strongest():
    assert stronger(Strengths(start=0.3, end=0.9), 0.2) == Strengths(start=0.5, end=1)
    assert stronger(Linear(), 0.2) == Strengths(start=0.2, end=0.2)
    assert stronger(Spring(), 0.2) == Spring()


def test_a_traced_ease_goes_on_past_its_ends_as_css_has_it():
    ease = Traced(points=((0.25, 0), (0.5, 1), (0.5, 0.4), (1, 1)))
    assert [ease_progress(ease, u) for u in (0, 0.25, 0.375, 0.5, 0.75, 1)] == pytest.approx([-1, 0, 0.5, 0.4, 0.7, 1])


def test_following_nothing_rests(film):
    assert (
        sampler(Driven(motor=Follow(step="s", name="x"), rest=7), CLOCK)(3) == 7
        and sampler(Fixed(value=3), CLOCK)(1) == 3
    )
