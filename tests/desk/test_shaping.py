"""Shaping by hand: keys in lanes, placing on the picture, new titles, media, steps."""

import re

import cv2
import numpy as np
import pytest
from playwright.sync_api import expect

from idle_comet.core.clock import Rate, format_timecode
from tests.conftest import until

from .helpers import clip, command, drag, go_to, middle, psnr, settled, settled_pixels

pytestmark = pytest.mark.usefixtures("as_it_was")


def keys_of(running, name, step=1):
    return clip(running)["steps"][step]["values"][name]["keys"]


def test_a_key_is_dragged_in_its_lane_eased_and_removed(desk, running, exported):
    scale = desk.locator("[data-clip=title]").bounding_box()["width"] / clip(running)["length"]
    lane = desk.locator(".motion-lane").nth(2)  # radius, opacity, travel
    x, y = middle(lane.locator("[data-test=key]").nth(1))
    drag(desk, x, y, -10 * scale, 9)
    until(lambda: keys_of(running, "y")[1]["at"] == 30 and keys_of(running, "y")[1]["value"] != 0)
    panel = desk.get_by_label("Key", exact=True)
    panel.get_by_role("radio", name="hold").click()
    until(lambda: keys_of(running, "y")[1]["ease"]["kind"] == "hold")
    panel.get_by_role("radio", name="in proportion").click()
    until(lambda: keys_of(running, "y")[1]["counts_from"] == "proportion")
    go_to(desk, "2:05")
    pixels = settled_pixels(desk, 55)
    assert psnr(pixels, exported(55, pixels)) >= 35
    panel.get_by_role("button", name="remove").click()
    until(lambda: len(keys_of(running, "y")) == 3)
    box = lane.bounding_box()
    desk.mouse.dblclick(box["x"] + (25 + 75.5) * scale, box["y"] + 10)
    until(lambda: len(keys_of(running, "y")) == 4)


def test_a_value_is_set_moving_and_changing_it_writes_a_key_at_the_playhead(desk, running):
    desk.get_by_role("button", name=re.compile("^Placement")).click()
    go_to(desk, "3s")
    desk.get_by_role("button", name="Scale: fixed", exact=True).click()
    desk.get_by_role("menuitem", name="moving").click()
    until(lambda: clip(running)["steps"][1]["values"].get("scale", {}).get("state") == "moving")
    go_to(desk, "4s")
    gauge = desk.get_by_role("slider", name="Scale")
    gauge.focus()
    desk.keyboard.press("Shift+ArrowRight")
    until(lambda: [key["value"] for key in keys_of(running, "scale")] == [1, pytest.approx(1.01, abs=0.02)])
    desk.get_by_role("button", name="Scale: moving", exact=True).click()
    desk.get_by_role("menuitem", name="fixed").click()
    until(lambda: clip(running)["steps"][1]["values"]["scale"]["state"] == "fixed")


def test_the_title_is_dragged_on_the_picture_and_drawn_to_the_middle(desk, running, exported):
    x, y = middle(desk.locator("[data-test=outline]"))
    drag(desk, x - 60, y, 0, -80)
    until(
        lambda: (
            desk.locator("[data-test=saved]").inner_text().startswith("all saved") and len(keys_of(running, "y")) == 5
        )
    )
    moved = next(key["value"] for key in keys_of(running, "y") if key["value"] < -60)
    share = desk.locator("canvas").bounding_box()["height"] / 720
    assert moved == pytest.approx(-80 / share, abs=3)
    # Its pivot stays where it is, though the drag began near it.
    assert not {"pivot_x", "pivot_y"} & set(clip(running)["steps"][1]["values"])
    pixels = settled_pixels(desk)
    frame = int(desk.locator("canvas").get_attribute("data-frame"))
    assert psnr(pixels, exported(frame, pixels)) >= 35
    x, y = middle(desk.locator("[data-test=outline]"))
    drag(desk, x - 60, y, 3, 78)
    # Three px off the middle across, two off down: both are drawn onto it.
    until(lambda: clip(running)["steps"][1]["values"]["x"]["value"] == pytest.approx(0, abs=1e-6))
    assert min(abs(key["value"]) for key in keys_of(running, "y")[1:3]) == pytest.approx(0, abs=1e-6)


def test_corners_scale_and_the_arc_turns(desk, running):
    x, y = middle(desk.locator("[data-test=scale-2]"))
    px, py = middle(desk.locator("[data-test=pivot]"))
    drag(desk, x, y, (x - px) * -0.25, (y - py) * -0.25)
    until(lambda: clip(running)["steps"][1]["values"].get("scale", {}).get("value") == pytest.approx(0.75, abs=0.01))
    x, y = middle(desk.locator("[data-test=turn]"))
    drag(desk, x, y, (py - y), (py - y))
    until(lambda: clip(running)["steps"][1]["values"].get("rotation", {}).get("value") == pytest.approx(90, abs=4))


def test_a_new_title_is_typed_over_the_playhead_and_given_a_step_by_its_synonym(desk, running):
    go_to(desk, "20s")
    settled(desk, 500)
    desk.locator("[data-test=add-title]").click()
    desk.locator("[data-test=type-here]").wait_for(state="attached")
    desk.keyboard.type("Wren Hallowes")
    made = until(
        lambda: next(
            (
                each
                for each in running.project()["project"]["clips"].values()
                if each["content"].get("text") == "Wren Hallowes"
            ),
            None,
        )
    )
    assert made["head"] == 500
    desk.keyboard.press("Escape")
    desk.locator("[data-test=add-step]").click()
    desk.get_by_label("Name of the step").fill("defocus")
    desk.keyboard.press("Enter")
    until(
        lambda: (
            [step["kind"] for step in running.project()["project"]["clips"][made["id"]]["steps"]]
            == ["focus_blur", "placement"]
        )
    )
    settled(desk)


def test_files_are_added_in_the_tray_and_put_on_the_timeline(desk, running, tmp_path):
    picture = tmp_path / "price board.png"
    cv2.imwrite(str(picture), np.full((200, 300, 3), (40, 200, 240), np.uint8))
    wrong = tmp_path / "film.mp4"
    wrong.write_bytes(picture.read_bytes())
    desk.get_by_role("button", name="Media", exact=True).click()
    desk.locator("[data-test=files]").set_input_files([picture, wrong])
    desk.get_by_role("alert").filter(has_text="is a PNG picture, not an MP4").wait_for()
    desk.locator(".item", has_text="price board").get_by_role("button", name="insert", exact=True).click()
    until(lambda: any(each["name"] == "price board" for each in running.project()["project"]["clips"].values()))
    # It lies on a new track above the shots and fills the frame, the titles stay over it.
    pixels = settled_pixels(desk)
    assert np.abs(pixels[20, 20] - (240, 200, 40)).max() < 12


def test_the_preview_alone_follows_the_desk(desk, running, chromium):
    with desk.expect_popup() as opened:
        desk.get_by_role("button", name="second window").click()
    alone = opened.value
    alone.locator("canvas[data-exact=true]").wait_for()
    go_to(desk, "3:03")
    settled(desk, 78)
    until(lambda: alone.locator("canvas").get_attribute("data-frame") == "78")
    assert alone.locator("canvas").evaluate("canvas => [canvas.width, canvas.height, canvas.clientWidth]") == [
        1280,
        720,
        1280,
    ]
    alone.close()


def test_the_desk_says_when_it_is_cut_off_and_goes_on_by_itself(desk, running):
    running.process.kill()
    running.process.wait()
    desk.get_by_role("button", name="Text", exact=True).click()
    desk.locator("[data-test=words]").first.fill("WRITTEN WHILE AWAY")
    desk.locator("[data-test=saved]").filter(has_text="sent again").wait_for()
    running.start()
    until(lambda: clip(running)["content"]["text"] == "WRITTEN WHILE AWAY")
    settled(desk)


def test_films_are_made_and_opened(desk, running):
    desk.get_by_role("button", name="Films").click()
    desk.get_by_placeholder("Name of a new film").fill("Night harvest")
    desk.get_by_role("button", name="Make it").click()
    desk.get_by_role("button", name="Night harvest").wait_for()
    made = next(each for each in running.api("GET", "/projects").json() if each["name"] == "Night harvest")
    assert (made["width"], made["height"], made["rate"]) == (1280, 720, "25/1")
    # An empty film says how to begin; its first title lies on the titles' track.
    desk.locator("[data-test=empty]").get_by_role("button", name="write a title").click()
    desk.locator("[data-test=empty]").wait_for(state="detached")
    (title,) = until(lambda: running.api("GET", f"/projects/{made['id']}").json()["project"]["clips"].values())
    assert title["track"] == "titles"
    running.api("DELETE", f"/projects/{made['id']}")


def test_a_step_is_tried_on_the_clip_before_it_is_added(desk, running):
    go_to(desk, "4:00")
    before, film = settled_pixels(desk, 100), running.project()["project"]
    desk.locator("[data-test=add-step]").click()
    desk.get_by_label("Name of the step").fill("slow push")
    until(lambda: desk.locator("[data-test=preview-state]").inner_text().startswith("trial:"))
    until(lambda: 25 <= int(desk.locator("canvas").get_attribute("data-frame")) < 100)
    desk.keyboard.press("Escape")
    # Left without Enter, all is as it was: the film, the playhead and the picture.
    assert psnr(settled_pixels(desk, 100), before) > 45
    assert running.project()["project"] == film


def test_what_is_being_typed_is_not_written_over_when_the_desk_is_drawn_again(desk):
    desk.locator("[data-test=timecode]").click()
    field = desk.get_by_label("Go to a time")
    field.fill("20:00")
    size = desk.viewport_size
    before = desk.locator(".transport").bounding_box()["width"]
    desk.set_viewport_size({"width": size["width"], "height": size["height"] + 200})
    until(lambda: desk.locator(".transport").bounding_box()["width"] != before)
    assert field.input_value() == "20:00"
    desk.set_viewport_size(size)


def test_a_drop_frame_film_is_numbered_as_the_core_numbers_it(page, running):
    made = running.api("POST", "/projects", json={"name": "Dropped", "rate": {"num": 30000, "den": 1001}}).json()
    rate = Rate(num=30000, den=1001)
    card = {
        "kind": "add_clip",
        "clip": {"id": "card", "track": "t", "name": "Card", "head": 0, "length": 40000, "content": {"kind": "plain"}},
    }
    track = {"kind": "add_track", "track": {"id": "t", "name": "T"}}
    running.api(
        "POST",
        f"/projects/{made['id']}/edits",
        json={"revision": made["revision"], "edit": {"kind": "several", "label": "card", "edits": [track, card]}},
    )
    page.goto(f"{running.address}/?project={made['id']}")
    page.locator("canvas[data-exact=true]").wait_for()

    def shown(frame, rate):
        go_to(page, f"{frame}f")
        until(lambda: page.locator("[data-test=timecode]").inner_text() == format_timecode(frame, rate))

    for frame in (0, 1799, 1800, 17981, 17982, 19779, 19780, 37165):
        shown(frame, rate)
    ruler = page.locator("[data-test=ruler]")
    for closer in range(0, 14, 2):
        marks = ruler.evaluate(
            "(svg) => [...svg.querySelectorAll('text.numbers')].map((text) => [Number(text.getAttribute('x')) - 5, "
            "text.textContent, Number(svg.getAttribute('width'))])"
        )
        scale = marks[0][2] and page.locator("[data-clip=card]").bounding_box()["width"] / 40000
        for x, label, _ in marks[:40]:
            assert format_timecode(round(x / scale), rate).endswith(label), (x / scale, label)
        assert len({label for _, label, _ in marks}) == len(marks)
        page.keyboard.press("+")
        page.keyboard.press("+")
    command(page, "non-drop")
    shown(1800, Rate(num=30000, den=1001, non_drop=True))
    running.api("DELETE", f"/projects/{made['id']}")


def test_a_gauge_takes_the_wheel_only_in_focus_and_goes_back_to_its_rest(desk, running):
    desk.locator(".steps").get_by_role("button", name=re.compile("^Text")).click()
    gauge = desk.get_by_role("slider", name="Tracking")
    tracking = lambda: clip(running)["content"]["tracking"]["value"]
    gauge.hover()
    desk.mouse.wheel(0, -100)
    desk.wait_for_timeout(300)
    assert tracking() == 280
    gauge.focus()
    gauge.hover()
    for _ in range(3):
        desk.mouse.wheel(0, -100)
    until(lambda: tracking() == 283)
    # Turns that follow each other are one act.
    desk.keyboard.press("Control+z")
    until(lambda: tracking() == 280)
    gauge.hover()
    desk.get_by_role("button", name="Tracking back to 0 ‰ em").click()
    until(lambda: tracking() == 0)
    until(lambda: desk.get_by_role("button", name="Tracking back to").count() == 0)


def test_a_surface_is_added_from_the_words_settings_and_gone_to(desk, running):
    desk.locator(".steps").get_by_role("button", name=re.compile("^Text")).click()
    desk.locator(".surface").get_by_role("button", name="outline").click()
    until(lambda: [step["kind"] for step in clip(running)["steps"]] == ["outline", "focus_blur", "placement"])
    made = clip(running)["steps"][0]["id"]
    expect(desk.locator(".surface").get_by_role("button", name="outline")).to_have_count(2)
    desk.locator(".surface").get_by_role("button", name="outline").first.click()
    until(lambda: desk.locator(f"[data-step={made}].open").count() == 1)
