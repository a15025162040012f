"""Motion blur against exact integrals and against very many samples."""

import numpy as np
import pytest

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.compose.shutter import CEILINGS
from idle_comet.core.edits import SetChoice, SetProperty, SetShutter
from idle_comet.core.motion import Hold, Jumps, Key, Linear, Moving
from idle_comet.core.project.model import Clip, Footage, Plain, Project, Settings, Shutter, Step, Track, fixed

from .typed import edited, frame, ink_box, title

WIDTH, HEIGHT = 320, 180


def straight(start, end):
    """Evenly from one value to another over a clip of 101 frames."""
    return Moving(
        keys=(
            Key(counts_from="proportion", at=0, value=start, ease=Linear()),
            Key(counts_from="proportion", at=1, value=end),
        )
    )


def bar(shutter, **values):
    """A white bar, a tenth of the frame wide and half as high, that does what its placement says."""
    clip = Clip(
        id="bar",
        track="t",
        name="Bar",
        head=0,
        length=101,
        content=Plain(colour="#ffffff"),
        shutter=shutter,
        steps=(
            Step(id="narrow", kind="placement", values={"scale": fixed(0.1)}),
            Step(id="placement", kind="placement", values=values),
        ),
    )
    return Project(
        settings=Settings(name="B", width=WIDTH, height=HEIGHT), tracks=(Track(id="t", name="T"),), clips={"bar": clip}
    )


def painted(project, frame, sources=None):
    return Painter(sources).paint(plan(evaluate(project, frame), WIDTH, HEIGHT))[..., 0].astype(float)


def exact_bar(left, right):
    """A row of a picture: how much of each pixel lies between two edges."""
    edges = np.arange(WIDTH + 1)
    return np.diff(np.clip(edges, left, right))


@pytest.mark.parametrize("sits, opens", [("before", -1), ("on", -0.5), ("after", 0)])
@pytest.mark.parametrize("angle, smear, speed", [(180, 1, 12.5), (360, 1, 40.3), (90, 3, 30), (45, 1, 3.1)])
def test_a_moving_bar_is_its_box_integral(sits, opens, angle, smear, speed):
    project = bar(Shutter(angle=angle, smear=smear, sits=sits), x=straight(-50 * speed, 50 * speed))
    row = painted(project, 51)[HEIGHT // 2]
    length = angle / 360 * smear
    width = WIDTH / 10
    exact = np.mean(
        [
            exact_bar(WIDTH / 2 - width / 2 + x, WIDTH / 2 + width / 2 + x)
            for x in speed * (1 + length * (opens + (np.arange(4000) + 0.5) / 4000))
        ],
        axis=0,
    )
    reached = (exact > 0) & (exact < 1) | (row > 0)
    assert np.abs(row / 255 - exact)[reached].mean() <= 0.01
    # The streak is as long as speed × shutter says, within 5 %.
    streak = np.count_nonzero(row) - width
    assert streak == pytest.approx(speed * length, rel=0.05, abs=3)  # whole pixels, and one for each antialiased edge


def many(project, frame, length, sources=None, count=512):
    """The same frame as the plain mean of very many unblurred pictures."""
    still = project.model_copy(
        update={"clips": {id: clip.model_copy(update={"shutter": None}) for id, clip in project.clips.items()}}
    )
    return np.mean([painted(still, frame + length * ((i + 0.5) / count - 0.5), sources) for i in range(count)], axis=0)


@pytest.mark.parametrize(
    "values",
    [
        {"rotation": straight(0, 1500), "scale": fixed(4)},
        {"scale": straight(0.1, 16)},
        {"x": straight(-400, 400), "rotation": straight(0, 900), "opacity": straight(0.5, 1)},
    ],
)
def test_turns_and_scales_are_blurred_as_by_many_samples(values):
    project = bar(Shutter(angle=360), **values)
    blurred, exact = painted(project, 40), many(project, 40, 1)
    off = np.abs(blurred - exact)
    assert (
        off.mean() <= 0.1
        and off.max() <= 20
        and np.abs(painted(bar(None, **values), 40) - exact).mean() > 5 * off.mean()
    )


def test_panned_footage_is_blurred_as_by_many_samples_and_shows_no_edge(heath, sources):
    project = bar(None)
    shot = Clip(
        id="shot",
        track="t",
        name="Heath",
        head=0,
        length=40,
        shutter=Shutter(angle=300),
        content=Footage(media=heath[1].id),
        steps=(Step(id="placement", kind="placement", values={"x": straight(-120, 120), "scale": fixed(1.9)}),),
    )
    project = project.model_copy(update={"clips": {"shot": shot}, "media": {heath[1].id: heath[1]}})
    blurred = painted(project, 20, sources)
    from idle_comet.core.moment.evaluate import evaluate_clip
    from idle_comet.core.moment.scene import Scene

    def at(local):
        layer = evaluate_clip(project, shot, local, 20)._replace(exposure=None)
        return (
            Painter(sources).paint(plan(Scene(WIDTH, HEIGHT, "#000000", (layer,)), WIDTH, HEIGHT))[..., 0].astype(float)
        )

    exact = np.mean([at(20 + 300 / 360 * ((i + 0.5) / 512 - 0.5)) for i in range(512)], axis=0)
    assert np.abs(blurred - exact).mean() <= 0.6 and np.abs(blurred - exact).max() <= 6
    assert blurred[:, 0].min() > 0 and blurred[:, -1].min() > 0


def test_a_ceiling_is_named_and_still_things_cost_nothing():
    fast = bar(Shutter(angle=360), rotation=straight(0, 36_000))
    exact, light = (plan(evaluate(fast, 50), WIDTH, HEIGHT, exact=each).samples for each in (True, False))
    assert exact[0] == CEILINGS[True] or exact[0] == exact[1]
    assert light[0] == CEILINGS[False] < light[1]
    still = plan(evaluate(bar(Shutter(angle=360)), 50), WIDTH, HEIGHT)
    assert still.samples == (0, 0)
    assert np.array_equal(painted(bar(Shutter(angle=360), x=straight(7, 7)), 50), painted(bar(None, x=fixed(7)), 50))


def test_the_films_own_motion_blur_is_every_clips_that_has_none():
    values = {"x": straight(-1000, 1000)}
    film = bar(None, **values)
    film = film.model_copy(update={"settings": film.settings.model_copy(update={"shutter": Shutter(angle=180)})})
    assert np.array_equal(painted(film, 50), painted(bar(Shutter(angle=180), **values), 50))
    off = film.model_copy(update={"clips": bar(Shutter(angle=0), **values).clips})
    assert np.array_equal(painted(off, 50), painted(bar(None, **values), 50))


def test_a_backing_that_opens_is_blurred_by_as_many_pictures_as_its_edge_goes_px():
    film = title("head beekeeper", "backing", size=50, arrival=0, departure=0)
    film = edited(
        film,
        SetChoice(clip="t", step="s", name="grows", value="left"),
        SetShutter(clips=("t",), shutter=Shutter(angle=180)),
        SetProperty(
            clip="t",
            step="s",
            name="shown",
            property=Moving(keys=(Key(at=0, value=0, ease=Linear()), Key(at=20, value=1))),
        ),
    )
    whole = ink_box(frame(film, 60))
    taken, wanted = plan(evaluate(film, 10), 1280, 720).samples
    # A twentieth of its width a frame, the shutter open for half of it.
    assert wanted == pytest.approx((whole[2] - whole[0]) / 20 / 2, abs=1.5) and taken == wanted
    assert plan(evaluate(film, 60), 1280, 720).samples[1] <= 1


@pytest.mark.parametrize("sits", ["before", "on", "after"])
@pytest.mark.parametrize("ease", [Hold(), Jumps(count=2)])
def test_a_jump_is_a_cut_and_nothing_is_smeared_over_it(sits, ease):
    """Each frame shows one of two places, whole; what moves beside it is blurred as ever."""
    jump = Moving(keys=(Key(at=0, value=-80.0, ease=ease), Key(at=50, value=80.0)))
    own = bar(Shutter(angle=360, sits=sits), x=jump, y=straight(-60, 60))
    for at in (24, 25, 26, 49, 50, 51):
        picture = painted(own, at)
        left, middle, right = (picture[:, part].max() for part in (slice(0, 120), slice(130, 190), slice(200, 320)))
        seen = [value > 250 for value in (left, middle, right)]
        expected = (at >= 50) * 2 if isinstance(ease, Hold) else (at >= 25) + (at >= 50)
        assert seen == [place == expected for place in range(3)], at
        assert sorted(value < 5 for value in (left, middle, right)) == [False, True, True]
    blurred = painted(own, 41)
    assert ((blurred > 20) & (blurred < 235)).any()
