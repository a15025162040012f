"""Moves, the handheld camera, and the frame kept filled."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage, signal

from idle_comet.core.clock import Rate
from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import ChangeMove, EditError, FillMove, GatherClips, SplitClips, TrimClip, UseMove, apply
from idle_comet.core.moment.camera import camera_notes, camera_of
from idle_comet.core.moment.filling import filling
from idle_comet.core.moment.grips import space_of
from idle_comet.core.moment.scene import FootageNow, PlainNow
from idle_comet.core.moment.traces import recorded
from idle_comet.core.motion import Framing, Key, Linear, Moving, Strengths, mixed_framing, shown
from idle_comet.core.motion.handheld import SITUATIONS, turns_at
from idle_comet.core.motion.tracks import TrackError, keyed, read_track
from idle_comet.core.picture import Matrix, Planes, Rect
from idle_comet.core.picture.sampling import sampled, sampled_planes
from idle_comet.core.project.model import Clip, Group, Mask, Media, Plain, Shutter, Step, Still, Treatment, fixed
from idle_comet.core.recipes.moves import MOVES
from idle_comet.core.steps import KINDS, Rest

from .stacked import HEIGHT, WIDTH, film

WHITE = PlainNow("#ffffff")


def moving(*framings, **more):
    share = 1 / (len(framings) - 1)
    return Moving(
        keys=tuple(Key(counts_from="proportion", at=share * n, value=each, **more) for n, each in enumerate(framings))
    )


def move(*framings, edges="kept filled", **more):
    prop = moving(*framings, **more) if len(framings) > 1 else fixed(framings[0])
    return Step(id="move", kind="move", values={"framing": prop}, choices={"edges": edges})


def shaken(situation="shoulder", id="held", **values):
    return Step(
        id=id, kind="handheld", values={n: fixed(v) for n, v in values.items()}, choices={"situation": situation}
    )


def white(*steps, length=60, **more):
    clip = Clip(id="w", track="a", name="w", head=0, length=length, content=Plain(colour="#ffffff"), steps=steps)
    return film(clip.model_copy(update=more), background="#ff0000")


def photograph(width, height, *steps, length=60):
    """A still of another size than the frame, filling it."""
    media = Media(id="p", name="p", kind="still", hash="0" * 64, path="p.png", width=width, height=height, frames=1)
    clip = Clip(id="w", track="a", name="w", head=0, length=length, content=Still(media="p"), steps=steps)
    return film(clip).model_copy(update={"media": {"p": media}}), FootageNow("p", 0, "fill", width, height, False)


def filled(project, content=WHITE, id="w"):
    return filling(project, project.clips[id], content)


def matrices(project, frames, id="w"):
    return [space_of(project, project.clips[id], -1, at)[1] for at in frames]


@pytest.mark.parametrize("width, height", [(320, 180), (640, 360), (180, 320), (500, 180)])
@pytest.mark.parametrize("roll, x, y, scale", [(7, 0, 0, 1), (-20, 0, 0, 1), (0, 15, -8, 1.2), (4, 9, 5, 1.15)])
def test_the_least_scale_is_the_closed_form(width, height, roll, x, y, scale):
    project, content = photograph(width, height, move(Framing(x=x, y=y, scale=scale, roll=roll)))
    found = filled(project, content)
    turn = math.radians(roll)
    cos, sin = abs(math.cos(turn)), abs(math.sin(turn))
    base = max(WIDTH / width, HEIGHT / height)
    # About the framing's middle, which lies at (x, y) of the picture: what is left on its nearer side is what counts.
    wide, high = width * base - 2 * abs(x), height * base - 2 * abs(y)
    needed = max((WIDTH * cos + HEIGHT * sin) / wide, (WIDTH * sin + HEIGHT * cos) / high)
    assert found.scale * scale == pytest.approx(max(scale, needed), rel=1e-6)
    assert found.spare.min() >= -1e-6 and found.lost is None


def brute(project, at, by=1.0):
    """The film at a frame, large, with the camera's extra scale times `by`."""
    scene = evaluate(project, at)
    layers = tuple(
        layer._replace(
            steps=tuple(
                step._replace(values={**step.values, "filled": step.values["filled"] * by})
                if "filled" in step.values
                else step
                for step in layer.steps
            )
        )
        for layer in scene.layers
    )
    return Painter(None).paint(plan(scene._replace(layers=layers), 4 * WIDTH, 4 * HEIGHT))


@settings(max_examples=25, deadline=None)
@given(
    st.lists(
        st.builds(
            Framing,
            x=st.floats(-30, 30),
            y=st.floats(-20, 20),
            scale=st.floats(1, 1.6),
            roll=st.floats(-12, 12),
            zoom=st.sampled_from(["ratio", "linear"]),
        ),
        min_size=2,
        max_size=3,
    ),
    st.none() | st.tuples(st.sampled_from(sorted(SITUATIONS)), st.integers(1, 99), st.floats(0.2, 2)),
    st.sampled_from([Linear(), Strengths(start=0.8, end=0.2)]),
)
def test_no_edge_is_ever_seen_and_a_thousandth_less_would_show_one(framings, held, ease):
    steps = [move(*framings, ease=ease)]
    if held is not None:
        steps.append(shaken(held[0], seed=held[1], intensity=held[2]))
    project = white(*steps, length=30)
    found = filled(project)
    worst = int(np.argmin(found.spare.min(1)))
    for at in {0, 11, 29, worst}:
        assert brute(project, at)[..., 1].min() == 255
    if found.scale > 1.002:
        assert brute(project, worst, 0.999)[..., 1].min() < 255


def test_a_clip_of_days_is_solved_in_bounded_time_and_memory():
    long = white(move(Framing(), Framing(roll=10)), shaken(), length=10_000_000, shutter=Shutter(angle=360))
    found = filled(long)
    assert len(found.frames) <= 30_001 and found.scale > 1.29 and found.frames[-1] == 9_999_999


def test_with_an_open_shutter_the_moments_between_are_filled_too():
    project = white(move(Framing(), Framing(roll=40)), length=5, shutter=Shutter(angle=360))
    still = white(move(Framing(), Framing(roll=40)), length=5)
    assert filled(project).scale > filled(still).scale
    for at in range(5):
        assert brute(project, at)[..., 1].min() == 255


def test_where_the_middle_lies_past_the_edge_it_is_said_when():
    project = white(move(Framing(), Framing(x=400)), length=50)
    found, notes = filled(project), camera_notes(project, project.clips["w"])
    assert 18 < found.lost < 25 and "past the picture's edge" in notes[0]
    framed = white(move(Framing(), Framing(x=40), edges="as framed"), length=50)
    first = filled(framed).first_edge
    assert first == 1 and "00:00:00:01" in camera_notes(framed, framed.clips["w"])[0]
    small, content = photograph(100, 180, move(Framing(scale=1.1)))
    small = small.model_copy(
        update={"clips": {"w": small.clips["w"].model_copy(update={"content": Still(media="p", fit="fit")})}}
    )
    assert (
        filled(small, content._replace(fit="fit")).uncovered
        and "fit it to fill" in camera_notes(small, small.clips["w"])[0]
    )


@given(
    st.tuples(*[st.builds(Framing, x=st.floats(-80, 80), y=st.floats(-80, 80), scale=st.floats(0.5, 3),
                          roll=st.floats(-40, 40), zoom=st.sampled_from(["ratio", "linear"]))] * 2),
    st.floats(-0.2, 1.2),
)  # fmt: skip
def test_between_two_framings_one_point_stays_where_it_is(both, progress):
    a, b = both
    first, last = shown(a), shown(b)
    turn = last.turn / first.turn
    if abs(turn - 1) < 1e-3:
        return
    stays = (last.shift - first.shift) / (first.turn - last.turn)
    seen = shown(mixed_framing(a, b, progress))
    if 0.01 < abs(seen.turn) < 100:
        assert abs(seen.turn * stays + seen.shift - (first.turn * stays + first.shift)) < 1e-5 * (1 + abs(stays))
    ends = [mixed_framing(a, b, end) for end in (1e-9, 1 - 1e-9)]
    for end, whole in zip(ends, (a, b)):
        assert math.dist((end.x, end.y, end.scale, end.roll), (whole.x, whole.y, whole.scale, whole.roll)) < 1e-4


def test_a_zoom_goes_by_a_constant_ratio_or_evenly():
    a, b = Framing(), Framing(scale=4)
    sizes = [mixed_framing(a, b, n / 4).scale for n in range(5)]
    assert np.allclose(np.array(sizes[1:]) / sizes[:-1], 2**0.5)
    even = [mixed_framing(a.model_copy(update={"zoom": "linear"}), b, n / 4).scale for n in range(5)]
    assert np.allclose(np.diff(even), 0.75)


@pytest.mark.parametrize("id", ["push-point", "reveal-out", "push-quick", "settle"])
def test_the_picked_point_stays_on_its_place_on_the_screen(id):
    project, _ = apply(white(length=80), UseMove(clips=("w",), move=id, at=(210, 60), frame=0))
    framing = project.clips["w"].steps[0]
    free = framing.model_copy(update={"choices": {"edges": "as framed"}})
    project = project.model_copy(update={"clips": {"w": project.clips["w"].model_copy(update={"steps": (free,)})}})
    places = np.array([matrix.map(210, 60) for matrix in matrices(project, np.arange(0, 80, 0.5))])
    assert np.abs(places - (210, 60)).max() < 0.5
    # Picked while it is already shown larger, it is the same point of the picture.
    x, y = matrices(project, [79])[0].map(100, 100)
    again, _ = apply(project, UseMove(clips=("w",), move="push-point", at=(x, y), frame=79))
    assert matrices(again, [0.0])[0].map(100, 100) == pytest.approx((100, 100))
    assert np.ptp([m.map(100, 100) for m in matrices(again, np.arange(0, 80, 4.0))], axis=0).max() < 0.5


def test_a_move_is_replaced_taken_away_and_turned_round_on_every_second_clip():
    bare = white()
    one, back = apply(bare, UseMove(clips=("w",), move="drift-left"))
    two, _ = apply(one, UseMove(clips=("w",), move="push-slow", amount=2))
    assert [step.id for step in two.clips["w"].steps] == ["move"]
    assert two.clips["w"].steps[0].values["framing"].keys[-1].value.scale == pytest.approx(1.08**2)
    assert apply(two, UseMove(clips=("w",), move=None))[0] == bare and apply(one, back)[0] == bare
    other = bare.clips["w"].model_copy(update={"id": "x", "head": 60})
    both, _ = apply(
        bare.model_copy(update={"clips": {**bare.clips, "x": other}}),
        UseMove(clips=("w", "x"), move="push-slow", alternate=True),
    )
    ends = [[key.value.scale for key in both.clips[id].steps[0].values["framing"].keys] for id in "wx"]
    assert ends[0] == ends[1][::-1]
    for edit, says in (
        (UseMove(clips=("w",), move="gone"), "no move “gone”"),
        (ChangeMove(clip="w", step="move", head=600), "60 frames long"),
        (ChangeMove(clip="w", step="gone", head=6), "no step"),
    ):
        with pytest.raises(EditError, match=says):
            apply(one, edit)


@pytest.mark.parametrize("id", MOVES)
def test_every_move_keeps_the_frame_filled_and_its_framings_through_a_trim_and_a_cut(id):
    project, _ = apply(white(length=90), UseMove(clips=("w",), move=id))
    whole = filled(project)
    assert whole.lost is None and whole.spare.min() > -1e-4 and whole.scale < 1.6
    trimmed, _ = apply(project, TrimClip(clip="w", head=0, length=50))
    ends = [matrices(each, [0, each.clips["w"].length - 1]) for each in (project, trimmed)]
    if all(key.counts_from == "tail" or key.at == 0 for key in project.clips["w"].steps[0].values["framing"].keys):
        for a, b in zip(*ends):
            assert np.allclose([*a], [*b], atol=2e-3 * WIDTH)
    parts, _ = apply(project, SplitClips(clips=("w",), frame=37, seed="cut"))
    second = next(clip for clip in parts.clips.values() if clip.head == 37)
    free = {
        n: c.model_copy(
            update={"steps": tuple(s.model_copy(update={"choices": {"edges": "as framed"}}) for s in c.steps)}
        )
        for n, c in {**project.clips, **parts.clips}.items()
    }
    free["whole"] = project.clips["w"].model_copy(update={"id": "whole", "steps": (free["w"].steps[0],)})
    cut = parts.model_copy(update={"clips": free})
    for at in (37, 60, 89):
        mine = space_of(cut, cut.clips[second.id], -1, at - 37)[1]
        assert np.allclose([*space_of(cut, cut.clips["whole"], -1, at)[1]], [*mine], atol=1e-6)


def test_a_cut_clip_is_moved_from_its_own_head_to_its_own_end():
    project, _ = apply(white(length=90), SplitClips(clips=("w",), frame=40, seed="cut"))
    second = next(clip.id for clip in project.clips.values() if clip.head == 40)
    project, _ = apply(project, UseMove(clips=(second,), move="push-slow"))
    project, _ = apply(project, ChangeMove(clip=second, step="move", head=5, tail=10))
    sizes = [space_of(project, project.clips[second], -1, at)[1].a for at in (0, 5, 6, 38, 39, 49)]
    assert sizes[0] == sizes[1] == 1 < sizes[2] and sizes[3] < sizes[4] == sizes[5] == pytest.approx(1.08)
    # A track that is read into it begins with it, too.
    track = read_track("0,0,0,0\n1,2,0,0")
    yaw = keyed(track, 25, 50, project.clips[second].skipped)[0]
    held = project.clips[second].model_copy(
        update={"steps": (Step(id="h", kind="handheld", values={"yaw": yaw, "intensity": fixed(0)}),)}
    )
    assert read_track(recorded(project, held, "h")).turns[10, 0] == pytest.approx(0.8)


def test_the_move_of_a_clip_is_replaced_whoever_made_it_and_no_other_step_is():
    glow, mine = Step(id="move", kind="vignette"), move(Framing(scale=2)).model_copy(update={"id": "own"})
    project, _ = apply(white(glow, mine), UseMove(clips=("w",), move="push-slow"))
    assert [(step.id, step.kind) for step in project.clips["w"].steps] == [("move", "vignette"), ("own", "move")]
    assert project.clips["w"].steps[1].values["framing"].keys[-1].value.scale == pytest.approx(1.08)
    away, _ = apply(project, UseMove(clips=("w",), move=None))
    assert away.clips["w"].steps == (glow,)
    again, _ = apply(away, UseMove(clips=("w",), move="push-slow"))
    assert [step.id for step in again.clips["w"].steps] == ["move", "move-1"]


def test_what_lies_between_a_move_and_a_held_camera_stands_where_it_is_painted():
    mask = Mask(id="m", form="ellipse", values={n: fixed(v) for n, v in dict(x=60, y=50, width=20, height=20).items()})
    black = Step(
        id="dot", kind="gradient", values={"first": fixed("#000000"), "second": fixed("#000000")}, masks=(mask,)
    )
    project = white(move(Framing(roll=6)), black, shaken("walking"))
    assert filled(project).step == "move" and filled(project).scale > 1.1
    x, y = space_of(project, project.clips["w"], 1, 20)[1].map(60, 50)
    seen = Painter(None).paint(plan(evaluate(project, 20), 4 * WIDTH, 4 * HEIGHT))[..., 1]
    rows, columns = np.nonzero(seen < 128)
    assert (columns.mean() + 0.5) / 4 == pytest.approx(x, abs=0.1)
    assert (rows.mean() + 0.5) / 4 == pytest.approx(y, abs=0.1)


def test_rests_and_eases_are_set_and_a_pan_that_is_too_fast_is_said():
    project, _ = apply(white(length=100), UseMove(clips=("w",), move="push-quick"))
    rested, _ = apply(project, ChangeMove(clip="w", step="move", head=10, tail=25, strength=0.5, zoom="linear"))
    # The next move rests as this one does.
    gentler, _ = apply(rested, UseMove(clips=("w",), move="push-slow", amount=0.5))
    assert [key.at for key in gentler.clips["w"].steps[0].values["framing"].keys] == [10, -25]
    found = [each.a for each in matrices(rested, [0, 10, 11, 73, 74, 99])]
    assert found[0] == found[1] < found[2] and found[3] < found[4] == found[5]
    limit = 100 * 25 / (24 * 7)
    for share, told in ((0.95, False), (1.1, True)):
        # The frame's width in 7 s at 24 frames a second and 180°: so many px a frame at any rate. On the screen a
        # framing goes 3 times as far as on the picture.
        way = share * WIDTH / (24 * 7) * 99 / 3
        frames = Framing(x=-way / 2, scale=3), Framing(x=way / 2, scale=3)
        panned = white(move(*frames, ease=Linear()), length=100, shutter=Shutter(angle=180))
        notes = camera_notes(panned, panned.clips["w"])
        assert any("judders" in note for note in notes) == told
        course = camera_of(panned, panned.clips["w"])
        assert course.limit == pytest.approx(limit) and course.pans[10][1] == pytest.approx(share * limit, rel=0.01)


def test_a_frame_is_filled_by_shifting_or_by_going_less_far():
    project = white(move(Framing(x=-60, scale=1.2), Framing(x=70, y=20, scale=1.3)), length=50)
    assert filled(project).scale > 1.1
    shifted, _ = apply(project, FillMove(clip="w", step="move", by="shift"))
    first, last = (key.value for key in shifted.clips["w"].steps[0].values["framing"].keys)
    # As far as the picture goes: (1 − 1/s)/2 of its sides.
    assert first.x == pytest.approx(-WIDTH * (1 - 1 / 1.2) / 2) and last.y == 20
    assert last.x == pytest.approx(WIDTH * (1 - 1 / 1.3) / 2) and filled(shifted).scale < 1.001
    slower, back = apply(project, FillMove(clip="w", step="move", by="slow"))
    found = filled(slower)
    way = [key.value.x for key in slower.clips["w"].steps[0].values["framing"].keys]
    assert found.scale == 1 or found.scale < 1.0005
    assert 20 < way[1] - way[0] < 130 and found.spare.min() < 0.1 and apply(slower, back)[0] == project
    off = white(move(Framing(x=90), Framing(x=100)), length=50)
    with pytest.raises(EditError, match="shift the framings"):
        apply(off, FillMove(clip="w", step="move", by="slow"))


REST = Rest((640, 360), Rect(0, 0, 1280, 720), Rect(0, 0, 1280, 720), Rect(0, 0, 1280, 720), 1280, 720)


def held_values(**more):
    kind = KINDS["handheld"]
    given = {each.name: each.default for each in kind.parameters} | {each.name: each.default for each in kind.choices}
    return given | more


@pytest.mark.parametrize("situation", SITUATIONS)
def test_a_situation_turns_as_much_and_as_fast_as_it_says(situation):
    found = SITUATIONS[situation]
    paths = np.stack([turns_at(situation, seed, np.arange(0, 120, 1 / 60)) for seed in range(6)])
    for axis in range(3):
        rates, power = signal.welch(paths[..., axis], 60, nperseg=1200, axis=-1)
        power = power.mean(0)
        total = np.trapezoid(power, rates)
        gait = found.gait[1 + axis] if found.gait else 0.0
        wanted = math.sqrt(sum(band[2 + axis] ** 2 for band in found.bands))
        if not gait:
            assert paths[..., axis].std() == pytest.approx(wanted, rel=0.12)
        # All of it lies in its bands and, of steps, at their rate and its harmonics.
        inside = np.zeros(len(rates), bool)
        for band in found.bands:
            inside |= (rates > band.low - 0.15) & (rates < band.high + 0.15)
        if found.gait:
            for times in (0.5, 1, 2):
                inside |= np.abs(rates - times * found.gait.rate) < 0.15
        assert np.trapezoid(power * inside, rates) > 0.985 * total


def test_a_path_is_of_time_and_seed_alone():
    kind, times = KINDS["handheld"], (0.0, 1.0, 7.2, 61.0)
    for rate in (24, 25, 60):
        project = white(shaken(seed=7), length=62 * rate)
        settings_ = project.settings.model_copy(update={"rate": Rate(num=rate)})
        project = project.model_copy(update={"settings": settings_})
        found = [evaluate(project, round(at * rate)).layers[0].steps[0].values["seconds"] for at in times]
        assert found == pytest.approx(times, abs=0.5 / rate)
    cut, _ = apply(white(shaken(seed=7), length=100), SplitClips(clips=("w",), frame=40, seed="c"))
    second = next(clip for clip in cut.clips.values() if clip.head == 40)
    values = evaluate(cut, 55).layers[0].steps[0].values
    assert values["seconds"] == pytest.approx(55 / 25) and second.id != "w"
    one = kind.ways(held_values(seed=3), np.arange(0, 1, 0.04), REST)
    long = kind.ways(held_values(seed=3), np.arange(0, 60, 0.04), REST)
    assert (one == long[: len(one)]).all() and not np.allclose(
        one, kind.ways(held_values(seed=4), np.arange(0, 1, 0.04), REST)
    )


@pytest.mark.parametrize("focal, sensor", [(50, 36), (135, 36), (24, 13)])
def test_the_view_truly_turns_by_the_lens(focal, sensor):
    values = held_values(down=0, roll=0, focal=focal, sensor=sensor, intensity=3, seconds=0.3)
    yaw = math.radians(turns_at("shoulder", 1, np.array([0.3]))[0, 0] * 3)
    matrix = KINDS["handheld"].place(values, REST)
    far = 640 / math.tan(math.atan(sensor / (2 * focal)))
    assert matrix.map(640, 360)[0] - 640 == pytest.approx(far * math.tan(yaw), abs=1e-6)
    # Towards the edge it is more: what stands at an angle a is seen at f·tan(a + yaw).
    edge = math.atan(640 / far) + yaw
    assert matrix.map(1280, 360)[0] - 640 == pytest.approx(far * math.tan(edge), abs=1e-6)
    none = KINDS["handheld"].place(values | {"intensity": 0}, REST)
    assert none is None


def test_a_first_shake_is_a_held_camera():
    project = white(shaken(), length=250)
    # As a camera on a shoulder: some px, never a tenth of the frame, and hardly any enlargement.
    centre = np.array([matrix.map(160, 90) for matrix in matrices(project, range(0, 250, 3))]) - (160, 90)
    assert 0.5 < np.abs(centre).max() < 8 and filled(project).scale < 1.06


def lines(seconds, turns, head="time,yaw,pitch,roll"):
    return "\n".join([head, *(",".join(f"{each:.6f}" for each in (at, *row)) for at, row in zip(seconds, turns))])


def test_a_recorded_track_turns_the_view_as_it_was_recorded_and_is_written_again():
    seconds = np.arange(0, 2.01, 1 / 90)
    turns = np.stack([0.4 * np.sin(seconds * 3), 0.2 * np.cos(seconds * 5), 0.3 * seconds], 1)
    track = read_track(lines(seconds + 12.5, turns))
    keys = dict(zip(("yaw", "pitch", "turned"), keyed(track, 25, 60)))
    step = Step(id="held", kind="handheld", values={**keys, "intensity": fixed(0)})
    project = white(step, length=60)
    written = read_track(recorded(project, project.clips["w"], "held"))
    wanted = np.stack([np.interp(written.seconds, seconds, turns[:, axis]) for axis in range(3)], 1)
    # After its last line the camera stands as it stood.
    assert len(written.seconds) == 60 and np.abs(written.turns - wanted).max() < 2e-3
    moved = matrices(project, [10])[0]
    there = math.tan(math.radians(np.interp(0.4, seconds, turns[:, 0]))) * 320 * 50 / 36
    assert abs(moved.map(160, 90)[0] - 160 - there) < 0.02
    assert filled(project).spare.min() > -1e-4
    other = read_track(lines(seconds, turns[:, [2, 0, 1]], "Time [s];roll;yaw;pitch").replace(",", ";"))
    assert np.allclose(other.turns, turns, atol=1e-6)


@pytest.mark.parametrize(
    "text, says",
    [
        ("time,yaw,pitch,roll\n0,1,2,3", "fewer than two lines"),
        ("", "fewer than two lines"),
        ("time,yaw,pitch\n0,1,2\n1,1,2", "no column “roll”"),
        ("# of the heath\ntime,yaw,pitch,roll\n\n0,1,2,3\n0.1,1,x,3", "line 5 is not four numbers"),
        ("time,yaw,pitch,roll\n0,1,2,3\n0.2,1,2,3\n0.1,1,2,3", "at line 4"),
        ("0,1,2,3\n1,nan,2,3", "not finite"),
        ("0,1,2,3\n1,900,2,3", "turns by 900°"),
        ("time,yaw (rad),pitch,roll\n0,0,0,0\n1,0,0,0", "radians"),
        ("0,0,0,0\n" * 400_002, "at most 400000"),
    ],
)
def test_what_is_no_track_is_refused_with_its_reason(text, says):
    with pytest.raises(TrackError, match=says):
        read_track(text)


def test_a_gap_in_a_track_is_carried_over_and_said_and_a_long_one_has_fewer_keys():
    track = read_track("0,0,0,0\n1,1,0,0\n3,5,0,0\n3.4,5,0,0")
    assert "nothing was recorded for 2.00 s" in track.says[0]
    assert keyed(track, 25, 100)[0].keys[50].value == pytest.approx(3)
    long = read_track(lines(np.arange(0, 400, 0.05), np.zeros((8000, 3))))
    assert len(keyed(long, 25, 10_000)[0].keys) == 2000 and keyed(long, 25, 10_000)[0].keys[-1].at == pytest.approx(
        9998.75
    )


def test_shots_that_turn_are_sampled_by_their_planes_as_by_their_pixels():
    rng = np.random.default_rng(2)
    grey = ndimage.gaussian_filter(rng.random((180, 320)), 3)
    grey = (16 + 219 * (grey - grey.min()) / np.ptp(grey)).astype(np.uint8)
    planes = Planes(grey, np.full((90, 160), 128, np.uint8), np.full((90, 160), 128, np.uint8))
    turned = Matrix.shift(160, 90) @ Matrix.turn(3) @ Matrix.grow(0.9) @ Matrix.shift(-160, -90)
    for matrix in (turned, turned._replace(g=2e-6, h=-3e-6)):
        by_planes = sampled_planes(planes, matrix, 320, 180, True, (0, 0), True).astype(int)
        by_pixels = sampled(planes.rgba(), matrix, 320, 180, True, True, moves=True).astype(int)
        assert np.abs(by_planes - by_pixels)[..., :3].max() <= 2
    # Colour lies where it lies: a red half stays on its side of the edge.
    blue, red = np.full((90, 160), 128, np.uint8), np.full((90, 160), 128, np.uint8)
    red[:, 80:] = 200
    flat = Planes(np.full((180, 320), 120, np.uint8), blue, red)
    seen = sampled_planes(flat, Matrix.turn(90) @ Matrix.shift(0, -180), 180, 320, True, (0, 0), True)
    assert np.abs(seen[150:154, 90, 0].astype(int) - seen[150, 90, 0]).max() <= 1
    assert seen[170, 90, 0] > seen[150, 90, 0] + 40
    # Half-way between both sides where the edge is: columns of chroma lie on even ones of luma.
    edge = int(np.argmin(np.abs(seen[:, 90, 0].astype(int) - (int(seen[150, 90, 0]) + int(seen[170, 90, 0])) / 2)))
    assert edge in (158, 159)


@pytest.mark.parametrize("around", [Treatment(), Group()])
def test_all_that_lies_below_and_a_group_are_held_by_hand_and_stay_filled(around):
    ground = white(length=60)
    if isinstance(around, Treatment):
        over = Clip(id="over", track="a", name="over", head=0, length=60, content=around, steps=(shaken("walking"),))
        under = ground.clips["w"].model_copy(update={"track": "b"})
        project = ground.model_copy(update={"clips": {"w": under, "over": over}})
    else:
        project, _ = apply(ground, GatherClips(clips=("w",), group="over"))
        group = project.clips["over"].model_copy(update={"steps": (shaken("walking"),)})
        project = project.model_copy(update={"clips": {**project.clips, "over": group}})
    still = Painter(None).paint(plan(evaluate(ground, 20), WIDTH, HEIGHT))
    for at in (0, 20, 41):
        seen = Painter(None).paint(plan(evaluate(project, at), 2 * WIDTH, 2 * HEIGHT))
        assert seen[..., 1].min() == 255 and still[..., 1].min() == 255
    assert camera_of(project, project.clips["over"]).filled > 1.01
