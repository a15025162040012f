"""What an editor needs stands in sight: the key in hand, a message, an export under way, whose frame a picture is."""

import pytest

from tests.conftest import until

from .helpers import go_to, settled

pytestmark = pytest.mark.usefixtures("as_it_was")


def box(locator):
    found = locator.bounding_box()
    return found["x"], found["y"], found["x"] + found["width"], found["y"] + found["height"]


def test_the_key_in_hand_comes_into_sight_in_a_panel_that_was_scrolled(desk):
    desk.keyboard.press("e")
    desk.locator(".steps .names").nth(2).click()
    panel = desk.get_by_label("Steps", exact=True)
    rows = panel.locator(".rows")
    # Below its head the panel is scrolled to its end.
    assert rows.evaluate("rows => (rows.scrollTop = 1e6, rows.scrollTop)") > 0
    desk.locator(".motion-lane").nth(2).locator("[data-test=key]").nth(0).click()
    key = desk.get_by_label("Key", exact=True)
    key.wait_for()
    until(lambda: box(panel)[1] <= box(key)[1] and box(key)[3] <= box(panel)[3])


def test_messages_leave_the_tracks_free_and_exports_under_way_stand_above_the_order(desk, running):
    desk.keyboard.press("e")
    desk.locator(".motion-lane").nth(2).locator("[data-test=key]").nth(0).click()
    desk.get_by_label("Key", exact=True).locator("[data-test=as-text]").click()
    desk.locator("[data-test=css]").fill("swing(3)")
    desk.keyboard.press("Enter")
    message = desk.locator(".problem").filter(has_text="is not an ease of CSS")
    message.wait_for()
    (left, _, right, foot), tracks = box(message), box(desk.locator(".timeline"))
    assert left >= tracks[2] or right <= tracks[0] or foot <= tracks[1]
    message.get_by_role("button", name="Close").click()
    desk.get_by_role("button", name="Export", exact=True).click()
    tray = desk.get_by_role("complementary", name="Export", exact=True)
    tray.locator("[data-test=export]").click()
    job = tray.locator("[data-test^=job-]").first
    job.wait_for()
    assert box(job)[3] <= box(tray.get_by_role("radiogroup", name="As"))[1]
    job.get_by_role("button", name="cancel").click()
    tray.get_by_text("cancelled; nothing was kept").first.wait_for()


def test_a_list_that_was_used_gives_the_keys_back_to_the_shortcuts(desk):
    desk.locator(".steps .names").nth(2).click()
    desk.get_by_role("button", name="Text", exact=True).click()
    snap = desk.get_by_role("button", name="snap")
    for choose in (
        lambda: desk.get_by_role("radio", name="centre").first.click(),
        lambda: desk.locator(".steps .names").nth(1).click(),
    ):
        choose()
        before = snap.get_attribute("aria-pressed")
        desk.keyboard.press("s")
        until(lambda: snap.get_attribute("aria-pressed") != before)


def test_a_picture_says_whose_frame_it_is_until_the_one_at_the_playhead_is_painted(chromium, running):
    # A window of its own: what it holds back would be held back from the tests that follow.
    page, kept = chromium.new_page(viewport={"width": 1280, "height": 800}), []

    def late(route):
        server = route.connect_to_server()
        server.on_message(lambda message: kept.append(message) if holds else route.send(message))
        route.on_message(server.send)

    holds = False
    page.route_web_socket("**/preview", late)
    page.goto(f"{running.address}/?project=slow-harvest")
    settled(page)
    says = page.locator("[data-test=preview-state]")
    before = page.locator("[data-test=timecode]").inner_text()
    holds = True
    go_to(page, "9:00")
    until(
        lambda: page.wait_for_timeout(20) or says.inner_text() == f"the picture of {before} until this one is painted"
    )
    assert page.locator("[data-test=timecode]").inner_text() != before
    page.close()
