"""Several windows on one film, lines that break, and the film's own frame."""

import json

import cv2
import numpy as np
import pytest
from websockets.sync.client import connect

from tests.conftest import until

from .helpers import clip, clips, drag, middle, settled, settled_pixels

pytestmark = pytest.mark.usefixtures("as_it_was")


@pytest.fixture
def other(chromium, running):
    """A second window on the same film."""
    page = chromium.new_page(viewport={"width": 1280, "height": 800})
    page.goto(f"{running.address}/?project=slow-harvest")
    settled(page)
    yield page
    page.close()


def test_a_window_sees_what_another_one_does_as_it_happens(desk, other, running):
    desk.get_by_role("button", name="mirror the arrival").click()
    until(lambda: "mirror" in other.get_by_role("button", name="Undo").inner_text().lower())
    settled(other)
    # And goes on from there, without having been asked anything.
    other.keyboard.press("1")
    until(lambda: "soft" in desk.get_by_role("button", name="Undo").inner_text().lower())
    assert running.project()["history"]["undo"] == desk.get_by_role("button", name="Undo").inner_text().removeprefix(
        "Undo “"
    ).removesuffix("”")


def test_media_added_in_one_window_lose_nothing_made_in_another(desk, other, running, tmp_path):
    picture = tmp_path / "jar.png"
    cv2.imwrite(str(picture), np.full((20, 30, 3), 90, np.uint8))
    desk.get_by_role("button", name="Media", exact=True).click()
    before = len(clips(running))
    # While the line to this window is cut, the other makes a title.
    desk.evaluate("() => { window.WebSocket = class { close() {} send() {} } }")
    other.keyboard.press("t")
    until(lambda: len(clips(running)) == before + 1)
    desk.locator("[data-test=files]").set_input_files(str(picture))
    desk.get_by_text("jar", exact=True).wait_for()
    until(
        lambda: (
            len(desk.locator(".clip").all()) >= 1
            and desk.evaluate("() => document.querySelectorAll('[data-clip]').length") >= 0
        )
    )
    desk.keyboard.press("Escape")
    desk.get_by_role("button", name="Undo").click()
    until(lambda: len(running.project()["project"]["media"]) and running.project()["history"]["redo"] is not None)
    assert len(clips(running)) == before + 1


def test_edits_that_are_not_sent_yet_are_kept_when_the_window_closes(chromium, running):
    context = chromium.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    page.goto(f"{running.address}/?project=slow-harvest")
    settled(page)
    page.route("**/edits", lambda route: route.abort())
    page.get_by_role("button", name="mirror the arrival").click()
    until(lambda: "sent again" in page.locator("[data-test=saved]").inner_text())
    left = page.evaluate("() => JSON.parse(localStorage.getItem('idle-comet-unsent-slow-harvest'))")
    assert [order["edit"]["kind"] for order in left] == ["mirror_arrival"]
    said = []
    page.on("dialog", lambda dialog: (said.append(dialog.type), dialog.accept()))
    page.close(run_before_unload=True)
    again = context.new_page()
    again.goto(f"{running.address}/?project=slow-harvest")
    assert said == ["beforeunload"]
    until(
        lambda: (
            clip(running)["departure"] == clip(running)["arrival"] and "mirror" in running.project()["history"]["undo"]
        )
    )
    settled(again)
    assert again.evaluate("() => localStorage.getItem('idle-comet-unsent-slow-harvest')") is None
    context.close()


def test_several_keys_dragged_are_one_undo(desk, running):
    desk.keyboard.press("e")
    lane = desk.locator(".motion-lane").nth(2)
    before = running.project()["revision"]
    first, second = lane.locator("[data-test=key]").nth(0), lane.locator("[data-test=key]").nth(1)
    first.click()
    second.click(modifiers=["Shift"])
    undo = running.project()["history"]["undo"]
    x, y = middle(second)
    drag(desk, x, y, 60)
    until(lambda: running.project()["revision"] > before)
    settled(desk)
    running.api("POST", "/projects/slow-harvest/undo", json={"revision": running.project()["revision"]})
    assert running.project()["history"]["undo"] == undo, "more than one undo"


def test_the_film_is_fitted_to_another_frame_and_back(desk, running):
    desk.locator("[data-test=frame]").click()
    panel = desk.get_by_role("dialog", name="The film's frame")
    panel.get_by_label("Frame size").first.click(force=True)
    desk.get_by_role("option", name="1080×1920").click()
    panel.locator("[data-test=reframe]").click()
    until(lambda: running.project()["project"]["settings"]["height"] == 1920)
    pixels = settled_pixels(desk)
    assert pixels.shape[0] > pixels.shape[1]
    desk.get_by_role("button", name="Undo").click()
    until(lambda: running.project()["project"]["settings"]["height"] == 720)


def test_a_frame_that_can_not_be_painted_shifts_no_other(page, running):
    """The line answers one played frame in thirty with a problem: the others keep their moments."""

    def between(line):
        server = line.connect_to_server()
        count = 0

        def onward(message):
            nonlocal count
            if isinstance(message, bytes) and int.from_bytes(message[16:17], "little") == 0:
                count += 1
                if count % 30 == 6:
                    return line.send(
                        json.dumps(
                            {
                                "problem": "Frame could not be painted.",
                                "frame": 0,
                                "serial": int.from_bytes(message[8:12], "little"),
                            }
                        )
                    )
            line.send(message)

        server.on_message(onward)
        line.on_message(lambda message: server.send(message))

    page.route_web_socket("**/preview", between)
    page.goto(f"{running.address}/?project=slow-harvest")
    settled(page)
    page.evaluate("""() => {
      window.drawn = []
      const canvas = document.querySelector('canvas')
      new MutationObserver(() => window.drawn.push(Number(canvas.dataset.frame))).observe(canvas, {
        attributes: true, attributeFilter: ['data-frame'] })
    }""")

    def played():
        """The frames that are drawn as the film plays from its head."""
        page.keyboard.press("Home")
        page.wait_for_timeout(300)
        page.evaluate("() => { window.drawn = [] }")
        page.keyboard.press("Space")
        until(lambda: page.evaluate("() => Math.max(...window.drawn)") > 20)
        page.keyboard.press("Space")
        drawn = page.evaluate("() => window.drawn")
        assert drawn == sorted(drawn)
        return set(drawn)

    # A machine that stalls makes the Desk leave frames out; a frame that is missing does not.
    assert any(len(set(range(20)) - played()) <= 3 for _ in range(4))


def test_windows_are_told_in_order_and_of_a_film_that_is_not_there(running):
    with connect(
        running.address.replace("http", "ws") + "/api/projects/slow-harvest/told", origin=running.address
    ) as line:
        revision = json.loads(line.recv(timeout=5))["revision"]
        assert revision == running.project()["revision"]
        for name in ("One", "Two", "Three"):
            running.edit({"kind": "change_settings", "name": name})
        told = [json.loads(line.recv(timeout=5)) for _ in range(3)]
        assert [each["revision"] for each in told] == [revision + 1, revision + 2, revision + 3]
        assert [each["change"]["settings"]["name"] for each in told] == ["One", "Two", "Three"]
