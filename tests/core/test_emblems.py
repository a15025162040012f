"""Emblems: what is uncovered, what answers, what leaves and returns."""

import math

import numpy as np
import pytest

from idle_comet.core.compose import evaluate
from idle_comet.core.edits import (
    AddShape,
    AddStep,
    AddTitle,
    AnswerMotion,
    ChangeSettings,
    EditError,
    LeaveAndReturn,
    SetProperty,
    SetShutter,
    SetSpans,
    SetValue,
    SplitClips,
    TrimClip,
    Uncover,
)
from idle_comet.core.moment.hits import motion_hits
from idle_comet.core.moment.whereabouts import whereabouts_of
from idle_comet.core.motion import Fixed, Key, Linear, Moving, Strengths
from idle_comet.core.project.model import Project, Settings, Shutter, Step

from .typed import coloured_frame, edited, frame, ink_box

HEX, BAR = "#c00000", "#0000c0"


def emblem(way=(-360, 0), bar=(40, 300), head=0):
    """A red hexagon, and over it a blue bar that travels across it between frames 20 and 60."""
    film = Project(settings=Settings(name="E"))
    film = edited(
        film,
        AddShape(clip="hex", frame=0, length=120, form="polygon", width=300, height=260),
        SetValue(clip="hex", step="content", name="colour", value=HEX),
        AddShape(clip="bar", frame=head, length=120 - head, width=bar[0], height=bar[1], x=-way[0] / 2, y=-way[1] / 2),
        SetValue(clip="bar", step="content", name="colour", value=BAR),
    )
    for name, far in zip("xy", way):
        keys = (Key(at=20, value=0.0, ease=Strengths(start=0.4, end=0.6)), Key(at=60, value=float(far)))
        film = edited(film, SetProperty(clip="bar", step="placement", name=name, property=Moving(keys=keys)))
    return film


def alone(film):
    """The film with the bar out of sight; it moves as ever."""
    bar = film.clips["bar"].model_copy(update={"seen": "hidden"})
    return film.model_copy(update={"clips": {**film.clips, "bar": bar}})


def box(film, clip, at):
    layer = next(each for each in evaluate(film, at).layers if each.clip == clip)
    return whereabouts_of(layer, 1280, 720).box


@pytest.mark.parametrize(
    "way, edge, inside",
    [
        ((-360, 0), "middle", lambda bar, x, y: x >= (bar.x0 + bar.x1) / 2),
        ((-360, 0), "trailing", lambda bar, x, y: x >= bar.x1),
        ((-360, 0), "leading", lambda bar, x, y: x >= bar.x0),
        ((360, 0), "trailing", lambda bar, x, y: x <= bar.x0),
        ((0, 420), "middle", lambda bar, x, y: y <= (bar.y0 + bar.y1) / 2),
        ((0, -420), "leading", lambda bar, x, y: y >= bar.y0),
    ],
)
def test_what_is_uncovered_ends_exactly_at_the_edge_at_every_frame_and_between(way, edge, inside):
    film = emblem(way, bar=(40, 300) if way[0] else (340, 40))
    uncovered = edited(film, Uncover(clip="hex", by="bar", edge=edge))
    whole = coloured_frame(alone(film), 10)[..., 0]
    y, x = np.mgrid[0:720, 0:1280] + 0.5
    for at in (0, 20, 27.3, 33, 40, 41.75, 52, 60, 100):
        seen = coloured_frame(alone(uncovered), at)[..., 0]
        mover = box(film, "bar", at)
        # Fine as a 16th of a px, by the mover's own closed form.
        steps = np.arange(-7.5, 8) / 16
        share = np.mean([inside(mover, *((x, y + far) if way[1] else (x + far, y))) for far in steps], axis=0)
        assert np.abs(seen - whole * share).max() <= 16, at
        if edge == "middle":
            both = coloured_frame(uncovered, at)
            covered = inside(mover, x, y) | (both[..., 2] > 100)
            assert both[~covered][:, 0].max(initial=0) == 0, "no sliver of it beyond the mover"
    assert np.abs(coloured_frame(alone(uncovered), 100)[..., 0] - whole).max() == 0


def moved(film, **changes):
    """The film with the bar's shape and choices changed."""
    bar = film.clips["bar"]
    choices = {**bar.content.choices, **{name: value for name, value in changes.items() if isinstance(value, str)}}
    values = {name: Fixed(value=float(value)) for name, value in changes.items() if not isinstance(value, str)}
    content = bar.content.model_copy(update={"choices": choices, "values": {**bar.content.values, **values}})
    return film.model_copy(update={"clips": {**film.clips, "bar": bar.model_copy(update={"content": content})}})


@pytest.mark.parametrize("edge, side", [("leading", -1), ("middle", 0), ("trailing", 1)])
def test_the_edge_is_the_outline_of_what_wipes_on_each_line_along_its_way(edge, side):
    film = moved(emblem(bar=(120, 160)), form="ellipse")
    uncovered = alone(edited(film, Uncover(clip="hex", by="bar", edge=edge)))
    whole = coloured_frame(alone(film), 10)[200:520, 440:840, 0]
    y, x = np.mgrid[200:520, 440:840] + 0.5
    for at in (33.3, 40):
        oval = box(film, "bar", at)
        middle, half = (oval.x0 + oval.x1) / 2, (oval.x1 - oval.x0) / 2

        def lies_past(aside, down):
            # Of an ellipse: x = ± a √(1 − (y / b)²); above and below it the edge goes straight on.
            off = (y + down - (oval.y0 + oval.y1) / 2) / ((oval.y1 - oval.y0) / 2)
            return x + aside >= middle + side * half * np.sqrt(np.maximum(0, 1 - off**2))

        parts = np.arange(-2.5, 3) / 6
        share = np.mean([lies_past(aside, down) for aside in parts for down in parts], axis=0)
        off = np.abs(coloured_frame(uncovered, at)[200:520, 440:840, 0] - whole * share)
        # Where the outline lies along the way its place on a line is that of a px.
        beside = np.abs(y - (oval.y0 + oval.y1) / 2) > 0.93 * (oval.y1 - oval.y0) / 2
        assert off[~beside].max() <= 40 and off[beside].mean() < 4, (at, off[~beside].max(), off[beside].mean())


def test_the_edge_lies_across_a_slanted_way():
    way = (-300, -180)
    film = moved(emblem(way, bar=(600, 30)), turn=math.degrees(math.atan2(300, -180)))
    uncovered = alone(edited(film, Uncover(clip="hex", by="bar")))
    assert uncovered.clips["hex"].steps[-1].masks[0].values["way"].value == pytest.approx(-149.04, abs=0.02)
    whole = coloured_frame(alone(film), 10)[..., 0]
    y, x = np.mgrid[0:720, 0:1280] + 0.5
    for at in (33, 40, 44.5):
        bar = box(film, "bar", at)
        middle = ((bar.x0 + bar.x1) / 2, (bar.y0 + bar.y1) / 2)
        along = ((x - middle[0]) * way[0] + (y - middle[1]) * way[1]) / math.hypot(*way)
        seen = coloured_frame(uncovered, at)[..., 0]
        assert np.abs(seen - whole * np.clip(0.5 - along, 0, 1)).max() <= 24, at
        assert seen[along > 1].max() == 0 and (seen == whole)[along < -1].all()


def test_words_wipe_with_what_lies_between_their_letters():
    film = emblem((-360, 0))
    film = edited(film, AddTitle(clip="words", frame=0, text="VIA"), TrimClip(clip="words", head=0, length=120))
    keys = (Key(at=20, value=180.0, ease=Linear()), Key(at=60, value=-180.0))
    film = edited(film, SetProperty(clip="words", step="placement", name="x", property=Moving(keys=keys)))
    film = film.model_copy(update={"clips": {id: each for id, each in film.clips.items() if id != "bar"}})
    letters = film.clips["words"].model_copy(update={"seen": "hidden"})
    film = edited(film, Uncover(clip="hex", by="words", edge="trailing"))
    seen = coloured_frame(film.model_copy(update={"clips": {**film.clips, "words": letters}}), 40)[..., 0] > 100
    rows = np.flatnonzero(seen.any(1))
    begins = seen[rows].argmax(1)
    box_ = whereabouts_of(next(each for each in evaluate(film, 40).layers if each.clip == "words"), 1280, 720).box
    inked = (rows >= box_.y0 + 1) & (rows < box_.y1 - 1)
    # The A stands at the end: its foot is the furthest, and the edge is a straight line from foot to top.
    bends = np.diff(begins[inked].astype(float), 2)
    assert np.ptp(begins[inked]) > 8 and np.abs(bends).max() <= 1


def test_what_wipes_unseen_does_so_by_its_corners_and_off_the_frame_nothing_is_wiped():
    film = edited(emblem(), Uncover(clip="hex", by="bar"))
    faded = edited(film, SetValue(clip="bar", step="placement", name="opacity", value=0.0))
    assert np.abs(coloured_frame(faded, 40) - coloured_frame(alone(film), 40)).max() <= 1
    keys = (Key(at=20, value=1500.0, ease=Linear()), Key(at=60, value=-360.0))
    far = edited(film, SetProperty(clip="bar", step="placement", name="x", property=Moving(keys=keys)))
    assert coloured_frame(alone(far), 22)[..., 0].max() == 0
    keys = (Key(at=20, value=9000.0, ease=Linear()), Key(at=60, value=-9000.0))
    past = edited(film, SetProperty(clip="bar", step="placement", name="x", property=Moving(keys=keys)))
    assert coloured_frame(alone(past), 22)[..., 0].max() == 0
    assert (coloured_frame(alone(past), 59) == coloured_frame(alone(emblem()), 59)).all()


def test_what_turned_on_its_way_back_uncovers_no_more_and_no_less():
    film = emblem()
    there = (Key(at=20, value=0.0, ease=Linear()), Key(at=60, value=-180.0, ease=Linear()), Key(at=100, value=0.0))
    turns = (Key(at=60, value=0.0, ease=Linear()), Key(at=100, value=70.0))
    film = edited(
        film,
        SetProperty(clip="bar", step="placement", name="x", property=Moving(keys=there)),
        SetProperty(clip="bar", step="placement", name="rotation", property=Moving(keys=turns)),
        Uncover(clip="hex", by="bar"),
    )
    at_end = coloured_frame(alone(film), 60)
    assert at_end[..., 0].max() > 100
    assert all((coloured_frame(alone(film), at) == at_end).all() for at in (61, 80, 100.5, 119))


def test_what_was_uncovered_stays_so_when_the_mover_comes_back():
    film = emblem()
    there = (Key(at=20, value=0.0, ease=Linear()), Key(at=60, value=-360.0, ease=Linear()), Key(at=100, value=0.0))
    film = edited(film, SetProperty(clip="bar", step="placement", name="x", property=Moving(keys=there)))
    whole = coloured_frame(alone(film), 10)[..., 0]
    held = edited(film, Uncover(clip="hex", by="bar"))
    free = edited(film, Uncover(clip="hex", by="bar", held=False))
    assert (coloured_frame(alone(held), 40) == coloured_frame(alone(free), 40)).all()
    assert np.abs(coloured_frame(alone(held), 100)[..., 0] - whole).max() == 0
    assert coloured_frame(alone(free), 100)[..., 0].max() == 0
    # A half of it, cut while the mover is on its way back, holds what the whole held.
    halves = edited(held, SplitClips(clips=["hex"], frame=80, seed="cut"))
    assert (coloured_frame(halves, 90) == coloured_frame(held, 90)).all()


def test_with_an_open_shutter_the_edge_is_as_far_as_the_mover_is_at_each_moment():
    film = edited(emblem(), Uncover(clip="hex", by="bar"), SetShutter(clips=("hex", "bar"), shutter=Shutter(angle=180)))
    moments = [
        coloured_frame(alone(edited(film, SetShutter(clips=("hex",), shutter=None))), 40 + t)[..., 0]
        for t in np.linspace(-0.25, 0.25, 33)
    ]
    assert np.abs(coloured_frame(alone(film), 40)[..., 0] - np.mean(moments, axis=0)).max() <= 12


def test_the_mover_is_laid_above_and_what_it_uncovers_begins_no_sooner():
    film = emblem(head=30)
    keys = (Key(at=0, value=0.0, ease=Linear()), Key(at=30, value=-360.0))
    film = edited(film, SetProperty(clip="bar", step="placement", name="x", property=Moving(keys=keys)))
    order = [track.id for track in film.tracks]
    swapped = film.model_copy(update={"tracks": film.tracks[::-1]})
    made = edited(swapped, Uncover(clip="hex", by="bar"))
    tracks = [track.id for track in made.tracks]
    assert tracks.index(made.clips["bar"].track) < tracks.index(made.clips["hex"].track) and len(order) == 2
    assert made.clips["hex"].head == 30 and made.clips["hex"].end == 120
    assert edited(made, Uncover(clip="hex", by="bar", edge="leading")).clips["hex"].steps[-1].id == "uncovered"


@pytest.mark.parametrize("by", ["glow", "light", "size"])
@pytest.mark.parametrize("moment", ["landed", "gone"])
def test_an_answer_is_loudest_at_the_moment_and_gone_before_and_after(by, moment):
    film = edited(emblem(), SetSpans(clip="bar", arrival=20, departure=20))
    film = edited(film, AddStep(clip="bar", at=0, step=Step(id="in", kind="placement"), ready="rise"))
    at = round(motion_hits(film, film.clips["bar"])[moment])
    answered = alone(edited(film, AnswerMotion(clip="hex", to="bar", by=by, moments=(moment,), rise=2, fall=8)))
    rest = coloured_frame(alone(film), 10).sum()
    light = {frame_: coloured_frame(answered, frame_).sum() for frame_ in (at - 2, at - 1, at, at + 1) if frame_ < 120}
    assert light[at - 2] == pytest.approx(rest, rel=1e-6) and light[at] > 1.05 * rest
    assert light[at] == max(light.values())
    if moment == "landed":
        assert coloured_frame(answered, at + 8).sum() == pytest.approx(rest, rel=1e-6)


def test_hits_of_a_motion_that_was_set_by_keys_are_where_it_rests():
    film = emblem()
    bar = film.clips["bar"].model_copy(update={"arrival": 0, "departure": 0})
    film = film.model_copy(update={"clips": {**film.clips, "bar": bar}})
    keys = tuple(
        Key(at=at, value=value, ease=Linear()) for at, value in ((20, 0.0), (40, -300.0), (80, -300.0), (90, 0.0))
    )
    film = edited(film, SetProperty(clip="bar", step="placement", name="x", property=Moving(keys=keys)))
    hits = motion_hits(film, film.clips["bar"])
    assert hits["landed"] == pytest.approx(40, abs=1) and hits["gone"] == pytest.approx(90, abs=1)
    assert 20 < hits["fastest"] < 40 and 80 < hits["leaving"] < 90


def test_a_piece_leaves_and_returns_by_another_way_unseen_in_between():
    film = edited(emblem(), LeaveAndReturn(clip="bar", leaves=62, returns=80, seed="n"))
    bare = film.model_copy(update={"clips": {id: each for id, each in film.clips.items() if id != "hex"}})
    before, back = ink_box(coloured_frame(bare, 61).max(-1)), ink_box(coloured_frame(bare, 80 + 24).max(-1))
    assert before == back, "it comes back to where it was"
    assert all(coloured_frame(bare, at).max() == 0 for at in (62, 70, 79))
    falls = [ink_box(coloured_frame(bare, at).max(-1)) for at in range(82, 90)]
    tops = [each[1] for each in falls if each]
    assert tops == sorted(tops) and tops[0] < before[1] - 100 and all(each[0] == before[0] for each in falls if each)
    assert ink_box(coloured_frame(bare, 119).max(-1)) == before, "and does not leave again"


@pytest.mark.parametrize(
    "edit, why",
    [
        (Uncover(clip="hex", by="hex"), "uncover itself"),
        (Uncover(clip="bar", by="hex"), "stands still"),
        (Uncover(clip="hex", by="gone"), "no clip"),
        (AnswerMotion(clip="hex", to="hex"), "no moment “landed”"),
        (LeaveAndReturn(clip="bar", leaves=90, returns=80, seed="n"), "only in between"),
        (LeaveAndReturn(clip="bar", leaves=60, returns=80, ready="never", seed="n"), "no ready-made motion"),
    ],
)
def test_what_makes_no_sense_is_said_and_changes_nothing(edit, why):
    with pytest.raises(EditError, match=why):
        edited(emblem(), edit)


def test_an_emblem_in_another_frame_is_still_uncovered_at_the_edge():
    film = edited(edited(emblem(), Uncover(clip="hex", by="bar")), ChangeSettings(width=640, height=360))
    seen = frame(alone(film), 40, 640, 360)
    bar = next(each for each in evaluate(film, 40).layers if each.clip == "bar")
    middle = whereabouts_of(bar, 640, 360).box
    assert ink_box(seen)[0] == pytest.approx((middle.x0 + middle.x1) / 2, abs=1)
