"""Treatments, masks, groups and blend modes, as an editor meets them."""

import cv2
import numpy as np
import pytest

from tests.conftest import until

from .helpers import clips, command, drag, go_to, middle, settled

pytestmark = pytest.mark.usefixtures("as_it_was")


SMALL = "320x180"


def test_a_treatment_is_laid_over_all_masked_by_hand_and_leaves_other_frames_alone(desk, running, frame):
    inside, outside = frame(100, SMALL), frame(300, SMALL)
    command(desk, "add a treatment")
    treatment = until(lambda: next((c for c in clips(running).values() if c["content"]["kind"] == "treatment"), None))
    desk.locator("[data-test=add-step]").click()
    desk.get_by_label("Name of the step").fill("tone colours")
    desk.keyboard.press("Enter")
    # What was added is open at once; a part of the picture is one act more.
    desk.locator("[data-test=add-mask]").click()
    desk.locator("[data-test=grip-x] .middle").wait_for()
    x, y = middle(desk.locator("[data-test=grip-x] .middle"))
    drag(desk, x, y, -140, -60)

    def masks():
        return clips(running)[treatment["id"]]["steps"][0]["masks"]

    until(lambda: masks() and masks()[0]["values"]["x"]["value"] < 420)
    # The handle is where the answer to the last edit has put it.
    settled(desk)
    desk.wait_for_timeout(150)
    x, y = middle(desk.locator("[data-test=mask-width] rect"))
    drag(desk, x, y, -60)
    until(lambda: masks()[0]["values"]["width"]["value"] < 480)
    settled(desk)
    treated = frame(100, SMALL)
    at_x, at_y = (masks()[0]["values"][name]["value"] / 4 for name in ("x", "y"))
    here = slice(int(at_y) - 10, int(at_y) + 10), slice(int(at_x) - 10, int(at_x) + 10)
    assert np.abs(treated[here] - inside[here]).mean() > 12
    assert np.abs(treated[:, 280:] - inside[:, 280:]).max() <= 1
    assert (frame(300, SMALL) == outside).all()


def test_titles_are_gathered_lit_as_one_and_taken_apart_again(desk, running, frame):
    before = frame(100, SMALL)
    held = clips(running)
    desk.keyboard.press("Shift+a")
    desk.get_by_role("button", name="group", exact=True).click()
    until(lambda: [c for c in clips(running).values() if c["content"]["kind"] == "group"])
    assert np.abs(frame(100, SMALL) - before).max() <= 1
    desk.get_by_role("button", name="ungroup", exact=True).click()
    until(lambda: {id: (c["head"], c["length"]) for id, c in clips(running).items()} == {
        id: (c["head"], c["length"]) for id, c in held.items()
    })  # fmt: skip
    assert np.abs(frame(100, SMALL) - before).max() <= 1


def test_a_blend_mode_is_chosen_and_a_middle_is_set_by_numbers(desk, running):
    desk.get_by_role("button", name="Clip 150 frames").click()
    desk.locator("[data-test=blend]").click()
    desk.get_by_role("option", name="multiply").click()
    until(lambda: clips(running)["title"]["blend"] == "multiply")
    go_to(desk, "4:00")
    desk.locator("[data-test=add-step]").click()
    desk.get_by_label("Name of the step").fill("pool of light")
    desk.keyboard.press("Enter")
    desk.get_by_role("slider", name="Centre X", exact=True).focus()
    desk.keyboard.press("ArrowRight")
    until(
        lambda: any(
            s["kind"] == "pool_of_light" and s["values"].get("middle", {}).get("value", [0])[0] > 0
            for s in clips(running)["title"]["steps"]
        )
    )


def test_a_look_is_tried_taken_and_seen_before_and_after(desk, running):
    desk.locator("[data-clip=shot-ottoline-bench]").click(position={"x": 100, "y": 20})
    go_to(desk, "13:00")
    desk.locator("[data-test=add-step]").click()
    desk.get_by_label("Name of the step").fill("fair poster")
    desk.locator("[data-test=preview-state]").get_by_text("trial:").wait_for()
    assert not any(s["id"].startswith("look-") for s in clips(running)["shot-ottoline-bench"]["steps"])
    desk.keyboard.press("Enter")
    until(lambda: [s["kind"] for s in clips(running)["shot-ottoline-bench"]["steps"]][0] == "tone_colours")
    settled(desk, 325)
    desk.locator(".steps .names", has_text="Gradient map").click()
    desk.locator("[data-test=before-after]").click()
    line = desk.get_by_role("slider", name="Line between before and after")
    x, y = middle(line)
    drag(desk, x, y, 120)
    until(lambda: int(line.get_attribute("aria-valuenow")) > 60)
    before = desk.locator("[data-test=parted] img")
    until(lambda: before.evaluate("img => img.complete && img.naturalWidth > 0"))
    assert "inset" in before.evaluate("img => getComputedStyle(img).clipPath")


def test_a_reference_is_held_beside_the_film_and_stays_in_the_page(desk, running, tmp_path):
    cv2.imwrite(str(tmp_path / "match.png"), np.full((90, 160, 3), (40, 90, 200), np.uint8))
    media = len(running.project()["project"]["media"])
    desk.get_by_role("button", name="Media", exact=True).click()
    desk.locator("[data-test=reference]").set_input_files(str(tmp_path / "match.png"))
    shown = desk.locator("[data-test=parted] img")
    until(lambda: shown.evaluate("img => img.naturalWidth") == 160)
    assert len(running.project()["project"]["media"]) == media
    desk.get_by_role("button", name="put the reference away").click()
    shown.wait_for(state="detached")


def test_a_mask_is_drawn_on_the_picture_bent_and_joined_with_another(desk, running, tmp_path):
    command(desk, "add a treatment")
    treatment = until(lambda: next((c for c in clips(running).values() if c["content"]["kind"] == "treatment"), None))
    desk.locator("[data-test=add-step]").click()
    desk.get_by_label("Name of the step").fill("tone colours")
    desk.keyboard.press("Enter")
    desk.locator("[data-test=draw-mask]").click()
    ground = desk.locator("[data-test=drawing]")
    box = ground.bounding_box()
    share = box["width"] / 1280
    for x, y in ((200, 150), (600, 150), (600, 450)):
        desk.mouse.click(box["x"] + x * share, box["y"] + y * share)
    drag(desk, box["x"] + 200 * share, box["y"] + 450 * share, 0, -40 * share)
    desk.mouse.click(box["x"] + 200 * share, box["y"] + 150 * share)
    ground.wait_for(state="detached")

    def masks():
        return clips(running)[treatment["id"]]["steps"][0]["masks"]

    def corners(mask=0):
        return masks()[mask]["values"]["outline"]["value"]["corners"]

    until(lambda: masks() and len(corners()) == 4)
    values = masks()[0]["values"]
    assert abs(values["x"]["value"] - 400) < 3 and abs(values["y"]["value"] - 300) < 3
    assert corners()[3]["out"][1] < -25 and corners()[0]["out"] == [0, 0]
    # A corner goes where it is dragged; Enter bends it.
    x, y = middle(desk.locator("[data-test=outline-corner] rect").nth(1))
    drag(desk, x, y, 100 * share, 0)
    until(lambda: corners()[1]["at"][0] > 270)
    desk.locator("[data-test=outline-corner]").nth(1).focus()
    desk.keyboard.press("Enter")
    until(lambda: corners()[1]["out"][1] > 10)
    # A second mask adds to the first; what it takes away instead is one act.
    desk.locator("[data-test=add-mask]").click()
    until(lambda: len(masks()) == 2 and masks()[1]["joined"] == "add")
    desk.locator("[data-test=masks]").get_by_text("taken away", exact=True).click()
    until(lambda: masks()[1]["joined"] == "subtract")
    settled(desk)
    # Two corners are no outline: said, and nothing lost.
    desk.locator("[data-test=draw-mask]").click()
    desk.mouse.click(box["x"] + 40, box["y"] + 40)
    desk.keyboard.press("Enter")
    desk.get_by_text("needs three corners").wait_for()
    desk.keyboard.press("Escape")
    assert len(masks()) == 2


def test_a_group_is_opened_in_place_and_what_it_holds_is_moved_there(desk, running):
    held = clips(running)
    for id in ("title", "second-line"):
        desk.locator(f"[data-clip={id}]").click(
            modifiers=["Shift"] if id == "second-line" else [], position={"x": 60, "y": 20}
        )
    desk.get_by_role("button", name="group", exact=True).click()
    group = until(lambda: next((c for c in clips(running).values() if c["content"]["kind"] == "group"), None))
    # Moved as a whole, so that its own frames are not those of the film.
    desk.locator(f"[data-clip={group['id']}]").click()
    box = desk.locator(f"[data-clip={group['id']}]").bounding_box()
    drag(desk, box["x"] + 40, box["y"] + 20, 60)
    moved = until(lambda: (c := clips(running)[group["id"]])["head"] > group["head"] and c)
    by = moved["head"] - group["head"]
    assert desk.locator("[data-clip=title]").count() == 0
    desk.locator(f"[data-clip={group['id']}]").dblclick(position={"x": 60, "y": 20})
    inner = desk.locator("[data-clip=title]")
    inner.wait_for()
    assert abs(inner.bounding_box()["x"] - desk.locator(f"[data-clip={group['id']}]").bounding_box()["x"]) < 2
    inner.click(position={"x": 60, "y": 20})
    go_to(desk, "4:20")
    desk.locator("[data-test=outline]").wait_for()
    # An act on it is done in its group: there its head is counted from the group's own.
    before = clips(running)["title"]["head"]
    desk.keyboard.press("Control+ArrowRight")
    until(lambda: clips(running)["title"]["head"] != before)
    assert clips(running)["title"]["head"] == before + 1 and by > 0
    # At half the speed its frames are twice as long, on the timeline and to the keys.
    desk.locator("[data-test=saved]").filter(has_text="all saved").wait_for()
    wide = inner.bounding_box()["width"]
    revision = running.project()["revision"]
    slow = {"kind": "set_speed", "clip": group["id"], "speed": 0.5, "keep": "length"}
    assert (
        running.api("POST", "/projects/slow-harvest/edits", json={"revision": revision, "edit": slow}).status_code
        == 200
    )
    until(lambda: inner.bounding_box()["width"] == pytest.approx(2 * wide, abs=2))
    assert abs(inner.bounding_box()["x"] - desk.locator(f"[data-clip={group['id']}]").bounding_box()["x"]) < 3
    length = clips(running)["title"]["length"]
    edge = desk.locator("[data-clip=title] [data-test=trim-tail]").bounding_box()
    scale = 2 * wide / length
    drag(desk, edge["x"] + edge["width"] / 2, edge["y"] + edge["height"] / 2, -10 * scale)
    assert clips(running)["title"]["length"] == length - 10
    # A press on the picture takes what lies in the opened group.
    x, y = middle(desk.locator("[data-test=preview]"))
    desk.keyboard.press("Escape")
    desk.mouse.click(x, y)
    until(lambda: desk.locator("[data-clip=title].chosen").count() == 1)
    desk.locator(f"[data-clip={group['id']}]").dblclick(position={"x": 30, "y": 20})
    inner.wait_for(state="detached")
    assert held.keys() <= clips(running).keys()


def test_a_run_of_colours_is_turned_and_its_middle_slid_on_the_picture(desk, running):
    go_to(desk, "4:00")
    desk.locator("[data-test=add-step]").click()
    desk.get_by_label("Name of the step").fill("gradient")
    desk.keyboard.press("Enter")

    def value(name):
        step = next(s for s in clips(running)["title"]["steps"] if s["kind"] == "gradient")
        return step["values"].get(name, {}).get("value")

    end = desk.locator("[data-test=along-end] rect")
    x, y = middle(end)
    start = desk.locator(".begins")
    length = y - middle(start)[1]
    # From straight down to a quarter of a turn back: to the right of the middle.
    drag(desk, x, y, length / 2, -length / 2)
    until(lambda: value("angle") == pytest.approx(0, abs=1.5))
    settled(desk)
    desk.locator("[data-test=along-middle]").focus()
    desk.keyboard.press("Shift+ArrowRight")
    until(lambda: 0.5 < (value("middle") or 0) < 0.6)
    # The same step is carried over onto another clip in hand.
    desk.locator("[data-clip=end-line]").click()
    desk.locator("[data-clip=title]").click(modifiers=["Shift"])
    desk.locator(".steps .names", has_text="Gradient").click()
    desk.locator("[data-test=carry-step]").click()
    until(lambda: any(s["kind"] == "gradient" for s in clips(running)["end-line"]["steps"]))


def test_a_look_that_another_film_keeps_is_put_on_a_clip_of_this_one(desk, running):
    other = running.api("POST", "/projects", json={"name": "Heather"}).json()["id"]
    for edit in (
        {"kind": "add_title", "clip": "t", "frame": 0, "text": "Ling"},
        {"kind": "add_step", "clip": "t", "at": 0, "step": {"id": "v", "kind": "vignette"}},
        {"kind": "save_look", "clip": "t", "look": "ling", "name": "Ling at dusk"},
    ):
        revision = running.api("GET", f"/projects/{other}").json()["revision"]
        answer = running.api("POST", f"/projects/{other}/edits", json={"revision": revision, "edit": edit})
        assert answer.status_code == 200
    try:
        desk.locator("[data-test=add-step]").click()
        desk.get_by_label("Name of the step").fill("ling at")
        desk.get_by_role("option").filter(has_text="kept in Heather").wait_for()
        desk.keyboard.press("Enter")
        until(lambda: any(s["kind"] == "vignette" for s in clips(running)["title"]["steps"]))
        assert [each["id"] for each in running.project()["project"]["settings"]["looks"]] == ["ling"]
    finally:
        running.api("DELETE", f"/projects/{other}")
