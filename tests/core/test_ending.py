"""A film that ends on nothing says so."""

from idle_comet.core.checks.ending import empty_end
from idle_comet.core.edits import AddPicture, AddTitle, AddTreatment, TrimClip
from idle_comet.core.project.model import Project, Settings

from .typed import edited


def test_frames_at_the_end_that_show_nothing_are_named():
    film = edited(Project(settings=Settings(name="E")), AddPicture(clip="p", frame=0))
    assert empty_end(film) == []
    # A title that has faded out by the last frame; a treatment that lasts longer than all it treats.
    assert empty_end(edited(film, AddTitle(clip="t", frame=60))) == ["The last frame shows nothing but the background."]
    longer = edited(film, TrimClip(clip="p", head=0, length=100), AddTreatment(clip="g", frame=0, length=140))
    assert empty_end(longer) == ["From 00:00:04:00 to the end, 40 frames, nothing but the background is seen."]
