from hypothesis import given, strategies as st
import pytest
from pydantic import TypeAdapter, ValidationError

from idle_comet.core.compose import evaluate
from idle_comet.core.motion import Fixed, Key, Moving, Strengths, resolve_keys
from idle_comet.core.project.difference import apply_difference, difference, joined
from idle_comet.core.project.edits import (
    AddClip, AddStep, ChangeSettings, ChangeText, Edit, EditError, MoveClip, MoveStep, RemoveClip, RemoveStep, SetProperty,
    SetSpanEase, SetSpans, SetValue, Several, SwitchStep, TrimClip, apply,
)
from idle_comet.core.project.edits.base import clock_of
from idle_comet.core.project.model import Project, Step

frames = st.integers(0, 180)
number = st.floats(-300, 300)
steps = st.sampled_from(["focus", "placement", "none"])
names = st.sampled_from(["radius", "opacity", "y", "scale", "mix"])
moving = st.lists(st.tuples(frames, st.floats(0, 1)), min_size=1, max_size=4, unique_by=lambda key: key[0]).map(
    lambda keys: Moving(keys=tuple(Key(at=at, value=value) for at, value in sorted(keys))))

edit = st.one_of(
    st.builds(ChangeText, clip=st.just("title"), text=st.text(max_size=30), weight=st.integers(100, 900)),
    st.builds(SetSpans, clip=st.just("title"), arrival=frames, departure=frames),
    st.builds(SetSpanEase, clip=st.just("title"), span=st.sampled_from(["arrival", "departure"]),
              ease=st.builds(Strengths, start=st.floats(0, 1), end=st.floats(0, 1))),
    st.builds(TrimClip, clip=st.sampled_from(["title", "shot"]), head=frames, length=st.integers(1, 200)),
    st.builds(MoveClip, clip=st.just("title"), head=frames, track=st.sampled_from(["titles", "shots"])),
    st.builds(SetValue, clip=st.just("title"), step=steps, name=names, value=number, frame=frames),
    st.builds(SetProperty, clip=st.just("title"), step=steps, name=names, property=moving),
    st.builds(SwitchStep, clip=st.just("title"), step=steps, on=st.booleans()),
    st.builds(MoveStep, clip=st.just("title"), step=steps, to=st.integers(0, 3)),
    st.builds(RemoveStep, clip=st.just("title"), step=steps),
    st.builds(AddStep, clip=st.just("title"), step=st.just(Step(id="more", kind="focus_blur")), at=st.integers(0, 3)),
    st.builds(RemoveClip, clip=st.just("title")),
    st.builds(ChangeSettings, name=st.text(min_size=1, max_size=20)),
)


@given(st.lists(edit, max_size=8))
def test_every_edit_is_undone_to_the_byte_and_leaves_a_document_that_can_be_shown(film, edits):
    states, inverses = [film], []
    for one in edits:
        try:
            after, inverse = apply(states[-1], one)
        except EditError:
            continue
        assert Project.model_validate_json(after.model_dump_json()) == after
        for frame in (0, 25, 60, 174, 199):
            evaluate(after, frame)
        states.append(after)
        inverses.append(inverse)
    state = states[-1]
    for before, inverse in zip(reversed(states[:-1]), reversed(inverses)):
        state, _ = apply(state, inverse)
        assert state == before
    assert apply_difference(states[-1], joined(inverses[::-1])) == film


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


@pytest.mark.parametrize("wrong, says", [
    (SetValue(clip="title", step="focus", name="radius", value=-1), "goes from 0"),
    (SetValue(clip="title", step="focus", name="size", value=1), "no value"),
    (ChangeText(clip="nowhere", text="x"), "no clip"),
    (ChangeText(clip="shot", text="x"), "no words"),
    (MoveClip(clip="title", head=0, track="shots"), "would lie over"),
    (TrimClip(clip="shot", head=0, length=500), "only 50 frames|only 200 frames"),
    (SetProperty(clip="title", step="focus", name="radius", property=Moving(keys=(Key(at=3, value=1), Key(at=3, value=2)))), "same frame"),
])
def test_what_does_not_fit_is_refused_in_words(film, wrong, says):
    with pytest.raises(EditError, match=says):
        apply(film, wrong)


@pytest.mark.parametrize("raw", [
    {"kind": "change_text", "clip": "title", "text": "x" * 10_001},
    {"kind": "set_value", "clip": "title", "step": "focus", "name": "radius", "value": float("nan")},
    {"kind": "trim_clip", "clip": "title", "head": 0, "length": 0},
    {"kind": "move_clip", "clip": "../title", "head": 0},
    {"kind": "explode"},
])
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
