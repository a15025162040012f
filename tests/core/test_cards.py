"""Cards: two sides of one thing, which hand over exactly as it is edge-on."""

import math

import cv2
import numpy as np
import pytest

from idle_comet.core.clock import Rate
from idle_comet.core.edits import (
    AddShape,
    AddStep,
    AddTitle,
    EditError,
    GatherClips,
    SetShutter,
    SetValue,
    TrimClip,
    TurnInto,
)
from idle_comet.core.motion import Free, Spring, Strengths
from idle_comet.core.project.model import Project, Settings, Shutter, Step

from .typed import coloured_frame, edited, frame, ink_box

RED, BLUE = "#c00000", "#0000c0"


def two(rate=Rate(num=25), x=-200, y=40, first=(0, 120), second=(0, 120), size=(300, 200)):
    """A red board and a blue one at the same place."""
    film = Project(settings=Settings(name="C", rate=rate))
    for id, colour, (head, length) in (("red", RED, first), ("blue", BLUE, second)):
        film = edited(
            film,
            AddShape(clip=id, frame=head, length=length, x=x, y=y, width=size[0], height=size[1]),
            SetValue(clip=id, step="content", name="colour", value=colour),
        )
    return film


def card(film, **more):
    return edited(film, TurnInto(**{"front": "red", "back": "blue", "group": "card", "frame": 50, **more}))


def areas(film, at):
    """Px of the front and of the back."""
    pixels = coloured_frame(film, at)
    return (pixels[..., 0] > 20).sum(), (pixels[..., 2] > 20).sum()


@pytest.mark.parametrize("rate", [Rate(num=24), Rate(num=25), Rate(num=30), Rate(num=50)])
@pytest.mark.parametrize("ease", [Strengths(start=0.2, end=0.9), Free(x1=0.9, y1=0.1, x2=0.4, y2=1)])
def test_the_sides_hand_over_at_the_frame_and_are_never_both_there(rate, ease):
    film = card(two(rate), ease=ease, length=14)
    for at in range(30, 75):
        front, back = areas(film, at)
        assert (front > 0) == (at < 50) and (back > 0) == (at > 50), at
    # However near to it.
    assert areas(film, 49.999)[1] == 0 == areas(film, 50.001)[0]


@pytest.mark.parametrize("turn", [0, 30, 80, 100, 150, 180, 250, 290, 360, 540 - 20])
@pytest.mark.parametrize("axis", [90, 0, 35])
def test_a_card_stands_as_the_browser_turns_it(page, turn, axis):
    """Chromium's rotate3d, which turns the other way round, in a perspective whose origin is the card's middle; each
    side is hidden from behind."""
    film = edited(two(), GatherClips(clips=("red", "blue"), group="card"))
    sides = {film.clips["red"].track: "front", film.clips["blue"].track: "back"}
    tracks = tuple(each.model_copy(update={"side": sides.get(each.id)}) for each in film.tracks)
    film = film.model_copy(update={"tracks": tracks})
    film = edited(film, AddStep(clip="card", at=0, step=Step(id="turn", kind="turn_over")))
    for name, value in {"turn": turn, "axis": axis, "x": -200, "y": 40, "eye": 900, "shade": 0}.items():
        film = edited(film, SetValue(clip="card", step="turn", name=name, value=value))
    lean = math.radians(axis)
    way = f"{math.cos(lean)}, {math.sin(lean)}, 0"
    board = "position:absolute;left:290px;top:300px;width:300px;height:200px;backface-visibility:hidden;"
    page.set_viewport_size({"width": 1280, "height": 720})
    page.set_content(
        "<body style='margin:0;background:#000'><div style='position:absolute;width:1280px;height:720px;"
        "perspective:900px;perspective-origin:440px 400px'>"
        f"<div style='{board}background:{RED};transform:rotate3d({way}, {-turn}deg)'></div>"
        f"<div style='{board}background:{BLUE};transform:rotate3d({way}, {180 - turn}deg)'></div></div>"
    )
    theirs = cv2.imdecode(np.frombuffer(page.screenshot(), np.uint8), cv2.IMREAD_COLOR)[..., ::-1].astype(float)
    ours = coloured_frame(film, 20)
    around = np.ones((3, 3), np.uint8)
    strays = (ours < cv2.erode(theirs, around) - 8) | (ours > cv2.dilate(theirs, around) + 8)
    assert strays.sum() == 0 and (theirs.max(-1) > 0).sum() > 3000


def test_it_turns_at_one_speed_through_its_edge_and_darkens_by_the_cosine():
    film = card(two(), length=20, ease=Strengths(start=0.5, end=0.5))
    angles = []
    for at in (47, 48.5, 49.5, 50.5, 51.5, 53):
        pixels = coloured_frame(film, at)
        box = ink_box(pixels.max(-1))
        # Of the two halves one is nearer: w' = w cos / (1 ± w sin / eye), together about 2 w cos.
        angles.append(math.degrees(math.acos(min(1, (box[2] - box[0]) / 300))))
        light = pixels[400, 440].max() / 192
        turned = math.acos(min(1, (light - 0.65) / 0.35))
        assert math.degrees(turned) == pytest.approx(angles[-1], abs=1.5)
    # 50 ± the same time is the same angle: neither side waits for the other.
    assert angles == pytest.approx(angles[::-1], abs=0.4)
    assert coloured_frame(film, 30)[400, 440].max() == 192, "flat it is as bright as ever"


def test_off_the_middle_of_the_frame_its_edge_is_never_seen():
    film = card(two(x=-480, y=200))
    assert coloured_frame(film, 50).max() == 0


def test_an_open_shutter_sees_both_sides_for_its_share_of_the_time():
    film = edited(card(two(), length=10), SetShutter(clips=("card",), shutter=Shutter(angle=180)))
    front, back = areas(film, 50)
    assert 0.8 < front / back < 1.25 and areas(film, 48)[1] == 0 == areas(film, 52)[0]


def test_words_on_the_back_read_as_they_did():
    words = edited(two(), AddTitle(clip="t", frame=0, text="Brask &\nHallowes"))
    film = edited(words, TurnInto(front="red", back="t", group="card", frame=50))
    plain = words.model_copy(update={"clips": {"t": words.clips["t"]}})
    alone = film.model_copy(update={"clips": {id: film.clips[id] for id in ("card", "red", "t")}})
    assert np.abs(coloured_frame(alone, 65) - coloured_frame(plain, 65)).max() == 0


def test_the_one_leaves_and_the_other_comes_out_of_sight():
    """Titles that fade in and out and follow one another: while the card turns neither is half gone."""
    film = Project(settings=Settings(name="C"))
    for id, head in (("red", 0), ("blue", 60)):
        film = edited(film, AddTitle(clip=id, frame=head, text="WWW"), TrimClip(clip=id, head=head, length=60))
    made = edited(film, TurnInto(front="red", back="blue", group="card", length=20))
    whole = frame(made, 30).sum()
    for at in (48, 55, 65, 72):
        turned = math.pi * (at - 50) / 20
        assert frame(made, at).max() > 150 and frame(made, at).sum() > 0.4 * whole * abs(math.cos(turned)) ** 2
    card_ = made.clips["card"]
    assert (card_.head, card_.length) == (0, 120)


def test_it_may_turn_more_than_once():
    film = card(two(), half_turns=3, length=60)
    seen = [areas(film, at) for at in range(19, 82)]
    order = [0 if front else 1 for front, back in seen if front or back]
    assert sum(a != b for a, b in zip(order, order[1:])) == 3 and order[0] == 0 and order[-1] == 1


@pytest.mark.parametrize("ease", [Spring(damping=0.3), Strengths(start=0, end=0)])
def test_with_any_ease_it_is_edge_on_at_the_frame(ease):
    assert coloured_frame(card(two(), ease=ease, length=20), 50).max() == 0


@pytest.mark.parametrize(
    "film, more, why",
    [
        (two(), {"back": "red"}, "two sides"),
        (two(), {"frame": 4}, "no room"),
        (two(), {"frame": 118}, "no room"),
        (two(first=(0, 30), second=(60, 60)), {"frame": None}, "not there at the same time"),
        (two(), {"back": "gone"}, "no clip “gone”"),
        (card(two()), {"front": "card", "back": "red", "group": "again"}, "another timeline"),
    ],
)
def test_what_is_no_card_is_said_and_changes_nothing(film, more, why):
    with pytest.raises(EditError, match=why):
        card(film, **more)
