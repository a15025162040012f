"""Moments of an exposure: planned together, reckoned from one another, and their mean."""

import cv2
import numpy as np
import pytest

from idle_comet.core.compose import Painter, evaluate, plan, shutter
from idle_comet.core.compose.clip import plan_clip
from idle_comet.core.compose.graph import Averaged, Stepped
from idle_comet.core.compose.in_between import in_between
from idle_comet.core.compose.moments import mean_of_moments, planned
from idle_comet.core.compose.shutter import moment_of
from idle_comet.core.compose.sight import Sight
from idle_comet.core.edits import AddStep, SetProperty, SetShutter, StyleLine
from idle_comet.core.motion import Key, Linear, Moving
from idle_comet.core.picture import Matrix, Patch, Rect
from idle_comet.core.project.model import Shutter, Step, Styled, fixed
from idle_comet.core.steps import KINDS, Rest, StepContext
from idle_comet.core.type import painting

from .test_every_step import HEIGHT, WIDTH, film, resting, step, strong, words
from .typed import edited, title

FRAME = Rect(0, 0, WIDTH, HEIGHT)
SIGHT = Sight(WIDTH, HEIGHT, Matrix(), FRAME, FRAME, True)
OPEN = Shutter(angle=180)


def moving(kind):
    """A step that goes from rest to what is plain to see within ten frames of its clip."""
    made = step(kind, strong(kind))
    rest = resting(kind)
    keys = {
        name: Moving(
            keys=(
                Key(counts_from="head", at=15, value=rest[name], ease=Linear()),
                Key(counts_from="head", at=25, value=value),
            )
        )
        for name, value in strong(kind).items()
        if name in rest and value != rest[name]
    }
    return made.model_copy(update={"values": {**made.values, **keys}})


def exposed(project, at=20):
    project = edited(project, SetShutter(clips=("top",), shutter=OPEN))
    return next(layer for layer in evaluate(project, at).layers if layer.clip == "top")


@pytest.mark.parametrize("kind", KINDS.values(), ids=KINDS)
def test_moments_planned_together_are_what_each_is_by_itself(kind):
    opening = Step(id="b", kind="backing", values={"shown": moving(KINDS["backing"]).values["shown"]})
    layer = exposed(film(words(), moving(kind), opening))
    moments = [moment_of(layer, share) for share in (0.1, 0.4, 0.7)]
    alone = [plan_clip(moment, SIGHT, None) for moment in moments]
    together = planned(moments, SIGHT, None)
    assert [one and one.names() for one in together] == [one and one.names() for one in alone]
    assert len({one and one.names() for one in alone}) == 3


def test_a_step_that_paints_within_words_is_planned_anew_whatever_is_done_after_them():
    half_typed = Step(id="y", kind="typing", values={"shown": fixed(0.5)})
    opening = moving(KINDS["backing"]).model_copy(update={"id": "b"})
    layer = exposed(film(words(), opening, half_typed, step(KINDS["vignette"], strong(KINDS["vignette"]))))
    moments = [moment_of(layer, share) for share in (0.1, 0.4, 0.7)]
    together = planned(moments, SIGHT, None)
    assert [one.names() for one in together] == [plan_clip(moment, SIGHT, None).names() for moment in moments]
    assert len({one.names() for one in together}) == 3


def test_what_steps_paint_last_is_planned_once_for_all_moments(monkeypatch):
    layer = exposed(film(words(), moving(KINDS["backing"])))
    asked = []
    monkeypatch.setattr(
        "idle_comet.core.compose.moments.plan_clip", lambda *each: asked.append(each) or plan_clip(*each)
    )
    found = planned([moment_of(layer, share) for share in (0.1, 0.4, 0.7)], SIGHT, None)
    assert len(asked) == 1 and len({one.picture.digest for one in found}) == 3
    assert len({id(one.picture.child) for one in found}) == 1


@pytest.mark.parametrize("kind", [kind for kind in KINDS.values() if kind.keeps_means], ids=lambda kind: kind.kind)
def test_what_a_step_makes_of_a_mean_is_the_mean_of_what_it_makes(kind):
    chance = np.random.default_rng(3)
    values = {each.name: each.default for each in (*kind.parameters, *kind.choices)} | strong(kind)
    values |= {"frame": 3, "seconds": 0.1, "drawing": None, "picture": None, "table": None}
    context = StepContext(Matrix(), FRAME, Rest((WIDTH / 2, HEIGHT / 2), FRAME, FRAME, FRAME, WIDTH, HEIGHT))

    def made(pixels):
        out = kind.render(Patch(pixels.astype(np.float32), 0, 0), values, context)
        whole = np.zeros((HEIGHT, WIDTH, 4))
        x0, y0, x1, y1 = out.rect.meets(FRAME).whole()
        part = out.pixels[y0 - out.y : y1 - out.y, x0 - out.x : x1 - out.x].astype(float) * out.opacity
        whole[y0:y1, x0:x1] = part if part.ndim == 3 else part[..., None] * (*(c / 255 for c in out.colour), 1)
        return whole

    def picture():
        cover = np.clip((cv2.GaussianBlur(chance.random((HEIGHT, WIDTH)), (0, 0), 6) - 0.5) * 900 + 128, 0, 255)
        return np.dstack([chance.random((HEIGHT, WIDTH, 3)) * cover[..., None], cover])

    one, other = picture(), picture()
    assert np.abs(made((one + other) / 2) - (made(one) + made(other)) / 2).max() < 0.05


def test_steps_that_all_moments_end_with_alike_are_done_to_their_mean():
    still = Step(id="b", kind="backing", values={"strength": fixed(0.6), "pad_x": fixed(9)})
    layer = exposed(film(words(), moving(KINDS["edge_reveal"]), still))
    samples = planned([moment_of(layer, share) for share in (0.1, 0.4, 0.7)], SIGHT, None)
    mean = mean_of_moments(samples, 3, FRAME, 3)
    assert isinstance(mean, Stepped) and isinstance(mean.child, Averaged)
    each = Averaged(tuple(samples), FRAME, 3)
    one, other = (Painter(None).patch(picture) for picture in (mean, each))
    assert one.rect == other.rect and np.abs(one.pixels - other.pixels).max() < 0.05
    # A moment in which nothing is seen has no backing either.
    gone = mean_of_moments(samples[1:], 3, FRAME, 3)
    assert isinstance(gone, Averaged) and [round(one.opacity, 9) for one in gone.samples] == [round(2 / 3, 9)] * 2
    # What is the same at all of them is no mean at all.
    assert mean_of_moments(samples[:1] * 3, 3, FRAME, 3).digest == samples[0].picture.digest


def test_between_two_moments_values_go_evenly_and_jumps_are_not_made_up():
    layer = exposed(film(words(), moving(KINDS["backing"])))
    first, middle, last = (moment_of(layer, share) for share in (0.25, 0.5, 0.75))
    between = in_between(first, middle, last)
    for share in (0.0, 0.3, 1.0):
        wanted = moment_of(layer, 0.25 + share / 2).steps[-1].values["shown"]
        assert between(share).steps[-1].values["shown"] == pytest.approx(wanted, abs=1e-9)
    assert between(0.3)._replace(steps=()) == first._replace(steps=())
    # Past the end of what a value may be nothing is made up.
    assert [between(share).steps[-1].values["shown"] for share in (-100, 100)] == [1, 0]
    jumps = middle._replace(steps=(*middle.steps[:-1], first.steps[-1]))
    assert in_between(first, jumps, last) is None
    assert in_between(first, middle, last._replace(steps=())) is None


def test_a_light_picture_of_moments_between_is_that_of_moments_evaluated(monkeypatch):
    grows = AddStep(clip="t", at=0, step=Step(id="b", kind="backing"), ready="backing-grows")
    project = edited(title("A LONG LINE OF WORDS", size=80), grows, SetShutter(clips=("t",), shutter=OPEN))
    project = edited(project, SetProperty(clip="t", step="b", name="colour", property=fixed("#d06020")))
    frames = range(1, 12)

    def light():
        return [Painter(None).paint(plan(evaluate(project, at), 640, 360, False)).astype(int) for at in frames]

    asked = []
    monkeypatch.setattr(shutter, "in_between", lambda *each: asked.append(each) or in_between(*each))
    between = light()
    monkeypatch.setattr(shutter, "in_between", lambda *each: None)
    off = [np.abs(one - other) for one, other in zip(between, light())]
    assert asked and max(each.max() for each in off) <= 16 and max(each.mean() for each in off) < 0.02


def test_words_of_one_colour_of_their_own_are_coverage_and_look_the_same(monkeypatch):
    style = StyleLine(clip="t", line=1, style=Styled(start=0, end=0, colour="#ff8000"))
    project = edited(title("Isko\nhive carpenter", "edge_reveal", "edge-lines", size=90), style)
    scenes = [plan(evaluate(project, at), 640, 360) for at in (5, 10, 15)]
    kinds = []
    monkeypatch.setattr(
        "idle_comet.core.compose.paint.paint_text",
        lambda *each: kinds.append((made := painting.paint_text(*each)).colour) or made,
    )
    as_cover = [Painter(None).paint(scene).astype(int) for scene in scenes]
    assert {(255, 255, 255), (255, 128, 0)} <= set(kinds) and None not in kinds
    monkeypatch.setattr(painting, "_owns", lambda layout, poses: [None, *sorted(layout.colours)])
    assert max(np.abs(Painter(None).paint(scene) - one).max() for scene, one in zip(scenes, as_cover)) <= 1
