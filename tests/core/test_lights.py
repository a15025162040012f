"""Lights on what stands in space, and the shadows it throws: against closed forms, geometry and many small lights."""

import math

import cv2
import numpy as np
import pytest

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import (
    AddCamera,
    AddLight,
    AddShape,
    AddStep,
    EditError,
    MoveCamera,
    SetChoice,
    SetLight,
    SetShutter,
    SetValue,
    apply,
)
from idle_comet.core.moment.lights import lights_at
from idle_comet.core.picture import GAMMA
from idle_comet.core.project.model import Project, Settings, Shutter, Step, fixed

from .typed import edited

WIDTH, HEIGHT = 1280, 720


def board(film=None, id="wall", colour="#ffffff", size=(4000, 3000), **stands):
    """A flat board that stands in space."""
    film = film or Project(settings=Settings(name="S", background="#000000"))
    values = {name: fixed(float(value)) for name, value in stands.items()}
    return edited(
        film,
        AddShape(clip=id, frame=0, length=100, width=size[0], height=size[1]),
        SetValue(clip=id, step="content", name="colour", value=colour),
        AddStep(clip=id, at=0, step=Step(id="stand", kind="stand", values=values)),
    )


def lit(film, id="lamp", sort="point", shadows="cast", fades="stays as strong", **values):
    film = edited(film, AddLight(clip=id, frame=0, length=100, sort=sort))
    if f"{id}-dim" in film.clips:
        film = edited(film, SetValue(clip=f"{id}-dim", step="content", name="strength", value=0))
    choices = (("shadows", shadows), ("fades", fades))
    film = edited(film, *(SetChoice(clip=id, step="content", name=name, value=value) for name, value in choices))
    given = {"colour": "#ffffff", **values}
    return edited(film, *(SetValue(clip=id, step="content", name=name, value=value) for name, value in given.items()))


def light(film, at=20, width=WIDTH, height=HEIGHT):
    """(h, w, 3) light of what is painted, as exported."""
    pixels = Painter(None).paint(plan(evaluate(film, at), width, height))[..., :3]
    return (pixels.astype(float) / 255) ** GAMMA


def world(z=0.0):
    """(h, w, 3): the point of a plane that is seen at each px, so far away."""
    away = WIDTH * 35 / 36
    x, y = np.meshgrid(np.arange(WIDTH) + 0.5 - WIDTH / 2, np.arange(HEIGHT) + 0.5 - HEIGHT / 2)
    by = (away + z) / away
    return np.stack([x * by, y * by, np.full_like(x, z)], -1)


def test_a_matt_plane_is_lit_by_the_cosine_and_by_the_square_of_the_distance():
    at = np.array([-300.0, -200.0, -500.0])
    placed = dict(zip("xyz", at.tolist()))
    way = at - world(200)
    far = np.linalg.norm(way, axis=-1)
    cos = -way[..., 2] / far
    same = light(lit(board(z=200), strength=0.9, **placed))
    # A code value at most, and what rounding to it is worth.
    assert np.abs(same[..., 0] ** (1 / GAMMA) - (0.9 * cos) ** (1 / GAMMA)).max() * 255 < 1.6
    fading = light(lit(board(z=200), strength=0.9, fades="fades", reach=800, **placed))
    assert (
        np.abs(fading[..., 1] ** (1 / GAMMA) - np.minimum(1, 0.9 * cos * (800 / far) ** 2) ** (1 / GAMMA)).max()
        < 1.6 / 255
    )


def test_a_spot_ends_where_its_cone_does_and_is_soft_within():
    film = lit(board(), sort="spot", x=-200, y=100, z=-700, aim_x=100, aim_y=-50, aim_z=0, cone=40, feather=0.5)
    at, aim = np.array([-200.0, 100, -700]), np.array([100.0, -50, 0])
    way = world() - at
    far = np.linalg.norm(way, axis=-1)
    along = (way @ (aim - at)) / far / np.linalg.norm(aim - at)
    inner, outer = math.cos(math.radians(10)), math.cos(math.radians(20))
    share = np.clip((along - outer) / (inner - outer), 0, 1)
    wanted = share * share * (3 - 2 * share) * way[..., 2] / far
    assert np.abs(light(film)[..., 0] ** (1 / GAMMA) - wanted ** (1 / GAMMA)).max() * 255 < 1.6
    assert (light(film)[..., 0][along < outer - 1e-6] == 0).all() and wanted.max() > 0.7


def thrown(z=-200.0, size=0.0, **lamp):
    """A board before a wall, and a light before both."""
    placed = {"x": -250.0, "y": 0.0, "z": -700.0, **lamp}
    film = board(board(z=100), id="board", size=(160, 3000), x=120, z=z)
    return lit(film, size=size, strength=1, **placed)


def test_a_hard_shadow_lies_where_geometry_has_it():
    film = thrown(size=0)
    seen = light(film)[HEIGHT // 2, :, 0]
    way = world(100)[HEIGHT // 2]
    cos = 800 / np.linalg.norm(way - np.array([-250.0, 0, -700]), axis=-1)
    # The board's sides, at x = 40 and 200, through the light onto the wall, as the camera sees them.
    away = WIDTH * 35 / 36
    edges = [(-250 + (x + 250) * 800 / 500) * away / (away + 100) + WIDTH / 2 for x in (40, 200)]
    shade = 1 - seen / cos
    # What the board itself hides is left out.
    before = [x * away / (away - 200) + WIDTH / 2 for x in (40, 200)]
    free = np.arange(WIDTH) > before[1] + 2
    within = (np.arange(WIDTH) > edges[0] + 1) & (np.arange(WIDTH) < edges[1] - 1) & free
    beside = (np.arange(WIDTH) > edges[1] + 1) & free
    assert within.sum() > 20 and shade[within].min() > 0.99 and np.abs(shade[beside]).max() < 0.02
    assert shade[int(edges[1]) - 8 : int(edges[1]) + 8].sum() == pytest.approx(8 + edges[1] % 1, abs=0.3)


def test_a_wide_light_makes_the_shadow_of_many_small_ones():
    """The penumbra of a round light, against the mean of 48 hard lights spread over it."""
    wide = light(thrown(size=120))[..., 0]
    radius, turn = 60 * np.sqrt((np.arange(48) + 0.5) / 48), np.arange(48) * math.pi * (3 - math.sqrt(5))
    total = 0.0
    for r, t in zip(radius, turn):
        total = (
            total + light(thrown(size=0, x=-250 + r * math.cos(t), y=r * math.sin(t)), width=320, height=180)[..., 0]
        )
    wanted = total / 48
    small = cv2.resize(wide, (320, 180), interpolation=cv2.INTER_AREA)
    off = np.abs(small - wanted)[40:140]
    # The board's own edges are cut between other px in a picture of another size.
    off[:, 168:232] = 0
    assert off.mean() < 0.004 and off.max() < 0.06, (off.mean(), off.max())
    # As wide as the light by how far the board is from the wall, by how far it is from the light: across a disc so
    # wide what is covered rises by 4 / (π · diameter) a px in its middle.
    row, bare = (light(film)[HEIGHT // 2, :, 0] for film in (thrown(size=120), lit(board(z=100), x=-250, y=0, z=-700)))
    away = WIDTH * 35 / 36
    seen = (row / np.maximum(bare, 1e-6))[int(200 * away / (away - 200) + WIDTH / 2) + 3 :]
    slope = np.diff(cv2.GaussianBlur(seen[None], (0, 0), 2.0)[0]).max()
    assert 4 / (math.pi * slope) == pytest.approx(120 * 300 / 500 * away / (away + 100), rel=0.05)


def test_what_stands_on_a_ground_throws_a_shadow_that_begins_at_its_foot():
    film = board(id="ground", y=200, tilt=90, size=(4000, 2000))
    film = board(film, id="post", size=(60, 300), y=50, z=300, colour="#ff0000")
    film = edited(
        film, AddCamera(clip="eye", frame=0, length=100), SetValue(clip="eye", step="content", name="y", value=-400)
    )
    film = lit(film, x=500, y=-500, z=-100, size=40)
    open_ground = light(edited(film, SetChoice(clip="lamp", step="content", name="shadows", value="none")))
    share = light(film)[..., 1] / np.maximum(open_ground[..., 1], 1e-6)
    ground = open_ground[..., 1] > 0.05
    dark = ground & (share < 0.5)
    assert dark.sum() > 400
    # It begins at the post's foot, where the post meets the ground, and is there as sharp as nowhere else.
    red = (open_ground[..., 0] > 4 * open_ground[..., 1]) & (open_ground[..., 0] > 0.02)
    rows, columns = np.nonzero(red)
    foot = rows.max(), columns[rows > rows.max() - 3].min()
    ys, xs = np.nonzero(dark)
    near = np.hypot(ys - foot[0], xs - foot[1]).min()
    assert near < 6, near


def test_behind_the_wall_nothing_throws_a_shadow_and_light_shines_on_one_side():
    plain = lit(board(z=100), x=0, y=0, z=-700)
    behind = lit(board(board(z=100), id="late", size=(200, 200), z=400), x=0, y=0, z=-700)
    assert (light(plain) == light(behind)).all()
    beyond = lit(board(z=100), x=0, y=0, z=700)
    assert light(beyond).max() == 0


def test_the_first_light_leaves_nothing_black_and_without_any_all_is_as_it_was():
    film = board(z=100, colour="#c08040")
    first = edited(film, AddLight(clip="lamp", frame=0, length=50))
    assert [each.sort for each in lights_at(first, None, 20)] == ["everywhere", "spot"]
    assert light(first)[..., 0].min() > 0.05
    # Past its end, and while it is hidden, things are seen as they are.
    assert (light(first, at=70) == light(film, at=70)).all() and lights_at(film, None, 20) is None
    more = edited(first, AddLight(clip="more", frame=0, length=50, sort="point"))
    assert len(lights_at(more, None, 20)) == 3


def test_a_light_is_set_up_about_what_stands_in_space():
    film = lit(board(board(z=100), id="late", x=300, z=400), sort="spot")
    film = edited(film, SetLight(clip="lamp", side="above left", onto="late", frame=20))
    found = lights_at(film, None, 20)[-1]
    assert found.aim == (300, 0, 400) and found.at[0] < 300 and found.at[1] < 0 and found.at[2] < 400
    # Without a side it points there from where it is.
    turned = lights_at(edited(film, SetLight(clip="lamp", side=None, onto="wall", frame=20)), None, 20)[-1]
    assert turned.at == found.at and turned.aim == (0, 0, 100)
    for wrong in (
        SetLight(clip="late", side="before"),
        SetLight(clip="lamp-dim", side="before"),
        SetLight(clip="lamp", side="before", onto="lamp"),
        SetLight(clip="lamp", side="before", onto="nobody"),
    ):
        with pytest.raises(EditError):
            apply(film, wrong)


def test_shadows_stay_while_the_shutter_is_open():
    """A wall that a moving camera sees: its shadow is blurred with it, and does not go."""
    film = edited(thrown(size=30), AddCamera(clip="eye", frame=0, length=100))
    film = edited(film, MoveCamera(clip="eye", move="slide", amount=2.0))
    still = light(film, width=320, height=180)[..., 0]
    open_one = light(edited(film, SetShutter(shutter=Shutter(angle=180))), width=320, height=180)[..., 0]
    assert np.abs(still - open_one).mean() < 0.03 and np.abs(still - open_one).max() > 0.01


def block(film=None, depth=40.0, **given):
    """A board that is solid, and matt."""
    film = board(film, **given)
    matt = {"depth": depth, "metal": 0, "rough": 1, "shine": 0, "mirror": 0}
    step = Step(
        id="solid", kind="solid", values={n: fixed(float(v)) for n, v in matt.items()}, choices={"bevel": "none"}
    )
    return edited(film, AddStep(clip=given.get("id", "wall"), at=0, step=step))


def test_a_light_close_before_wide_words_throws_shadows_too():
    """Nearer than the block is wide."""
    film = block(block(size=(900, 500)), id="rod", size=(60, 900), depth=1.0, x=-100, z=-200)
    near = {"x": 60, "y": 0, "z": -400, "size": 0}
    bare, thrown = (light(lit(film, shadows=each, **near))[360, :, 1] for each in ("none", "cast"))
    left, right = (round(640 + 60 + (x - 60) * 400 / 200) for x in (-130, -70))
    share = thrown[: right + 30] / np.maximum(bare[: right + 30], 1e-6)
    assert share[left + 4 : right - 4].max() < 0.02
    assert share[200 : left - 4].min() > 0.99 < share[right + 4 :].min()


@pytest.mark.parametrize("rod", [block, board])
@pytest.mark.parametrize("wide", [0, 120])
def test_on_a_body_shadows_lie_where_geometry_has_them(wide, rod):
    """A rod before a block, solid or flat: on the block's front its shadow's edges lie where straight lines from the
    light lead, and a wide light's are as wide as it is seen past the rod. Everywhere else nothing changes."""
    thin = {"depth": 1.0} if rod is block else {}
    film = rod(block(size=(900, 500)), id="rod", size=(60, 900), x=-100, z=-200, **thin)
    places = {"x": -600, "y": 0, "z": -1200, "size": wide}
    bare, thrown = (light(lit(film, shadows=each, **places))[360, :, 1] for each in ("none", "cast"))
    on = slice(570, 1080)
    share = thrown[on] / bare[on]
    assert share.min() < 0.02 and share[200:].min() > 0.99, "in the middle it is dark, and far off it is as it was"
    edges = 640 + np.array([-600 + (x + 600) * 1200 / 1000 for x in (-130.0, -70.0)])
    columns = np.arange(on.start, on.stop) + 0.5
    half = [columns[np.flatnonzero(np.diff(share < 0.5))[n]] + 0.5 for n in (0, 1)]
    # As near as two px of what the light sees.
    assert np.abs(half - edges).max() < (2.2 if wide == 0 else 3)
    # A round light is half hidden over 0.4 of its width.
    falls = ((share > 0.25) & (share < 0.75)).sum() / 2
    assert falls <= 1 if wide == 0 else falls == pytest.approx(0.404 * wide * 200 / 1000, rel=0.25)


def test_a_body_is_not_in_its_own_way():
    """A ball of boards: turned block by block, what faces the light is as bright with shadows as without, and a letter
    throws its shadow on its neighbour."""
    for swing in (0.0, 25.0, 50.0):
        film = block(size=(500, 400), depth=200.0, swing=swing, tilt=20)
        bare, thrown = (light(lit(film, shadows=each, x=-900, y=-700, z=-1500, size=60)) for each in ("none", "cast"))
        assert np.abs(thrown - bare).max() < 0.02


def test_a_model_lies_in_the_shadow_of_what_is_before_the_light():
    film = block(block(size=(400, 400)), id="rod", size=(400, 400), depth=20.0, z=-400, x=-700)
    seen = [
        light(lit(film, shadows=each, x=-1400, y=0, z=-800, size=0))[360, 640 - 150 : 640 + 150, 1]
        for each in ("none", "cast")
    ]
    assert seen[0].min() > 0.2 and seen[1].max() < 0.02
