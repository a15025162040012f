"""Cutting a clip, whatever it is and wherever, changes no frame."""

import pytest

from idle_comet.core import edits as e
from idle_comet.core.clock import Rate
from idle_comet.core.compose import evaluate
from idle_comet.core.moment.scene import Exposure, Layer
from idle_comet.core.motion import Framing
from idle_comet.core.project.model import Media, Transition
from idle_comet.core.recipes import shipped_recipes
from idle_comet.core.recipes.looks import LOOKS
from idle_comet.core.steps import KINDS

from .rich import rich_film
from .test_moves import MOVES, filled, move, shaken, white
from .typed import title

MEDIA = Media(
    id="m", name="m", kind="video", hash="1" * 64, path="x.mp4", width=640, height=360, frames=50, rate=Rate(num=25)
)
FILM = rich_film(MEDIA)


def shown(part):
    """What is seen, without the names of the clips that show it and the documents they lie in. A half counts its frames
    from its own head: the last digits of a float may differ."""
    if isinstance(part, float):
        return round(part, 9)
    if isinstance(part, Exposure):
        return round(part.opens - part.frame, 9), round(part.closes - part.frame, 9)
    if isinstance(part, tuple):
        parts = part._replace(clip=None) if isinstance(part, Layer) else part
        return type(part).__name__, *(shown(each) for each in parts)
    if isinstance(part, dict):
        return {name: shown(value) for name, value in part.items()}
    return part


@pytest.mark.parametrize("share", [0.2, 0.6])
@pytest.mark.parametrize("id", FILM.clips)
def test_cutting_any_clip_changes_no_frame(id, share):
    clip = FILM.clips[id]
    cut, _ = e.apply(FILM, e.SplitClips(clips=(id,), frame=clip.head + max(1, int(share * clip.length)), seed="cut"))
    for frame in range(0, 430, 3):
        assert shown(evaluate(cut, frame)) == shown(evaluate(FILM, frame)), frame


def same_after_a_cut(film, clip, frame):
    cut, _ = e.apply(film, e.SplitClips(clips=(clip,), frame=frame, seed="cut"))
    end = max(each.end for each in film.clips.values())
    for at in sorted({*range(0, end, 17), frame - 1, frame, end - 1}):
        assert shown(evaluate(cut, at)) == shown(evaluate(film, at)), at


READY = [(kind, name) for kind in KINDS for name in (None, *(each.name for each in KINDS[kind].ready))]


@pytest.mark.parametrize("kind, ready", READY)
def test_cutting_under_any_step_changes_no_frame(kind, ready):
    same_after_a_cut(title("The slow harvest", kind, ready), "t", 37)


@pytest.mark.parametrize("look", LOOKS)
def test_cutting_under_any_look_changes_no_frame(look):
    film, _ = e.apply(title("The slow harvest"), e.UseLook(clips=("t",), look=look))
    same_after_a_cut(film, "t", 61)


@pytest.mark.parametrize("id", shipped_recipes())
def test_cutting_what_a_recipe_makes_changes_no_frame(id):
    film, _ = e.apply(title("x"), e.AddFromRecipe(new="r", frame=200, recipe=shipped_recipes()[id]))
    same_after_a_cut(film, "r", 200 + film.clips["r"].length // 3)


BY_HAND = (Framing(), Framing(x=40, roll=6), Framing(x=-30, y=10, scale=1.1))


@pytest.mark.parametrize("kept", [*MOVES, "handheld", "by hand"])
def test_a_clip_that_is_kept_filled_is_shown_as_large_after_a_cut(kept):
    film = white(length=90)
    if kept == "handheld":
        film = white(shaken(), length=90)
    elif kept == "by hand":
        film = white(move(*BY_HAND), length=90)
    else:
        film, _ = e.apply(film, e.UseMove(clips=("w",), move=kept))
    opened = film.clips["w"].model_copy(update={"opening": Transition(length=8), "closing": Transition(length=11)})
    film = film.model_copy(update={"clips": {"w": opened}})
    whole = filled(film)
    for at in (9, 45, 83):
        cut, _ = e.apply(film, e.SplitClips(clips=("w",), frame=at, seed="cut"))
        cut, _ = e.apply(cut, e.SplitClips(clips=("w", "cut-1"), frame=max(1, at // 2), seed="more"))
        for part in cut.clips:
            own = filled(cut, id=part)
            assert own.scale == whole.scale and own.step == whole.step
            assert len(own.frames) >= cut.clips[part].length
