"""A film that ends on nothing says so."""

from idle_comet.core.checks.ending import empty_end
from idle_comet.core.edits import AddPicture, AddTitle, AddTreatment, TrimClip
from idle_comet.core.project.model import Clip, Media, MediaSound, Project, Settings, Sound, Track

from .typed import edited


def test_frames_at_the_end_that_show_nothing_are_named():
    film = edited(Project(settings=Settings(name="E")), AddPicture(clip="p", frame=0))
    assert empty_end(film) == []
    # A title that has faded out by the last frame; a treatment that lasts longer than all it treats.
    assert empty_end(edited(film, AddTitle(clip="t", frame=60))) == ["The last frame shows nothing but the background."]
    longer = edited(film, TrimClip(clip="p", head=0, length=100), AddTreatment(clip="g", frame=0, length=140))
    assert empty_end(longer) == ["From 00:00:04:00 to the end, 40 frames, nothing but the background is seen."]


def test_a_film_of_sound_alone_has_no_end_without_a_picture():
    media = Media(id="m", name="m", kind="sound", hash="0" * 64, path="m.wav", width=1, height=1, frames=500,
                  sound=MediaSound(rate=48000, channels=2, seconds=60))  # fmt: skip
    hum = Clip(id="hum", track="s", name="Hum", head=0, length=600, content=Sound(media="m"))
    film = Project(settings=Settings(name="E"), tracks=(Track(id="s", name="S"),), media={"m": media})
    assert empty_end(film.model_copy(update={"clips": {"hum": hum}})) == []
