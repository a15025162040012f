"""Space: planes before a camera, against an independent pipeline, the browser, and brute force."""

import math

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_comet.core.compose import evaluate
from idle_comet.core.edits import (
    AddCamera,
    AddShape,
    AddStep,
    ChangeSettings,
    EditError,
    FillFrame,
    MoveCamera,
    SetChoice,
    SetProperty,
    SetSeen,
    SetShutter,
    SetValue,
    SplitClips,
)
from idle_comet.core.moment.handles import clip_at
from idle_comet.core.moment.surroundings import surroundings
from idle_comet.core.moment.whereabouts import whereabouts_of
from idle_comet.core.motion import Key, Linear, Moving
from idle_comet.core.motion.handheld import turns_at
from idle_comet.core.project.model import Project, Settings, Shutter, Step, fixed

from .typed import coloured_frame, edited, frame, ink_box

AWAY = 1280 * 35 / 36
COLOURS = {"red": "#c00000", "green": "#00c000", "blue": "#0000c0"}


def board(film=None, id="red", drawn=(0, 0), width=300, height=200, **stands):
    """A board that stands in space."""
    film = film or Project(settings=Settings(name="S"))
    values = {name: fixed(float(value)) for name, value in stands.items()}
    return edited(
        film,
        AddShape(clip=id, frame=0, length=100, x=drawn[0], y=drawn[1], width=width, height=height),
        SetValue(clip=id, step="content", name="colour", value=COLOURS[id]),
        AddStep(clip=id, at=0, step=Step(id="stand", kind="stand", values=values)),
    )


def seen_by(film, **values):
    film = edited(film, AddCamera(clip="eye", frame=0, length=100))
    return edited(
        film, *(SetValue(clip="eye", step="content", name=name, value=value) for name, value in values.items())
    )


def quad(film, id="red", at=50):
    layer = next(each for each in evaluate(film, at).layers if each.clip == id)
    return whereabouts_of(layer, 1280, 720).quad


def pipeline(corners, stands, camera):
    """World and camera as 4 × 4 matrices, one turn each, multiplied out; then divided."""

    def turn(axis, degrees):
        cos, sin = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
        made = np.eye(4)
        i, j = {"x": (1, 2), "y": (2, 0), "z": (0, 1)}[axis]
        made[i, i] = made[j, j] = cos
        made[i, j], made[j, i] = -sin, sin
        return made

    def shift(x, y, z):
        made = np.eye(4)
        made[:3, 3] = x, y, z
        return made

    # A tilt of ours brings the lower edge nearer to the eye, a swing the right one: both against these axes.
    pivot = stands.get("px", 0), stands.get("py", 0)
    world = (
        shift(pivot[0] + stands.get("x", 0), pivot[1] + stands.get("y", 0), stands.get("z", 0))
        @ turn("y", stands.get("swing", 0))
        @ turn("x", stands.get("tilt", 0))
        @ turn("z", stands.get("roll", 0))
        @ np.diag([*[stands.get("size", 1)] * 3, 1])
    )
    at = np.array([camera.get("x", 0), camera.get("y", 0), camera.get("z", 0) - AWAY])
    way = np.array([camera.get("aim_x", 0), camera.get("aim_y", 0), camera.get("aim_z", 0)]) - at
    pan = math.degrees(math.atan2(way[0], way[2]))
    nod = math.degrees(math.atan2(-way[1], math.hypot(way[0], way[2])))
    view = turn("z", -camera.get("roll", 0)) @ turn("x", -nod) @ turn("y", -pan) @ shift(*-at)
    focal = 1280 * camera.get("lens", 35) / 36
    found = []
    for x, y in corners:
        px, py, pz, _ = view @ world @ np.array([x, y, 0, 1])
        found.append((640 + focal * px / pz, 360 + focal * py / pz))
    return found


@settings(max_examples=60)
@given(
    st.fixed_dictionaries(
        {name: st.floats(-60, 60) for name in ("tilt", "swing", "roll")}
        | {"x": st.floats(-400, 400), "y": st.floats(-300, 300), "z": st.floats(-300, 1500), "size": st.floats(0.3, 2)}
    ),
    st.fixed_dictionaries(
        {"x": st.floats(-500, 500), "y": st.floats(-300, 300), "z": st.floats(-500, 300), "roll": st.floats(-40, 40)}
        | {"aim_x": st.floats(-200, 200), "aim_y": st.floats(-200, 200), "lens": st.floats(18, 90)}
    ),
)
def test_a_plane_is_seen_where_an_independent_pipeline_has_it(stands, camera):
    film = seen_by(board(drawn=(120, -70), **stands), **camera)
    corners = [(-150, -100), (150, -100), (150, 100), (-150, 100)]
    wanted = pipeline(corners, {**stands, "px": 120, "py": -70}, camera)
    assert np.abs(np.array(quad(film)) - wanted).max() <= 0.02


@pytest.mark.parametrize(
    "stands",
    [{"swing": 40, "z": 200}, {"tilt": -50, "x": -200}, {"roll": 30, "tilt": 20, "swing": -35, "y": 90, "z": -150}],
)
def test_it_looks_as_in_the_browser(page, stands):
    """Chromium's transforms in a perspective as deep as our camera stands away; it turns the other way about x and y,
    and its z comes nearer."""
    film = board(**stands)
    tilt, swing, roll = (stands.get(name, 0) for name in ("tilt", "swing", "roll"))
    page.set_viewport_size({"width": 1280, "height": 720})
    x, y, z = (stands.get(name, 0) for name in "xyz")
    way = f"translate3d({x}px,{y}px,{-z}px) rotateY({-swing}deg) rotateX({-tilt}deg) rotateZ({roll}deg)"
    place = "position:absolute;left:490px;top:260px;width:300px;height:200px"
    page.set_content(
        "<body style='margin:0;background:#000'><div style='position:absolute;width:1280px;height:720px;"
        f"overflow:hidden;perspective:{AWAY}px'><div style='{place};background:{COLOURS['red']};transform:{way}'></div>"
    )
    theirs = cv2.imdecode(np.frombuffer(page.screenshot(), np.uint8), cv2.IMREAD_COLOR)[..., ::-1].astype(float)
    ours = coloured_frame(film, 50)
    around = np.ones((3, 3), np.uint8)
    strays = (ours < cv2.erode(theirs, around) - 8) | (ours > cv2.dilate(theirs, around) + 8)
    assert strays.sum() == 0 and (ours.max(-1) > 0).sum() > 8000


def test_without_a_camera_and_at_rest_it_is_flat():
    film = board()
    bare = film.model_copy(update={"clips": {"red": film.clips["red"].model_copy(update={"steps": ()})}})
    assert np.abs(frame(film, 50) - frame(bare, 50)).max() == 0
    assert np.abs(frame(seen_by(film), 50) - frame(bare, 50)).max() <= 1, "a camera at rest sees the frame as it is"


def test_what_is_nearer_lies_over_what_is_further_away_from_wherever_it_is_seen():
    film = board(id="red", z=-200)
    film = board(film, id="blue", z=200, x=40)
    film = board(film, id="green", x=-40, width=280)
    order = [each.clip for each in evaluate(seen_by(film), 50).layers]
    assert order == ["blue", "green", "red"]
    # From behind it is the other way round.
    behind = seen_by(film, z=2 * AWAY)
    assert [each.clip for each in evaluate(behind, 50).layers] == ["red", "green", "blue"]
    # One that is flat stays where it lies among them.
    flat = film.clips["green"].model_copy(update={"steps": ()})
    mixed = film.model_copy(update={"clips": {**film.clips, "green": flat}})
    order = [each.clip for each in evaluate(mixed, 50).layers]
    assert order.index("green") == 2 and order.index("blue") < order.index("red")


def test_a_camera_that_passes_shows_near_things_faster_and_blurs_them_longer():
    film = board(id="red", z=-400, width=60, height=60, y=-150)
    film = seen_by(board(film, id="blue", z=1500, width=60, height=60, y=150))
    slide = Moving(keys=(Key(at=0, value=-200.0, ease=Linear()), Key(at=99, value=200.0)))
    for name in ("x", "aim_x"):
        film = edited(film, SetProperty(clip="eye", step="content", name=name, property=slide))
    ways = {}
    for id, z in (("red", -400), ("blue", 1500)):
        xs = [np.mean([x for x, _ in quad(film, id, at)]) for at in (30, 60)]
        ways[id] = xs[0] - xs[1]
        # Parallax: a px of travel is focal / depth of a px in the frame.
        assert ways[id] == pytest.approx(30 * 400 / 99 * AWAY / (AWAY + z), rel=1e-6)
    blurred = edited(film, SetShutter(clips=("red", "blue"), shutter=Shutter(angle=360)))
    for id in ("red", "blue"):
        alone = edited(blurred, SetSeen(clips=(id,), seen="alone"))
        sharp = edited(film, SetSeen(clips=(id,), seen="alone"))
        wide, bare = (
            (lambda box: box[2] - box[0])(ink_box(coloured_frame(each, 50).max(-1), 4)) for each in (alone, sharp)
        )
        assert wide - bare == pytest.approx(ways[id] / 30, abs=2)


@pytest.mark.parametrize(
    "stands", [{"z": 800}, {"swing": 35, "z": 300}, {"tilt": 40, "roll": 25}, {"swing": -20, "tilt": 15}]
)
def test_a_plane_fills_the_frame_and_is_no_larger_than_it_must_be(stands):
    film = edited(board(width=640, height=360, **stands), FillFrame(clip="red", frame=50))
    assert frame(film, 50).min() >= 190, "no corner of the frame is empty"
    size = film.clips["red"].steps[0].values["size"].value
    less = edited(film, SetValue(clip="red", step="stand", name="size", value=size * 0.985))
    assert frame(less, 50).min() < 100
    # By trying, too.
    low, high = 0.1, 50.0
    for _ in range(40):
        middle = (low + high) / 2
        tried = edited(film, SetValue(clip="red", step="stand", name="size", value=middle))
        corners = np.array(quad(tried), np.float32)
        covers = all(
            cv2.pointPolygonTest(corners, point, False) >= 0 for point in ((0, 0), (1280, 0), (1280, 720), (0, 720))
        )
        low, high = (low, middle) if covers else (middle, high)
    assert size == pytest.approx(high, rel=2e-3)


@pytest.mark.parametrize("move", ["push in", "pull out", "rise", "slide", "orbit", "dolly with zoom"])
def test_a_ready_move_goes_from_its_first_frame_to_its_last(move):
    film = board(id="red", width=200, height=120)
    film = edited(seen_by(board(film, id="blue", z=900, x=200)), MoveCamera(clip="eye", move=move))
    first, last = quad(film, "red", 0), quad(film, "red", 99)
    sizes = [math.dist(each[0], each[1]) for each in (first, quad(film, "red", 50), last)]
    behind = [math.dist(each[0], each[1]) for each in (quad(film, "blue", 0), quad(film, "blue", 99))]
    if move == "dolly with zoom":
        assert sizes == pytest.approx([sizes[0]] * 3, rel=1e-3) and behind[1] < 0.9 * behind[0]
    elif move == "orbit":
        # It stays as far away, and looks at the same point: the middle of the frame.
        for at in (0, 25, 50, 99):
            xs, ys = zip(*quad(film, "red", at))
            assert (np.mean(xs), np.mean(ys)) == pytest.approx((640, 360), abs=4)
    elif move in ("push in", "pull out"):
        assert (sizes[2] > 1.3 * sizes[0]) == (move == "push in")
    else:
        assert math.dist(first[0], last[0]) > 1 or move == "rise"
    still = edited(film, MoveCamera(clip="eye", move="still"))
    assert np.allclose(quad(still, "red", 99), quad(board(width=200, height=120), "red", 99))


def test_it_is_pointed_at_where_it_is_seen_and_looks_alike_in_another_frame():
    film = seen_by(board(swing=50, z=300, x=200), x=-200, roll=12)
    middle = np.mean(quad(film), axis=0)
    assert clip_at(film, 50, *middle) == "red" and clip_at(film, 50, 20, 20) is None
    small = edited(film, ChangeSettings(width=640, height=360))
    assert np.abs(coloured_frame(film, 50, 640, 360) - coloured_frame(small, 50, 640, 360)).max() <= 6


@pytest.mark.parametrize(
    "film, edit, why",
    [
        (board(tilt=89), FillFrame(clip="red", frame=50), "horizon|hundred"),
        (board(swing=90), FillFrame(clip="red", frame=50), "edge-on"),
        (board(z=-3000), FillFrame(clip="red", frame=50), "edge-on, or not at all"),
        (board(), MoveCamera(clip="red", move="orbit"), "no camera"),
        (seen_by(board()), MoveCamera(clip="eye", move="dolly with zoom", amount=4), "go through"),
        (seen_by(board()), MoveCamera(clip="eye", move="push in", amount=4), "go through"),
    ],
)
def test_what_makes_no_sense_is_said_and_changes_nothing(film, edit, why):
    with pytest.raises(EditError, match=why):
        edited(film, edit)


def test_what_stands_behind_the_camera_or_in_it_is_not_seen():
    for z in (-AWAY, -AWAY - 10, -5000):
        assert frame(board(z=z), 50).max() == 0


def nearest(x, y, boards):
    """Which of some boards a ray through each px meets first, by the world's own numbers; −1 for none."""
    focal = AWAY
    rx, ry = (x + 0.5 - 640) / focal, (y + 0.5 - 360) / focal
    best, which = np.full(x.shape, np.inf), np.full(x.shape, -1)
    for number, (middle, across, down, width, height) in enumerate(boards):
        normal = np.cross(across, down)
        eye = np.array([0, 0, -AWAY])
        far = normal @ (np.array(middle) - eye) / (normal[0] * rx + normal[1] * ry + normal[2])
        hit = np.stack([rx * far, ry * far, far - AWAY], -1) - middle
        inside = (np.abs(hit @ across) < width / 2) & (np.abs(hit @ down) < height / 2) & (far > 0)
        closer = inside & (far < best)
        best[closer], which[closer] = far[closer], number
    return which


def test_planes_that_cross_are_cut_where_they_meet():
    film = board(id="red", width=500, height=300, swing=50.0, z=40)
    film = board(film, "green", width=420, height=380, swing=-35.0)
    film = board(film, "blue", width=900, height=500, tilt=-80.0, y=60.0, z=30)
    seen = coloured_frame(film, 50)
    y, x = np.mgrid[0:720, 0:1280]

    def turned(swing=0.0, tilt=0.0):
        s, t = math.radians(swing), math.radians(tilt)
        swung = np.array([[math.cos(s), 0, math.sin(s)], [0, 1, 0], [-math.sin(s), 0, math.cos(s)]])
        tilted = np.array([[1, 0, 0], [0, math.cos(t), -math.sin(t)], [0, math.sin(t), math.cos(t)]])
        both = swung @ tilted
        return both[:, 0], both[:, 1]

    which = nearest(
        x,
        y,
        [
            ((0, 0, 40), *turned(swing=50), 500, 300),
            ((0, 0, 0), *turned(swing=-35), 420, 380),
            ((0, 60, 30), *turned(tilt=-80), 900, 500),
        ],
    )
    wanted = np.zeros((720, 1280, 3))
    for number in range(3):
        wanted[which == number, number] = 192
    off = np.abs(seen - wanted).max(-1) > 3
    # Only along edges and cuts, which are smooth, is there anything between.
    edges = np.zeros(which.shape, bool)
    for dy, dx in ((0, 1), (1, 0), (0, -1), (-1, 0), (1, 1), (-1, -1), (1, -1), (-1, 1)):
        edges |= which != np.roll(which, (dy, dx), (0, 1))
    assert {0, 1, 2} <= set(which.ravel()) and not (off & ~edges).any()
    reds, greens = which == 0, which == 1
    cut = np.roll(reds, 1, 1) & greens | np.roll(greens, 1, 1) & reds
    cut &= ~cv2.dilate(((which == -1) | (which == 2)).astype(np.uint8), np.ones((7, 7))).astype(bool)
    assert cut.sum() > 100 and np.abs(seen[..., :2].sum(-1)[cut] - 192).max() < 4, "no gap along a cut"


@settings(max_examples=25)
@given(st.floats(-70, 70), st.floats(-70, 70), st.floats(-200, 200), st.sampled_from([1.0, 0.5]))
def test_order_on_the_timeline_is_nothing_to_planes_that_cross(swing, tilt, z, opacity):
    def both(first, second):
        film = None
        for id in (first, second):
            stands = {"red": {"swing": swing}, "green": {"tilt": tilt, "z": z}}[id]
            film = board(film, id, width=400, height=300, **stands)
            film = edited(film, SetValue(clip=id, step="placement", name="opacity", value=opacity))
        return coloured_frame(film, 50, 320, 180)

    one, other = both("red", "green"), both("green", "red")
    # But for those that lie in one plane.
    if max(abs(swing), abs(tilt), abs(z)) > 2:
        assert np.abs(one - other).max() <= 1


def test_a_floor_lies_under_what_stands_on_it_however_far_its_middle_is():
    film = board(id="green", width=100, height=200, drawn=(0, 0), z=-600, y=40)
    film = board(film, "blue", width=3000, height=2400, tilt=-90, y=150, z=-700)
    seen = coloured_frame(film, 50)
    assert tuple(seen[440, 640]) == (0, 192, 0), "the board stands before the floor behind it"
    flat = edited(film, AddShape(clip="flat", frame=0, length=100, x=0, y=0, width=30, height=30))
    assert coloured_frame(flat, 50)[360, 640].max() > 150


def held(film, **values):
    return edited(seen_by(film, **values), SetChoice(clip="eye", step="content", name="held", value="walking"))


def test_a_held_camera_turns_by_its_lens_and_sways():
    film = board(id="red", width=400, height=300)
    for at in (0, 13, 50):
        yaw, pitch, roll = np.radians(turns_at("walking", 7, np.array([at / 25]))[0])
        (cy, sy), (cp, sp), (cr, sr) = ((math.cos(each), math.sin(each)) for each in (yaw, pitch, roll))
        # To the right, then up, then clockwise, each about the camera's own axis; y is down.
        turns = (
            np.array([[cy, 0, sy], [0, 1, 0], [-sy, 0, cy]])
            @ np.array([[1, 0, 0], [0, cp, -sp], [0, sp, cp]])
            @ np.array([[cr, -sr, 0], [sr, cr, 0], [0, 0, 1]])
        )
        focal = 1280 * 60 / 36
        seen = quad(held(film, seed=7, sway=0, lens=60), at=at)
        for found, corner in zip(seen, ((-200, -150), (200, -150), (200, 150), (-200, 150))):
            x, y, z = turns.T @ np.array([*corner, AWAY])
            assert found == pytest.approx((640 + focal * x / z, 360 + focal * y / z), abs=0.02)
    both = board(film, "green", width=400, height=300, z=AWAY)
    swaying, steady = (held(both, seed=7, sway=sway, metres=0.5) for sway in (40, 0))
    for at in (5, 40):
        near, far = (np.subtract(quad(swaying, id, at), quad(steady, id, at)).mean(0) for id in ("red", "green"))
        assert np.hypot(*near) > 1 and near == pytest.approx(2 * far, rel=0.05)


def test_a_held_camera_that_is_cut_goes_on_and_one_that_is_still_does_not_move():
    film = held(board(id="red", width=400, height=300), seed=3)
    parted = edited(film, SplitClips(clips=("eye",), frame=31, seed="n"))
    for at in (30, 31, 60, 99):
        assert np.abs(np.subtract(quad(film, at=at), quad(parted, at=at))).max() < 1e-6
    assert quad(film, at=10) != quad(film, at=11)
    still = edited(film, SetChoice(clip="eye", step="content", name="held", value="still"))
    assert quad(still, at=10) == quad(still, at=60)


def test_the_axes_of_a_plane_are_told_where_they_are_seen():
    film = edited(seen_by(board(x=200, y=-80, z=300), x=150, y=40), SetSeen(clips=("red",), seen="shown"))
    plane = surroundings(film, None, 50).planes[0]
    camera = evaluate(film, 50).layers[0].steps[0].values["eye"]
    rows = np.array([camera.right, camera.down, camera.ahead])
    for seen, way in zip(plane.seen, ((0, 0, 0), (100, 0, 0), (0, 100, 0), (0, 0, 100))):
        x, y, z = rows @ (np.array([200.0, -80.0, 300.0]) + way - camera.at)
        assert seen == pytest.approx((640 + AWAY * x / z, 360 + AWAY * y / z), abs=1e-6)
