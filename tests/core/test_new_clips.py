"""Where new clips lie, what they look like, and what goes with them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from idle_comet.core.edits import (
    AddCamera,
    AddKey,
    AddLight,
    AddPicture,
    AddShape,
    AddTitle,
    AddTreatment,
    MoveClips,
    RemoveClips,
    SetSpeed,
    StretchClips,
    TrimClip,
)
from idle_comet.core.motion import Fixed, Moving
from idle_comet.core.project.model import CaptionTrack, Clip, Media, Project, Settings, Shape, Text, Track

from .typed import edited

SHOT = Media(id="shot", name="shot", hash="0" * 64, path="s.mp4", width=64, height=36, frames=250)
PLATE = Media(id="plate", name="plate", kind="still", hash="1" * 64, path="p.png", width=64, height=36, frames=1)


def film(*tracks):
    return Project(
        settings=Settings(name="N"),
        tracks=tracks or (Track(id="titles", name="Titles"), Track(id="shots", name="Shots")),
        media={"shot": SHOT, "plate": PLATE},
    )


def place(project, clip):
    """How many tracks lie above a clip's own."""
    return [track.id for track in project.tracks].index(project.clips[clip].track)


ADDED = {
    "title": lambda id, at: AddTitle(clip=id, frame=at),
    "shape": lambda id, at: AddShape(clip=id, frame=at, length=80),
    "shot": lambda id, at: AddPicture(clip=id, frame=at, media="shot"),
    "plate": lambda id, at: AddPicture(clip=id, frame=at, media="plate"),
    "colour": lambda id, at: AddPicture(clip=id, frame=at),
}
OVER_PICTURES = ("title", "shape")


@given(st.lists(st.tuples(st.sampled_from(list(ADDED)), st.sampled_from([0, 40, 90, 300])), min_size=1, max_size=8))
def test_what_is_new_lies_before_what_it_is_seen_with(wanted):
    project, kinds = (
        film(Track(id="titles", name="Titles"), Track(id="shots", name="Shots"), Track(id="s", name="Sound")),
        {},
    )
    for number, (kind, at) in enumerate(wanted):
        new, kinds[f"c{number}"] = f"c{number}", kind
        project = edited(project, ADDED[kind](new, at))
        own = project.clips[new]
        assert own.track != "s" and (kind not in OVER_PICTURES or own.track != "shots")
        for other in project.clips.values():
            if other.id == new or other.head >= own.end or other.end <= own.head:
                continue
            # Words and graphics lie before everything, pictures before pictures.
            if kind in OVER_PICTURES or kinds[other.id] not in OVER_PICTURES:
                assert place(project, new) < place(project, other.id)
            else:
                assert place(project, new) > place(project, other.id)


def test_a_treatment_stays_over_new_words_and_a_track_that_is_there_is_used():
    project = edited(film(), AddPicture(clip="p", frame=0, media="shot"), AddTreatment(clip="g", frame=0, length=200))
    project = edited(project, AddTitle(clip="one", frame=0), AddTitle(clip="two", frame=120))
    assert project.clips["one"].track == project.clips["two"].track == "titles"
    assert place(project, "g") < place(project, "one") < place(project, "p")


def test_nothing_is_put_among_captions():
    captions = Track(id="c", name="Captions", captions=CaptionTrack())
    said = Clip(id="said", track="c", name="said", head=0, length=50, content=Text(text="Said"))
    project = film(captions).model_copy(update={"clips": {"said": said}})
    assert edited(project, AddTitle(clip="t", frame=200)).clips["t"].track != "c"


def test_shapes_that_are_there_together_have_colours_of_their_own():
    project = edited(film(), *(AddShape(clip=f"s{n}", frame=10 * n, length=100) for n in range(4)))
    project = edited(project, AddShape(clip="later", frame=500, length=50))
    default = Fixed(value="#d98e32")
    colours = {id: clip.content.values.get("colour", default).value for id, clip in project.clips.items()}
    assert len({colours[f"s{n}"] for n in range(4)}) == 4
    assert colours["later"] == colours["s0"] == "#d98e32"


def test_a_track_that_was_made_for_a_clip_goes_with_it():
    before = edited(film(), AddShape(clip="a", frame=0, length=100))
    after = edited(before, AddShape(clip="b", frame=0, length=100))
    assert len(after.tracks) == len(before.tracks) + 1
    assert edited(after, RemoveClips(clips=("b",))).tracks == before.tracks
    # One that was there, was named or was set up stays.
    assert edited(before, RemoveClips(clips=("a",))).tracks == before.tracks
    named = (t.model_copy(update={"name": "Badges"}) if t.id.startswith("track-") else t for t in after.tracks)
    own = after.model_copy(update={"tracks": tuple(named)})
    assert edited(own, RemoveClips(clips=("b",))).tracks == own.tracks


@pytest.mark.parametrize("new", [AddCamera, AddLight])
def test_a_camera_or_a_light_over_a_clip_is_there_as_long_as_it(new):
    project = edited(film(), AddPicture(clip="p", frame=30, media="shot", first=0, last=99))
    project = edited(project, new(clip="o", frame=70, length=400, over="p"))

    def both():
        made = [each for id, each in project.clips.items() if id == "o" or id.startswith("o-")]
        return {(each.head, each.end) for each in made}

    assert both() == {(30, 130)}
    for edit in (
        MoveClips(heads={"p": 55}),
        StretchClips(clips=("p",), by=40),
        SetSpeed(clip="p", speed=0.5),
        TrimClip(clip="p", head=60, length=90),
    ):
        project = edited(project, edit)
        assert both() == {(project.clips["p"].head, project.clips["p"].end)}
    # One that was given times of its own only goes along.
    project = edited(project, TrimClip(clip="o", head=60, length=30), StretchClips(clips=("p",), by=20))
    assert (project.clips["o"].head, project.clips["o"].length) == (60, 30)


@pytest.mark.parametrize("frame, end", [(5, "head"), (40, "head"), (70, "head"), (85, "tail"), (99, "tail")])
def test_a_new_key_counts_from_where_its_motion_belongs(frame, end):
    """Arrival from the head, departure from the tail, what lies between in film time."""
    clip = Clip(id="t", track="titles", name="t", head=0, length=100, arrival=20, departure=20, content=Text(text="A"))
    project = film().model_copy(update={"clips": {"t": clip}})
    project = edited(project, AddKey(clip="t", step="content", name="size", frame=frame))
    size = project.clips["t"].content.size
    assert isinstance(size, Moving) and [key.counts_from for key in size.keys] == [end]


def test_a_key_in_the_second_half_stays_when_the_tail_is_trimmed():
    clip = Clip(id="s", track="titles", name="s", head=0, length=100, content=Shape())
    project = film().model_copy(update={"clips": {"s": clip}})
    project = edited(
        project, AddKey(clip="s", step="content", name="x", frame=80), TrimClip(clip="s", head=0, length=90)
    )
    assert [(key.counts_from, key.at) for key in project.clips["s"].content.values["x"].keys] == [("head", 80)]
