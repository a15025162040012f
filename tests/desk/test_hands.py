"""Quick hands, two windows, a service that is slow, silent or away: nothing that was made is lost without a word."""

import contextlib
import os
import re
import signal

import pytest

from tests.conftest import until

from .helpers import clip, clips, drag, middle, settled

pytestmark = pytest.mark.usefixtures("as_it_was")


def held(page):
    """Edits are on their way from now on until they are let go."""
    routes = []
    page.route("**/edits", lambda route: routes.append(route))

    def let_go():
        until(lambda: routes or page.wait_for_timeout(20))
        for route in routes:
            route.continue_()
        page.unroute("**/edits")

    return let_go


def keys(running, name="y"):
    return {key["id"]: key for key in clip(running)["steps"][1]["values"][name]["keys"]}


def quickly(page, x, y, dx, dy=0.0):
    """A drag that waits for nothing."""
    page.mouse.move(x, y)
    page.mouse.down()
    for part in range(1, 5):
        page.mouse.move(x + dx * part / 4, y + dy * part / 4)
    page.mouse.up()


def test_a_key_dragged_past_its_neighbour_is_the_one_that_moves(desk, running):
    desk.keyboard.press("e")
    lane = desk.locator(".motion-lane").nth(2)
    before = keys(running)
    first, second = (middle(lane.locator("[data-test=key]").nth(place)) for place in (0, 1))
    way = second[0] - first[0]
    moved = min(before)
    drag(desk, *first, 1.5 * way)
    after = until(lambda: keys(running) if keys(running) != before else None)
    assert {id for id in before if before[id]["at"] != after[id]["at"]} == {moved}
    assert after[moved]["at"] == pytest.approx(1.5 * before[2]["at"], abs=1.5) and after[2] == before[2]


def test_two_drags_of_one_handle_before_an_answer_add_up(desk, running):
    let_go = held(desk)
    before = clip(running)["steps"][-1]["values"]
    share = desk.locator("canvas").bounding_box()["width"] / 1280
    outline = desk.locator("[data-test=outline]")
    # With Ctrl nothing draws it.
    desk.keyboard.down("Control")
    for _ in range(2):
        # Beside the middle, where its pivot lies.
        x, y = middle(outline)
        quickly(desk, x - 90 * share, y, 30 * share, 24 * share)
    desk.keyboard.up("Control")
    let_go()
    settled(desk)
    after = clip(running)["steps"][-1]["values"]
    was, now = (each.get("x", {"value": 0}).get("value", 0) for each in (before, after))
    assert now - was == pytest.approx(60, abs=3)
    assert running.project()["history"]["undo"]


def test_what_two_windows_change_is_refused_with_both_values_and_can_be_made_after_all(desk, running):
    let_go = held(desk)
    desk.get_by_role("button", name="Text", exact=True).click()
    words = desk.locator("[data-test=words]").first
    words.fill("MINE")
    assert running.edit({"kind": "change_text", "clip": "title", "text": "THEIRS"}).status_code == 200
    let_go()
    kept = desk.locator("[data-test=kept-edit]")
    kept.wait_for()
    assert re.search(r"Words of .*“MINE”\s*“THEIRS”", kept.inner_text().replace("\n", " ").replace("\t", " "))
    assert clip(running)["content"]["text"] == "THEIRS" and words.input_value() == "MINE"
    kept.get_by_role("button", name="Use mine").click()
    until(lambda: clip(running)["content"]["text"] == "MINE")
    kept.wait_for(state="detached")


def test_two_who_type_into_one_title_lose_nothing(desk, running):
    desk.get_by_role("button", name="Text", exact=True).click()
    words = desk.locator("[data-test=words]").first
    words.fill("the swarm")
    until(lambda: clip(running)["content"]["text"] == "the swarm")
    words.press("End")
    for letter in " moves":
        desk.keyboard.type(letter)
        state = running.project()
        text = state["project"]["clips"]["title"]["content"]["text"]
        if "great" not in text:
            # Another window, which knows what it has read and nothing newer.
            great = {"kind": "change_text", "clip": "title", "text": text.replace("the", "the great")}
            great["typed_on"] = text
            order = {"revision": state["revision"], "edit": great, "window": "another-window"}
            running.api("POST", "/projects/slow-harvest/edits", json=order)
    until(lambda: clip(running)["content"]["text"] == "the great swarm moves")
    until(lambda: words.input_value() == "the great swarm moves")
    assert not desk.locator("[data-test=kept-edit]").count()


def test_a_database_that_is_silent_is_named_in_three_seconds_and_nothing_typed_is_lost(desk, running):
    desk.get_by_role("button", name="Text", exact=True).click()
    pid = int((running.home / "database" / "pid").read_text())
    os.kill(pid, signal.SIGSTOP)
    try:
        desk.locator("[data-test=words]").first.fill("WHILE IT SLEEPS")
        desk.locator("[data-test=saved]").filter(has_text="The database does not answer").wait_for()
    finally:
        # One that is silent for long is ended and begun anew by the service.
        with contextlib.suppress(ProcessLookupError):
            os.kill(pid, signal.SIGCONT)
    until(lambda: clip(running)["content"]["text"] == "WHILE IT SLEEPS")
    settled(desk)


def test_files_dropped_while_others_are_added_come_after_them(desk, running, tmp_path):
    uploads = []
    desk.route("**/media", lambda route: uploads.append(route))
    desk.get_by_role("button", name="Media", exact=True).click()
    picker = desk.locator("input[type=file]").first
    from PIL import Image

    for number in (1, 2, 3):
        path = tmp_path / f"plate {number}.png"
        Image.new("RGB", (64, 36), (40 * number, 90, 10)).save(path)
        picker.set_input_files(path)
    until(lambda: uploads or desk.wait_for_timeout(20))
    desk.locator("[data-test=saved]").filter(has_text="2 more to come").wait_for()
    uploads[0].continue_()
    desk.unroute("**/media")
    names = {"plate 1", "plate 2", "plate 3"}
    until(lambda: names <= {media["name"] for media in running.project()["project"]["media"].values()})


def test_the_desk_opens_where_the_browser_keeps_nothing_and_as_soon_as_the_service_is_there(chromium, running):
    context = chromium.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    page.add_init_script(
        "Object.defineProperty(window, 'localStorage', { get() { throw new DOMException('no', 'SecurityError') } })"
    )
    page.route("**/api/**", lambda route: route.abort())
    page.goto(f"{running.address}/?project=slow-harvest")
    page.get_by_text("opens as soon as it is back").wait_for()
    page.unroute("**/api/**")
    settled(page)
    assert page.locator(".clip").count() == len(clips(running)) or page.locator(".clip").count() > 2
    context.close()
