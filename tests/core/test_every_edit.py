"""What holds for every kind of edit, and for any number of them one after the other."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_comet.core.compose import evaluate
from idle_comet.core.edits import AddKey, BakeMotion, EditError, MoveKey, TrimClip, apply, misfits
from idle_comet.core.edits.base import RULES, clock_of
from idle_comet.core.moment.moment import Moment
from idle_comet.core.motion import resolve_keys
from idle_comet.core.project.difference import apply_difference, joined
from idle_comet.core.project.model import Project

from .drawn import DRAWN, any_edit
from .rich import rich_film

MOMENTS = (0, 3, 20, 47, 61, 100)


@pytest.fixture(scope="module")
def rich(heath):
    return rich_film(heath[1])


def checked(before, edit):
    """The document after an edit, and what undoes it; whatever must hold after any edit does."""
    after, inverse = apply(before, edit)
    assert Project.model_validate_json(after.model_dump_json()) == after
    for track in after.tracks:
        own = sorted((clip for clip in after.clips.values() if clip.track == track.id), key=lambda clip: clip.head)
        assert all(a.end <= b.head for a, b in zip(own, own[1:])), "clips lie over each other"
    assert {clip.track for clip in after.clips.values()} <= {track.id for track in after.tracks}
    assert before.media.keys() <= after.media.keys(), "media were lost"
    for frame in MOMENTS:
        evaluate(after, frame)
    misfits(after)
    return after, inverse


def test_every_kind_is_drawn():
    assert set(DRAWN) == set(RULES)


@pytest.mark.parametrize("kind", DRAWN, ids=lambda kind: kind.__name__)
def test_an_edit_happens_is_undone_to_the_byte_and_done_again(rich, kind):
    happened = []

    def one(edit):
        try:
            after, inverse = checked(rich, edit)
        except EditError as error:
            assert str(error)
            return
        back, forward = apply(after, inverse)
        assert (
            back.model_dump_json()
            == rich.model_copy(update={"clips": {id: rich.clips[id] for id in back.clips}}).model_dump_json()
        )
        assert apply(back, forward)[0] == after
        happened.append(after != rich)

    # The same draws every time: whether one of them fits is not left to chance.
    for number in (15, 60):
        if not any(happened):
            settings(max_examples=number, derandomize=True, database=None)(given(DRAWN[kind])(one))()
    assert any(happened), "no edit of this kind changed anything: draw it so that it can"


@settings(max_examples=120)
@given(st.lists(any_edit, min_size=2, max_size=8))
def test_any_edits_in_a_row_are_undone_one_by_one_and_all_at_once(rich, edits):
    states, inverses = [rich], []
    for edit in edits:
        try:
            after, inverse = checked(states[-1], edit)
        except EditError:
            continue
        states.append(after)
        inverses.append(inverse)
    state = states[-1]
    for before, inverse in zip(reversed(states[:-1]), reversed(inverses)):
        state, _ = apply(state, inverse)
        assert state == before
    assert apply_difference(states[-1], joined(inverses[::-1])) == rich


@given(
    st.sampled_from(["opacity", "y", "path"]),
    st.integers(0, 29),
    st.integers(0, 3),
    st.integers(0, 40),
    st.integers(0, 40),
    st.integers(10, 60),
)
def test_a_key_lands_on_the_frame_it_is_given_and_moves_no_other(rich, name, frame, index, arrival, departure, length):
    """In clips of any length, also where arrival and departure have no room and run quicker."""
    film, _ = apply(rich, TrimClip(clip="title", head=2, length=min(length, 38)))
    clip = film.clips["title"].model_copy(update={"arrival": arrival, "departure": departure})
    film = film.model_copy(update={"clips": {**film.clips, "title": clip}})
    frame = min(frame, clip.length - 1)

    def frames(project):
        own = project.clips["title"]
        return [(item.frame, item.key.value) for item in resolve_keys(own.steps[1].values[name], clock_of(own))]

    before = frames(film)
    if not any(round(at) == frame for at, _ in before):
        added, _ = apply(film, AddKey(clip="title", step="placement", name=name, frame=frame))
        others = [each for each in frames(added) if abs(each[0] - frame) > 1e-6]
        assert (
            others == [(pytest.approx(at, abs=1e-5), value) for at, value in before]
            and len(frames(added)) == len(before) + 1
        )
        held = resolve_keys(clip.steps[1].values[name], clock_of(clip))
        if index < len(held):
            moved, _ = apply(
                film, MoveKey(clip="title", step="placement", name=name, key=held[index].key.id, frame=frame)
            )
            expected = sorted(
                [(item.frame, item.key.value) for item in held if item is not held[index]]
                + [(frame, held[index].key.value)]
            )
            assert [at for at, _ in frames(moved)] == pytest.approx([at for at, _ in expected], abs=1e-5)
            assert [value for _, value in frames(moved)] == [value for _, value in expected]


@given(st.integers(1, 60), st.integers(1, 60), st.integers(8, 38))
def test_motion_baked_in_a_clip_too_short_for_its_spans_is_what_it_was(rich, arrival, departure, length):
    clip = rich.clips["title"].model_copy(update={"arrival": arrival, "departure": departure, "length": length})
    film = rich.model_copy(update={"clips": {**rich.clips, "title": clip}})
    baked, _ = apply(film, BakeMotion(clip="title", step="placement", name="y"))
    seen = [
        [Moment(each, 2 + frame).value("title", "placement", "y") for frame in range(length)] for each in (film, baked)
    ]
    assert seen[1] == pytest.approx(seen[0], abs=1e-6)
