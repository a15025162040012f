"""Ready-made motions, second lines, and what a shot has to spare."""

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from idle_comet.core.compose import evaluate
from idle_comet.core.edits import (
    AddSecondLine,
    AddStep,
    AddTitle,
    EditError,
    SetSpans,
    SetSpeed,
    SetValue,
    SplitClips,
    StretchClips,
    apply,
)
from idle_comet.core.moment.standing import stand
from idle_comet.core.project.model import Clip, Footage, Project, Settings, Step, Track
from idle_comet.core.project.source import source_frame, spare_frames
from idle_comet.core.steps import KINDS

READY = [(kind, ready) for kind, each in KINDS.items() for ready in each.ready]


@pytest.fixture
def title():
    film = Project(settings=Settings(name="T"), tracks=(Track(id="t", name="T"),))
    return apply(film, AddTitle(clip="title", frame=10, text="THE SLOW HARVEST"))[0]


@pytest.mark.parametrize("kind, ready", READY)
def test_a_ready_made_motion_leaves_the_stay_alone_or_runs_through_it(title, kind, ready):
    film, _ = apply(title, SetSpans(clip="title", arrival=20, departure=12))
    film, _ = apply(film, AddStep(clip="title", at=0, step=Step(id="new", kind=kind), ready=ready.name))

    def values(frame):
        """Of every unit, where the step is passed on."""
        step = evaluate(film, 10 + frame).layers[0].steps[0]
        return [part.values for part in step.parts] or [step.values]

    for name, away in ready.away.items():
        rest = next(each.default for each in KINDS[kind].parameters if each.name == name)
        for frame, there in ((0, away), (50, rest), (99, away)):
            assert [each[name] for each in values(frame)] == pytest.approx([there] * len(values(frame)))
    for name, beats in ready.beats.items():
        assert [values(at)[0][name] for at, _ in beats] == pytest.approx([value for _, value in beats])
        last = [value if ready.comes_back else beats[-1][1] for _, value in beats]
        assert [values(99 - at)[-1][name] for at, _ in beats] == pytest.approx(last)
    for name, (first, last) in ready.through.items():
        assert [values(frame)[0][name] for frame in (0, 33, 99)] == pytest.approx(
            [first, first + (last - first) / 3, last]
        )


@pytest.mark.parametrize("kind, ready, fades", [("typing", "typing", False), ("focus_blur", "focus-in", True)])
def test_what_arrives_by_itself_takes_the_plain_fade_with_it(title, kind, ready, fades):
    film, _ = apply(title, AddStep(clip="title", at=0, step=Step(id="new", kind=kind), ready=ready))
    assert ("opacity" in film.clips["title"].steps[-1].values) == fades
    # One that was made by hand stays.
    own, _ = apply(title, SetValue(clip="title", step="placement", name="opacity", value=0.4, frame=30))
    film, _ = apply(own, AddStep(clip="title", at=0, step=Step(id="new", kind=kind), ready=ready))
    assert film.clips["title"].steps[-1] == own.clips["title"].steps[-1]


def test_what_belongs_to_the_ink_is_done_before_what_lights_it_or_lies_behind_it(title):
    film = title
    for kind in ("glow", "typing", "outline", "backing", "shadow", "focus_blur", "outline"):
        count = len(film.clips["title"].steps)
        film, _ = apply(film, AddStep(clip="title", step=Step(id=f"s{count}", kind=kind)))
    kinds = [step.kind for step in film.clips["title"].steps]
    assert kinds == ["outline", "shadow", "outline", "glow", "typing", "backing", "focus_blur", "placement"]
    # A step that this version does not know stays where it is, and stops nothing.
    clip = title.clips["title"].model_copy(update={"steps": (Step(id="odd", kind="unheard-of"),)})
    odd, _ = apply(
        title.model_copy(update={"clips": {"title": clip}}), AddStep(clip="title", step=Step(id="o", kind="outline"))
    )
    assert [step.kind for step in odd.clips["title"].steps] == ["unheard-of", "outline"]
    # An order of one's own stays, and a place that is asked for counts.
    film, _ = apply(title, AddStep(clip="title", at=0, step=Step(id="a", kind="glow")))
    film, _ = apply(film, AddStep(clip="title", at=1, step=Step(id="b", kind="outline")))
    assert [step.kind for step in film.clips["title"].steps] == ["glow", "outline", "placement"]


def test_a_motion_at_the_ends_of_a_clip_that_has_none_gives_it_both(title):
    bare, _ = apply(title, SetSpans(clip="title", arrival=0, departure=0))
    film, _ = apply(bare, AddStep(clip="title", at=0, step=Step(id="new", kind="focus_blur"), ready="focus-in"))
    assert (film.clips["title"].arrival, film.clips["title"].departure) == (15, 15)
    assert evaluate(film, 25).layers[0].steps[0].values["radius"] == 0
    with pytest.raises(EditError, match="no ready-made motion"):
        apply(title, AddStep(clip="title", at=0, step=Step(id="new", kind="focus_blur"), ready="explode"))


def ink(film, clip, frame):
    """Where a clip's ink stands at a frame, its placements done."""
    from idle_comet.core.moment.placed import total_matrix

    layer = next(each for each in evaluate(film, frame).layers if each.clip == clip)
    standing = stand(layer.content, film.settings.width, film.settings.height)
    return standing.ink.through(total_matrix(layer, standing))


def test_a_second_line_stands_below_ends_with_the_first_and_moves_the_other_way(title):
    film, _ = apply(title, AddStep(clip="title", at=0, step=Step(id="drift", kind="placement"), ready="drift"))
    film, _ = apply(film, AddSecondLine(clip="title", new="second", later=10, text="Episode two: The swarm"))
    first, second = film.clips["title"], film.clips["second"]
    assert (second.head, second.end) == (first.head + 10, first.end) and second.track != first.track
    for frame in (25, 60, 100):
        upper, lower = ink(film, "title", frame), ink(film, "second", frame)
        gap = lower.y0 - upper.y1
        assert 10 < gap < 50
        assert (upper.x0 + upper.x1) / 2 == pytest.approx((lower.x0 + lower.x1) / 2, abs=0.01)
    rising, sinking = (np.diff([ink(film, clip, frame).y0 for frame in (30, 60, 90)]) for clip in ("title", "second"))
    assert (rising < 0).all() and (sinking > 0).all()
    assert (
        second.content.size.value == pytest.approx(first.content.size.value * 0.55, abs=0.01)
        and second.content.weight.value < first.content.weight.value
    )


def test_a_second_line_needs_words_and_time(title, film):
    with pytest.raises(EditError, match="has no words"):
        apply(film, AddSecondLine(clip="shot", new="second"))
    with pytest.raises(EditError, match="would not be seen"):
        apply(title, AddSecondLine(clip="title", new="second", later=99))
    steps = title.clips["title"].model_copy(update={"steps": ()})
    bare = title.model_copy(update={"clips": {"title": steps}})
    made, _ = apply(bare, AddSecondLine(clip="title", new="second"))
    assert ink(made, "second", 60).y0 > ink(made, "title", 60).y1


@given(st.floats(0, 49), st.integers(1, 30), st.sampled_from([1, 2, 0.5, -1, -0.5, 0.37]))
def test_spare_frames_are_those_that_still_show_the_source(heath, start, length, speed):
    media = heath[1]
    content = Footage(media=media.id, start=round(start), speed=speed)
    clip = Clip(id="c", track="t", name="C", head=500, length=length, content=content)
    film = Project(
        settings=Settings(name="S"), tracks=(Track(id="t", name="T"),), media={media.id: media}, clips={"c": clip}
    )
    before, after = spare_frames(film, clip)

    def inside(local):
        at = Fraction(round(start)) + Fraction(str(speed)) * local
        return 0 <= at <= media.frames - 1

    assert before == 0 or inside(-before)
    assert not inside(-before - 1)
    if inside(length - 1):
        assert inside(length - 1 + after) and not inside(length + after)
    assert 0 <= source_frame(film, clip, 10_000) < media.frames


def test_a_speed_keeps_the_part_it_showed(heath):
    media = heath[1]
    clip = Clip(id="c", track="t", name="C", head=0, length=30, content=Footage(media=media.id, start=4))
    film = Project(
        settings=Settings(name="S"), tracks=(Track(id="t", name="T"),), media={media.id: media}, clips={"c": clip}
    )
    double, _ = apply(film, SetSpeed(clip="c", speed=2))
    shown = [source_frame(double, double.clips["c"], local) for local in range(double.clips["c"].length)]
    assert (len(shown), shown[0], shown[-1]) == (15, 4, 32)
    # Dragged through other speeds and back, it is as long as it was.
    dragged = film
    for speed in (1.7, 0.9, 3.3, 1):
        dragged, _ = apply(dragged, SetSpeed(clip="c", speed=speed, part=30))
    assert dragged == film
    with pytest.raises(EditError, match="more would be needed"):
        apply(film, StretchClips(clips=("c",), by=40))
    slow, _ = apply(film, SetSpeed(clip="c", speed=0.37))
    halves, _ = apply(slow, SplitClips(clips=("c",), frame=33, seed="n"))
    right = halves.clips["n-1"]
    assert [source_frame(halves, right, local) for local in range(5)] == [
        source_frame(slow, slow.clips["c"], 33 + local) for local in range(5)
    ]
