"""Pictures that were once painted wrong: what an editor saw, and what is due."""

import tracemalloc

import numpy as np
import pytest

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import SetProperty, SetShutter, SplitClips, TrimClip
from idle_comet.core.moment.handles import handles_of
from idle_comet.core.motion import Cascade, Fixed, Jumps, Key, Linear, Moving
from idle_comet.core.picture import Patch, Rect, mean_of
from idle_comet.core.project.model import Plain, Settings, Shutter, Step, Still, Units, fixed

from .test_every_step import HEIGHT, WIDTH, film, painted, words
from .typed import edited, frame, ink_box, step, title

HOLD = {"kind": "hold"}


class White:
    """A white picture of 400 × 400, and light stand-ins of it that are grey."""

    def frame(self, media, index, width, exact):
        return np.dstack([np.full((400, 400, 3), 255 if exact else 200), np.full((400, 400), 255)]).astype(np.uint8)


def still(*steps, fit="own"):
    project = film(Still(media="m", fit=fit), *steps)
    media = {"m": project.media["m"].model_copy(update={"width": 400, "height": 400})}
    return project.model_copy(update={"media": media, "settings": Settings(name="S", width=800, height=600)})


def shown(project, at=20, exact=True, painter=None):
    return (painter or Painter(White())).paint(plan(evaluate(project, at), 800, 600, exact))[..., 0].astype(float)


@pytest.mark.parametrize("shift", [0.0, 0.01])
def test_a_blurred_picture_on_whole_pixels_is_soft_at_its_edges_like_any_other(shift):
    row = shown(
        still(
            Step(id="b", kind="focus_blur", values={"radius": fixed(20)}),
            Step(id="p", kind="placement", values={"x": fixed(shift)}),
        )
    )[300]
    # A step of a Gaussian: half at the edge itself, a sixth of it one standard deviation outside.
    assert (
        row[200] == pytest.approx(127.5, abs=4)
        and row[180] == pytest.approx(255 * 0.1587, abs=4)
        and row[220] == pytest.approx(255 * 0.8413, abs=4)
    )


def test_a_blurred_picture_that_fills_the_frame_is_not_darker_at_its_edges_and_scaled_down_it_is_soft():
    blur = Step(id="b", kind="focus_blur", values={"radius": fixed(20)})
    assert shown(still(blur, fit="fill")).min() >= 254
    small = shown(still(blur, Step(id="p", kind="placement", values={"scale": fixed(0.5)}), fit="fill"))
    assert small[300, 199:201].mean() == pytest.approx(127.5, abs=3)
    # Filling the height only: soft at the sides, not above and below.
    high = shown(still(blur, fit="fit"))
    assert high[0, 400] >= 254 and high[300, 99:101].mean() == pytest.approx(127.5, abs=3)


def test_a_frame_painted_light_is_never_taken_for_one_painted_as_exported():
    painter, project = Painter(White()), film(words(), Step(id="f", kind="picture_fill", media="m"))
    seen = [painter.paint(plan(evaluate(project, 20), WIDTH, HEIGHT, exact))[..., 0].max() for exact in (False, True)]
    assert seen == [200, 255]


def by_words(*steps):
    """Four words that arrive one by one, over black."""
    film = title("one two three four", length=100)
    clip = film.clips["t"]
    rise = Step(
        id="rise",
        kind="placement",
        units=Units(arrival=Cascade(unit="word", delay=10)),
        values={"y": Moving(keys=(Key(at=0, value=100), Key(at=10, value=0)))},
    )
    return film.model_copy(update={"clips": {"t": clip.model_copy(update={"steps": (*steps, rise)})}})


def test_a_backing_above_words_that_come_one_by_one_covers_none_of_them():
    backing = Step(id="b", kind="backing", values={"colour": Fixed(value="#400000"), "strength": fixed(1)})
    for at in (4, 14, 24, 60):
        with_it, without = (
            Painter(None).paint(plan(evaluate(by_words(*steps), at), 1280, 720)).astype(int)
            for steps in ((backing,), ())
        )
        ink = without[..., 1] > 250
        assert (with_it[ink][:, 1] > 240).all(), "a word is hidden"
    # All there, it is one bar without a seam; each word brought its share of it.
    flat = edited(title("one two three four", length=100)).clips["t"]
    alone = by_words().model_copy(update={"clips": {"t": flat.model_copy(update={"steps": (backing,)})}})
    assert (frame(by_words(backing), 60) == frame(alone, 60)).all()


def test_half_a_placement_moves_half_the_way_for_pictures_handles_and_words():
    moved = {"x": fixed(200), "rotation": fixed(40), "scale": fixed(2)}
    for mix, x, scale, turn in ((0, 0, 1, 0), (0.01, 2, 1.01, 0.4), (0.5, 100, 1.5, 20), (1, 200, 2, 40)):
        half = step(title("BEES", "placement"), values=moved, mix=fixed(mix))
        same = step(title("BEES", "placement"), values={"x": fixed(x), "rotation": fixed(turn), "scale": fixed(scale)})
        assert np.abs(frame(half, 40) - frame(same, 40)).max() <= 1
        mine, other = handles_of(half, "t", 40), handles_of(same, "t", 40)
        assert np.allclose(mine.corners, other.corners) and mine.place["x"] == 200


def test_a_jump_under_an_open_shutter_is_in_one_place_and_in_none_between():
    keys = Moving(keys=(Key(at=0, value=-300, ease=HOLD), Key(at=20, value=300, ease=HOLD), Key(at=40, value=-300)))
    bar = film(
        Plain(colour="#ffffff"),
        Step(id="n", kind="placement", values={"scale": fixed(0.05)}),
        Step(id="p", kind="placement", values={"x": keys}),
    ).model_copy(update={"settings": Settings(name="B", width=1280, height=720, shutter=Shutter(angle=180))})
    row = Painter(None).paint(plan(evaluate(bar, 20), 1280, 720))[360, :, 0].astype(int)
    left, right = row[340 - 25 : 340 + 25], row[940 - 25 : 940 + 25]
    assert left.max() == 0 and right.min() >= 253 and row[400:880].max() == 0
    stepped = bar.model_copy(
        update={
            "clips": {
                "top": bar.clips["top"].model_copy(
                    update={
                        "steps": (
                            bar.clips["top"].steps[0],
                            Step(
                                id="p",
                                kind="placement",
                                values={
                                    "x": Moving(
                                        keys=(Key(at=0, value=-300, ease=Jumps(count=4)), Key(at=40, value=300))
                                    )
                                },
                            ),
                        )
                    }
                )
            }
        }
    )
    for at in range(41):
        seen = np.flatnonzero(Painter(None).paint(plan(evaluate(stepped, at), 1280, 720))[360, :, 0])
        assert len(seen) <= 68, "a ghost beside the place"


def test_a_reveal_shows_nothing_on_its_first_and_its_last_frame_however_long_the_shutter():
    revealed = edited(
        title("THE SLOW HARVEST", "edge_reveal", "edge-up"), SetShutter(clips=("t",), shutter=Shutter(angle=270))
    )
    assert (
        frame(revealed, 0).max() == 0 == frame(revealed, 99).max()
        and frame(revealed, 2).max() > 100
        and frame(revealed, 97).max() > 0
    )
    lettered = step(revealed, units=Units(arrival=Cascade(unit="letter", delay=2)))
    assert frame(lettered, 0).max() == 0 == frame(lettered, 99).max()


def test_a_half_at_a_cut_moves_as_before_when_its_cut_end_is_trimmed():
    moving = Moving(
        keys=(
            Key(counts_from="proportion", at=0, value=-400, ease=Linear()),
            Key(counts_from="proportion", at=1, value=400),
        )
    )
    whole = edited(title("BEES", "placement"), SetProperty(clip="t", step="s", name="x", property=moving))
    halves = edited(whole, SplitClips(clips=("t",), frame=50, seed="half"))
    later = next(clip for clip in halves.clips.values() if clip.head == 50)
    for head, tail in ((60, 100), (42, 100)):
        first = edited(halves, TrimClip(clip="t", head=0, length=40))
        trimmed = edited(first, TrimClip(clip=later.id, head=head, length=tail - head))
        for at in (head, 70, 99):
            assert ink_box(frame(trimmed, at)) == ink_box(frame(whole, at))
        assert ink_box(frame(trimmed, 39)) == ink_box(frame(whole, 39))
    # Its other end is its own: it counts from there as ever.
    shorter = edited(halves, TrimClip(clip=later.id, head=50, length=30))
    assert ink_box(frame(shorter, 79)) == ink_box(frame(whole, 99))


@pytest.mark.parametrize("speed", [0.6, 1.0, 1.3, 1.7, 2.3, 3.0, 5.0])
@pytest.mark.parametrize("phase", [0.0, 0.3])
def test_short_streaks_are_as_long_as_speed_and_shutter_say(speed, phase):
    """Against the exact integral of a bar's coverage over the time the shutter is open."""
    keys = Moving(
        keys=(
            Key(counts_from="proportion", at=0, value=-50 * speed + phase, ease=Linear()),
            Key(counts_from="proportion", at=1, value=50 * speed + phase),
        )
    )
    bar = film(
        Plain(colour="#ffffff"),
        Step(id="n", kind="placement", values={"scale": fixed(0.25)}),
        Step(id="p", kind="placement", values={"x": keys}),
    )
    bar = bar.model_copy(
        update={"clips": {"top": bar.clips["top"].model_copy(update={"length": 101, "shutter": Shutter(angle=360)})}}
    )
    row = painted(bar, 51)[HEIGHT // 2, :, 0] / 255
    middle, half = WIDTH / 2 + phase, WIDTH / 8
    edges = np.arange(WIDTH + 1)
    exact = np.mean(
        [
            np.diff(np.clip(edges, middle - half + x, middle + half + x))
            for x in speed * (0.5 + (np.arange(2000) + 0.5) / 2000)
        ],
        axis=0,
    )
    assert np.abs(row - exact).max() <= 0.06 and np.abs((row - exact) * edges[:-1]).sum() / WIDTH < 0.2
    # How long it is: the spread of each edge, against that of the exact one.
    for side in (slice(90, 150), slice(170, 230)):
        spreads = []
        for each in (row, exact):
            step_, place = np.abs(np.diff(each[side])), np.arange(59)
            mean = (step_ * place).sum() / step_.sum()
            spreads.append(12 * (step_ * (place - mean) ** 2).sum() / step_.sum())
        assert np.sqrt(max(spreads[0], 0)) == pytest.approx(np.sqrt(spreads[1]), abs=0.12)


def test_the_mean_of_many_large_pictures_never_holds_them_all():
    window = Rect(0, 0, 1000, 1000)
    tracemalloc.start()
    made = mean_of((Patch(np.full((1000, 1000, 4), number, np.uint8), 0, 0) for number in range(60)), window)
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert made.pixels[5, 5, 0] == 29.5 and peak < 60 << 20


def test_a_turning_overshoot_is_the_mean_of_its_moments():
    swing = Moving(
        keys=(
            Key(at=0, value=-60, ease={"kind": "free", "x1": 0.2, "y1": 1.9, "x2": 0.4, "y2": 1.2}),
            Key(at=12, value=0),
        )
    )
    turned = edited(
        step(title("BEES", "placement"), values={"rotation": swing}),
        SetShutter(clips=("t",), shutter=Shutter(angle=360, smear=2)),
    )
    plain = edited(turned, SetShutter(clips=("t",), shutter=Shutter(angle=0)))
    for at in (3, 6, 9):
        many = np.mean([frame(plain, at + 2 * ((i + 0.5) / 128 - 0.5), 640, 360) for i in range(128)], axis=0)
        assert np.abs(frame(turned, at, 640, 360) - many).max() <= 6
