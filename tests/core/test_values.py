"""What lies between two values that are more than a number."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from idle_comet.core.clock import LocalClock
from idle_comet.core.motion import Corner, Fixed, Framing, Key, Linear, Moving, Outline, between, sort_of, value_at
from idle_comet.core.motion.outlines import _parted
from idle_comet.core.motion.values import Value
from idle_comet.core.steps import Parameter

PLACES = st.tuples(st.floats(-500, 500), st.floats(-500, 500))
OUTLINES = st.lists(st.builds(Corner, at=PLACES, into=PLACES, out=PLACES), min_size=3, max_size=8).map(
    lambda corners: Outline(corners=tuple(corners))
)


def curve(outline, count):
    """Points of an outline, `count` of them on each curve."""
    found = []
    for one, next_one in zip(outline.corners, (*outline.corners[1:], outline.corners[0])):
        a, d = np.array(one.at), np.array(next_one.at)
        b, c = a + one.out, d + next_one.into
        for t in np.linspace(0, 1, count, endpoint=False):
            found.append((1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t * t * c + t**3 * d)
    return np.array(found)


@given(OUTLINES, st.integers(0, 12))
def test_corners_put_on_a_curve_do_not_change_an_outline(outline, more):
    dense = curve(outline, 64)
    parted = Outline(corners=tuple(_parted(outline, len(outline.corners) + more)))
    assert len(parted.corners) == len(outline.corners) + more
    for point in curve(parted, 4):
        # Between two of the dense points an outline is nearly straight.
        assert np.hypot(*(dense - point).T).min() <= np.hypot(*(dense - np.roll(dense, 1, 0)).T).max()


def test_an_outline_bends_over_the_frames_of_its_clip():
    square = Outline(corners=tuple(Corner(at=at) for at in ((0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0))))
    large = square.scaled(3)
    prop = Moving(keys=(Key(at=0, value=square, ease=Linear()), Key(at=10, value=large)))
    assert value_at(prop, 5, LocalClock.of(50, 10, 0)).corners[2].at == (20, 20)
    assert value_at(prop, 30, LocalClock.of(50, 10, 0)) == large


def test_a_choice_waits_for_its_key_and_a_clear_colour_counts_as_much_as_it_covers():
    assert between("left", "right", 0.99) == "left"
    # Half-way from a red that is not there to a blue that is all there: blue, half there.
    assert between("#ff000000", "#0000ffff", 0.5) == "#0000ff80"
    assert between("#ff0000", "#0000ff80", 1) == "#0000ff80"


@pytest.mark.parametrize(
    "value, sort",
    [
        (3, "number"),
        ("#aabbcc", "colour"),
        ("#aabbcc80", "clear colour"),
        ("from the middle", "choice"),
        ((1.0, 2.0), "point"),
        (Outline(corners=(Corner(at=(0, 0)),) * 3), "outline"),
        (Framing(x=3, scale=1.2), "framing"),
    ],
)
def test_every_sort_is_written_read_and_told_from_the_others(value, sort):
    assert sort_of(value) == sort
    read = Fixed.model_validate_json(Fixed(value=value).model_dump_json())
    assert read == Fixed(value=value) and sort_of(read.value) == sort
    options = ("from the middle",) if sort == "choice" else ()
    parameter = Parameter("v", "V", "", value, -9, 9, -9, 9, sort=sort, options=options)
    assert parameter.clamp(value) == value
    assert all(not parameter.fits(other) for other in (None, "else", math.pi if sort != "number" else "#000000"))


@pytest.mark.parametrize("text", ['{"corners": []}', '"#ABCDEF"', '"A"'])
def test_what_is_no_value_is_refused(text):
    with pytest.raises(ValidationError):
        TypeAdapter(Value).validate_json(text)
