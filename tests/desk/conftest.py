import pytest

from .helpers import settled


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
