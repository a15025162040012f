import pytest

from .helpers import Counted, clips, settled


@pytest.fixture
def desk(page, running):
    """The demo project open in the Desk, its title chosen."""
    page.goto(f"{running.address}/?project=slow-harvest")
    settled(page)
    return page


@pytest.fixture
def as_it_was(running, window):
    """Undo whatever the test left behind; the window does not have to show it."""
    before = running.project()["project"]
    yield
    # A file of ours: so the process that has compiled the Desk is kept.
    window.goto(f"{running.address}/assets/docs.js")
    if running.project()["project"]["range"] != before["range"]:
        assert running.edit({"kind": "set_range", **before["range"]}).status_code == 200
    for _ in range(80):
        state = running.project()
        if state["project"] == before:
            return
        running.api("POST", "/projects/slow-harvest/undo", json={"revision": state["revision"]})
    raise AssertionError("undo did not lead back")


@pytest.fixture
def editor(desk, as_it_was):
    """The Desk with the actions that are done in it counted."""
    return Counted(desk)


@pytest.fixture(scope="session")
def brush(running):
    """Paints frames of any film of the running home, as the exporter does, in this process."""
    from idle_comet.core.compose import Painter
    from idle_comet.core.project.model import Project
    from idle_comet.media.decode import ShotSources
    from idle_comet.media.faces import use_faces
    from idle_comet.media.film import paint_frame

    media = running.home / "media"
    use_faces(media)
    paths = {}
    painter = Painter(ShotSources(lambda id: media / paths[id]))

    def paint(film, at, width, height):
        project = Project.model_validate(film)
        paths.update({id: item.path for id, item in project.media.items()})
        return paint_frame(painter, project, at, width, height)[..., [2, 1, 0]]

    return paint


@pytest.fixture
def frame(running, brush):
    """A frame of the demo's film as exported, (h, w, 3), blue first."""

    def painted(at, size="640x360"):
        width, height = map(int, size.split("x"))
        return brush(running.project()["project"], int(at), width, height).astype(float)

    return painted


@pytest.fixture
def exported(frame):
    """A frame of the film as it is exported, as large as what the canvas shows, (h, w, 3)."""
    return lambda at, shown: frame(at, f"{shown.shape[1]}x{shown.shape[0]}")[..., ::-1]


@pytest.fixture
def empty(desk, running):
    """The demo's film without clips; its pictures and sounds are there."""
    gone = {"kind": "remove_clips", "clips": list(clips(running))}
    assert running.edit(gone).status_code == 200
    desk.locator("[data-test=empty]").wait_for()
    desk.keyboard.press("Home")
    return running
