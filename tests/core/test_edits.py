import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from idle_comet.core.compose import evaluate
from idle_comet.core.edits import (
    AddClip,
    AddPicture,
    AddTitle,
    AddTreatment,
    BakeMotion,
    ChangeText,
    Edit,
    EditError,
    HoldChoice,
    KeyPlacement,
    KeyRef,
    LayPictures,
    MirrorArrival,
    MoveClips,
    MoveKey,
    PasteClips,
    PlaceClip,
    RecountKeys,
    RemoveKeys,
    SetMotor,
    SetMoving,
    SetProperty,
    SetSpanEase,
    SetSpans,
    SetStepTimes,
    SetValue,
    Several,
    Slower,
    TrimClip,
    UseLook,
    apply,
)
from idle_comet.core.edits.base import clock_of
from idle_comet.core.motion import Fixed, Follow, Key, Moving, Strengths, Wobble, resolve_keys, value_at
from idle_comet.core.project.difference import difference
from idle_comet.core.project.model import Project, Settings, Track
from idle_comet.core.recipes.looks import LOOKS
from idle_comet.core.steps import KINDS


def test_what_follows_itself_is_refused_with_the_circle_spelled_out(film):
    one, _ = apply(
        film, SetMotor(clip="title", step="placement", name="x", motor=Follow(step="placement", name="rotation"))
    )
    two, _ = apply(
        one, SetMotor(clip="title", step="placement", name="rotation", motor=Follow(step="placement", name="scale"))
    )
    with pytest.raises(
        EditError, match="circle: scale of .* follows .*position X of .* follows rotation of .* follows scale of"
    ):
        apply(two, SetMotor(clip="title", step="placement", name="scale", motor=Follow(step="placement", name="x")))
    with pytest.raises(EditError, match="circle"):
        apply(film, SetMotor(clip="title", step="placement", name="x", motor=Follow(step="placement", name="x")))
    with pytest.raises(EditError, match="is a colour and can't follow"):
        apply(film, SetMotor(clip="title", step="content", name="colour", motor=Follow(step="placement", name="x")))
    followed, _ = apply(
        film,
        SetMotor(
            clip="title",
            step="placement",
            name="x",
            motor=Follow(step="placement", name="y", gain=-2, offset=5, delay=3),
        ),
    )
    for frame in (10, 30, 140):
        x = evaluate(followed, 25 + frame).layers[-1].steps[1].values["x"]
        assert x == pytest.approx(-2 * values(film, "y")[frame - 3] + 5)


def test_an_arrival_mirrored_plays_backwards_and_slower_is_half_as_long_again(film):
    after, _ = apply(film, MirrorArrival(clips=("title",)))
    y = values(after, "y")
    assert all(y[149 - frame] == pytest.approx(y[frame]) for frame in range(0, 41))
    slow, _ = apply(film, Slower(clips=("title",)))
    assert (slow.clips["title"].arrival, slow.clips["title"].departure) == (60, 45)
    assert values(slow, "y")[30] == pytest.approx(values(film, "y")[20])
    with pytest.raises(EditError, match="too short"):
        apply(slow, Slower(clips=("title",)))


def test_a_step_is_done_only_between_its_own_times(film):
    after, _ = apply(film, SetStepTimes(clip="title", step="focus", since=10, until=20))
    kinds = [[step.kind for step in evaluate(after, 25 + frame).layers[-1].steps] for frame in (9, 10, 129, 130)]
    assert kinds == [["placement"], ["focus_blur", "placement"], ["focus_blur", "placement"], ["placement"]]


def test_words_and_typeface_hold_from_their_keys_on(film):
    after, _ = apply(film, HoldChoice(clip="title", name="text", frame=60, value="BEES"))
    after, _ = apply(after, HoldChoice(clip="title", name="typeface", frame=90, value="fraunces"))
    shown = [evaluate(after, 25 + frame).layers[-1].content for frame in (59, 60, 90)]
    assert [(each.text, each.typeface) for each in shown] == [
        ("THE SLOW HARVEST", "archivo"),
        ("BEES", "archivo"),
        ("BEES", "fraunces"),
    ]
    # Typed where the held words are seen, they change and the first ones stay; typed before, the other way round.
    typed, _ = apply(after, ChangeText(clip="title", text="SWARM", frame=70))
    early, _ = apply(typed, ChangeText(clip="title", text="HEATH", typeface="bitter", frame=10))
    assert [evaluate(early, 25 + frame).layers[-1].content.text for frame in (10, 70)] == ["HEATH", "SWARM"]
    assert [evaluate(early, 25 + frame).layers[-1].content.typeface for frame in (10, 95)] == ["bitter", "fraunces"]
    with pytest.raises(EditError, match="can't be held"):
        apply(film, HoldChoice(clip="title", name="align", frame=5, value="sideways"))


def test_baked_motion_is_what_it_was_at_every_frame(film):
    driven, _ = apply(
        film, SetMotor(clip="title", step="placement", name="rotation", motor=Wobble(amplitude=4, rate=2, fade_in=12))
    )
    baked, _ = apply(driven, BakeMotion(clip="title", step="placement", name="rotation"))
    for frame in (0, 7, 60, 149):
        seen = [evaluate(each, 25 + frame).layers[-1].steps[1].values["rotation"] for each in (driven, baked)]
        assert seen[0] == pytest.approx(seen[1])


@given(st.integers(0, 60), st.integers(71, 160))
def test_trimming_moves_no_key_from_the_end_it_counts_from(film, shift, length):
    title = film.clips["title"]
    fade = title.steps[1].values["opacity"]
    trimmed, _ = apply(film, TrimClip(clip="title", head=title.head + shift, length=length))
    placed = [item.frame for item in resolve_keys(fade, clock_of(trimmed.clips["title"]))]
    assert placed == [0, 40, length - 1 - 30, length - 1]
    back, _ = apply(trimmed, TrimClip(clip="title", head=title.head, length=title.length))
    assert back == film


def test_longer_spans_stretch_the_keys_within_them(film):
    after, _ = apply(film, SetSpans(clip="title", arrival=20, departure=15))
    keys = after.clips["title"].steps[1].values["opacity"].keys
    assert [(key.counts_from, key.at) for key in keys] == [("head", 0), ("head", 20), ("tail", -15), ("tail", 0)]


def test_an_ease_of_the_arrival_leaves_the_departure_alone(film):
    after, _ = apply(film, SetSpanEase(clip="title", span="arrival", ease=Strengths(start=0, end=1)))
    for step in after.clips["title"].steps:
        for prop in step.values.values():
            assert prop.keys[0].ease == Strengths(start=0, end=1)
            assert prop.keys[2].ease == Strengths(start=0.2, end=0.75)


def test_changing_a_moving_value_writes_a_key_at_the_playhead(film):
    after, _ = apply(film, SetValue(clip="title", step="placement", name="y", value=5, frame=20))
    keys = after.clips["title"].steps[1].values["y"].keys
    assert [(key.counts_from, key.at, key.value) for key in keys][1] == ("head", 20, 5)
    again, _ = apply(after, SetValue(clip="title", step="placement", name="y", value=9, frame=20))
    assert len(again.clips["title"].steps[1].values["y"].keys) == len(keys)


@pytest.mark.parametrize(
    "wrong, says",
    [
        (SetValue(clip="title", step="focus", name="radius", value=-1), "goes from 0"),
        (SetValue(clip="title", step="focus", name="size", value=1), "no value"),
        (ChangeText(clip="nowhere", text="x"), "no clip"),
        (ChangeText(clip="shot", text="x"), "no words"),
        (MoveClips(heads={"title": 0}, tracks={"title": "shots"}), "would lie over"),
        (TrimClip(clip="shot", head=0, length=500), "only 50 frames"),
        (
            SetProperty(
                clip="title",
                step="focus",
                name="radius",
                property=Moving(keys=(Key(at=3, value=1), Key(at=3, value=2))),
            ),
            "same frame",
        ),
    ],
)
def test_what_does_not_fit_is_refused_in_words(film, wrong, says):
    with pytest.raises(EditError, match=says):
        apply(film, wrong)


@pytest.mark.parametrize(
    "raw",
    [
        {"kind": "change_text", "clip": "title", "text": "x" * 10_001},
        {"kind": "set_value", "clip": "title", "step": "focus", "name": "radius", "value": float("nan")},
        {"kind": "trim_clip", "clip": "title", "head": 0, "length": 0},
        {"kind": "move_clips", "heads": {"../title": 0}},
        {"kind": "explode"},
    ],
)
def test_malformed_edits_never_reach_the_document(raw):
    with pytest.raises(ValidationError):
        TypeAdapter(Edit).validate_python(raw)


def test_several_edits_are_all_or_nothing(film):
    both = Several(label="both", edits=(ChangeText(clip="title", text="A"), ChangeText(clip="gone", text="B")))
    with pytest.raises(EditError):
        apply(film, both)


def test_a_difference_names_only_what_changed(film):
    after, _ = apply(film, ChangeText(clip="title", text="A"))
    assert list(difference(film, after).clips) == ["title"]
    assert difference(film, film).empty


def test_adding_a_clip_over_another_is_refused(film):
    with pytest.raises(EditError, match="would lie over"):
        apply(film, AddClip(clip=film.clips["title"].model_copy(update={"id": "twin"})))


def test_a_fixed_value_stays_fixed(film):
    after, _ = apply(film, SetValue(clip="title", step="content", name="size", value=80))
    assert after.clips["title"].content.size == Fixed(value=80)


def values(project, name, step="placement", clip="title"):
    own = project.clips[clip]
    prop = next(each for each in own.steps if each.id == step).values[name]
    return {round(frame): value_at(prop, frame, clock_of(own)) for frame in range(own.length)}


Y1 = KeyRef(clip="title", step="placement", name="y", key=2)


def test_a_key_that_counts_from_elsewhere_stays_at_its_frame(film):
    for end in ("tail", "proportion", "head"):
        after, _ = apply(film, RecountKeys(keys=(Y1,), counts_from=end))
        assert values(after, "y") == pytest.approx(values(film, "y"), abs=1e-6)
    longer, _ = apply(film, RecountKeys(keys=(Y1,), counts_from="tail"))
    longer, _ = apply(longer, TrimClip(clip="title", head=25, length=160))
    assert [
        round(item.frame)
        for item in resolve_keys(longer.clips["title"].steps[1].values["y"], clock_of(longer.clips["title"]))
    ] == [0, 50, 129, 159]


def test_keying_the_whole_placement_changes_no_picture_and_holds_what_stands(film):
    film, _ = apply(film, SetValue(clip="title", step="placement", name="scale", value=1.3))
    after, _ = apply(film, KeyPlacement(clip="title", step="placement", frame=75))
    for frame in (0, 20, 75, 100, 149):
        now, then = (evaluate(each, 25 + frame).layers[-1].steps[1].values for each in (after, film))
        assert all(now[name] == pytest.approx(then[name]) for name in then)
    placed = after.clips["title"].steps[1].values
    assert all(placed[name].state == "moving" for name in ("x", "y", "scale", "rotation", "opacity"))


def test_moving_and_fixed_keep_the_value_at_the_playhead(film):
    after, _ = apply(film, SetMoving(clip="title", step="placement", name="y", moving=False, frame=20))
    assert after.clips["title"].steps[1].values["y"].value == pytest.approx(values(film, "y")[20])
    again, _ = apply(after, SetMoving(clip="title", step="placement", name="y", moving=True, frame=60))
    assert [key.at for key in again.clips["title"].steps[1].values["y"].keys] == [60]


def test_a_clip_dragged_near_the_middle_is_drawn_onto_it(film):
    after, _ = apply(film, PlaceClip(clip="title", frame=75, x=3, y=-5, snap=8))
    assert (values(after, "y")[75], evaluate(after, 100).layers[-1].steps[1].values["x"]) == pytest.approx(
        (0, 0), abs=1e-6
    )
    free, _ = apply(film, PlaceClip(clip="title", frame=75, x=3, y=-5, snap=0))
    assert evaluate(free, 100).layers[-1].steps[1].values["x"] == 3


def test_a_new_title_finds_a_track_with_room(film):
    one, _ = apply(film, AddTitle(clip="one", frame=175))
    assert one.clips["one"].track == "titles"
    two, _ = apply(one, AddTitle(clip="two", frame=180))
    assert two.clips["two"].track not in ("titles", "shots") and two.tracks[0].id == two.clips["two"].track


def test_the_first_titles_and_shots_of_an_empty_film_find_its_tracks():
    film = Project(
        settings=Settings(name="New"), tracks=(Track(id="titles", name="Titles"), Track(id="shots", name="Shots"))
    )
    for id, frame in (("one", 0), ("two", 20)):
        film, _ = apply(film, AddTitle(clip=id, frame=frame))
    film, _ = apply(film, AddPicture(clip="card", frame=0))
    film, _ = apply(film, AddPicture(clip="over", frame=5))
    assert [
        (track.name, [clip.id for clip in film.clips.values() if clip.track == track.id]) for track in film.tracks
    ] == [("Titles 2", ["two"]), ("Titles", ["one"]), ("Pictures", ["over"]), ("Shots", ["card"])]


def test_a_treatment_lies_over_all_and_another_beside_it_shares_its_track(film):
    one, back = apply(film, AddTreatment(clip="look", frame=20, length=30))
    assert one.tracks[0].id == one.clips["look"].track and one.tracks[0].name == "Treatments"
    two, _ = apply(one, AddTreatment(clip="more", frame=60, length=10))
    assert two.clips["more"].track == two.clips["look"].track
    three, _ = apply(two, AddTreatment(clip="over", frame=30, length=10))
    assert three.clips["over"].track == three.tracks[0].id != three.clips["look"].track
    assert apply(one, back)[0] == film
    # Pictures and titles keep off its track, however little room there is elsewhere; so does a copy of a picture.
    shot = next(clip for clip in film.clips.values() if clip.content.kind == "footage")
    held = {clip.track for clip in three.clips.values() if clip.content.kind == "treatment"}
    full, _ = apply(three, AddPicture(clip="over-all", frame=shot.head))
    full, _ = apply(full, AddTitle(clip="words", frame=0))
    full, _ = apply(full, PasteClips(clips=(shot,), frame=shot.head, seed="again"))
    assert not held & {full.clips[id].track for id in ("over-all", "words", "again-1")}
    order = [track.id for track in full.tracks]
    assert min(order.index(full.clips[id].track) for id in ("over-all", "again-1")) > max(map(order.index, held))


@pytest.mark.parametrize("look", LOOKS.values(), ids=LOOKS)
def test_a_look_is_steps_that_are_there_takes_the_place_of_another_and_goes_again(film, look):
    shot = next(clip for clip in film.clips.values() if clip.content.kind == "footage")
    one, _ = apply(film, UseLook(clips=(shot.id,), look="clean-glass"))
    two, _ = apply(one, UseLook(clips=(shot.id,), look=look.id))
    ours = [step for step in two.clips[shot.id].steps if step.id.startswith("look-")]
    assert [step.kind for step in ours] == [step.kind for step in look.steps]
    for step in ours:
        known = {each.name: each for each in KINDS[step.kind].parameters}
        assert all(known[name].fits(value.value) for name, value in step.values.items())
        choices = {each.name: each.options for each in KINDS[step.kind].choices}
        assert all(value in choices[name] for name, value in step.choices.items())
    assert apply(two, UseLook(clips=(shot.id,), look=None))[0] == film


def test_pictures_laid_at_once_follow_each_other_and_are_one_act(film):
    shot = next(id for id, media in film.media.items() if media.kind == "video")
    end = max(clip.end for clip in film.clips.values())
    laid, back = apply(film, LayPictures(seed="in", frame=end, media=(shot, shot, shot)))
    clips = [laid.clips[f"in-{number}"] for number in (1, 2, 3)]
    assert clips[0].head == end and len({clip.track for clip in clips}) == 1
    assert all(after.head == before.end for before, after in zip(clips, clips[1:]))
    assert apply(laid, back)[0] == film
    with pytest.raises(EditError, match="not in this project"):
        apply(film, LayPictures(seed="in", frame=end, media=(shot, "nothing")))
    # An empty track below a picture is none for titles.
    below = Project(
        settings=Settings(name="New"),
        tracks=(Track(id="a", name="A"), Track(id="b", name="B"), Track(id="c", name="C")),
    )
    below, _ = apply(below, AddPicture(clip="card", frame=0, track="a"))
    below, _ = apply(below, AddTitle(clip="one", frame=0))
    assert below.tracks[0].id == below.clips["one"].track not in "abc"


@pytest.mark.parametrize(
    "wrong, says",
    [
        (MoveKey(clip="title", step="placement", name="y", key=2, frame=0), "already has a key"),
        (MoveKey(clip="title", step="placement", name="y", key=10, frame=5), "no such key"),
        (MoveKey(clip="title", step="placement", name="opacity", key=2, frame=30, value=2), "goes from 0"),
        (RemoveKeys(keys=(KeyRef(clip="title", step="placement", name="x", key=1),)), "no such key"),
        (AddPicture(clip="p", frame=0, media="nothing"), "not in this project"),
        (AddPicture(clip="p", frame=0, track="nowhere"), "no track"),
    ],
)
def test_keys_and_pictures_that_do_not_fit_are_refused_in_words(film, wrong, says):
    with pytest.raises(EditError, match=says):
        apply(film, wrong)
