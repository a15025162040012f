"""Keys by the many: distributed, aligned, stretched, copied from one clip to another."""

import pytest

from idle_comet.core.compose import evaluate
from idle_comet.core.edits import (
    AddKey,
    AddTitle,
    AlignKeys,
    CopiedKey,
    DistributeKeys,
    EaseKeys,
    EditError,
    KeyAt,
    KeyRef,
    MoveKey,
    PasteKeys,
    PlaceKeys,
    SetProperty,
    SetRepeat,
    SetSpans,
    SetThrough,
    SetValue,
    ShiftKeys,
    StretchKeys,
    TrimClip,
    apply,
)
from idle_comet.core.edits.base import clock_of
from idle_comet.core.edits.values import property_of
from idle_comet.core.motion import Key, Linear, Moving, Spring, Strengths, resolve_keys
from idle_comet.core.project.model import Project, Settings
from idle_comet.core.steps import KINDS

from .typed import title


def moving(*keys):
    return Moving(keys=tuple(Key(at=at, value=value, ease=Linear()) for at, value in keys))


@pytest.fixture
def pair():
    """Two titles of 100 frames, one after the other; the first travels and fades by keys of its own."""
    film = Project(settings=Settings(name="T"))
    for clip, head in (("one", 0), ("two", 100)):
        film, _ = apply(film, AddTitle(clip=clip, frame=head, text=clip))
        film, _ = apply(film, TrimClip(clip=clip, head=head, length=100))
        film, _ = apply(film, SetSpans(clip=clip, arrival=0, departure=0))
    film, _ = apply(
        film,
        SetProperty(
            clip="one", step="placement", name="x", property=moving((0, 0.0), (10, 5.0), (13, 90.0), (60, 30.0))
        ),
    )
    return apply(film, SetProperty(clip="one", step="placement", name="opacity", property=moving((4, 0.0), (20, 1.0))))[
        0
    ]


def refs(name, *places, clip="one"):
    return tuple(KeyRef(clip=clip, step="placement", name=name, key=place + 1) for place in places)


def at(name, key, frame, clip="one"):
    return KeyAt(clip=clip, step="placement", name=name, key=key, frame=frame)


def keys(film, name, clip="one"):
    own = film.clips[clip]
    prop = next(step for step in own.steps if step.kind == "placement").values[name]
    return [(round(item.frame, 6), item.key.value) for item in resolve_keys(prop, clock_of(own))]


def value(film, name, frame):
    return evaluate(film, frame).layers[0].steps[-1].values[name]


def test_keys_in_hand_are_spread_evenly_between_their_outermost(pair):
    film, _ = apply(pair, DistributeKeys(keys=refs("x", 0, 1, 2, 3)))
    assert keys(film, "x") == [(0, 0), (20, 5), (40, 90), (60, 30)]
    some, _ = apply(pair, DistributeKeys(keys=refs("x", 0, 2, 3)))
    assert keys(some, "x") == [(0, 0), (10, 5), (30, 90), (60, 30)]


def test_keys_of_several_properties_are_aligned_one_of_each(pair):
    film, _ = apply(pair, AlignKeys(keys=refs("x", 2) + refs("opacity", 1), frame=25))
    assert keys(film, "x")[2] == (25, 90) and keys(film, "opacity")[1] == (25, 1)
    with pytest.raises(EditError, match="only one key can stand at a frame"):
        apply(pair, AlignKeys(keys=refs("x", 1, 2), frame=25))
    with pytest.raises(EditError, match="would stand at frame 10"):
        apply(pair, AlignKeys(keys=refs("x", 2), frame=10))


def test_keys_are_stretched_about_the_playhead_and_shifted_together(pair):
    film, _ = apply(pair, StretchKeys(keys=refs("x", 1, 2), about=10, factor=3))
    assert keys(film, "x") == [(0, 0), (10, 5), (19, 90), (60, 30)]
    film, _ = apply(film, ShiftKeys(keys=refs("x", 1, 2) + refs("opacity", 0, 1), by=5))
    assert keys(film, "x") == [(0, 0), (15, 5), (24, 90), (60, 30)] and keys(film, "opacity") == [(9, 0), (25, 1)]
    # A key may pass another; they play in the order of their frames.
    passed, _ = apply(film, ShiftKeys(keys=refs("x", 1), by=10))
    assert keys(passed, "x") == [(0, 0), (24, 90), (25, 5), (60, 30)]
    with pytest.raises(EditError, match="would lie outside it"):
        apply(film, ShiftKeys(keys=refs("x", 3), by=40))


def test_copied_keys_keep_their_distances_and_eases_and_find_the_same_step_elsewhere(pair):
    copied = (
        CopiedKey(step="placement", step_kind="placement", name="x", after=0, value=5.0, ease=Spring()),
        CopiedKey(step="elsewhere", step_kind="placement", name="x", after=3, value=90.0, ease=Linear()),
    )
    film, _ = apply(pair, PasteKeys(clips=("one", "two"), keys=copied, frame=140))
    assert keys(film, "x", "two") == [(40, 5), (43, 90)] and keys(film, "x") == keys(pair, "x")
    ease = next(step for step in film.clips["two"].steps if step.kind == "placement").values["x"].keys[0].ease
    assert ease == Spring()
    over, _ = apply(pair, PasteKeys(clips=("one",), keys=copied, frame=10))
    assert keys(over, "x") == [(0, 0), (10, 5), (13, 90), (60, 30)]
    with pytest.raises(EditError, match="nothing was pasted"):
        apply(pair, PasteKeys(clips=("two",), keys=copied, frame=20))


def test_one_ease_for_all_keys_in_hand(pair):
    film, _ = apply(pair, EaseKeys(keys=refs("x", 0, 2), ease=Strengths(start=0, end=0)))
    soft, _ = apply(film, EaseKeys(keys=refs("x", 0), ease=Strengths()))
    # 3u² − 2u³ at a quarter of the way, and evenly where the ease was left alone.
    assert value(soft, "x", 2.5) == pytest.approx(5 * (3 * 0.25**2 - 2 * 0.25**3))
    assert value(soft, "x", 11) == pytest.approx(5 + 85 / 3)


def test_a_run_repeats_to_the_clips_end_and_leads_smoothly_through(pair):
    looped, _ = apply(pair, SetRepeat(clip="one", step="placement", name="opacity", repeat={"mode": "mirror"}))
    assert [value(looped, "opacity", frame) for frame in (4, 12, 20, 28, 36, 44)] == pytest.approx(
        [0, 0.5, 1, 0.5, 0, 0.5]
    )
    through, _ = apply(pair, SetThrough(clip="one", step="placement", name="x", through=True))
    seen = [value(through, "x", frame / 4) for frame in range(0, 241)]
    assert (
        max(seen) == pytest.approx(90)
        and min(seen) == 0
        and seen[40] == pytest.approx(5)
        and seen[52] == pytest.approx(90)
    )


def test_a_key_dragged_past_its_neighbour_stays_the_one_that_is_dragged(pair):
    """A drag names the key it took hold of all the way, wherever that stands among the others by then."""
    film = pair
    for frame in (8, 12, 30, 70, 5):
        film, _ = apply(film, MoveKey(clip="one", step="placement", name="x", key=1, frame=frame))
        assert keys(film, "x") == sorted([(frame, 0), (10, 5), (13, 90), (60, 30)])
    film, _ = apply(film, PlaceKeys(keys=(at("x", 2, 20), at("x", 3, 23), at("opacity", 1, 0))))
    assert keys(film, "x") == [(5, 0), (20, 5), (23, 90), (60, 30)] and keys(film, "opacity")[0] == (0, 0)
    with pytest.raises(EditError, match="Two keys"):
        apply(film, PlaceKeys(keys=(at("x", 2, 60),)))


def test_numbers_of_keys_are_never_given_twice_and_survive_a_file(pair):
    added, _ = apply(pair, AddKey(clip="one", step="placement", name="x", frame=30))
    run = next(step for step in added.clips["one"].steps if step.kind == "placement").values["x"]
    assert sorted(key.id for key in run.keys) == [1, 2, 3, 4, 5] and [key.id for key in run.keys] != [1, 2, 3, 4, 5]
    assert Project.model_validate_json(added.model_dump_json()) == added
    old = Moving.model_validate(
        {"keys": [{"at": 3, "value": 1}, {"at": 9, "value": 2, "id": 1}, {"at": 12, "value": 3}]}
    )
    assert [key.id for key in old.keys] == [2, 1, 3]


@pytest.mark.parametrize("kind", KINDS)
def test_the_value_that_is_there_becomes_a_key_when_it_is_confirmed_at_a_frame(kind):
    film = title("Hive", kind, length=100)
    confirmed = 0
    for each in KINDS[kind].parameters:
        if each.sort not in ("number", "colour"):
            continue
        place = {"clip": "t", "step": "s", "name": each.name}
        low, high = ("#000000", "#204060") if each.sort == "colour" else (each.low, (each.low + each.high) / 2)
        try:
            made, _ = apply(film, SetProperty(**place, property=moving((10, low), (60, high))))
        except EditError:
            # A value that does not move has no keys.
            continue
        there = evaluate(made, 30).layers[0].steps[0].values[each.name]
        there = there if each.sort == "colour" else float(each.clamp(there))
        after, _ = apply(made, SetValue(**place, value=there, frame=30))
        clip = after.clips["t"]
        frames = [key.frame for key in resolve_keys(property_of(clip, "s", each.name), clock_of(clip))]
        assert frames == [10, 30, 60], each.name
        confirmed += 1
    assert confirmed or not any(each.sort == "number" for each in KINDS[kind].parameters)
