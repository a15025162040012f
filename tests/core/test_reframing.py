"""A film in another frame and at another rate."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from idle_comet.core.checks.fitting import no_longer_fits, outside
from idle_comet.core.clock import Rate
from idle_comet.core.compose import evaluate
from idle_comet.core.edits import ChangeSettings, ChangeText, SetProperty, SetValue, apply
from idle_comet.core.moment.placed import total_matrix
from idle_comet.core.moment.standing import stand
from idle_comet.core.motion import Key, Moving

from .rich import rich_film
from .typed import edited, frame, ink_box, title


@pytest.fixture(scope="module")
def rich(heath):
    return rich_film(heath[1])


def ink_of(film, at=50):
    layer = evaluate(film, at).layers[0]
    standing = stand(layer.content, film.settings.width, film.settings.height)
    return standing.ink.through(total_matrix(layer, standing))


def test_a_title_keeps_its_place_and_its_share_of_the_frame():
    small = edited(title("THE SLOW HARVEST", "placement"), SetValue(clip="t", step="s", name="y", value=180))
    large = edited(small, ChangeSettings(width=1920, height=1080))
    a, b = ink_box(frame(small, 50)), ink_box(frame(large, 50, 1920, 1080))
    assert b == pytest.approx([1.5 * edge for edge in a], abs=2)
    tall = edited(small, ChangeSettings(width=1080, height=1920))
    before, after = ink_of(small), ink_of(tall)
    grown = 1080 / 1280
    assert 1920 * 0.95 - (after.y0 + after.y1) / 2 == pytest.approx(
        (720 * 0.95 - (before.y0 + before.y1) / 2) * grown, abs=2
    ), "as far from the safe area"
    assert (after.x1 - after.x0) / 1080 == pytest.approx((before.x1 - before.x0) / 1280, rel=0.01), (
        "as wide in the frame"
    )


def test_words_at_an_edge_keep_their_distance_to_the_safe_area():
    low = edited(
        title("Wren Hallowes", "placement"),
        ChangeText(clip="t", stand_x="left", stand_y="bottom"),
        SetValue(clip="t", step="s", name="y", value=-20),
    )
    tall = edited(low, ChangeSettings(width=720, height=1280))
    ink = ink_of(tall)
    grown = 720 / 1280
    assert ink.x0 == pytest.approx(36, abs=1) and ink.y1 == pytest.approx(1280 * 0.95 - 20 * grown, abs=1)


def test_a_rise_goes_as_far_as_its_type_is_large():
    keys = Moving(
        keys=(
            Key(at=0, value=140),
            Key(at=20, value=100),
            Key(counts_from="tail", at=-20, value=100),
            Key(counts_from="tail", at=0, value=140),
        )
    )
    film = edited(title("BEES", "placement"), SetProperty(clip="t", step="s", name="y", property=keys))
    tall = edited(film, ChangeSettings(width=1080, height=1920))
    found = [key.value for key in tall.clips["t"].steps[0].values["y"].keys]
    grown = 1080 / 1280
    assert found == pytest.approx([140 * grown, 100 * grown, 100 * grown, 140 * grown]), (
        "near the middle it stays by what stands there"
    )
    low = edited(
        title("BEES", "placement"),
        SetProperty(
            clip="t",
            step="s",
            name="y",
            property=keys.model_copy(
                update={"keys": tuple(key.model_copy(update={"value": key.value + 100}) for key in keys.keys)}
            ),
        ),
    )
    found = [
        key.value for key in edited(low, ChangeSettings(width=1080, height=1920)).clips["t"].steps[0].values["y"].keys
    ]
    place = 0.45 * 1920 - (0.45 * 720 - 200) * grown
    assert found == pytest.approx([place + 40 * grown, place, place, place + 40 * grown])


def test_moments_stay_where_they_were_at_another_rate(rich):
    faster = edited(rich, ChangeSettings(rate=Rate(num=50)))
    for id, clip in rich.clips.items():
        now = faster.clips[id]
        assert (now.head, now.length, now.arrival) == (2 * clip.head, 2 * clip.length, 2 * clip.arrival)
        for at in range(0, clip.length, 7):
            one, other = (
                evaluate(film, head + at * times) for film, head, times in ((rich, clip.head, 1), (faster, now.head, 2))
            )
            assert [
                layer.content.frame
                for layer in one.layers
                if hasattr(layer, "content") and hasattr(layer.content, "media")
            ] == [
                layer.content.frame
                for layer in other.layers
                if hasattr(layer, "content") and hasattr(layer.content, "media")
            ]
    assert faster.marks.markers[0].frame == 40 and faster.range.last == 120


@given(
    st.sampled_from([(1080, 1920), (1080, 1080), (64, 64), (3840, 2160), (1280, 720)]),
    st.sampled_from([(24000, 1001), (25, 1), (60, 1), (12, 1)]),
)
def test_any_frame_and_rate_leave_a_sound_film_that_can_be_undone(rich, size, rate):
    change = ChangeSettings(width=size[0], height=size[1], rate=Rate(num=rate[0], den=rate[1]))
    after, back = apply(rich, change)
    for track in after.tracks:
        own = sorted((clip for clip in after.clips.values() if clip.track == track.id), key=lambda clip: clip.head)
        assert all(a.end <= b.head for a, b in zip(own, own[1:]))
        before = sorted((clip for clip in rich.clips.values() if clip.track == track.id), key=lambda clip: clip.head)
        assert [a.end == b.head for a, b in zip(own, own[1:])] >= [
            a.end == b.head for a, b in zip(before, before[1:])
        ], "a cut came apart"
    assert apply(after, back)[0] == rich


def test_nothing_that_fitted_leaves_the_safe_area_and_what_does_is_said():
    placed = edited(
        title("BEES", "placement", size=100),
        SetValue(clip="t", step="s", name="x", value=420),
        SetValue(clip="t", step="s", name="rotation", value=90),
    )
    assert outside(placed, placed.clips["t"]) == 0
    for width, height in ((1280, 240), (300, 720), (1080, 1920)):
        assert no_longer_fits(placed, edited(placed, ChangeSettings(width=width, height=height))) == []
    said = no_longer_fits(placed, edited(placed, SetValue(clip="t", step="s", name="x", value=600)))
    assert said == ["“BEES” reaches 26 px out of the safe area in this frame."] or "safe area" in said[0]
