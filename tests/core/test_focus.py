"""Focus: discs of the thin lens on exported frames, against closed forms and against many pinholes."""

import math

import numpy as np
import pytest
from scipy import ndimage

from idle_comet.core.compose import evaluate
from idle_comet.core.edits import (
    AddCamera,
    AddShape,
    AddStep,
    AddTitle,
    EditError,
    FocusOn,
    SetChoice,
    SetProperty,
    SetValue,
    StandTo,
    TrimClip,
)
from idle_comet.core.moment.course import course_of
from idle_comet.core.moment.standing import stand
from idle_comet.core.moment.surroundings import sharp_course, surroundings
from idle_comet.core.motion import Key, Moving
from idle_comet.core.picture import EVERYWHERE, Discs, Matrix, Opening, Patch, Rect, defocused
from idle_comet.core.project.model import Project, Settings, Step, fixed
from idle_comet.core.steps import STAND

from .test_space import AWAY, board, quad, seen_by
from .typed import coloured_frame, edited


def by_lens(film, **values):
    return edited(seen_by(film, **values), SetChoice(clip="eye", step="content", name="sharp", value="by the lens"))


def disc(z, sharp=AWAY, lens=35.0, sensor=36.0, stop=2.8, metres=1.0):
    """A·f·|z − s|/(z·(s − f)) on the sensor, in mm; in px of a frame 1280 wide."""
    mm = 1000 * metres / 1280
    z, sharp = z * mm, sharp * mm
    return lens / stop * lens * abs(z - sharp) / (z * (sharp - lens)) * 1280 / sensor


def spread(profile):
    """The width of the disc that makes this of an edge: what an edge becomes has the slope of a disc's shadow, whose
    variance is d²/16."""
    slope = np.abs(np.diff(profile))
    places = np.arange(len(slope))
    middle = (slope * places).sum() / slope.sum()
    return 4 * math.sqrt((slope * (places - middle) ** 2).sum() / slope.sum())


@pytest.mark.parametrize(
    "z, given",
    [
        (900, {"stop": 1.0}),
        (-500, {"stop": 1.4}),
        (2400, {"stop": 2.0}),
        (900, {"stop": 4.0, "lens": 85.0}),
        (600, {"stop": 1.0, "metres": 0.4}),
        (300, {"stop": 1.0, "focus": -600.0}),
        (1500, {"stop": 1.0, "metres": 3.0, "sensor": 24.0}),
    ],
)
def test_an_edge_out_of_focus_is_as_wide_as_the_thin_lens_has_it(z, given):
    film = board(width=400, height=4000, z=z, drawn=(200, 0))
    # What covers half of a px is half as bright over black.
    cover = coloured_frame(by_lens(film, **given), 50)[360, :, 0] / 192
    lens = {name: given[name] for name in ("lens", "sensor", "stop", "metres") if name in given}
    wide = disc(AWAY + z, AWAY + given.get("focus", 0), **lens)
    assert wide > 5
    # A frame's whole code values and a px's own width are in it, too.
    assert spread(cover[640 - int(wide) : 640 + int(wide)]) == pytest.approx(wide, rel=0.02, abs=0.1)


def test_what_is_out_of_focus_is_the_mean_of_what_every_point_of_the_opening_sees():
    """A tilted board, half of it nearer than what is sharp and half beyond; pinholes all over the lens, each with the
    frame shifted so that what is sharp stays where it is."""
    stands = {"z": 200, "swing": 55.0}
    film = board(width=700, height=500, **stands)
    given = {"stop": 1.0, "focus": 200.0, "metres": 0.5}
    seen = coloured_frame(by_lens(film, **given), 50)[..., 0]
    focal, mm, sharp = 1280 * 35 / 36, 500 / 1280, AWAY + 200
    # Set that near, a lens spreads light more than one set to far away.
    radius = 35.0 / mm / 2 * sharp / (sharp - 35 / mm)
    turn = math.radians(55)
    every = 7
    y, x = np.mgrid[0:720:every, 0:1280:every] + 0.5
    seen, total, count = seen[::every, ::every], np.zeros(x.shape), 1600
    for number in range(count):
        far, angle = radius * math.sqrt((number + 0.5) / count), number * math.pi * (3 - math.sqrt(5))
        ax, ay = far * math.cos(angle), far * math.sin(angle)
        # A ray from (ax, ay) on the lens through a px, at a depth of d: X = ax + rx·d, Y = ay + ry·d, z = d − AWAY. It
        # meets the board's plane, X·sin + (z − 200)·cos = 0.
        rx, ry = (x - 640) / focal - ax / sharp, (y - 360) / focal - ay / sharp
        d = ((AWAY + 200) * math.cos(turn) - ax * math.sin(turn)) / (rx * math.sin(turn) + math.cos(turn))
        across, down = (ax + rx * d) / math.cos(turn), ay + ry * d
        total += (np.abs(across) < 350) & (np.abs(down) < 250) & (d > 0)
    cover = total / count
    edges = (cover > 0.01) & (cover < 0.99)
    assert edges.sum() > 300 and np.abs(seen - 192 * cover)[edges].mean() < 2
    # Where all of the opening sees the board, it is as bright as it is.
    inner = ndimage.binary_erosion(cover == 1)
    assert inner.sum() > 2000 and np.abs(seen - 192)[inner].max() <= 2


def test_a_bright_point_becomes_the_opening_and_keeps_its_light():
    for blades, top in ((0, 1.0), (5, None)):
        pixels = np.zeros((41, 41, 4), np.float32)
        pixels[20, 20] = 255
        discs = Discs(13.0, 0, 0, 400, Opening(blades, 0.0, -90))
        made = defocused(Patch(pixels, 0, 0), discs, Rect(-100, -100, 200, 200))
        cover = made.pixels[..., 3] / 255
        assert cover.sum() == pytest.approx(1, abs=1e-3)
        area = math.pi * 6.5**2 if top else 5 / 2 * math.sin(2 * math.pi / 5) * 6.5**2
        assert cover.max() == pytest.approx(1 / area, rel=0.04)
        other = defocused(Patch(pixels, 0, 0), discs._replace(first=-13.0), Rect(-100, -100, 200, 200)).pixels[..., 3]
        assert np.abs(other[::-1, ::-1] / 255 - cover).max() < 1e-4, "what is nearer stands on its head"


def test_a_highlight_shines_as_many_times_brighter_where_it_is_out_of_focus_and_only_there():
    frame = Rect(0, 0, 120, 60)
    pixels = np.zeros((60, 120, 4), np.float32)
    pixels[..., 3] = 255
    white, grey = (30, 30), (30, 90)
    pixels[white][:3], pixels[grey][:3] = 255, 128
    patch = Patch(pixels, 0, 0, extends=EVERYWHERE)
    for times in (1.0, 6.0):
        made = defocused(patch, Discs(13.0, 0, 0, 400, highlights=times), frame).pixels[..., 0] / 255
        share = 1 / (math.pi * 6.5**2)
        assert made[white] ** 2.4 == pytest.approx(times * share, rel=0.05)
        # What is no highlight is spread as it is.
        assert made[grey] ** 2.4 == pytest.approx((128 / 255) ** 2.4 * share, rel=0.05)
    pixels[30, 60, :3] = 230
    sharp_there = Discs(-60.5, 1.0, 0, 400, highlights=6.0)
    assert defocused(patch, sharp_there, frame).pixels[30, 60, 0] == pytest.approx(230, abs=2)


def test_the_camera_tells_its_lens_how_bright_highlights_are():
    """What shines twice as bright before black covers twice as much of it."""
    film = by_lens(board(width=12, height=12, z=900), stop=1.4)
    film = edited(film, SetValue(clip="red", step="content", name="colour", value="#ffffff"))
    dim, bright = (
        coloured_frame(edited(film, SetValue(clip="eye", step="content", name="highlights", value=each)), 20)
        for each in (1, 2)
    )
    assert bright.max() < 250 and bright.sum() / dim.sum() == pytest.approx(2, rel=0.05)


@pytest.mark.parametrize("across", [0.0, 0.02, -0.05])
def test_sizes_go_over_into_each_other(across):
    """From next to nothing to discs done where a px is four times as large: an even picture stays even, and light
    behind a slit is only spread."""
    discs = Discs(2.0 if across >= 0 else 52.0, across, 0, 400)
    flat = Patch(np.full((60, 1000, 4), (90, 140, 30, 255), np.float32), 0, 0, extends=EVERYWHERE)
    made = defocused(flat, discs, Rect(0, 0, 1000, 60))
    assert made.rect == flat.rect and made.extends == EVERYWHERE
    assert np.abs(made.pixels[:, 60:-60] - (90, 140, 30, 255)).max() < 2
    slit = np.zeros((160, 1000, 4), np.float32)
    slit[60:100] = 255
    spread_out = defocused(Patch(slit, 0, 0), discs, Rect(-200, -200, 1200, 400)).pixels[..., 3] / 255
    assert spread_out.sum() == pytest.approx(40 * 1000, rel=2e-3)


def test_parts_of_a_picture_are_spread_as_the_whole_is():
    rng = np.random.default_rng(3)
    pixels = (rng.random((200, 300, 4)) * 255).astype(np.float32)
    pixels[..., :3] *= pixels[..., 3:] / 255
    for first in (9.0, 30.0):
        discs = Discs(first, 0.01, -0.02, 400)
        whole = defocused(Patch(pixels, 11, 7), discs, Rect(120, 60, 180, 120))
        part = defocused(Patch(pixels, 11, 7).cut(Rect(80, 20, 230, 170)), discs, Rect(120, 60, 180, 120))
        assert whole.rect == part.rect and np.abs(whole.pixels - part.pixels).max() < 0.05


def test_everything_sharp_is_the_picture_as_it_was_and_flat_clips_stay_sharp():
    film = board(width=400, height=300, z=700)
    assert np.array_equal(coloured_frame(seen_by(film), 50), coloured_frame(film, 50))
    flat = edited(
        film,
        AddShape(clip="flat", frame=0, length=100, x=0, y=0, width=100, height=60),
        SetValue(clip="flat", step="content", name="colour", value="#ffffff"),
    )
    before = coloured_frame(seen_by(flat), 50)
    after = coloured_frame(by_lens(flat, stop=1.0), 50)
    there = before.min(-1) > 250
    assert there.sum() > 1000 and np.array_equal(before[there], after[there]) and not np.array_equal(before, after)


def test_it_looks_the_same_at_half_the_size():
    film = by_lens(board(width=500, height=300, z=900, swing=30.0), stop=1.0)
    whole, half = coloured_frame(film, 50), coloured_frame(film, 50, 640, 360)
    less = whole.reshape(360, 2, 640, 2, 3).mean((1, 3))
    assert np.abs(less - half).mean() < 0.6


def around(film, at=50):
    return surroundings(film, None, at)


def plane_of(film, id, at=50):
    return next(each for each in around(film, at).planes if each.clip == id)


def test_the_lens_is_set_to_what_is_pointed_at_and_pulled_there():
    film = board(id="blue", width=1400, height=900, z=900, swing=40.0)
    film = board(film, "red", drawn=(300, 0), width=200, height=200, z=-300)
    film = seen_by(film, stop=1.4)
    for at, clip in (((460, 300), "blue"), ((1000, 360), "red")):
        focused = edited(film, FocusOn(clip="eye", frame=50, at=at))
        layer = next(each for each in evaluate(focused, 50).layers if each.clip == clip)
        step = next(each for each in layer.steps if each.kind == "stand")
        standing = stand(layer.content, 1280, 720)
        discs = STAND.discs(step.values, standing.rest(step.leaving, step.pivot), Matrix())
        assert discs.at(*at) < 0.02 and around(focused).sharp.near < around(focused).sharp.at
    pulled = edited(film, FocusOn(clip="eye", frame=60, at=(1000, 360), pulls=25))
    discs = [plane_of(pulled, "red", frame).disc for frame in (20, 35, 47, 60, 80)]
    assert discs[0] == pytest.approx(discs[1]) and discs[1] > 3 and discs[1] > discs[2] > discs[3]
    assert discs[3] < 0.02 and discs[4] < 0.02
    with pytest.raises(EditError, match="nothing to focus on"):
        edited(film, FocusOn(clip="eye", frame=50, at=(1279, 719)))


def test_what_is_said_of_space_is_what_happens():
    film = by_lens(board(board(id="red", z=-200), "green", z=1500), stop=2.0)
    told = around(film)
    moved = edited(film, *(SetValue(clip="eye", step="content", name=name, value=100) for name in ("x", "aim_x")))
    for plane in told.planes:
        before, after = quad(film, plane.clip), quad(moved, plane.clip)
        assert np.subtract(before, after).mean(0) == pytest.approx((plane.passes, 0), abs=1e-6)
        assert plane.disc == pytest.approx(disc(plane.ahead, stop=2.0), rel=1e-9)
    for far in (told.sharp.near, told.sharp.far):
        assert disc(far, stop=2.0) == pytest.approx(1280 / 1500, rel=1e-6)
    # With f/22 and a large world nothing is too far away.
    assert around(by_lens(board(id="red"), stop=22, metres=20, lens=16)).sharp.far is None


@pytest.mark.parametrize("where, by", [("behind", 250), ("in front of", -250)])
def test_what_stands_behind_another_is_seen_as_it_was(where, by):
    film = seen_by(board(id="red", drawn=(120, -60), width=200, height=150, z=300), x=150, y=-40, roll=5)
    film = edited(film, AddShape(clip="blue", frame=0, length=100, x=-200, y=80, width=160, height=90))
    stands = edited(film, StandTo(clip="blue", other="red", where=where, frame=50, gap=250))
    assert plane_of(stands, "blue").ahead == pytest.approx(plane_of(stands, "red").ahead + by, abs=1e-3)
    kept = edited(stands, StandTo(clip="blue", other="red", where="behind", frame=50, gap=900))
    assert np.abs(np.subtract(quad(kept, "blue"), quad(stands, "blue"))).max() < 0.02
    with pytest.raises(EditError, match="no room before the camera"):
        edited(film, StandTo(clip="blue", other="red", where="in front of", frame=50, gap=9000))


def test_words_that_are_blurred_while_they_are_to_be_read_are_named():
    film = edited(
        Project(settings=Settings(name="S")),
        AddTitle(clip="t", frame=0, text="Ottoline Brask has kept bees since nineteen eighty-four"),
        TrimClip(clip="t", head=0, length=150),
        AddStep(clip="t", at=1, step=Step(id="stand", kind="stand", values={"z": fixed(-600.0)})),
        AddCamera(clip="eye", frame=0, length=150),
        SetChoice(clip="eye", step="content", name="sharp", value="by the lens"),
        SetValue(clip="eye", step="content", name="stop", value=1.0),
    )

    def said(film):
        return [each for each in course_of(film, film.clips["t"]).notes if "out of focus" in each]

    (note,) = said(film)
    assert "sharp for 0.0 s" in note
    assert not said(edited(film, SetValue(clip="eye", step="content", name="focus", value=-600)))
    assert not said(edited(film, SetValue(clip="eye", step="content", name="stop", value=22)))
    # Pulled there in time it is sharp for long enough; too late it is not.
    for at, late in ((30, False), (140, True)):
        keys = Moving(keys=(Key(at=at - 10, value=0.0), Key(at=at, value=-600.0)))
        assert bool(said(edited(film, SetProperty(clip="eye", step="content", name="focus", property=keys)))) == late


def test_the_sharp_band_is_told_over_the_clip_as_it_is_at_each_frame():
    film = by_lens(board(id="red", z=400), stop=1.4)
    assert sharp_course(seen_by(board(id="red", z=400)), seen_by(board(id="red", z=400)).clips["eye"]) is None
    pull = Moving(keys=(Key(at=20, value=0.0), Key(at=60, value=400.0)))
    film = edited(film, SetProperty(clip="eye", step="content", name="focus", property=pull))
    told = sharp_course(film, film.clips["eye"])
    assert told.frames[0] == 0 and told.frames[-1] == 99 and told.planes[0].name == film.clips["red"].name
    for place in (0, len(told.frames) // 2, -1):
        now = surroundings(film, None, told.frames[place])
        assert (told.near[place], told.at[place], told.far[place]) == (now.sharp.near, now.sharp.at, now.sharp.far)
        assert told.planes[0].ahead[place] == now.planes[0].ahead
    assert told.at[-1] == pytest.approx(told.planes[0].ahead[-1])


@pytest.mark.parametrize("opening", [Opening(), Opening(5, 0.2)], ids=["round", "of blades"])
def test_a_light_picture_is_blurred_as_the_exported_one_is(opening):
    random = np.random.default_rng(3)
    pixels = np.zeros((121, 203, 4), np.float32)
    # Detail as pictures have it: none of single px.
    detail = ndimage.gaussian_filter(random.random((80, 140)), 1.5)
    pixels[20:100, 30:170] = np.clip(128 + 500 * (detail[..., None] - 0.5), 1, 255)
    pixels[..., 3] = np.where(pixels[..., 0] > 0, 255, 0)
    patch, window = Patch(pixels, -7, 11), Rect(-60, -60, 300, 240)
    discs = Discs(14.0, 0.02, -0.01, 100, opening)
    exact, light = (defocused(patch, discs, window, lightly) for lightly in (False, True))

    def laid(made):
        whole = np.zeros((300, 360, 4))
        whole[made.y + 60 : made.y + 60 + made.height, made.x + 60 : made.x + 60 + made.width] = made.pixels
        return whole

    off = np.abs(laid(exact) - laid(light))
    assert off.mean() < 0.8 and off.max() < 30
    assert abs(laid(exact)[..., 3].sum() / laid(light)[..., 3].sum() - 1) < 0.01
    # What is sharp somewhere is done with care.
    sharp = Discs(0.0, 0.05, 0.0, 100, opening)
    assert (defocused(patch, sharp, window).pixels == defocused(patch, sharp, window, True).pixels).all()
