import cv2
import pytest

from .helpers import Counted, settled


@pytest.fixture
def desk(page, running):
    """The demo project open in the Desk, its title chosen."""
    page.goto(f"{running.address}/?project=slow-harvest")
    settled(page)
    return page


@pytest.fixture
def as_it_was(running):
    """Undo whatever the test left behind."""
    before = running.project()["project"]
    yield
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


@pytest.fixture
def frame(running, tmp_path):
    """A frame as exported, (h, w, 3)."""

    def painted(at, size="640x360"):
        out = tmp_path / f"{at}.png"
        done = running.command("frame", "slow-harvest", "--at", str(at), "--out", str(out), "--size", size)
        assert done.returncode == 0
        return cv2.imread(str(out)).astype(float)

    return painted
