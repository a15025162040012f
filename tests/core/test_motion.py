import pytest
from hypothesis import given
from hypothesis import strategies as st

from idle_comet.core.clock import LocalClock
from idle_comet.core.motion import Fixed, Free, Hold, Key, Linear, Moving, Strengths, ease_progress, value_at

unit = st.floats(0, 1)


@given(unit)
def test_a_new_key_is_the_smooth_cubic(u):
    assert ease_progress(Strengths(), u) == pytest.approx(3 * u * u - 2 * u**3, abs=1e-9)


@given(unit)
def test_no_strength_at_either_end_is_even_speed(u):
    assert ease_progress(Strengths(start=0, end=0), u) == pytest.approx(u, abs=1e-9)
    assert ease_progress(Linear(), u) == u
    assert ease_progress(Hold(), u) == (1 if u >= 1 else 0)


@given(unit, st.floats(-3, 3), unit, st.floats(-3, 3), unit)
def test_a_free_curve_lies_on_its_bezier(x1, y1, x2, y2, t):
    x = 3 * x1 * t * (1 - t) ** 2 + 3 * x2 * t * t * (1 - t) + t**3
    y = 3 * y1 * t * (1 - t) ** 2 + 3 * y2 * t * t * (1 - t) + t**3
    got = ease_progress(Free(x1=x1, y1=y1, x2=x2, y2=y2), x)
    # Where the curve stands still in x, all y there are right: allow what a hair of x is worth.
    near = [ease_progress(Free(x1=x1, y1=y1, x2=x2, y2=y2), min(1, max(0, x + d))) for d in (-1e-6, 1e-6)]
    assert min(*near, got) - 1e-4 <= y <= max(*near, got) + 1e-4


def moving(*keys):
    return Moving(keys=tuple(Key(counts_from=end, at=at, value=value, ease=Linear()) for end, at, value in keys))


FADE = moving(("head", 0, 0), ("head", 10, 1), ("tail", -10, 1), ("tail", 0, 0))


def test_keys_keep_to_the_end_they_count_from():
    for length in (60, 85):
        clock = LocalClock.of(length, 10, 10)
        assert [value_at(FADE, f, clock) for f in (0, 5, 10)] == [0, 0.5, 1]
        assert [value_at(FADE, length - 1 - f, clock) for f in (0, 5, 10)] == [0, 0.5, 1]


def test_a_clip_shorter_than_its_spans_still_plays_both():
    clock = LocalClock.of(10, 10, 10)
    values = [value_at(FADE, f, clock) for f in range(10)]
    # Five frames each: arriving 0, 1/5 … 4/5, departing 4/5 … 0.
    assert values == pytest.approx([0, 0.2, 0.4, 0.6, 0.8, 0.8, 0.6, 0.4, 0.2, 0])


def test_a_move_in_proportion_replays_whole_at_any_length():
    push = moving(("proportion", 0, 1), ("proportion", 1, 1.06))
    for length in (50, 99):
        clock = LocalClock.of(length, 0, 0)
        assert value_at(push, 0, clock) == 1
        assert value_at(push, length - 1, clock) == pytest.approx(1.06)


@given(
    st.lists(
        st.tuples(st.sampled_from(["head", "tail", "proportion"]), st.floats(0, 300), st.floats(-1e5, 1e5)),
        min_size=1,
        max_size=6,
    ),
    st.integers(1, 200),
    st.integers(0, 300),
    st.integers(0, 300),
    st.floats(-5, 210),
)
def test_every_property_has_a_value_within_its_keys_at_every_moment(keys, length, arrival, departure, frame):
    made = tuple(
        Key(counts_from=end, at={"head": at, "tail": -at, "proportion": at / 300}[end], value=value, ease=Strengths())
        for end, at, value in keys
    )
    value = value_at(Moving(keys=made), frame, LocalClock.of(length, arrival, departure))
    values = [key.value for key in made]
    assert min(values) - 1e-6 <= value <= max(values) + 1e-6


def test_a_fixed_value_is_itself():
    assert value_at(Fixed(value=3), 7, LocalClock.of(10, 0, 0)) == 3
