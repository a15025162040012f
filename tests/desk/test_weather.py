"""The Desk under a service that is killed, frozen, slow, full or gone: said in words, over by itself, nothing lost."""

import re
import signal
from contextlib import contextmanager

import cv2
import httpx2 as httpx
import numpy as np
import pytest

from tests.conftest import until

from .helpers import clip, middle, settled
from .test_hands import quickly

pytestmark = pytest.mark.usefixtures("as_it_was")
API = "**/api/projects/**"
FULL = '{"detail": "The disk is full. What was saved before is kept, this was not; make room and do it again."}'


class Weather:
    """What is the matter with the service while `under` lasts. Long enough for the Desk to say so."""

    def __init__(self, running, page, kind):
        self.running, self.page, self.kind = running, page, kind

    def answer(self, route):
        writes = route.request.method != "GET"
        if self.kind == "gone":
            route.abort()
        elif self.kind == "full" and writes:
            route.fulfill(status=507, content_type="application/json", body=FULL)
        elif self.kind == "slow" and writes:
            self.held.append(route)
        else:
            route.continue_()

    def answers(self):
        try:
            return self.running.api("GET", "/alive").status_code == 200
        except httpx.HTTPError:
            return False

    @contextmanager
    def under(self):
        self.held = []
        if self.kind == "killed":
            self.running.process.kill()
            self.running.process.wait()
        elif self.kind == "frozen":
            self.running.process.send_signal(signal.SIGSTOP)
        else:
            self.page.route(API, self.answer)
        try:
            yield
        finally:
            if self.kind == "killed":
                self.running.start()
            elif self.kind == "frozen":
                self.running.process.send_signal(signal.SIGCONT)
            else:
                for route in self.held:
                    route.continue_()
                self.page.unroute(API, self.answer)


SAID = {
    "killed": "The service does not answer",
    "frozen": "The service does not answer",
    "gone": "Not saved yet",
    "slow": "Saving takes long",
    "full": "Not saved yet",
}


@pytest.mark.parametrize("kind", SAID)
def test_nothing_typed_or_dragged_is_lost(desk, running, kind):
    weather = Weather(running, desk, kind)
    desk.get_by_role("button", name="Text", exact=True).click()
    words, saved = desk.locator("[data-test=words]").first, desk.locator("[data-test=saved]")
    before = clip(running)
    with weather.under():
        words.fill(f"WHILE {kind.upper()}")
        x, y = middle(desk.locator("[data-test=outline]"))
        quickly(desk, x - 60, y, 30, 40)
        saved.filter(has_text=SAID[kind]).wait_for(timeout=9000)
        assert words.input_value() == f"WHILE {kind.upper()}"
    until(lambda: clip(running)["content"]["text"] == f"WHILE {kind.upper()}")
    until(lambda: clip(running)["steps"][-1] != before["steps"][-1])
    settled(desk)
    assert not desk.locator("[data-test=kept-edit]").count()


@pytest.mark.parametrize("kind", SAID)
def test_what_is_added_ordered_or_opened_says_how_it_went(desk, running, tmp_path, kind):
    weather = Weather(running, desk, kind)
    waits = kind in ("slow", "frozen")
    problem, saved = desk.locator(".problem"), desk.locator("[data-test=saved]")
    name = f"plate {kind}"
    cv2.imwrite(str(tmp_path / f"{name}.png"), np.full((36, 64, 3), 90, np.uint8))

    def is_there():
        return name in {media["name"] for media in running.project()["project"]["media"].values()}

    desk.get_by_role("button", name="Media", exact=True).click()
    with weather.under():
        desk.locator("input[type=file]").first.set_input_files(tmp_path / f"{name}.png")
        if waits:
            saved.filter(has_text=re.compile("adding files|looking at the files")).wait_for()
        else:
            problem.filter(has_text="The disk is full" if kind == "full" else "if not, add them again").wait_for()
    if not waits:
        until(lambda: weather.answers())
        assert not is_there()
        desk.locator("input[type=file]").first.set_input_files(tmp_path / f"{name}.png")
    until(is_there)

    desk.get_by_role("button", name="Export", exact=True).click()
    ordered, tray = desk.locator("[data-test=export]"), desk.locator("aside[aria-label=Export]")
    with weather.under():
        ordered.click()
        if waits:
            ordered.filter(has_text="Asking for the film").wait_for()
        else:
            problem.filter(has_text="The disk is full" if kind == "full" else "The service does not answer").wait_for()
            tray.get_by_text("The disk is full" if kind == "full" else "The service does not answer").wait_for()
    until(lambda: weather.answers())
    if not waits:
        # What was measured is measured by itself as soon as it can be; what was ordered is ordered by a hand.
        tray.get_by_text("s a frame").wait_for(timeout=60_000)
        ordered.click()
    desk.get_by_role("progressbar").wait_for()
    for job in running.api("GET", "/projects/slow-harvest/exports").json():
        running.api("DELETE", f"/exports/{job['id']}")

    # The page itself comes from the service: of one that is not there nothing of ours can be shown.
    if kind not in ("killed", "frozen"):
        with weather.under():
            desk.reload(wait_until="commit")
            if kind == "gone":
                desk.get_by_text("The film opens as soon as it is back").wait_for()
    settled(desk)
