"""Cutting on the timeline: whatever is done, clips never overlap, nothing is lost, and halves show the whole."""

import sys
from concurrent.futures import ThreadPoolExecutor

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_comet.core.compose import evaluate
from idle_comet.core.contents.base import fixed
from idle_comet.core.edits import (
    AddPicture,
    AddTrack,
    ChangeTrack,
    DuplicateClips,
    EditError,
    MoveClips,
    MoveTrack,
    PasteClips,
    RemoveClips,
    RemoveTrack,
    ReplaceShot,
    RideWith,
    SetMarker,
    SetRange,
    SetSeen,
    SetSpeed,
    SetTransition,
    SlipClip,
    SplitClips,
    StretchClips,
    TrimClip,
    apply,
    misfits,
)
from idle_comet.core.moment.meeting import meetings
from idle_comet.core.motion import Linear
from idle_comet.core.project.difference import apply_difference
from idle_comet.core.project.model import Clip, Footage, Plain, Project, Settings, Track, Transition
from idle_comet.core.project.timeline import _from_all, _index, lanes
from idle_comet.demo.project import title


@pytest.fixture(scope="module")
def cut(heath):
    """Three shots cut together, three titles of which two touch, on three tracks; 50 source frames each."""
    media = heath[1]
    clips = {}
    for number, (head, length, start) in enumerate([(0, 20, 4), (20, 16, 10), (36, 22, 0)], 1):
        clips[f"shot-{number}"] = Clip(
            id=f"shot-{number}",
            track="shots",
            name=f"Shot {number}",
            head=head,
            length=length,
            content=Footage(media=media.id, start=start),
        )
    for number, (head, length) in enumerate([(2, 30), (32, 30), (70, 40)], 1):
        own = title(head, length)
        clips[f"title-{number}"] = own.model_copy(update={"id": f"title-{number}", "arrival": 8, "departure": 6})
    return Project(
        settings=Settings(name="Cut"),
        tracks=(Track(id="titles", name="Titles"), Track(id="more", name="More"), Track(id="shots", name="Shots")),
        media={media.id: media, "copy": media.model_copy(update={"id": "copy", "frames": 40})},
        clips=clips,
    )


ids = st.sampled_from(["shot-1", "shot-2", "shot-3", "title-1", "title-2", "title-3", "n-1", "n-2", "n-1-1"])
some = st.lists(ids, min_size=1, max_size=4, unique=True).map(tuple)
frame = st.integers(0, 130)
length = st.integers(1, 60)
towards = st.sampled_from(["titles", "more", "shots"])
edit = st.one_of(
    st.builds(
        MoveClips,
        heads=st.dictionaries(ids, frame, min_size=1, max_size=3),
        tracks=st.dictionaries(ids, towards, max_size=2),
        snap=st.floats(0, 6),
    ),
    st.builds(TrimClip, clip=ids, head=frame, length=length, ripple=st.booleans(), snap=st.floats(0, 4)),
    st.builds(SplitClips, clips=some, frame=frame, seed=st.sampled_from(["n", "n-1"])),
    st.builds(RemoveClips, clips=some, close=st.booleans()),
    st.builds(StretchClips, clips=some, by=st.integers(-20, 20)),
    st.builds(
        SetSpeed,
        clip=ids,
        speed=st.sampled_from([0, 0.5, 1, 2, -1, 0.3]),
        keep=st.sampled_from(["part", "length"]),
        frame=st.integers(0, 20),
    ),
    st.builds(SlipClip, clip=ids, start=st.integers(0, 40)),
    st.builds(DuplicateClips, clips=some, seed=st.sampled_from(["n", "n-1"])),
    st.builds(
        SetTransition,
        clip=ids,
        end=st.sampled_from(["opening", "closing"]),
        transition=st.none() | st.builds(Transition, kind=st.sampled_from(["dissolve", "wipe"]), length=length),
    ),
    st.builds(RideWith, clips=some, shot=st.none() | ids),
    st.builds(ReplaceShot, clip=ids, media=st.sampled_from(["copy", "heath-evening"]), later=st.integers(-5, 5)),
    st.builds(SetSeen, clips=some, seen=st.sampled_from(["shown", "hidden", "alone"])),
    st.builds(ChangeTrack, track=towards, hidden=st.booleans()),
    st.builds(MoveTrack, track=towards, to=st.integers(0, 3)),
    st.builds(SetMarker, marker=st.sampled_from(["m1", "m2"]), frame=frame),
    st.builds(SetRange, first=st.none() | st.integers(0, 40), last=st.none() | frame),
)


@settings(max_examples=150)
@given(st.lists(edit, min_size=1, max_size=10))
def test_no_cutting_makes_clips_overlap_or_loses_media_and_all_is_undone_to_the_byte(cut, edits):
    states, inverses = [cut], []
    for one in edits:
        try:
            after, inverse = apply(states[-1], one)
        except EditError:
            continue
        for track in after.tracks:
            clips = sorted(
                (clip for clip in after.clips.values() if clip.track == track.id), key=lambda clip: clip.head
            )
            assert all(a.end <= b.head for a, b in zip(clips, clips[1:])), one
        assert after.media == cut.media
        assert Project.model_validate_json(after.model_dump_json()) == after
        for at in (0, 19, 20, 37, 90):
            evaluate(after, at)
        misfits(after)
        states.append(after)
        inverses.append(inverse)
    state = states[-1]
    for before, inverse in zip(reversed(states[:-1]), reversed(inverses)):
        state, _ = apply(state, inverse)
        assert (
            state.model_dump_json()
            == before.model_copy(update={"clips": {id: before.clips[id] for id in state.clips}}).model_dump_json()
        )


def test_a_rider_that_finds_no_room_beside_its_replaced_shot_goes_to_another_track(cut):
    film, _ = apply(cut, RideWith(clips=("shot-2",), shot="shot-1"))
    for later in (-3, 3):
        after, _ = apply(film, ReplaceShot(clip="shot-1", media="copy", later=later))
        assert after.clips["shot-2"].head == 20 + later and after.clips["shot-2"].track not in ("shots", "titles")


@given(st.integers(26, 174), st.sampled_from([1, 0.5, -0.7, 2]))
def test_the_halves_of_a_cut_clip_show_the_whole_at_every_frame(film, at, speed):
    shot = film.clips["shot"]
    film = film.model_copy(
        update={
            "clips": {
                **film.clips,
                "shot": shot.model_copy(
                    update={"content": shot.content.model_copy(update={"speed": fixed(speed), "start": 20})}
                ),
            }
        }
    )
    halves, _ = apply(film, SplitClips(clips=("title", "shot"), frame=at, seed="half"))
    assert len(halves.clips) == 4
    for frame in range(0, 200):
        whole, cut = evaluate(film, frame), evaluate(halves, frame)
        assert [(layer.content, layer.steps) for layer in cut.layers] == [
            (layer.content, layer.steps) for layer in whole.layers
        ]


@given(st.integers(-20, 20), st.integers(1, 60))
def test_trimming_and_trimming_back_is_as_it_was(cut, by, length):
    shot = cut.clips["title-3"]
    try:
        there, _ = apply(cut, TrimClip(clip="title-3", head=shot.head + by, length=length))
    except EditError:
        return
    back, _ = apply(there, TrimClip(clip="title-3", head=shot.head, length=shot.length))
    assert back == cut


def heads(project, *names):
    return [project.clips[name].head for name in names]


def test_all_titles_shorter_in_one_act_and_then_longer(cut):
    names = ("title-1", "title-2", "title-3")
    shorter, inverse = apply(cut, StretchClips(clips=names, by=-10))
    # The two that touched still touch; the third had room before it and stays.
    assert heads(shorter, *names) == [2, 22, 70] and [shorter.clips[name].length for name in names] == [20, 20, 30]
    assert all((shorter.clips[name].arrival, shorter.clips[name].departure) == (8, 6) for name in names)
    assert apply(shorter, inverse)[0] == cut
    longer, _ = apply(cut, StretchClips(clips=names, by=12))
    assert heads(longer, *names) == [2, 44, 86]
    with pytest.raises(EditError, match="16 frames shorter"):
        apply(cut, StretchClips(clips=names, by=-17))


def test_rippling_moves_what_follows_and_what_rides_along(cut):
    riding, _ = apply(cut, RideWith(clips=("title-3",), shot="shot-3"))
    riding, _ = apply(riding, RideWith(clips=("title-1",), shot="shot-1"))
    rippled, _ = apply(riding, TrimClip(clip="shot-1", head=0, length=14, ripple=True))
    assert heads(rippled, "shot-2", "shot-3", "title-3", "title-1") == [14, 30, 64, 2]
    # A head trimmed with ripple takes the source with it, and with the source the title.
    rippled, _ = apply(riding, TrimClip(clip="shot-3", head=41, length=17, ripple=True))
    assert heads(rippled, "shot-3", "title-3") == [36, 65] and rippled.clips["shot-3"].content.start == 5
    # Trimmed in place, the picture under the title stays, and so does the title.
    trimmed, _ = apply(riding, TrimClip(clip="shot-3", head=41, length=17))
    assert heads(trimmed, "shot-3", "title-3") == [41, 70]
    closed, _ = apply(riding, RemoveClips(clips=("shot-2",), close=True))
    assert heads(closed, "shot-3", "title-3") == [20, 54]
    recut, _ = apply(riding, ReplaceShot(clip="shot-1", media="copy", later=3))
    assert heads(recut, "title-1", "title-2") == [5, 32] or recut.clips["title-1"].head == 5
    assert misfits(riding) == ["title-1", "title-3"]
    with pytest.raises(EditError, match="attached to"):
        apply(riding, RideWith(clips=("shot-3",), shot="title-3"))


def test_snapping_draws_the_nearest_end_and_says_what_it_met(cut):
    moved, _ = apply(cut, MoveClips(heads={"title-3": 61}, snap=4))
    assert moved.clips["title-3"].head == 62
    assert [(meeting.frame, meeting.what.split()[0]) for meeting in meetings(moved, ["title-3"], None)] == [(62, "end")]
    free, _ = apply(cut, MoveClips(heads={"title-3": 90}, snap=4, playhead=93))
    assert free.clips["title-3"].head == 93
    marked, _ = apply(cut, SetMarker(marker="m", frame=126, name="swarm"))
    marked, _ = apply(marked, TrimClip(clip="title-3", head=70, length=54, snap=3))
    assert marked.clips["title-3"].end == 126


def test_a_part_marked_on_a_source_is_placed(cut):
    after, _ = apply(cut, AddPicture(clip="part", frame=80, media="heath-evening", first=12, last=31))
    part = after.clips["part"]
    assert (part.head, part.length, part.content.start) == (80, 20, 12)
    with pytest.raises(EditError, match="nothing to place"):
        apply(cut, AddPicture(clip="part", frame=80, media="heath-evening", first=60, last=70))


def test_speeds_show_the_frames_they_should(cut):
    def shown(project, name):
        clip = project.clips[name]
        return [evaluate(project, clip.head + at).layers[0].content.frame for at in range(clip.length)]

    alone = cut.model_copy(update={"clips": {"shot-2": cut.clips["shot-2"]}})
    forward = shown(alone, "shot-2")
    backward, _ = apply(alone, SetSpeed(clip="shot-2", speed=-1))
    assert shown(backward, "shot-2") == forward[::-1]
    slow, _ = apply(alone, SetSpeed(clip="shot-2", speed=0.5))
    assert slow.clips["shot-2"].length == 32 and shown(slow, "shot-2") == [10 + at // 2 for at in range(32)]
    frozen, _ = apply(alone, SetSpeed(clip="shot-2", speed=0, frame=5))
    assert set(shown(frozen, "shot-2")) == {15}


def test_copies_keep_their_distances_and_what_rides_with_them(cut):
    riding, _ = apply(cut, RideWith(clips=("title-3",), shot="shot-3"))
    after, _ = apply(riding, DuplicateClips(clips=("shot-3", "title-3"), seed="n"))
    assert (after.clips["n-1"].head, after.clips["n-2"].head, after.clips["n-2"].rides) == (110, 144, "n-1")
    pasted, _ = apply(cut, PasteClips(clips=(cut.clips["title-1"],), frame=10, seed="p"))
    # Its own track is taken there: it goes to one that is free.
    assert (pasted.clips["p-1"].head, pasted.clips["p-1"].track) == (10, "more")
    # Without room it stands directly above where it came from, on a track named like its own.
    again, _ = apply(pasted, PasteClips(clips=(cut.clips["title-1"],), frame=10, seed="q"))
    order = [track.id for track in again.tracks]
    made, own = again.clips["q-1"].track, cut.clips["title-1"].track
    name = next(track.name for track in cut.tracks if track.id == own)
    assert order.index(made) == order.index(own) - 1
    assert next(track.name for track in again.tracks if track.id == made) == f"{name} 2"


def test_a_locked_track_keeps_its_clips_and_a_hidden_one_shows_none(cut):
    locked, _ = apply(cut, ChangeTrack(track="shots", locked=True))
    for wrong in (
        RemoveClips(clips=("shot-1",)),
        TrimClip(clip="shot-1", head=0, length=9),
        AddPicture(clip="x", frame=90, track="shots"),
    ):
        with pytest.raises(EditError, match="locked"):
            apply(locked, wrong)
    hidden, _ = apply(cut, ChangeTrack(track="titles", hidden=True))
    assert [layer.clip for layer in evaluate(hidden, 40).layers] == ["shot-3"]
    alone, _ = apply(cut, SetSeen(clips=("title-2",), seen="alone"))
    assert [layer.clip for layer in evaluate(alone, 40).layers] == ["title-2"]
    more, _ = apply(cut, AddTrack(track=Track(id="top", name="Top")))
    gone, _ = apply(more, RemoveTrack(track="titles"))
    assert [track.id for track in gone.tracks] == ["top", "more", "shots"] and len(gone.clips) == 3


@pytest.mark.parametrize(
    "clip, length, says",
    [("shot-2", 60, "room for"), ("shot-3", 2, "0 spare frames before its head"), ("title-3", 41, "40 frames long")],
)
def test_a_transition_longer_than_its_room_is_refused_with_what_there_is(cut, clip, length, says):
    with pytest.raises(EditError, match=says):
        apply(cut, SetTransition(clip=clip, end="opening", transition=Transition(length=length)))


def test_where_spare_frames_lack_a_refused_transition_comes_with_the_trim_that_makes_room(cut):
    with pytest.raises(EditError) as refused:
        apply(cut, SetTransition(clip="shot-3", end="opening", transition=Transition(length=8)))
    offer = refused.value.offer
    assert offer.says == "trim 4 frames at the cut"
    after, back = apply(cut, offer.edit)
    before, clip = cut.clips["shot-3"], after.clips["shot-3"]
    assert (clip.head, clip.length, clip.opening.length) == (before.head, before.length - 4, 8)
    assert clip.content.start == before.content.start + 4
    assert apply_difference(after, back) == cut
    # Where a clip is too short for it, nothing is offered.
    with pytest.raises(EditError) as refused:
        apply(cut, SetTransition(clip="shot-2", end="opening", transition=Transition(length=200)))
    assert refused.value.offer is None


def test_a_dissolve_is_centred_on_the_cut_and_mixes_both_shots(cut):
    after, _ = apply(cut, SetTransition(clip="shot-2", end="opening", transition=Transition(length=8, ease=Linear())))
    joins = {at: evaluate(after, at).layers[0] for at in range(14, 27)}
    lying = [at for at, layer in joins.items() if hasattr(layer, "progress")]
    assert lying == list(range(16, 24))
    assert [joins[at].progress for at in lying] == pytest.approx([(k + 0.5) / 8 for k in range(8)])
    assert (joins[22].before.content.frame, joins[17].after.content.frame) == (4 + 22, 10 - 3)
    # Set on the earlier clip's end, it is the same transition.
    same, _ = apply(cut, SetTransition(clip="shot-1", end="closing", transition=Transition(length=8, ease=Linear())))
    assert same == after
    plain = Project(
        settings=Settings(name="P"),
        tracks=(Track(id="t", name="T"),),
        clips={
            "c": Clip(
                id="c",
                track="t",
                name="C",
                head=0,
                length=20,
                content=Plain(),
                opening=Transition(length=4),
                closing=Transition(kind="wipe", length=5),
            )
        },
    )
    assert [hasattr(evaluate(plain, at).layers[0], "progress") for at in (0, 3, 4, 14, 15, 19)] == [
        True,
        True,
        False,
        False,
        True,
        True,
    ]


@given(st.lists(st.tuples(st.integers(0, 11), st.sampled_from(["move", "track", "alone", "gone", "new"])), max_size=12))
def test_an_index_made_from_another_is_the_one_made_from_all(changes):
    tracks = tuple(Track(id=name, name=name) for name in "abc")
    clips = {f"c{n}": title(40 * n, 30).model_copy(update={"id": f"c{n}", "track": "abc"[n % 3]}) for n in range(9)}
    film = Project(settings=Settings(name="I"), tracks=tracks, clips=clips)
    lanes(film)
    for number, what in changes:
        id, now = f"c{number}", dict(film.clips)
        one = now.get(id) or title(3 * number, 30).model_copy(update={"id": id, "track": "b"})
        if what == "gone":
            now.pop(id, None)
        else:
            moved = {"move": {"head": one.head + 7}, "track": {"track": "c"}, "alone": {"seen": "alone"}}.get(what, {})
            now[id] = one.model_copy(update=moved)
        film = film.model_copy(update={"clips": now})
        near, whole = _index(film), _from_all(film)
        assert near.timelines == whole.timelines and near.alone == whole.alone


def test_an_index_is_asked_for_by_many_threads_at_once():
    tracks = tuple(Track(id=name, name=name) for name in "abc")
    clips = {f"c{n}": title(40 * n, 30).model_copy(update={"id": f"c{n}", "track": "abc"[n % 3]}) for n in range(60)}
    film = Project(settings=Settings(name="I"), tracks=tracks, clips=clips)

    def asking(number: int) -> int:
        own = film
        for turn in range(500):
            one = own.clips[f"c{(number + turn) % 60}"]
            own = own.model_copy(update={"clips": {**own.clips, one.id: one.model_copy(update={"name": str(turn)})}})
            assert sum(len(lane.clips) for lane in lanes(own)) == 60
        return number

    before = sys.getswitchinterval()
    sys.setswitchinterval(1e-5)
    try:
        with ThreadPoolExecutor(6) as pool:
            assert list(pool.map(asking, range(6))) == list(range(6))
    finally:
        sys.setswitchinterval(before)
