"""What holds for every step kind, whatever it does."""

import tracemalloc
from collections import Counter

import cv2
import numpy as np
import pytest

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.moment.evaluate import evaluate_clip
from idle_comet.core.moment.placed import total_matrix
from idle_comet.core.moment.standing import stand
from idle_comet.core.motion import Cascade, Fixed, Framing, Key, Moving
from idle_comet.core.picture import Cube, Matrix, Patch, Rect
from idle_comet.core.project.model import (
    Clip,
    Footage,
    Mask,
    Plain,
    Project,
    Settings,
    Step,
    Still,
    Track,
    Units,
    fixed,
)
from idle_comet.core.recipes.looks import LOOKS
from idle_comet.core.recipes.moves import MOVES
from idle_comet.core.recipes.together import TOGETHER
from idle_comet.core.steps import KINDS, Beneath, Rest, StepContext

from .typed import title

WIDTH, HEIGHT = 320, 180
OUTLINE = "M0 0L40 0L20 30Z"


class Stripes:
    """A picture of the film: soft stripes of two colours."""

    picture = np.dstack(
        [
            np.tile(128 + 100 * np.sin(np.arange(WIDTH) / 9), (HEIGHT, 1)),
            np.tile(90 + 60 * np.cos(np.arange(HEIGHT) / 7)[:, None], (1, WIDTH)),
            np.full((HEIGHT, WIDTH), 60),
            np.full((HEIGHT, WIDTH), 255),
        ]
    ).astype(np.uint8)

    def frame(self, media, index, width, exact):
        return self.picture

    def table(self, media):
        """Two entries along each axis: red and blue change places, and all of it is darker."""
        ends = np.array([(b, g, r) for b in (0, 1) for g in (0, 1) for r in (0, 1)], np.float32) * np.float32(0.8)
        return Cube(ends.reshape(2, 2, 2, 3), (0, 0, 0), (1, 1, 1))


def strong(kind):
    """Values at which the step is plain to see: half-way from rest to the further printed end."""
    made = {}
    for each in kind.parameters:
        if each.sort == "number" and each.may_move:
            far = each.high if abs(each.high - each.neutral) >= abs(each.low - each.neutral) else each.low
            made[each.name] = (each.neutral + far) / 2 if each.name != "eye" else each.default
        elif each.sort == "point":
            made[each.name] = (30.0, -20.0)
        elif each.sort == "framing":
            made[each.name] = Framing(x=20.0, y=-10.0, scale=1.3, roll=8.0)
    return {
        **made,
        **{
            "placement": {"scale": 0.7, "rotation": 20, "opacity": 0.8, "x": 40, "y": 10},
            "roll": {"travelled": 0.4},
            "past_camera": {"nearer": 0.4, "clears": 0.5},
            "edge_reveal": {"shown": 0.6},
            # As much of it as the frame and its px hold.
            "displace": {"amount": 8, "scale": 90, "contrast": 0.1},
            "tile": {"across": 2, "down": 2, "x": 0.2},
            "streak_blur": {"length": 40, "zoom": 0.1, "turn": 8},
            "glow": {"gain": 1.5, "size": 16, "threshold": 0.2, "softness": 0.4, "tint": 0.5},
            "solid": {"depth": 24, "wide": 2, "deep": 2},
            "turn_over": {"turn": 40, "axis": 70},
            "tumble": {"tilt": 30, "swing": 20, "roll": 10, "size": 0.8},
        }.get(kind.kind, {}),
    }


def resting(kind):
    return {each.name: each.neutral for each in kind.parameters if each.sort == "number" and each.may_move}


def film(content, *steps, below=None, background="#000000"):
    tracks = (Track(id="t", name="T"), Track(id="b", name="B"))
    top = Clip(id="top", track="t", name="Top", head=0, length=50, content=content, steps=steps)
    clips = {"top": top} | (
        {"below": Clip(id="below", track="b", name="Below", head=0, length=50, content=Plain(colour=below))}
        if below
        else {}
    )
    picture = {
        id: dict(id=id, name=id, kind=sort, hash="0" * 64, path=f"{id}.png", width=WIDTH, height=HEIGHT, frames=1)
        for id, sort in (("m", "still"), ("c", "table"))
    }
    return Project.model_validate(
        {
            "settings": Settings(name="S", width=WIDTH, height=HEIGHT, background=background),
            "tracks": tracks,
            "clips": clips,
            "media": picture,
        }
    )


def words():
    return title("BEES fly", size=70).clips["t"].content


def step(kind, values, id="s", **more):
    own = {"drawing": {"drawing": OUTLINE}, "picture": {"media": "m"}, "table": {"media": "c"}}.get(kind.takes, {})
    if kind.outside:
        own["masks"] = (Mask(id="m", values={"x": fixed(150), "y": fixed(90), "width": fixed(120)}),)
    given = {name: Fixed(value=value) for name, value in values.items()}
    return Step(**{"id": id, "kind": kind.kind, "values": given, **own, **more})


def painted(project, at=20, width=WIDTH, height=HEIGHT, exact=True):
    return Painter(Stripes()).paint(plan(evaluate(project, at), width, height, exact)).astype(float)


CONTENTS = {"words": words, "picture": lambda: Still(media="m")}
every = pytest.mark.parametrize("kind", KINDS.values(), ids=KINDS)


@every
@pytest.mark.parametrize("content", CONTENTS)
def test_at_rest_it_changes_nothing(kind, content):
    made = CONTENTS[content]()
    rest = {"counter": {"counted": 1.0}, "roll": {}}.get(kind.kind, resting(kind))
    if kind.kind == "roll" or (kind.kind == "typing" and content == "words"):
        return
    assert (painted(film(made, step(kind, rest, masks=()))) == painted(film(made))).all()


@every
@pytest.mark.parametrize("content", CONTENTS)
def test_at_a_mix_of_nothing_it_is_not_there_and_half_of_it_lies_between(kind, content):
    made = CONTENTS[content]()
    none = painted(film(made))
    assert (painted(film(made, step(kind, strong(kind), mix=fixed(0)))) == none).all()
    all_of_it, half = (painted(film(made, step(kind, strong(kind), mix=fixed(mix)))) for mix in (1, 0.5))
    if (all_of_it != none).any():
        assert (half != none).any() and (half != all_of_it).any()


@every
@pytest.mark.parametrize("content", CONTENTS)
def test_it_hides_nothing_it_does_not_cover(kind, content):
    made, own = CONTENTS[content](), step(kind, strong(kind))
    black, white = (painted(film(made, own, background=each))[..., :3] for each in ("#000000", "#ffffff"))
    seen_through = (white - black) / 255
    seen = painted(film(made, own, below="#3060c0"))[..., :3]
    assert np.abs(seen - (black + seen_through * (0x30, 0x60, 0xC0))).max() <= 2.5


@every
@pytest.mark.parametrize("units", [None, Units(arrival=Cascade(unit="letter", delay=2))], ids=["whole", "passed on"])
@pytest.mark.parametrize("content", CONTENTS)
def test_where_it_stands_is_told_without_working_out_all_of_it(kind, content, units):
    """Whatever is left out when only the place of a clip is asked for, the place is the same."""
    values = strong(kind)
    moving = {
        each.name: Moving(keys=(Key(at=0, value=each.neutral), Key(at=30, value=values[each.name])))
        for each in kind.parameters
        if each.sort == "number" and each.name in values
    }
    own = step(kind, values, units=units)
    tilted = step(KINDS["placement"], {"rotation": 7, "scale": 1.2}, "p")
    made = film(CONTENTS[content](), own.model_copy(update={"values": {**own.values, **moving}}), tilted)
    for local in (0, 12, 12.5, 40):
        whole, placed = (evaluate_clip(made, made.clips["top"], local, placing=placing) for placing in (False, True))
        stood = [stand(each.content, WIDTH, HEIGHT) for each in (whole, placed)]
        assert stood[0] == stood[1]
        assert total_matrix(whole, stood[0]) == total_matrix(placed, stood[1])


@every
@pytest.mark.parametrize("content", CONTENTS)
def test_what_vanishes_is_not_seen(kind, content):
    """With whatever values a kind says so: letters that vanish are told by the first of them, wherever they stand."""
    nothing = painted(film(CONTENTS[content]()).model_copy(update={"clips": {}}))
    vanished = 0
    for each in kind.parameters:
        if each.sort == "number":
            for value in {each.least, each.low, max(each.least, 0.0)}:
                made = film(CONTENTS[content](), step(kind, {**strong(kind), each.name: value}))
                if kind.vanishes(evaluate_clip(made, made.clips["top"], 20).steps[0].values):
                    vanished += 1
                    assert (painted(made) == nothing).all()
    assert vanished or kind.kind not in ("placement", "stretch", "tumble")


@every
def test_the_same_look_at_half_size(kind):
    project = film(words(), step(kind, strong(kind)))
    large, small = painted(project), painted(project, width=WIDTH // 2, height=HEIGHT // 2)
    if kind.kind == "draw_on":
        pytest.skip("its pen is thinner than a px there")
    assert np.abs(cv2.resize(large, (WIDTH // 2, HEIGHT // 2), interpolation=cv2.INTER_AREA) - small).mean() < (
        1.6 if kind.kind == "signal_tear" else 1.2
    )


@every
@pytest.mark.parametrize("content", CONTENTS)
def test_in_perspective_it_looks_as_the_flat_picture_seen_from_there(kind, content):
    """A step before a tumble: what is painted is the flat result, tilted."""
    if kind.kind in ("placement", "tumble", "past_camera", "roll", "stretch"):
        return
    if kind.makes_bodies:
        pytest.skip("what is solid is not flat")
    reaches = {"edge_reveal", "backing", "focus_blur", "glow", "displace", "wave", "pixel_blocks", "streak_blur"}
    if content == "picture" and (kind.camera or kind.kind in reaches | {"gate_weave"}):
        pytest.skip("the frame cuts off what it does at the picture's edge")
    made, own = CONTENTS[content](), step(kind, strong(kind))
    tilt, eye, grow = 50, 900, 0.55
    tilted = film(
        made, own, Step(id="t", kind="tumble", values={"tilt": fixed(tilt), "eye": fixed(eye), "size": fixed(grow)})
    )
    flat = painted(film(made, own), width=WIDTH * 2, height=HEIGHT * 2)
    anchor = evaluate(tilted, 20).layers[0]
    from idle_comet.core.moment.standing import stand

    x, y = stand(anchor.content, WIDTH, HEIGHT).anchor
    to = Matrix.shift(x, y) @ Matrix.tilt(tilt, 0, 0, eye) @ Matrix.grow(grow) @ Matrix.shift(-x, -y) @ Matrix.grow(0.5)
    shift = Matrix.shift(-0.5, -0.5) @ to @ Matrix.shift(0.5, 0.5)
    wanted = cv2.warpPerspective(
        cv2.GaussianBlur(flat, (0, 0), 0.9),
        np.array([[shift.a, shift.c, shift.e], [shift.b, shift.d, shift.f], [shift.g, shift.h, shift.i]]),
        (WIDTH, HEIGHT),
    )
    seen = painted(tilted)
    inside = slice(30, 150), slice(60, 260)
    # What the frame cuts off on the flat picture is left out of the comparison.
    assert np.abs(seen[inside] - wanted[inside])[..., :3].mean() < (4.5 if kind.kind in ("outline", "fray") else 3.2)


@every
@pytest.mark.parametrize("end", ["least", "most"])
def test_absurd_values_stay_within_memory_with_and_without_a_horizon(kind, end):
    values = {each.name: getattr(each, end) for each in kind.parameters if each.sort == "number"}
    for after in ((), (Step(id="t", kind="tumble", values={"tilt": fixed(88), "eye": fixed(60)}),)):
        tracemalloc.start()
        painted(film(words(), step(kind, values), *after))
        peak = tracemalloc.get_traced_memory()[1]
        tracemalloc.stop()
        assert peak < 400 << 20, (peak >> 20, bool(after))


@pytest.mark.parametrize("kind", ["displace", "flicker", "light_leak"])
def test_what_passes_by_the_second_does_so_at_any_frame_rate(kind):
    one = film(Still(media="m"), step(KINDS[kind], strong(KINDS[kind])))
    rate = one.settings.rate.model_copy(update={"num": 50})
    two = one.model_copy(update={"settings": one.settings.model_copy(update={"rate": rate})})
    assert (painted(one, 12) == painted(two, 24)).all() and (painted(one, 12) != painted(one, 24)).any()


@every
def test_the_same_frame_has_the_same_bytes_from_any_painter(kind):
    project = film(words(), step(kind, strong(kind)))
    assert (painted(project) == painted(project)).all()


CELL = {"share": 1, "x": 60, "y": 40, "width": 180, "height": 90}


@pytest.mark.parametrize("kind", [kind for kind in KINDS.values() if kind.covers_by_cover], ids=lambda kind: kind.kind)
def test_what_a_picture_covers_after_it_does_not_depend_on_what_it_shows(kind):
    """As the kind says of itself: so what is made of its coverage is kept while that stays."""
    chance = np.random.default_rng(5)
    cover = cv2.GaussianBlur(chance.random((HEIGHT, WIDTH)), (0, 0), 6)
    cover = np.clip((cover - 0.5) * 900 + 128, 0, 255)[..., None].astype(np.float32)
    values = {each.name: each.default for each in (*kind.parameters, *kind.choices)} | strong(kind)
    # What leaves something of the picture.
    values |= {"cell": CELL, "crop": {"left": 40, "right": 0, "top": 20, "bottom": 0}}.get(kind.kind, {})
    values |= {"table": Stripes().table("c"), "frame": 3, "seconds": 0.1, "drawing": None, "picture": None}
    frame = Rect(0, 0, WIDTH, HEIGHT)
    context = StepContext(Matrix(), frame, Rest((WIDTH / 2, HEIGHT / 2), frame, frame, frame, WIDTH, HEIGHT))
    one, other = (
        kind.render(
            Patch(np.dstack([chance.random((HEIGHT, WIDTH, 3)) * cover, cover]).astype(np.float32), 0, 0),
            values,
            context,
        )
        for _ in range(2)
    )
    assert one.rect == other.rect and np.abs(one.alpha - other.alpha).max() < 1e-3
    assert np.abs(one.pixels - other.pixels).max() > 5


@every
@pytest.mark.parametrize("x", [60, 280, -400], ids=["in sight", "half in sight", "out of sight"])
def test_what_is_not_left_by_a_cell_need_not_be_painted_whatever_comes_after_it(kind, x, monkeypatch):
    cell = Step(id="cell", kind="cell", values={name: fixed(value) for name, value in (CELL | {"x": x}).items()})
    project = film(Still(media="m"), cell, step(kind, strong(kind)))
    seen = painted(project)
    monkeypatch.setattr(type(KINDS["cell"]), "leaves", lambda *given: None)
    assert np.abs(painted(project) - seen).max() <= 1


@pytest.mark.parametrize("moves", [False, True])
@pytest.mark.parametrize(
    "kind", [kind for kind in KINDS.values() if isinstance(kind, Beneath)], ids=lambda kind: kind.kind
)
def test_what_lies_below_a_shot_is_kept_while_its_cell_stays(kind, moves, monkeypatch):
    class Passing(Stripes):
        def frame(self, media, index, width, exact):
            return np.roll(self.picture, 9 * index, 1)

    goes = tuple(Key(counts_from="proportion", at=at, value=0.2 + 0.8 * at) for at in (0, 1))
    share = Moving(keys=goes) if moves else fixed(1)
    cell = Step(id="cell", kind="cell", values={name: fixed(value) for name, value in CELL.items()} | {"share": share})
    project = film(Footage(media="m"), cell, step(kind, strong(kind)), background="#c0c0c0")
    shot = project.media["m"].model_copy(update={"kind": "video", "frames": 50})
    project = project.model_copy(update={"media": {"m": shot}})
    made, below = [], type(kind).beneath
    monkeypatch.setattr(type(kind), "beneath", lambda *given: made.append(1) or below(*given))
    one = Painter(Passing())
    frames = [one.paint(plan(evaluate(project, at), WIDTH, HEIGHT)) for at in range(10, 18)]
    # A second time shows that it comes again.
    assert len(made) == (8 if moves else 2)
    for at, frame in enumerate(frames, 10):
        assert (frame == Painter(Passing()).paint(plan(evaluate(project, at), WIDTH, HEIGHT))).all()
    assert (frames[0] != frames[1]).any()


def test_no_two_entries_of_the_list_of_steps_have_one_name():
    """Steps, the motions they come with, several at once, moves and looks stand in one list."""
    names = [kind.label for kind in KINDS.values()] + [ready.label for kind in KINDS.values() for ready in kind.ready]
    names += [each.label for each in (*TOGETHER.values(), *MOVES.values())] + [look.name for look in LOOKS.values()]
    assert [name for name, count in Counter(name.lower() for name in names).items() if count > 1] == []
