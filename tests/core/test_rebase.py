"""Edits made side by side: done on the newest state where they touch nothing that others changed, else refused."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_comet.core.edits import (
    AddStep,
    ChangeText,
    EaseKeys,
    EditError,
    KeyRef,
    MoveClips,
    MoveKey,
    RemoveClips,
    RemoveKeys,
    SetValue,
    enact,
)
from idle_comet.core.edits.rebase import Conflicting, rebased
from idle_comet.core.motion import Hold
from idle_comet.core.project.difference import Difference, difference
from idle_comet.core.project.model import Project, Step
from idle_comet.core.project.touched import touched
from idle_comet.core.project.wording import merged_words

from .drawn import any_edit
from .rich import rich_film

VALUE = {"clip": "title", "step": "placement"}
SECOND = KeyRef(**VALUE, name="opacity", key=2)


@pytest.fixture(scope="module")
def rich(heath):
    return rich_film(heath[1])


def beside(film, theirs, mine, typed_on=None):
    """What `mine`, made on `film`, does once `theirs` was done."""
    now, change, _, _ = enact(film, theirs)
    return now, rebased(now, mine, touched(film, change), typed_on).after


@pytest.mark.parametrize(
    "theirs, mine",
    [
        (MoveKey(**VALUE, name="opacity", key=1, frame=0, value=0.3), EaseKeys(keys=(SECOND,), ease=Hold())),
        (SetValue(**VALUE, name="rotation", value=9), ChangeText(clip="title", typeface="fraunces")),
        (AddStep(clip="title", at=0, step=Step(id="lit", kind="glow")), SetValue(**VALUE, name="scale", value=2)),
        (RemoveClips(clips=("strap",)), ChangeText(clip="title", text="The hive")),
    ],
    ids=["two keys", "a value and a typeface", "a step and a value", "another clip"],
)
def test_what_touches_nothing_of_the_others_is_done_beside_it(rich, theirs, mine):
    now, after = beside(rich, theirs, mine)
    assert after != now and enact(after, difference(after, now)).after == now
    # What both did is what either order of the two does.
    assert enact(enact(rich, mine).after, theirs).after == after


@pytest.mark.parametrize(
    "theirs, mine, what, yours, kept",
    [
        (
            SetValue(**VALUE, name="rotation", value=9),
            SetValue(**VALUE, name="rotation", value=-4),
            "Rotation of",
            "-4 °",
            "9 °",
        ),
        (
            MoveKey(**VALUE, name="y", key=2, frame=9, value=3),
            MoveKey(**VALUE, name="y", key=2, frame=11, value=8),
            "of “",
            "8 px",
            "3 px",
        ),
        (MoveClips(heads={"title": 300}), MoveClips(heads={"title": 400}), "Start of", "400", "300"),
        (ChangeText(clip="title", text="A"), ChangeText(clip="title", text="B"), "Words of", "“B”", "“A”"),
    ],
    ids=["a value", "a key", "a clip", "words"],
)
def test_what_both_change_is_refused_with_both_values(rich, theirs, mine, what, yours, kept):
    with pytest.raises(Conflicting) as refused:
        beside(rich, theirs, mine)
    said = refused.value.conflicts
    assert any(what in each.what and each.yours == yours and each.theirs == kept for each in said), said


@pytest.mark.parametrize(
    "theirs, mine",
    [
        (RemoveKeys(keys=({**VALUE, "name": "y", "key": 2},)), MoveKey(**VALUE, name="y", key=2, frame=9)),
        (RemoveClips(clips=("title",)), SetValue(**VALUE, name="rotation", value=1)),
    ],
    ids=["its key", "its clip"],
)
def test_what_is_gone_by_the_others_can_not_be_changed(rich, theirs, mine):
    with pytest.raises(EditError, match="Another window changed the film first"):
        beside(rich, theirs, mine)


def test_words_typed_at_two_places_of_one_text_are_both_kept(rich):
    base = rich.clips["strap"].content.text
    theirs, mine = ChangeText(clip="strap", text=base + " again"), ChangeText(clip="strap", text="Now " + base)
    assert beside(rich, theirs, mine, base)[1].clips["strap"].content.text == f"Now {base} again"
    with pytest.raises(Conflicting):
        beside(rich, theirs, ChangeText(clip="strap", text=base + " soon"), base)


words = st.text("ab ", max_size=8)


@given(words, words, words)
def test_a_merge_of_words_holds_what_each_put_in(base, mine, theirs):
    merged = merged_words(base, mine, theirs)
    assert merged == merged_words(base, theirs, mine)
    if merged is not None:
        # What is added and taken away by both adds up.
        assert len(merged) - len(base) in (
            len(mine) + len(theirs) - 2 * len(base),
            len(mine) - len(base) if mine == theirs else None,
        )
    assert merged_words(base, mine, base) == mine


@settings(max_examples=150)
@given(any_edit, any_edit)
def test_any_two_edits_side_by_side_lose_nothing_of_the_first(rich, theirs, mine):
    """Over all kinds: what one changed is as it was changed, or the other is refused in words."""
    try:
        now, change, _, _ = enact(rich, theirs)
    except EditError:
        return
    places = touched(rich, change)
    try:
        after = rebased(now, mine, places).after
    except (EditError, Conflicting) as error:
        assert str(error)
        return
    assert Project.model_validate_json(after.model_dump_json()) == after
    assert not touched(now, difference(now, after)).keys() & places.keys()
    assert enact(after, difference(after, now)).after == now


def test_nothing_is_touched_by_no_difference(rich):
    assert touched(rich, Difference()) == {} == touched(rich, difference(rich, rich))
