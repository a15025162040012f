"""What is solid: closed bodies, in their place before the camera, nearest first, lit as their surfaces are."""

import hashlib
import math
import os
import subprocess
import sys
from collections import Counter
from pathlib import Path

import cv2
import numpy as np
import pytest
from shapely.geometry import Polygon

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import (
    AddCamera,
    AddLight,
    AddShape,
    AddStep,
    EditError,
    GiveStep,
    SetChoice,
    SetProperty,
    SetValue,
)
from idle_comet.core.motion import Key, Linear, Moving
from idle_comet.core.picture import GAMMA, Matrix, Outlines, covered
from idle_comet.core.project.model import Project, Settings, Step, fixed
from idle_comet.core.space import (
    BEVELS,
    Cut,
    LightNow,
    Painted,
    Triangles,
    around,
    extruded,
    rasterise,
    region_of,
    rows_of,
)
from idle_comet.core.space.mesh import face_normals
from idle_comet.core.space.rasterise import _places_of
from idle_comet.core.type.faces import face_for

from .typed import edited, title

FAMILIES = ("archivo", "fraunces", "courier-prime", "caveat", "grenze-gotisch")
LETTERS = "ABDGMQRSWX&@%agijkö8"
AWAY = 1280 * 35 / 36
DRIFT = Moving(keys=(Key(at=0, value=0.0, ease=Linear()), Key(at=99, value=36.0)))
"""A bit more than a third of a px a frame."""


def halves(mesh):
    """How often each edge is walked along, by its direction."""
    a, b = mesh.faces.ravel(), np.roll(mesh.faces, -1, 1).ravel()
    return Counter(zip(a.tolist(), b.tolist()))


@pytest.mark.parametrize("place, family", tuple(enumerate(FAMILIES)))
def test_every_letter_is_a_closed_body(place, family):
    """By Euler's characteristic: 2 for each part of a letter, less 2 for each of its holes."""
    face, known = face_for(family, 650)
    assert known
    for number, letter in enumerate(LETTERS):
        region = region_of(face.pieces(face.hb_font.get_nominal_glyph(ord(letter)), 120) * 120)
        form = BEVELS[(place + number) % len(BEVELS)]
        mesh = extruded(region, 30, Cut(form, 2 + number % 4 * 4, 5), 0.05)
        edges = halves(mesh)
        assert set(edges.values()) == {1} and all((b, a) in edges for a, b in edges), (letter, form)
        euler = len(np.unique(mesh.faces)) - len(edges) // 2 + len(mesh.faces)
        # Slits thinner than outlines are exact are filled.
        parts = [part for part in region.geoms if part.buffer(-0.06).area > 0]
        holes = sum(Polygon(ring).buffer(-0.06).area > 0 for part in parts for ring in part.interiors)
        assert euler == 2 * len(parts) - 2 * holes, (letter, form)
        # All of it turned outwards, within its outline, and as large as it is deep.
        a, b, c = (mesh.spots[mesh.faces[:, k]] for k in range(3))
        volume = float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6)
        assert volume == pytest.approx(30 * region.area, rel=2e-3) if form == "none" else 0 < volume < 30 * region.area
        across = face_normals(mesh.spots, mesh.faces)
        outwards = np.einsum("mk,mik->mi", across, mesh.normals)
        assert (outwards > -1e-6 * np.linalg.norm(across, axis=1, keepdims=True)).mean() > 0.999


def unlit(colours):
    surfaces = np.array([[*colour, 0, 1, 0, 0, 0, 0, -1, -1, -1, 1, 0] for colour in colours], float)
    nothing = np.zeros((0, 1, 1, 3), np.float32), np.zeros(4, np.uint8), np.zeros((0, 3), np.int64)
    return Painted(surfaces, rows_of([]), *nothing)


def test_what_is_nearest_is_seen_as_by_rays():
    """Triangles through each other, against the nearest hit of a ray through every place of every px."""
    random = np.random.default_rng(4)
    wide, high, count = 60, 40, 40
    at = random.uniform((-10, -10, 1), (70, 50, 3), (count, 3, 3))
    corners = np.concatenate([at[..., :2] * at[..., 2:], np.full((count, 3, 1), -1.0), at[..., 2:]], -1)
    colours = random.uniform(0.1, 0.9, (count, 3))
    triangles = Triangles(corners, np.zeros((count, 3, 8)), np.arange(count), np.ones(count, bool))
    pixels, left, top = rasterise(triangles, unlit(colours), np.zeros(3), wide, high, True)
    whole = np.zeros((high, wide, 4))
    whole[top : top + pixels.shape[0], left : left + pixels.shape[1]] = pixels
    wanted = np.zeros((high, wide, 4))
    for x, y in _places_of(16):
        px, py = np.meshgrid(np.arange(wide) + x, np.arange(high) + y)
        nearest, light = np.full(px.shape, np.inf), np.zeros((*px.shape, 4))
        for triangle, colour in zip(at, colours):
            (ax, ay, az), (bx, by, bz), (cx, cy, cz) = triangle
            twice = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
            u = ((bx - px) * (cy - py) - (cx - px) * (by - py)) / twice
            v = ((cx - px) * (ay - py) - (ax - px) * (cy - py)) / twice
            depth = 1 / (u / az + v / bz + (1 - u - v) / cz)
            hit = (u >= 0) & (v >= 0) & (u + v <= 1) & (depth < nearest)
            nearest[hit] = depth[hit]
            light[hit] = (*colour, 1)
        wanted += light / 16
    cover = wanted[..., 3:]
    wanted[..., :3] = 255 * (wanted[..., :3] / np.maximum(cover, 1e-9)) ** (1 / GAMMA) * cover
    wanted[..., 3:] = 255 * cover
    assert np.abs(whole - wanted).max() < 0.05


def solid(film=None, wide=300, high=200, stands=None, **values):
    """A block of colour that stands in space."""
    film = film or Project(settings=Settings(name="S", background="#000000"))
    given = {name: fixed(float(value)) for name, value in values.items()}
    step = Step(id="solid", kind="solid", values=given, choices={"bevel": "none"})
    film = edited(
        film,
        AddShape(clip="block", frame=0, length=50, width=wide, height=high),
        SetValue(clip="block", step="content", name="colour", value="#ffffff"),
        AddStep(clip="block", at=0, step=step),
    )
    # What is made solid stands in space.
    return edited(
        film, *(SetValue(clip="block", step="stand", name=name, value=at) for name, at in (stands or {}).items())
    )


def painted(film, width=1280, height=720, exact=True, at=20):
    return Painter(None).paint(plan(evaluate(film, at), width, height, exact)).astype(float)


def turned(tilt, swing, roll):
    """(3, 3), by an independent way: SciPy's turns about fixed axes."""
    from scipy.spatial.transform import Rotation

    return Rotation.from_euler("zxy", [roll, tilt, swing], degrees=True).as_matrix()


@pytest.mark.parametrize(
    "stands",
    [
        {"swing": 35, "x": -120},
        {"tilt": -40, "y": 60, "z": 400},
        {"swing": -25, "tilt": 20, "roll": 15, "size": 1.4},
        # Its front is seen from its very side.
        {"swing": 90},
        {"tilt": 90, "roll": 30},
    ],
)
def test_a_block_lies_where_its_corners_are_seen(stands):
    film = solid(depth=120, stands=stands)
    corners = np.array([(x, y, z) for x in (-150, 150) for y in (-100, 100) for z in (0, 120)], float)
    place = [stands.get(name, 0.0) for name in "xyz"]
    world = corners * stands.get("size", 1) @ turned(*(stands.get(n, 0) for n in ("tilt", "swing", "roll"))).T + place
    seen = world[:, :2] * (AWAY / (AWAY + world[:, 2:])) + (640, 360)
    hull = cv2.convexHull(seen.astype(np.float32))[:, 0].astype(float)
    pieces = np.concatenate([hull, np.roll(hull, -1, 0)], 1)
    wanted = covered(Outlines.of([pieces]).moved([Matrix()]), 1280, 720)
    layer = Painter(None)
    patch = layer.patch(plan(evaluate(film, 20), 1280, 720, True).picture.children[0].picture)
    cover = np.zeros((720, 1280))
    cover[patch.y : patch.y + patch.height, patch.x : patch.x + patch.width] = patch.alpha / 255
    assert np.abs(cover - np.abs(wanted)).max() <= 2.1 / 16
    # Its outline is off by no more than a fiftieth of a px all the way round.
    around_it = np.linalg.norm(hull - np.roll(hull, -1, 0), axis=1).sum()
    assert abs(cover.sum() - np.abs(wanted).sum()) < 0.02 * around_it
    middle = [(np.indices(each.shape) * each).sum((1, 2)) / each.sum() for each in (cover, np.abs(wanted))]
    assert np.abs(middle[0] - middle[1]).max() < 0.02


@pytest.mark.parametrize("step", [("tumble", "swing"), ("tumble", "tilt"), ("turn_over", "turn")])
def test_a_body_that_turns_is_there_at_every_moment(step):
    """Where its front is seen from its very side, it is as it was just before and just after."""
    kind, name = step
    seen = []
    for degrees in (89.9, 90.0, 90.1):
        film = edited(
            solid(depth=120),
            AddStep(clip="block", at=1, step=Step(id="turn", kind=kind, values={name: fixed(degrees)})),
        )
        seen.append(painted(film)[..., 0])
    assert seen[1].sum() == pytest.approx((seen[0].sum() + seen[2].sum()) / 2, rel=0.02) and seen[1].sum() > 1e6


def test_a_front_lies_where_flat_ink_does_through_any_step():
    """As thin as nothing and without edges, a body covers what the flat words do, letter by letter too."""
    base = title("Bees 8&g", size=120)
    more = [
        Step(id="turn", kind="tumble", values={"tilt": fixed(30.0), "swing": fixed(-35.0), "size": fixed(0.9)}),
        Step(id="over", kind="turn_over", values={"turn": fixed(30.0), "shade": fixed(0.0), "x": fixed(60.0)}),
        Step(id="hand", kind="placement", values={"x": fixed(20.0), "rotation": fixed(8.0)}),
    ]
    thin = Step(id="s", kind="solid", values={"depth": fixed(0.02)}, choices={"bevel": "none"})
    for steps in (more[:1], more[1:2], more, (*more, Step(id="stand", kind="stand", values={"swing": fixed(20.0)}))):
        covers = []
        for own in (tuple(steps), (thin, *steps)):
            clip = base.clips["t"].model_copy(update={"steps": own})
            film = base.model_copy(update={"clips": {"t": clip}})
            patch = Painter(None).patch(plan(evaluate(film, 20), 640, 360, True).picture)
            cover = np.zeros((360, 640))
            cover[patch.y : patch.y + patch.height, patch.x : patch.x + patch.width] = patch.alpha
            covers.append(cover)
        flat, body = covers
        assert flat.max() > 200 and np.abs(flat - body).mean() < 0.25
        assert np.abs(cv2.blur(flat, (3, 3)) - cv2.blur(body, (3, 3))).max() < 20


@pytest.mark.parametrize("degrees", [0, 40, 70])
def test_a_matt_surface_is_lit_by_the_cosine(degrees):
    """Against Lambert: a light far away, at an angle to the front, on what neither shines nor mirrors."""
    far = 1e6
    turn = math.radians(degrees)
    light = LightNow("point", (far * math.sin(turn), 0.0, -far * math.cos(turn)))
    corners = np.array([[(10, 10), (110, 10), (10, 110)], [(110, 10), (110, 110), (10, 110)]], float)[:, ::-1]
    on = np.concatenate([corners, np.full((2, 3, 1), -1.0), np.ones((2, 3, 1))], -1)
    carried = np.zeros((2, 3, 8))
    carried[..., :2] = corners
    carried[..., 5] = -1
    surface = np.array([[0.6, 0.3, 0.9, 0, 1, 0, 0, 0, 0, -1, -1, -1, 0, 0]])
    no_texels = np.zeros(4, np.uint8), np.zeros((0, 3), np.int64)
    painted_by = Painted(surface, rows_of([light]), around("nothing"), *no_texels)
    flat = Triangles(on, carried, np.zeros(2, int), np.zeros(2, bool))
    pixels, left, top = rasterise(flat, painted_by, np.array([60.0, 60.0, -1000.0]), 120, 120, True)
    assert (left, top) == (10, 10)
    # What grazes the eye or the light is scattered a little less where it mirrors more (Fresnel).
    seen = (pixels[50, 50, :3] / 255) ** GAMMA
    assert seen == pytest.approx(np.array([0.6, 0.3, 0.9]) * math.cos(turn), rel=0.02 if degrees < 60 else 0.06)


def test_a_body_that_grows_begins_as_the_flat_ink_and_letters_follow_one_another():
    film = title("BEES", size=150)
    clip = film.clips["t"]
    flat = painted(film, 640, 360)
    none = clip.model_copy(update={"steps": (Step(id="s", kind="solid", values={"depth": fixed(0.0)}),)})
    assert (painted(film.model_copy(update={"clips": {"t": none}}), 640, 360) == flat).all()
    gold = edited(film, AddStep(clip="t", at=0, ready="solid-grow", step=Step(id="grow", kind="solid")))
    seen = {at: [painted(each, 640, 360, at=at)[..., :3] for each in (film, gold)] for at in (0, 6, 24)}
    sizes = [int((one != other).any(-1).sum()) for one, other in seen.values()]
    assert sizes[0] == 0 < sizes[1] <= sizes[2]


def test_a_light_picture_looks_like_the_exported_one():
    film = solid(depth=80, stands={"swing": 30, "tilt": 10}, metal=0.6, rough=0.3)
    exact, light = painted(film), painted(film, exact=False)
    assert 0 < np.abs(exact - light).mean() < 0.4
    half = painted(film, 640, 360)
    assert np.abs(cv2.resize(exact, (640, 360), interpolation=cv2.INTER_AREA) - half).mean() < 0.5


def test_it_wears_a_picture_and_mirrors_its_surroundings():
    class One:
        def frame(self, media, index, width, exact):
            picture = np.zeros((100, 200, 4), np.uint8)
            picture[:, :100], picture[:, 100:] = (255, 0, 0, 255), (0, 0, 255, 255)
            return picture

    film = solid(depth=30, metal=0, rough=1, shine=0, mirror=0)
    media = dict(id="m", name="m", kind="still", hash="0" * 64, path="m.png", width=200, height=100, frames=1)
    film = Project.model_validate({**film.model_dump(), "media": {"m": media}})
    film = edited(film, GiveStep(clip="block", step="solid", media="m"))
    seen = Painter(One()).paint(plan(evaluate(film, 20), 1280, 720, True))
    left, right = seen[360, 560, :3].astype(int), seen[360, 720, :3].astype(int)
    assert left[0] > 100 and left[2] < 20 and right[2] > 100 and right[0] < 20
    # Turned to the left its left side is seen, which has the picture only where it goes on to there.
    turned = edited(film, SetValue(clip="block", step="stand", name="swing", value=-60.0))
    for where, red in (("on the front", False), ("on all sides", True)):
        around = edited(turned, SetChoice(clip="block", step="solid", name="worn", value=where))
        seen = Painter(One()).paint(plan(evaluate(around, 20), 1280, 720, True)).astype(int)
        side = seen[360, :, :3][np.argwhere(seen[360, :, 3] > 250).ravel()]
        side = side[side.max(-1) > 8]
        assert (side[0][0] > 3 * side[0][2]) == red, where
    film = edited(film, SetChoice(clip="block", step="solid", name="worn", value="all around, mirrored"))
    values = (("metal", 1), ("mirror", 1), ("rough", 0.2))
    metal = edited(film, *(SetValue(clip="block", step="solid", name=n, value=v) for n, v in values))
    # What faces the viewer mirrors what lies behind it: the picture's two ends, which meet there.
    seen = Painter(One()).paint(plan(evaluate(metal, 20), 1280, 720))[..., :3].astype(int)
    left, right = seen[300:420, 500:540].mean((0, 1)), seen[300:420, 740:780].mean((0, 1))
    assert (left[0] - left[2]) * (right[0] - right[2]) < 0 and abs(left - right).max() > 40


def test_a_slow_move_is_even_from_frame_to_frame(monkeypatch):
    """Solid letters that a camera drifts past by a third of a px a frame: no frame is crisper than its neighbours, but
    for what it would be if each px were looked at in sixteen times as many places."""
    film = edited(
        title("Honey", size=130),
        AddStep(clip="t", at=0, step=Step(id="s", kind="solid", values={"depth": fixed(30.0)})),
        AddCamera(clip="eye", frame=0, length=100),
        *(SetProperty(clip="eye", step="content", name=name, property=DRIFT) for name in ("x", "aim_x")),
    )
    uneven = []
    for places in (16, 256):
        monkeypatch.setattr(sys.modules["idle_comet.core.space.rasterise"], "_MANY", _places_of(places))
        frames = [painted(film, at=at)[260:460, 300:980, 0] for at in range(20, 36)]
        moved = [np.abs(one - other).mean() for one, other in zip(frames, frames[1:])]
        assert min(moved) > 0.05 and max(moved) < 1.35 * min(moved), moved
        detail = [cv2.Laplacian(each, cv2.CV_64F).std() for each in frames]
        uneven.append(np.ptp(detail) / np.mean(detail))
    assert uneven[0] < uneven[1] + 0.012, uneven


def test_absurd_places_are_painted_or_leave_nothing_and_never_fail():
    """A camera inside a letter, one in its plane, a light inside the type, values at their ends."""
    film = solid(depth=120, stands={"swing": 20})
    film = edited(film, AddCamera(clip="eye", frame=0, length=50), AddLight(clip="lamp", frame=0, length=50))
    for values in (
        {"z": AWAY, "aim_z": 50},
        {"z": AWAY + 60, "aim_z": 4000},
        {"x": 100_000, "y": -100_000, "z": 100_000},
        {"z": AWAY, "x": 150, "aim_x": 150, "aim_z": 0},
        {"lens": 1, "sensor": 200},
        {"lens": 2000, "sensor": 1},
    ):
        moved = edited(film, *(SetValue(clip="eye", step="content", name=n, value=v) for n, v in values.items()))
        assert np.isfinite(painted(moved, 160, 90)).all()
    for at in ((0, 0, 60), (150, 100, 0), (1e5, 1e5, 1e5)):
        placed = edited(film, *(SetValue(clip="lamp", step="content", name=n, value=v) for n, v in zip("xyz", at)))
        assert painted(placed, 160, 90).max() <= 255
    for name, value in (("depth", 4000), ("wide", 400), ("deep", 400), ("turned", 36000)):
        assert np.isfinite(
            painted(edited(film, SetValue(clip="block", step="solid", name=name, value=value)), 160, 90)
        ).all()
    with pytest.raises(EditError, match="f-number"):
        edited(film, SetValue(clip="eye", step="content", name="stop", value=0))


@pytest.mark.parametrize("upper", [False, True])
def test_a_body_is_cut_where_a_plane_goes_through_it(upper):
    """A block beside the middle, whose inner side is seen: a board that stands through it hides that side behind where
    it meets it, whichever of the two lies above the other on the timeline."""

    def board(film):
        return edited(
            film,
            AddShape(clip="board", frame=0, length=50, width=1400, height=800),
            SetValue(clip="board", step="content", name="colour", value="#0000ff"),
            AddStep(clip="board", at=0, step=Step(id="stand", kind="stand", values={"z": fixed(100.0)})),
        )

    block = {"depth": 240, "stands": {"x": -420}}
    film = (
        board(solid(**block))
        if upper
        else solid(board(Project(settings=Settings(name="S", background="#000000"))), **block)
    )
    row = painted(film)[360]
    blue = (row[:, 2] > 1.5 * row[:, 0] + 40).astype(float)
    side = 640 + (-420 + 150) * AWAY / (AWAY + np.array([0.0, 100.0, 240.0]))
    seen = np.argmax(blue[round(side[0]) :]) + round(side[0])
    assert side[1] - 1.1 < seen < side[1] + 1.1 < side[2], (seen, side)
    # And the block's own front lies before the board.
    assert blue[round(side[0]) - 20] == 0


def test_words_that_stand_through_each_other_hide_each_other_where_they_are_behind():
    """Two blocks that cross, turned by a right angle to each other: on either side of where they meet another one is in
    front, and what is seen is the same whichever lies above."""

    def two(first, second):
        film = Project(settings=Settings(name="S", background="#000000"))
        for id, swing, colour in (first, second):
            film = edited(
                film,
                AddShape(clip=id, frame=0, length=50, width=400, height=200),
                SetValue(clip=id, step="content", name="colour", value=colour),
                AddStep(
                    clip=id,
                    at=0,
                    step=Step(id="s", kind="solid", values={"depth": fixed(40.0)}, choices={"bevel": "none"}),
                ),
                SetValue(clip=id, step="stand", name="swing", value=swing),
            )
        return painted(film)[..., :3]

    red, blue = ("red", 45.0, "#ff0000"), ("blue", -45.0, "#0000ff")
    one, other = two(red, blue), two(blue, red)
    assert np.abs(one - other).mean() < 0.02
    left, right = one[340:380, 520:600].mean((0, 1)), one[340:380, 690:770].mean((0, 1))
    assert (left[0] - left[2]) * (right[0] - right[2]) < 0, "each is in front on one side"


def hall():
    """Solid words through which a wall stands, by a lens, under a light that throws shadows."""
    film = edited(
        title("Honey & wax", size=110),
        AddStep(clip="t", at=0, ready="solid-gold", step=Step(id="s", kind="solid")),
        AddShape(clip="wall", frame=0, length=100, width=500, height=400),
        AddStep(clip="wall", at=0, step=Step(id="w", kind="stand", values={"swing": fixed(50.0), "z": fixed(20.0)})),
        AddLight(clip="lamp", frame=0, length=100),
        AddCamera(clip="eye", frame=0, length=100),
        SetChoice(clip="eye", step="content", name="sharp", value="by the lens"),
    )
    return hashlib.sha256(painted(film, 640, 360).tobytes()).hexdigest()


def test_another_process_paints_the_same_bytes():
    words = [sys.executable, "-c", "from tests.core.test_solid import hall; print(hall())"]
    at = {"cwd": Path(__file__).parents[2], "capture_output": True, "text": True}
    seen = subprocess.run(words, env={**os.environ, "PYTHONHASHSEED": "1"}, **at).stdout.strip()
    assert seen == hall()
