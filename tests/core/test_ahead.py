"""Pictures of shots made ahead, in another thread."""

import threading

import numpy as np
import pytest

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.project.model import Clip, Footage, Group, Media, Step, Text, Track, Treatment, fixed

from .stacked import HEIGHT, WIDTH, film, square
from .test_every_step import Stripes

GRADE = Step(id="grade", kind="colour_grade", values={"exposure": fixed(-1.0)})
SMALL = Step(id="placement", kind="placement", values={"scale": fixed(0.4), "x": fixed(60)})


class Passing(Stripes):
    """A shot that is another picture at every frame, and in which thread it was read."""

    def __init__(self):
        self.read = []

    def frame(self, media, index, width, exact):
        self.read.append((media, threading.get_ident()))
        if media == "torn":
            raise OSError("torn")
        return np.roll(self.picture, 9 * index, 1)


def clip(id, track, content, *steps):
    return Clip(id=id, track=track, name=id, head=0, length=50, content=content, steps=steps)


def shot(*steps, track="c", media="m"):
    return clip(f"shot-{track}", track, Footage(media=media), *steps)


WORDS = clip("words", "a", Text(text="swarm", size=fixed(40)))
STACKS = {
    "alone": (shot(),),
    "under words": (shot(), WORDS),
    "graded": (shot(GRADE), WORDS),
    "two": (shot(), shot(SMALL, track="b"), WORDS),
    "one hides the other": (shot(), shot(track="b"), WORDS),
    "moved by a treatment": (shot(), clip("t", "b", Treatment(), SMALL), WORDS),
    "under a treatment": (shot(), clip("t", "b", Treatment(), GRADE), WORDS),
    "in a group": (shot(), clip("g", "b", Group(), SMALL), shot(track="inner"), WORDS),
    "over a square": (square("q", "#c03020", "c"), shot(SMALL, track="b"), WORDS),
    "lost": (shot(media="lost"), WORDS),
}


def of(*clips):
    """A film with one shot, and another whose file is torn."""
    made = film(*clips)
    given = {"kind": "video", "hash": "0" * 64, "path": "m.mp4", "width": WIDTH, "height": HEIGHT, "frames": 100}
    media = {id: Media(id=id, name=id, **given) for id in ("m", "torn")}
    return made.model_copy(
        update={"media": media, "tracks": (*made.tracks, Track(id="inner", name="inner", within="g"))}
    )


@pytest.mark.parametrize("begun", ["as it is planned", "as it is painted"])
@pytest.mark.parametrize("clips", STACKS.values(), ids=STACKS)
def test_a_frame_is_the_same_whoever_makes_its_shots(clips, begun):
    project = of(*clips)
    ahead = Painter(Passing(), ahead=True)
    begin = ahead.begin if begun == "as it is planned" else None
    for frame in (5, 6, 5):
        scene = evaluate(project, frame)
        made = ahead.paint(plan(scene, WIDTH, HEIGHT, begin=begin))
        assert (made == Painter(Passing()).paint(plan(scene, WIDTH, HEIGHT))).all()


def test_only_what_is_seen_is_read_and_in_another_thread_while_there_is_something_else_to_do():
    sources = Passing()
    painter = Painter(sources, ahead=True)
    moved = (shot(), clip("t", "b", Treatment(), SMALL), WORDS)
    for clips in (STACKS["one hides the other"], STACKS["alone"], moved):
        painter.paint(plan(evaluate(of(*clips), 5), WIDTH, HEIGHT, begin=painter.begin))
    here = threading.get_ident()
    assert [reader == here for _, reader in sources.read] == [False, True, True]


def test_shots_in_a_group_are_not_held_all_at_once():
    """A group that moves while the shutter is open is planned at many moments."""
    begun = []
    layers = (clip("g", "b", Group(), SMALL), shot(track="inner"), shot(), WORDS.model_copy(update={"track": "inner2"}))
    project = of(*layers)
    project = project.model_copy(update={"tracks": (Track(id="inner2", name="inner2", within="g"), *project.tracks)})
    assert plan(evaluate(project, 5), WIDTH, HEIGHT, begin=begun.append).picture.children and not begun


def test_what_was_begun_and_not_painted_is_not_taken_for_another_frame():
    painter, scenes = Painter(Passing(), ahead=True), [evaluate(of(*STACKS["two"]), frame) for frame in range(5, 15)]
    for scene in scenes[:-1]:
        plan(scene, WIDTH, HEIGHT, begin=painter.begin)
        painter.forget()
    made = painter.paint(plan(scenes[-1], WIDTH, HEIGHT, begin=painter.begin))
    assert (made == Painter(Passing()).paint(plan(scenes[-1], WIDTH, HEIGHT))).all()


def test_what_can_not_be_read_is_told_and_the_next_frame_is_painted():
    painter = Painter(Passing(), ahead=True)
    with pytest.raises(OSError, match="torn"):
        painter.paint(plan(evaluate(of(shot(media="torn"), WORDS), 5), WIDTH, HEIGHT, begin=painter.begin))
    scene = evaluate(of(*STACKS["under words"]), 5)
    assert (painter.paint(plan(scene, WIDTH, HEIGHT)) == Painter(Passing()).paint(plan(scene, WIDTH, HEIGHT))).all()
