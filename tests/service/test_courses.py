"""Which clips are drawn anew after an edit."""

import pytest

from idle_comet.core.edits import SetMotor, SetValue, apply
from idle_comet.core.motion import Driven, Follow
from idle_comet.core.project.difference import difference
from idle_comet.service.courses import FEW, courses_of, redrawn

from ..core.rich import rich_film


@pytest.fixture
def rich(heath):
    return rich_film(heath[1])


@pytest.mark.parametrize(
    "step, name",
    [("placement", "y"), ("content", "weight"), ("content", "width"), ("content", "box"), ("content", "size")],
)
def test_a_clip_that_follows_another_is_drawn_anew_when_that_one_moves(rich, step, name):
    """Every value that can follow, and of a clip that follows one that follows."""
    source = ("placement", "y") if step == "placement" else ("content", name)
    film, _ = apply(
        rich,
        SetMotor(
            clip="strap",
            step="content" if step == "content" else "place",
            name=name,
            motor=Follow(clip="title", step=source[0], name=source[1]),
        ),
    )
    film, _ = apply(
        film,
        SetMotor(clip="plain", step="content", name="size", motor=Follow(clip="strap", step="content", name="size")),
    )
    drawn = courses_of(film, film.clips)
    before = next(curve for curve in drawn["strap"].curves if curve.name == name)
    now, _ = apply(film, SetValue(clip="title", step=source[0], name=source[1], value=90, frame=29))
    few, others = redrawn(now, difference(film, now))
    assert {"title", "strap", "plain"} <= {*few, *others} and "card" not in {*few, *others}
    after = next(curve for curve in courses_of(now, few)["strap"].curves if curve.name == name)
    assert after.points != before.points


def test_what_does_not_come_with_an_answer_is_named(rich):
    clips = {
        f"c{n}": rich.clips["plain"].model_copy(
            update={
                "id": f"c{n}",
                "head": 200 + 50 * n,
                "content": rich.clips["plain"].content.model_copy(
                    update={"size": Driven(motor=Follow(clip="title", step="content", name="size"))}
                ),
            }
        )
        for n in range(60)
    }
    film = rich.model_copy(update={"clips": {**rich.clips, **clips}})
    now, _ = apply(film, SetValue(clip="title", step="content", name="size", value=90))
    few, others = redrawn(now, difference(film, now))
    assert len(few) == FEW and {*few, *others} >= {"title", *clips}


def test_what_is_said_of_a_clip_is_said_anew_when_what_it_looks_at_changes(rich):
    """A treatment lies over others, a camera sees them, a mask is another's shape."""
    now, _ = apply(rich, SetValue(clip="title", step="placement", name="rotation", value=50, frame=29))
    few, others = redrawn(now, difference(rich, now))
    looking = {
        clip.id
        for clip in rich.clips.values()
        if clip.content.kind in ("treatment", "camera", "light")
        or any(mask.clip == "title" for step in clip.steps for mask in step.masks)
    }
    assert len(looking) > 2 and looking <= {*few, *others}
