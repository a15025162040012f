"""The frame as a graph of pictures: groups, treatments, blend modes, and clips that look at each other."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage

from idle_comet.core.edits import (
    AddClip,
    AddMask,
    EditError,
    GatherClips,
    RemoveClips,
    SetBlend,
    SetMotor,
    SetTransition,
    SplitClips,
    TakeApart,
    apply,
)
from idle_comet.core.moment.handles import clip_at
from idle_comet.core.moment.moment import Moment
from idle_comet.core.motion import Driven, Fixed, Key, Moving, Tether
from idle_comet.core.picture import MODES, Patch, blend
from idle_comet.core.project.model import (
    Clip,
    Group,
    Mask,
    Plain,
    Shutter,
    Step,
    Text,
    Track,
    Transition,
    Treatment,
    fixed,
)
from idle_comet.core.project.validity import check_whole

from .stacked import HEIGHT, WIDTH, changed, film, seen, square, stack
from .test_shutter import straight
from .typed import edited


@pytest.mark.parametrize("depth", [1, 3])
def test_gathered_and_taken_apart_nothing_changes_a_pixel(depth):
    flat = nested = stack()
    for number in range(depth):
        nested, _ = apply(
            nested,
            GatherClips(
                clips=tuple(
                    clip.id for clip in nested.clips.values() if Moment(nested, 0).scene and _top(nested, clip)
                ),
                group=f"g{number}",
            ),
        )
    assert len([clip for clip in nested.clips.values() if _top(nested, clip)]) == 1
    apart = nested
    for number in reversed(range(depth)):
        apart, _ = apply(apart, TakeApart(clip=f"g{number}"))
    for at in (0, 4, 20, 42, 49):
        assert np.array_equal(seen(nested, at), seen(flat, at)) and np.array_equal(seen(apart, at), seen(flat, at))


def _top(project, clip):
    return next(track.within for track in project.tracks if track.id == clip.track) is None


def test_a_group_that_fades_is_one_picture_with_no_edge_where_its_clips_overlap():
    one, _ = apply(
        film(square("red", "#ff0000", "a", x=-20), square("blue", "#ff0000", "b", x=20)),
        GatherClips(clips=("red", "blue"), group="g"),
    )
    faded = changed(one, "g", steps=(Step(id="p", kind="placement", values={"opacity": fixed(0.5)}),))
    row = seen(faded)[HEIGHT // 2, :, 0]
    inside = row[160 - 60 : 160 + 60]
    assert set(inside.astype(int)) <= {127, 128} and inside.mean() == pytest.approx(127.5, abs=0.3)


def test_a_moved_group_is_as_sharp_as_clips_moved_one_by_one_and_moves_with_its_shutter():
    own = stack()
    group, _ = apply(own, GatherClips(clips=tuple(own.clips), group="g"))
    push = Step(id="push", kind="placement", values={"scale": fixed(1.7), "x": fixed(11.3)})
    moved = changed(group, "g", steps=(push,))
    # Words begin at frame 3; pushed about the frame's middle each by itself, as the group is.
    each = own
    for id in own.clips:
        content = own.clips[id].content
        about = Moment(own, 20).whereabouts(id).standing.anchor
        place = push.model_copy(
            update={
                "values": {
                    **push.values,
                    "pivot_x": fixed(WIDTH / 2 - about[0]),
                    "pivot_y": fixed(HEIGHT / 2 - about[1]),
                }
            }
        )
        each = changed(each, id, steps=(*own.clips[id].steps, place), content=content)
    assert np.abs(seen(moved) - seen(each)).max() <= 1


def test_a_group_has_a_time_of_its_own():
    own = film(square("red", "#ffffff", length=80, x=straight(-80, 80)))
    group, _ = apply(own, GatherClips(clips=("red",), group="g"))
    twice = changed(group, "g", head=10, length=30, content=Group(start=7, speed=2))
    assert np.array_equal(seen(twice, 10 + 12), seen(own, 7 + 24))
    halves, _ = apply(twice, SplitClips(clips=("g",), frame=20, seed="h"))
    for at in (12, 19, 20, 33):
        assert np.array_equal(seen(halves, at), seen(twice, at))
    # Each half holds its own: taking one away leaves the other whole, and nothing astray.
    left, _ = apply(halves, RemoveClips(clips=("g",)))
    assert np.array_equal(seen(left, 25), seen(twice, 25)) and len(left.clips) == 2


@pytest.mark.parametrize("blur", [0, 6])
def test_a_group_in_motion_blurs_all_that_it_holds_by_its_own_way(blur):
    soft = (Step(id="soft", kind="focus_blur", values={"radius": fixed(blur)}),) if blur else ()
    own = film(square("red", "#ffffff", more=soft))
    group, _ = apply(own, GatherClips(clips=("red",), group="g"))
    moving = {"x": straight(-300, 300)}
    shutter = Shutter(angle=180)
    outer = changed(group, "g", shutter=shutter, steps=(Step(id="p", kind="placement", values=moving),))
    inner = film(square("red", "#ffffff", more=soft, **moving).model_copy(update={"shutter": shutter}))
    assert np.abs(seen(outer) - seen(inner)).max() <= 1


# Treatments


def treated(project, *steps, head=10, length=20, **more):
    clip = Clip(
        id="wash", track="over", name="Wash", head=head, length=length, content=Treatment(), steps=steps, **more
    )
    return project.model_copy(
        update={"tracks": (Track(id="over", name="Over"), *project.tracks), "clips": {**project.clips, "wash": clip}}
    )


def test_a_treatment_changes_all_below_it_for_its_length_and_nothing_else():
    own = stack()
    soft = treated(own, Step(id="soft", kind="focus_blur", values={"radius": fixed(3)}))
    for at in (0, 9, 30, 44):
        assert np.array_equal(seen(soft, at), seen(own, at))
    wanted = ndimage.gaussian_filter(seen(own, 20), (3, 3, 0), mode="nearest")
    assert np.abs(seen(soft, 20) - wanted).max() <= 1.2
    above = Clip(
        id="above",
        track="top",
        name="above",
        head=0,
        length=60,
        content=Plain(colour="#ffffff"),
        steps=square("s", "#ffffff", size=0.2).steps,
    )
    topped = soft.model_copy(
        update={"tracks": (Track(id="top", name="Top"), *soft.tracks), "clips": {**soft.clips, "above": above}}
    )
    # What lies above is as sharp as it was.
    assert seen(topped, 20)[HEIGHT // 2, WIDTH // 2 - 17 : WIDTH // 2 + 17].min() == 255


def test_a_treatment_eases_in_as_a_share_of_the_treated_picture():
    own = stack()
    soft = Step(id="soft", kind="focus_blur", values={"radius": fixed(4)})
    whole, half = treated(own, soft), treated(own, soft, Step(id="p", kind="placement", values={"opacity": fixed(0.3)}))
    assert np.abs(seen(half) - (0.7 * seen(own) + 0.3 * seen(whole))).max() <= 1.01


@pytest.mark.parametrize("kind", ["dissolve", "wipe"])
def test_a_treatment_comes_and_goes_by_transitions_like_any_clip(kind):
    green = Step(id="g", kind="gradient", values={"first": Fixed(value="#00ff00"), "second": Fixed(value="#00ff00")})
    eased = treated(stack(), green)
    for end in ("opening", "closing"):
        joined = Transition(kind=kind, length=10, softness=0)
        eased, _ = apply(eased, SetTransition(clip="wash", end=end, transition=joined))
    for at in (9, 12, 17, 24, 28, 30):
        plain, whole, found = seen(stack(), at), seen(treated(stack(), green), at), seen(eased, at)
        share = np.abs(found - plain).mean() / max(1e-9, np.abs(whole - plain).mean()) if 10 <= at < 30 else 0
        wanted = {9: 0, 12: 0.25, 17: 0.75, 24: 0.55, 28: 0.15, 30: 0}[at]
        assert share == pytest.approx(wanted, abs=0.12)
        if kind == "dissolve" and 10 <= at < 30:
            assert np.abs(found - (plain + (whole - plain) * share)).max() < 4


def test_a_treatment_that_pushes_in_paints_everything_anew_in_its_place():
    own = stack()
    push = {"scale": 1.6, "rotation": 7, "x": 9}
    moved = treated(own, Step(id="push", kind="placement", values={name: fixed(value) for name, value in push.items()}))
    group, _ = apply(own, GatherClips(clips=tuple(own.clips), group="g"))
    grouped = changed(
        group,
        "g",
        steps=(Step(id="push", kind="placement", values={name: fixed(value) for name, value in push.items()}),),
    )
    assert np.abs(seen(moved) - seen(grouped)).max() <= 1


def test_a_treatment_in_a_group_sees_the_group_only():
    own = stack()
    inner, _ = apply(
        treated(own, Step(id="soft", kind="focus_blur", values={"radius": fixed(3)}), head=0, length=50),
        GatherClips(clips=("words", "wash"), group="g"),
    )
    sharp, _ = apply(own, RemoveClips(clips=("words",)))
    only = seen(inner) - seen(sharp)
    assert np.abs(only[20:60]).max() <= 1  # the squares' edges above the words are as sharp as ever
    assert np.abs(seen(inner) - seen(own)).max() > 20


# Blend modes


def reference(mode, cb, cs):
    """B(cb, cs) on RGB in 0..1, straight from the standard."""
    lum = lambda c: 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2]  # noqa: E731

    def clip_colour(c):
        at, low, high = lum(c), min(c), max(c)
        c = [at + (x - at) * at / (at - low) for x in c] if low < 0 else list(c)
        return [at + (x - at) * (1 - at) / (high - at) for x in c] if high > 1 else c

    def set_lum(c, at):
        return clip_colour([x + at - lum(c) for x in c])

    def set_sat(c, sat):
        low, high = min(c), max(c)
        return [(x - low) * sat / (high - low) if high > low else 0 for x in c]

    sat = lambda c: max(c) - min(c)  # noqa: E731
    hard = lambda b, s: 2 * b * s if s <= 0.5 else b + (2 * s - 1) - b * (2 * s - 1)  # noqa: E731

    def soft(b, s):
        d = ((16 * b - 12) * b + 4) * b if b <= 0.25 else b**0.5
        return b - (1 - 2 * s) * b * (1 - b) if s <= 0.5 else b + (2 * s - 1) * (d - b)

    one = {
        "normal": lambda b, s: s,
        "multiply": lambda b, s: b * s,
        "screen": lambda b, s: b + s - b * s,
        "overlay": lambda b, s: hard(s, b),
        "darken": min,
        "lighten": max,
        "colour-dodge": lambda b, s: 0 if b == 0 else 1 if s >= 1 else min(1, b / (1 - s)),
        "colour-burn": lambda b, s: 1 if b >= 1 else 0 if s <= 0 else 1 - min(1, (1 - b) / s),
        "hard-light": hard,
        "soft-light": soft,
        "difference": lambda b, s: abs(b - s),
        "exclusion": lambda b, s: b + s - 2 * b * s,
    }.get(mode)
    if one:
        return [one(b, s) for b, s in zip(cb, cs)]
    return {
        "hue": lambda: set_lum(set_sat(cs, sat(cb)), lum(cb)),
        "saturation": lambda: set_lum(set_sat(cb, sat(cs)), lum(cb)),
        "colour": lambda: set_lum(cs, lum(cb)),
        "luminosity": lambda: set_lum(cb, lum(cs)),
    }[mode]()


@settings(max_examples=120)
@given(
    st.sampled_from(MODES),
    st.tuples(*[st.integers(0, 255)] * 4),
    st.tuples(*[st.integers(0, 255)] * 4),
    st.floats(0, 1),
)
def test_every_blend_mode_is_the_standards_formula(mode, below, above, opacity):
    def premultiplied(colour):
        return np.array([[[*(channel * colour[3] / 255 for channel in colour[:3]), colour[3]]]], np.float32)

    made = premultiplied(below)
    blend(made, Patch(premultiplied(above), 0, 0, opacity=opacity), mode)
    ab, as_ = below[3] / 255, above[3] / 255 * opacity
    cb, cs = [c / 255 for c in below[:3]], [c / 255 for c in above[:3]]
    if mode == "add":
        wanted = [min(1, c * as_ + d * ab) for c, d in zip(cs, cb)] + [min(1, as_ + ab)]
    else:
        wanted = [
            as_ * (1 - ab) * s + as_ * ab * x + (1 - as_) * ab * b for s, b, x in zip(cs, cb, reference(mode, cb, cs))
        ] + [as_ + ab * (1 - as_)]
    assert made[0, 0] == pytest.approx(np.array(wanted) * 255, abs=0.06)


def test_a_clip_blends_with_what_lies_below_it_and_in_a_group_of_its_own_steps_with_the_group_only():
    own = film(square("light", "#808080", "a"), background="#c06030")
    multiplied, _ = apply(own, SetBlend(clips=("light",), mode="multiply"))
    assert seen(multiplied)[HEIGHT // 2, WIDTH // 2] == pytest.approx(
        [0xC0 * 128 / 255, 0x60 * 128 / 255, 0x30 * 128 / 255], abs=1
    )
    # A group that does nothing by itself changes nothing; one with a step is a picture by itself.
    group, _ = apply(multiplied, GatherClips(clips=("light",), group="g"))
    assert np.array_equal(seen(group), seen(multiplied))
    apart = changed(group, "g", steps=(Step(id="p", kind="placement"),))
    assert np.array_equal(seen(apart), seen(own))


def test_a_press_on_the_picture_finds_the_group_of_what_lies_there_and_no_treatment():
    group, _ = apply(
        film(square("red", "#ffffff", "a", x=60), square("blue", "#ffffff", "b", x=-60)),
        GatherClips(clips=("red", "blue"), group="g"),
    )
    whole = treated(
        changed(group, "g", steps=(Step(id="p", kind="placement", values={"y": fixed(20)}),)),
        Step(id="soft", kind="focus_blur", values={"radius": fixed(3)}),
    )
    assert clip_at(whole, 15, 160 + 60, 110) == "g" and clip_at(whole, 15, 160, 20) is None


# Looking at each other


@pytest.mark.parametrize("at", [5, 20, 20.37, 44.9])
def test_a_tethers_edge_is_the_other_clips_edge_at_every_moment(at):
    own = film(
        square("red", "#ffffff", "a"), square("blue", "#ffffff", "b", x=straight(-60, 60), rotation=straight(0, 40))
    )
    tied = edited(
        own,
        SetMotor(
            clip="red",
            step="placement",
            name="x",
            motor=Tether(clip="blue", side="right", offset=-WIDTH / 2 + HEIGHT / 4),
        ),
    )
    moment = Moment(tied, at)
    assert moment.whereabouts("red").at("left") == pytest.approx(moment.whereabouts("blue").at("right"), abs=1e-6)
    blue = moment.whereabouts("blue")
    assert blue.box.x1 == max(x for x, _ in blue.quad)


def test_clips_that_look_at_each_other_in_a_circle_are_refused_and_harmless_where_a_document_has_them():
    own = film(square("red", "#ffffff", "a"), square("blue", "#ffffff", "b"), square("green", "#ffffff", "c"))
    own = edited(
        own,
        SetMotor(clip="red", step="placement", name="x", motor=Tether(clip="blue", side="left")),
        SetMotor(clip="blue", step="placement", name="y", motor=Tether(clip="green", side="top")),
    )
    with pytest.raises(EditError, match="“green” looks at “red” looks at “blue” looks at “green”"):
        apply(own, SetMotor(clip="green", step="placement", name="x", motor=Tether(clip="red", side="left")))
    with pytest.raises(EditError, match="circle"):
        apply(own, AddMask(clip="green", step="placement", mask=Mask(id="m", form="clip", clip="blue")))
    green = own.clips["green"]
    steps = (
        green.steps[0],
        green.steps[1].model_copy(update={"values": {"x": Driven(motor=Tether(clip="red", side="left"), rest=3.0)}}),
    )
    looped = changed(own, "green", steps=steps)
    assert seen(looped).shape == (HEIGHT, WIDTH, 3) and Moment(looped, 20).value(
        "green", "placement", "x"
    ) == pytest.approx(Moment(looped, 20).value("green", "placement", "x"))


def test_a_group_that_would_hold_itself_or_tear_a_look_apart_is_refused():
    own = film(square("red", "#ffffff", "a"), square("blue", "#ffffff", "b"))
    group, _ = apply(own, GatherClips(clips=("red",), group="g"))
    inner = next(track.id for track in group.tracks if track.within == "g")
    itself = group.clips["g"].model_copy(update={"track": inner, "head": 200})
    with pytest.raises(EditError):
        apply(group, AddClip(clip=itself.model_copy(update={"id": "g"})))
    tied = edited(own, SetMotor(clip="red", step="placement", name="x", motor=Tether(clip="blue", side="left")))
    with pytest.raises(EditError, match="only one of them"):
        apply(tied, GatherClips(clips=("red",), group="g"))
    with pytest.raises(EditError, match="steps"):
        apply(changed(group, "g", steps=(Step(id="p", kind="placement"),)), TakeApart(clip="g"))


@pytest.mark.parametrize("steps", ["each", "treatment", "drop"])
def test_a_group_with_steps_is_taken_apart_as_it_is_asked(steps):
    """Each of its clips keeps how it stood at every frame of the film, or a treatment does, or they go."""
    own = film(square("red", "#ffffff", "a"), square("blue", "#ffffff", "b"))
    group, _ = apply(own, GatherClips(clips=("red", "blue"), group="g"))
    whole = group.clips["g"]
    half = Key(counts_from="proportion", at=0.5, value=60.0)
    slides = Moving(keys=(Key(at=2, value=0.0), half, Key(counts_from="tail", at=-3, value=-20.0)))
    # One of them is there for a part of the group's time only, and already has a step of that name.
    late = group.clips["blue"].model_copy(update={"head": 4, "length": 18, "steps": (Step(id="p", kind="placement"),)})
    group = group.model_copy(update={"clips": {**group.clips, "blue": late}})
    moved = Step(id="p", kind="placement", values={"x": slides}, since=6, until=5)
    group = changed(group, "g", steps=(moved,))
    apart, _ = apply(group, TakeApart(clip="g", steps=steps))
    check_whole(apart)
    assert "g" not in apart.clips and ("g-steps" in apart.clips) == (steps == "treatment")
    plain, _ = apply(changed(group, "g", steps=()), TakeApart(clip="g"))
    for at in range(whole.head, whole.end, 3):
        wanted = seen(plain if steps == "drop" else group, at)
        assert np.abs(seen(apart, at).astype(int) - wanted).max() <= 1


# Depth of pixels


def exact(gradient, share):
    top, foot = (np.array([int(colour[i : i + 2], 16) for i in (1, 3, 5)]) for colour in gradient)
    place = (np.arange(HEIGHT) + 0.5) / HEIGHT
    return (top + (foot - top) * place[:, None]) * share


@pytest.mark.parametrize("at", [7, 23, 51])
def test_a_dark_gradient_that_fades_in_slowly_shows_no_steps(at):
    dusk = Clip(
        id="d",
        track="a",
        name="d",
        head=0,
        length=101,
        content=Plain(),
        steps=(
            Step(
                id="g",
                kind="gradient",
                values={"first": Fixed(value="#101418"), "second": Fixed(value="#1c2026"), "angle": fixed(90)},
            ),
            Step(id="p", kind="placement", values={"opacity": straight(0, 1)}),
        ),
    )
    wanted = np.broadcast_to(exact(("#101418", "#1c2026"), at / 100)[:, None], (HEIGHT, WIDTH, 3))
    off = seen(film(dusk), at) - wanted
    blocks = off[:176].reshape(11, 16, 20, 16, 3).mean((1, 3))
    assert np.abs(blocks).max() <= 0.15


def test_steps_mixed_by_little_are_not_lost_in_rounding():
    tints = tuple(
        Step(
            id=f"t{n}",
            kind="gradient",
            mix=fixed(0.03),
            values={"first": Fixed(value=colour), "second": Fixed(value=colour)},
        )
        for n, colour in enumerate(("#ff0000", "#00ff00", "#0000ff", "#ffffff"))
    )
    grey = Clip(id="d", track="a", name="d", head=0, length=101, content=Plain(colour="#404040"), steps=tints)
    wanted = np.full(3, 64.0)
    for colour in ((255, 0, 0), (0, 255, 0), (0, 0, 255), (255, 255, 255)):
        wanted = wanted * 0.97 + np.array(colour) * 0.03
    assert np.abs(seen(film(grey))[:176].reshape(11, 16, 20, 16, 3).mean((1, 3)) - wanted).max() <= 0.15


def test_a_soft_title_at_two_percent_is_all_there():
    words = Clip(
        id="w",
        track="a",
        name="w",
        head=0,
        length=50,
        content=Text(text="swarm", size=fixed(80), colour=fixed("#ffffff")),
        steps=(
            Step(id="soft", kind="focus_blur", values={"radius": fixed(9)}),
            Step(id="p", kind="placement", values={"opacity": fixed(0.02)}),
        ),
    )
    sharp = seen(changed(film(words), "w", steps=()))[..., 0]
    wanted = ndimage.gaussian_filter(sharp, 9) * 0.02
    assert np.abs((seen(film(words))[..., 0] - wanted)[:176].reshape(11, 16, 20, 16).mean((1, 3))).max() <= 0.15
