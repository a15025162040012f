"""Followed points: what follows them, how they are mended, what is held to them."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from idle_comet.core.contents import FollowedPoint, HandPlace
from idle_comet.core.edits import (
    EditError,
    HoldStill,
    HoldToPoint,
    LeavePoint,
    MendPoint,
    RemovePoint,
    ReplaceShot,
    SetPoint,
    SetSpeed,
    SetValue,
    SplitClips,
    TrimClip,
    apply,
)
from idle_comet.core.moment.evaluate import evaluate_clip
from idle_comet.core.moment.filling import filling
from idle_comet.core.moment.placed import total_matrix
from idle_comet.core.moment.pointed import points_at
from idle_comet.core.moment.points import on_picture, path_of, point_in, source_at
from idle_comet.core.moment.standing import stand
from idle_comet.core.motion import Framing, Key, Moving
from idle_comet.core.picture.following import Pursuit, hold
from idle_comet.core.project.model import Clip, Footage, Media, Plain, Shutter, Step, fixed

from .stacked import HEIGHT, WIDTH, film

WAVES = np.random.default_rng(4).uniform(-1, 1, (2, 12, 4))


def texture(x, y, which):
    """A smooth pattern of which every value is known, 0..255."""
    waves = WAVES[which]
    total = sum(math.sin(9 * c) * np.sin(0.34 * a * x + 0.34 * b * y + 3 * d) for a, b, c, d in waves)
    return 128 + 34 * total


ROWS, COLUMNS = np.mgrid[0:360, 0:560] + 0.5
BEHIND = texture(COLUMNS, ROWS, 0)


def shot(frame, grow=0.0, roll=0.0, grain=0.0, hidden=()):
    """(h, w) uint8 and the place of a point: a round thing of one pattern goes over another, larger and turned by so
    much a frame; a post stands before it in some frames."""
    place = 130 + 1.3 * frame + 12 * math.sin(frame / 9), 170 + 40 * math.sin(frame / 23)
    turn = (1 + grow * frame) * np.exp(1j * math.radians(roll * frame))
    picture, left, top = BEHIND.copy(), max(0, int(place[0]) - 110), int(place[1]) - 110
    part = slice(max(0, top), top + 220), slice(left, left + 220)
    own = (COLUMNS[part] - place[0] + 1j * (ROWS[part] - place[1])) / turn
    inside = np.clip((62 - np.abs(own)) * abs(turn) + 0.5, 0, 1)
    picture[part] = picture[part] * (1 - inside) + texture(own.real, own.imag, 1) * inside
    if frame in hidden:
        picture[:, int(place[0]) - 70 : int(place[0]) + 70] = 90
    picture += np.random.default_rng(frame).normal(0, grain, picture.shape)
    point = complex(*place) + (6 - 3j) * turn
    return np.clip(picture + 0.5, 0, 255).astype(np.uint8), (point.real, point.imag)


@pytest.mark.parametrize(
    "how", [{"grain": 3.0}, {"grow": 0.003, "roll": 0.35}, {"hidden": range(80, 90), "roll": -0.2, "grow": -0.001}]
)
def test_a_point_is_followed_over_200_frames(how):
    grey, place = shot(0, **how)
    pursuit, off, lost = Pursuit(grey, *place), [], []
    for frame in range(1, 200):
        grey, place = shot(frame, **how)
        seen = pursuit.next(grey)
        if seen.lost:
            lost.append(frame)
        else:
            off.append(math.dist((seen.x, seen.y), place))
    assert np.mean(off) <= 0.3 and max(off) < 1
    assert lost == list(how.get("hidden", ()))


def test_a_plain_area_and_a_straight_edge_hold_nothing():
    plain = np.full((360, 640), 120, np.uint8)
    edge = plain.copy()
    edge[:, 320:] = 200
    corner = edge.copy()
    corner[180:] = 40
    assert hold(plain, 320, 180) < 0.01 and hold(edge, 320, 180) < 0.01 and hold(corner, 320, 180) > 3


def test_a_point_that_leaves_the_picture_is_said_to_have_left():
    whole, place = shot(0)
    pursuit = Pursuit(whole[:, :400], *place)
    # The view goes to the right, so that all goes to the left, by 9 px a frame.
    seen = [pursuit.next(np.ascontiguousarray(whole[:, 9 * n : 400 + 9 * n])) for n in range(1, 18)]
    assert seen[3].quality > 0.9 and [each.lost for each in seen[:12]] == [False] * 12
    assert seen[-1].lost and seen[-1].why == "left"


# -- the path of a point -------------------------------------------------------------------------------------------


def point(places, sure=None, hand=(), first=0, id="p"):
    return FollowedPoint(
        id=id, name=id, media="m", first=first,
        x=tuple(each.real for each in places), y=tuple(each.imag for each in places),
        sure=tuple(sure or (1.0,) * len(places)),
        hand=tuple(HandPlace(frame=frame, x=at.real, y=at.imag) for frame, at in hand),
    )  # fmt: skip


def test_across_a_gap_it_goes_straight_and_what_was_mended_is_spread_evenly():
    places = [10 * n + 5j for n in range(11)]
    lost = path_of(point([*places[:4], 99, 99, 99, *places[7:]], [1, 1, 1, 1, 0, 0, 0, 1, 1, 1, 1]))
    assert lost.places == pytest.approx(np.array(places)) and list(lost.known[3:8]) == [True, False, False, False, True]
    # Two px beside at its fifth frame: half of it half-way, all of it afterwards.
    mended = path_of(point(places, hand=[(0, 5j), (5, 52 + 5j)])).places
    assert mended[[0, 5, 8]] == pytest.approx(np.array([5j, 52 + 5j, 82 + 5j]))
    assert mended[2] == pytest.approx(20.8 + 5j)
    # One put by hand in a gap is gone through.
    through = path_of(point([*places[:4], 99, 99, 99, *places[7:]], [1] * 4 + [0] * 3 + [1] * 4, [(5, 50 + 9j)])).places
    assert through[[4, 5, 6]] == pytest.approx(np.array([40 + 7j, 50 + 9j, 60 + 7j]))


coordinate = st.floats(-3000, 3000).map(lambda each: round(each, 2))
places = st.builds(complex, coordinate, coordinate)


@given(
    st.lists(st.tuples(places, st.floats(0, 1)), min_size=1, max_size=30),
    st.dictionaries(st.integers(0, 60), places, max_size=6),
    st.integers(0, 20),
)
def test_any_path_goes_through_what_was_put_by_hand(rows, hand, first):
    found = path_of(point([each for each, _ in rows], [sure for _, sure in rows], sorted(hand.items()), first))
    assert np.isfinite(found.places).all()
    for frame, place in hand.items():
        assert found.at(frame) == pytest.approx(place, abs=1e-6)
    if not hand:
        for number, (place, sure) in enumerate(rows):
            assert sure < 0.6 or found.at(first + number) == pytest.approx(place)


def test_a_point_of_uneven_length_is_none():
    with pytest.raises(ValidationError):
        FollowedPoint(id="p", name="p", media="m", first=0, x=(1.0, 2.0), y=(1.0,), sure=(1.0, 1.0))


# -- held to it ----------------------------------------------------------------------------------------------------

WAY = [300 + 4 * n + 9 * math.sin(n / 3) + 1j * (170 + 20 * math.cos(n / 7)) for n in range(80)]
TURNED = [at + 60 * (1 + n / 160) * np.exp(1j * math.radians(n / 2)) for n, at in enumerate(WAY)]


def scene(*steps, length=60, start=5.0, **more):
    """A shot of 640 × 360 in a smaller frame, with two followed points, and a small plain picture above."""
    media = Media(id="m", name="m", hash="0" * 64, path="m.mp4", width=640, height=360, frames=80)
    content = Footage(media="m", start=start, points=(point(WAY), point(TURNED, id="q")))
    lower = Clip(id="s", track="b", name="s", head=10, length=length, content=content, steps=steps)
    small = Step(id="own", kind="placement", values={"scale": fixed(0.1), "x": fixed(-30), "y": fixed(12)})
    upper = Clip(id="t", track="a", name="t", head=10, length=length, content=Plain(), steps=(small,))
    return film(upper, lower).model_copy(update={"media": {"m": media, "n": media.model_copy(update={"id": "n"})}})


def anchor(project, frame, id="t"):
    clip = project.clips[id]
    layer = evaluate_clip(project, clip, frame - clip.head)
    standing = stand(layer.content, WIDTH, HEIGHT)
    return complex(*total_matrix(layer, standing).map(*standing.anchor)), total_matrix(layer, standing)


def seen(project, frame, id="p", shot="s"):
    clip = project.clips[shot]
    local = frame - clip.head
    at = path_of(point_in(clip, id)).at(source_at(project, clip, local))
    return complex(*on_picture(project, clip, local).map(at.real, at.imag))


def pushed():
    keys = (
        Key(counts_from="proportion", at=0, value=Framing()),
        Key(counts_from="proportion", at=1, value=Framing(x=20, y=-8, scale=1.4, roll=6)),
    )
    return Step(id="move", kind="move", values={"framing": Moving(keys=keys)})


SHAKEN = Step(id="shaken", kind="handheld", choices={"situation": "walking"})


@pytest.mark.parametrize("steps", [(), (pushed(), SHAKEN)], ids=["as shot", "moved and shaken"])
def test_what_is_held_goes_with_the_point_as_it_is_seen(steps):
    project = scene(*steps)
    before = anchor(project, 30)[0]
    project, _ = apply(project, HoldToPoint(clips=("t",), shot="s", point="p", at=30))
    assert anchor(project, 30)[0] == pytest.approx(before, abs=1e-3)
    apart = [anchor(project, frame)[0] - seen(project, frame) for frame in (10, 25, 30, 48, 69)]
    assert np.abs(np.array(apart) - apart[0]).max() < 1e-3
    # Between two frames, while the shutter is open, it is between.
    half = anchor(project, 30.5)[0]
    assert half == pytest.approx((anchor(project, 30)[0] + anchor(project, 31)[0]) / 2, abs=1e-3)
    # Held again it is not moved, and neither when it was let go in between.
    free, _ = apply(project, HoldToPoint(clips=("t",), shot=None, at=48))
    again, _ = apply(free, HoldToPoint(clips=("t",), shot="s", point="q", second="p", at=20))
    assert anchor(again, 20)[0] == pytest.approx(anchor(project, 48)[0], abs=1e-2)
    # Dragged by hand it stands where it was put, and still goes with the point.
    now = evaluate_clip(project, project.clips["t"], 20).steps[-1].values
    project, _ = apply(project, SetValue(clip="t", step="held-to-point", name="x", value=now["x"] + 7, frame=20))
    assert anchor(project, 30)[0] == pytest.approx(before + 7, abs=1e-3)
    assert anchor(project, 48)[0] - seen(project, 48) == pytest.approx(apart[0] + 7, abs=1e-3)


def test_with_a_second_point_it_turns_and_grows():
    project = scene(pushed())
    project, _ = apply(project, HoldToPoint(clips=("t",), shot="s", point="p", second="q", at=30))

    def share(frame):
        first, second = seen(project, frame), seen(project, frame, "q")
        at, matrix = anchor(project, frame)
        return (at - first) / (second - first), matrix.scale / abs(second - first)

    for frame in (10, 44, 69):
        assert share(frame) == pytest.approx(share(30), rel=1e-3)
    ways = [seen(project, frame, "q") - seen(project, frame) for frame in (30, 60)]
    turned = math.degrees(np.angle(ways[1] / ways[0]))
    matrix = anchor(project, 60)[1]
    assert math.degrees(math.atan2(matrix.b, matrix.a)) == pytest.approx(turned, abs=1e-3)


def test_a_shot_that_is_trimmed_cut_and_slowed_down_keeps_its_points():
    project, _ = apply(scene(), HoldToPoint(clips=("t",), shot="s", point="p", at=30))
    there = {frame: anchor(project, frame)[0] for frame in (20, 30, 45, 60)}
    project, _ = apply(project, TrimClip(clip="s", head=18, length=50))
    project, _ = apply(project, SplitClips(clips=("s",), frame=40, seed="cut"))
    for frame, place in there.items():
        assert anchor(project, frame)[0] == pytest.approx(place, abs=1e-3)
    # Past its end it stays as it is there.
    assert anchor(project, 69)[0] == pytest.approx(anchor(project, 67)[0], abs=1e-3)
    # Mended in one part it is mended in the other: it is one point.
    at, stood = seen(project, 50, shot="cut-1"), anchor(project, 50)[0]
    project, _ = apply(project, MendPoint(clip="cut-1", point="p", frame=10, x=at.real + 5, y=at.imag))
    assert point_in(project.clips["s"], "p") == point_in(project.clips["cut-1"], "p")
    assert seen(project, 50, shot="cut-1") == pytest.approx(at + 5, abs=1e-2)
    assert anchor(project, 50)[0] == pytest.approx(stood + 5, abs=1e-2)
    slow, _ = apply(project, SetSpeed(clip="s", speed=0.5, keep="length"))
    assert anchor(slow, 30)[0] - seen(slow, 30) == pytest.approx(anchor(project, 30)[0] - seen(project, 30), abs=1e-3)


def test_held_still_a_point_stays_and_the_frame_is_filled():
    project = scene(length=50).model_copy(
        update={"settings": scene().settings.model_copy(update={"shutter": Shutter(angle=180)})}
    )
    project, _ = apply(project, HoldStill(clip="s", point="p", second="q", frame=20))
    clip = project.clips["s"]
    layer = evaluate_clip(project, clip, 0)
    found = filling(project, clip, layer.content)
    assert found.step == clip.steps[0].id and found.spare.min() > -1e-6 and found.lost is None

    def both(local, shown=None):
        layer = evaluate_clip(project, clip, local, shown)
        standing = stand(layer.content, WIDTH, HEIGHT)
        matrix = total_matrix(layer, standing) @ standing.matrix
        source = source_at(project, clip, local if shown is None else shown)
        ats = (path_of(point_in(clip, id)).at(source) for id in ("p", "q"))
        return np.array([complex(*matrix.map(at.real, at.imag)) for at in ats])

    held = np.array([both(local) for local in range(0, 50, 7)])
    assert np.abs(held - held[0]).max() < 1e-3
    # The source shows one picture while the shutter is open, and is not smeared by being held.
    assert np.abs(both(20.25, 20) - both(20)).max() < 1e-9


def test_smoothed_a_shake_is_taken_out_and_a_pan_is_left():
    even = [200 + 3 * n + 150j for n in range(80)]
    shaken = [at + 4 * math.sin(2 * math.pi * n / 5) for n, at in enumerate(even)]
    project = scene()
    content = project.clips["s"].content.model_copy(update={"points": (point(shaken), point(even, id="q"))})
    project = film(project.clips["t"], project.clips["s"].model_copy(update={"content": content})).model_copy(
        update={"media": project.media}
    )
    project, _ = apply(project, HoldStill(clip="s", point="p", frame=20, smooth=0.6))
    step = project.clips["s"].steps[0].model_copy(update={"choices": {"edges": "as it comes"}})
    project = film(project.clips["t"], project.clips["s"].model_copy(update={"steps": (step,)})).model_copy(
        update={"media": project.media}
    )
    at = np.array([seen(project, frame) for frame in range(16, 60)])
    assert np.abs(np.diff(at) - np.diff(at).mean()).max() < 0.05
    assert np.diff(at).mean().real == pytest.approx(3 * WIDTH / 640, rel=0.01)


def test_what_does_not_fit_is_refused():
    project = scene()
    for edit, why in (
        (HoldToPoint(clips=("t",), shot="s", point="gone"), "no followed point"),
        (HoldToPoint(clips=("s",), shot="s", point="p"), "own clip"),
        (HoldToPoint(clips=("t",), shot="t", point="p"), "no shot"),
        (HoldToPoint(clips=("t",), shot="s", point="p", second="p"), "lie on one another"),
        (HoldToPoint(clips=("t",), shot=None), "held to no point"),
        (HoldStill(clip="t", point="p"), "no shot"),
        (MendPoint(clip="s", point="p", frame=900, x=0, y=0), "not there"),
        (MendPoint(clip="s", point="p", frame=3, x=1e5, y=0), "far outside"),
        (LeavePoint(clip="s", point="p", frame=3), "not put by hand"),
        (RemovePoint(clip="s", point="gone"), "no followed point"),
        (SetPoint(clip="s", point=point(WAY).model_copy(update={"media": "n"})), "another picture"),
    ):
        with pytest.raises(EditError, match=why):
            apply(project, edit)
    held, _ = apply(project, HoldToPoint(clips=("t",), shot="s", point="p", at=30))
    gone, _ = apply(held, RemovePoint(clip="s", point="p"))
    assert anchor(gone, 40)[0] == pytest.approx(anchor(project, 40)[0], abs=1e-6)
    free, _ = apply(held, HoldToPoint(clips=("t",), shot=None, at=44))
    assert anchor(free, 60)[0] == pytest.approx(anchor(held, 44)[0], abs=1e-3)


def test_an_editor_sees_where_it_was_lost_and_in_which_picture_it_was_followed():
    sure = [1.0] * 30 + [0.0] * 10 + [0.9] * 40
    project = scene()
    project, _ = apply(project, SetPoint(clip="s", point=point(WAY, sure, [(20, WAY[20])])))
    first, _ = points_at(project, project.clips["s"], 30)
    # The clip shows the source from its sixth frame on.
    assert first.lost == [(25, 34)] and first.hand == [15] and not first.known and not first.elsewhere
    assert complex(*first.at) == pytest.approx(seen(project, 40))
    project, _ = apply(project, HoldToPoint(clips=("t",), shot="s", point="p", at=30))
    project, _ = apply(project, ReplaceShot(clip="s", media="n", later=3))
    first, _ = points_at(project, project.clips["s"], 10)
    assert first.elsewhere and first.holds == ["t"]
    assert point_in(project.clips["s"], "p").first == 3
