import pytest

from .helpers import settled


@pytest.fixture
def desk(page, running):
    """The demo project open in the Desk, its title chosen."""
    page.goto(f"{running.address}/?project=slow-harvest")
    settled(page)
    return page
