"""Shaping motion in the Desk: eases, lanes, paths, motors, motion blur."""

import re

import numpy as np
import pytest

from tests.conftest import until

from .helpers import clip, command, drag, go_to, middle, psnr, settled, settled_pixels

pytestmark = pytest.mark.usefixtures("as_it_was")


def values(running, step=1):
    return clip(running)["steps"][step]["values"]


def test_one_act_each_softens_mirrors_slows_and_strengthens(desk, running):
    desk.keyboard.press("1")
    until(
        lambda: (
            values(running)["opacity"]["keys"][0]["ease"]
            == {"kind": "strengths", "start": pytest.approx(1 / 3), "end": pytest.approx(1 / 3)}
        )
    )
    desk.keyboard.press("4")
    until(lambda: values(running)["opacity"]["keys"][0]["ease"]["start"] == pytest.approx(1 / 3 + 0.2))
    desk.get_by_role("button", name="mirror the arrival").click()
    until(lambda: clip(running)["departure"] == 40)
    keys = values(running)["y"]["keys"]
    assert [(key["counts_from"], key["at"], key["value"]) for key in keys] == [
        ("head", 0, 36),
        ("head", 40, 0),
        ("tail", -40, 0),
        ("tail", 0, 36),
    ]
    desk.keyboard.press("3")
    until(lambda: (clip(running)["arrival"], clip(running)["departure"]) == (60, 60))


def test_an_ease_is_typed_in_css_bent_by_its_handles_and_kept_under_a_name(desk, running, exported):
    desk.keyboard.press("e")
    lane = desk.locator(".motion-lane").nth(2)
    lane.locator("[data-test=key]").nth(0).click()
    panel = desk.get_by_label("Key", exact=True)
    handle = lane.locator("[data-test=handle-1] rect")
    before = middle(handle)
    panel.locator("[data-test=as-text]").click()
    panel.locator("[data-test=css]").fill("cubic-bezier(0.1, 0.8, 0.3, 1.4)")
    desk.keyboard.press("Enter")
    until(
        lambda: values(running)["y"]["keys"][0]["ease"] == {"kind": "free", "x1": 0.1, "y1": 0.8, "x2": 0.3, "y2": 1.4}
    )
    # The Desk must show it before its handle is taken.
    until(lambda: middle(handle) != before)
    # The list grew under a pointer at rest: no ease is tried by that.
    desk.wait_for_timeout(300)
    assert desk.get_by_text("trial: a click").count() == 0
    x, y = middle(handle)
    drag(desk, x, y, 60)
    until(lambda: values(running)["y"]["keys"][0]["ease"].get("x2", 0) > 0.33)
    panel.get_by_role("radio", name="spring").click()
    until(lambda: values(running)["y"]["keys"][0]["ease"]["kind"] == "spring")
    panel.get_by_role("button", name="keep").click()
    desk.get_by_label("Name to keep this ease under").fill("my spring")
    desk.keyboard.press("Enter")
    until(lambda: [each["name"] for each in running.project()["project"]["settings"]["eases"]] == ["my spring"])
    panel.locator("[data-test=css]").fill("swing(3)")
    desk.keyboard.press("Enter")
    desk.get_by_text("is not an ease of CSS").wait_for()
    desk.keyboard.press("Escape")
    go_to(desk, "1:15")
    pixels = settled_pixels(desk, 40)
    assert psnr(pixels, exported(40, pixels)) >= 35


def test_an_ease_rested_on_plays_on_the_title_and_a_click_keeps_it(desk, running):
    go_to(desk, "3:00")
    before, revision = settled_pixels(desk, 75), running.project()["revision"]
    shelf = desk.get_by_role("group", name="Eases for the departure")
    shelf.get_by_role("button", name="dropped").hover()
    desk.get_by_text("trial: a click").wait_for()
    # It plays where the departure is, not where the playhead was, and nothing is changed by it.
    until(lambda: 125 <= int(desk.locator("canvas").get_attribute("data-frame")) <= 174)
    desk.mouse.move(400, 300)
    assert np.abs(settled_pixels(desk, 75) - before).max() <= 2 and running.project()["revision"] == revision
    shelf.get_by_role("button", name="even").focus()
    desk.keyboard.press("ArrowLeft")
    desk.keyboard.press("Enter")
    until(
        lambda: (
            values(running)["opacity"]["keys"][2]["ease"]["kind"] == "strengths"
            and values(running)["opacity"]["keys"][2]["ease"]["start"] == 0.8
        )
    )
    assert values(running)["opacity"]["keys"][0]["ease"]["start"] == 0.2
    assert shelf.get_by_role("button", name="feather-soft").get_attribute("aria-pressed") == "true"


def test_keys_of_several_properties_are_swept_up_shifted_copied_and_pasted(desk, running):
    desk.keyboard.press("e")
    lanes = desk.locator(".motion-lane")
    for number in (1, 2):
        x, y = middle(lanes.nth(number).locator("[data-test=key]").nth(1))
        desk.keyboard.down("Shift")
        drag(desk, x - 60, y - 8, 120, 12)
        desk.keyboard.up("Shift")
    desk.get_by_label("Key", exact=True).get_by_text("2 keys").wait_for()
    desk.keyboard.press("Control+ArrowLeft")
    until(lambda: [values(running)[name]["keys"][1]["at"] for name in ("opacity", "y")] == [39, 39])
    desk.keyboard.press("Control+c")
    go_to(desk, "3:00")
    desk.keyboard.press("Control+v")
    until(lambda: [len(values(running)[name]["keys"]) for name in ("opacity", "y")] == [5, 5])
    assert [values(running)[name]["keys"][2]["at"] for name in ("opacity", "y")] == [50, 50]


def test_a_pulse_repeats_and_is_compared_in_six_eases(desk, running):
    """A two-second pulse of the blur that repeats; both of its segments get the ease that is picked."""
    revision = running.project()["revision"]
    pulse = {"state": "moving", "keys": [{"at": 0, "value": 0}, {"at": 25, "value": 12}, {"at": 50, "value": 0}]}
    running.api(
        "POST",
        "/projects/slow-harvest/edits",
        json={
            "revision": revision,
            "edit": {"kind": "set_property", "clip": "title", "step": "focus", "name": "radius", "property": pulse},
        },
    )
    desk.reload()
    settled(desk)
    lane = desk.locator(".motion-lane").nth(0)
    lane.locator("[data-test=key]").nth(0).click()
    desk.get_by_label("Key", exact=True).get_by_role("radio", name="loop").click()
    until(lambda: values(running, 0)["radius"]["repeat"] == {"mode": "loop", "times": None})
    lane.locator("[data-test=key]").nth(1).click(modifiers=["Shift"])
    desk.keyboard.press("5")
    grid = desk.locator("[data-test=beside-grid]")
    for name in (
        "both soft",
        "both sudden, soft landing",
        "both soft start, sudden end",
        "hold, hold",
        "soft rise, hold and drop",
    ):
        grid.get_by_role("option", name=name, exact=True).wait_for()
    grid.get_by_role("option", name="hold, then a soft fall").click()
    until(lambda: [key["ease"]["kind"] for key in values(running, 0)["radius"]["keys"][:2]] == ["hold", "strengths"])


def test_a_value_is_driven_and_baked(desk, running, exported):
    desk.get_by_role("button", name=re.compile("^Placement")).click()
    go_to(desk, "4:00")
    desk.get_by_role("button", name="Rotation: fixed", exact=True).click()
    desk.get_by_role("menuitem", name="driven").click()
    until(lambda: values(running)["rotation"]["state"] == "driven")
    assert values(running)["rotation"]["motor"]["kind"] == "wobble"
    desk.get_by_role("radio", name="oscillation").click()
    until(lambda: values(running)["rotation"]["motor"]["kind"] == "oscillation")
    pixels = settled_pixels(desk, 100)
    assert psnr(pixels, exported(100, pixels)) >= 35
    desk.get_by_role("button", name="bake to keys").click()
    until(lambda: len(values(running)["rotation"].get("keys", [])) == 150)


def test_a_path_is_drawn_in_the_preview_and_bent_by_its_tangents(desk, running):
    revision = running.project()["revision"]
    path = {
        "state": "moving",
        "keys": [{"at": 40, "value": [0, 0]}, {"at": 80, "value": [200, -120]}, {"at": 110, "value": [330, 40]}],
    }
    running.api(
        "POST",
        "/projects/slow-harvest/edits",
        json={
            "revision": revision,
            "edit": {"kind": "set_property", "clip": "title", "step": "placement", "name": "path", "property": path},
        },
    )
    desk.reload()
    settled(desk)
    desk.locator("[data-test=trail]").wait_for(state="attached")
    points = desk.locator("[data-test=path-point]")
    until(lambda: points.count() == 3)
    x, y = middle(points.nth(1))
    drag(desk, x, y, 30, 20)
    share = desk.locator("canvas").bounding_box()["height"] / 720
    until(
        lambda: (
            values(running)["path"]["keys"][1]["value"]
            == [pytest.approx(200 + 30 / share, abs=3), pytest.approx(-120 + 20 / share, abs=3)]
        )
    )
    until(lambda: middle(points.nth(1)) == (pytest.approx(x + 30, abs=2), pytest.approx(y + 20, abs=2)))
    x, y = middle(desk.locator("[data-test=tangent-out] circle"))
    drag(desk, x, y, 0, 40)
    until(
        lambda: (
            values(running)["path"]["keys"][1]["out"] is not None
            and values(running)["path"]["keys"][1]["into"] is not None
        )
    )


def test_motion_blur_is_set_for_the_film_and_named_in_the_preview(desk, running, exported):
    desk.get_by_role("button", name=re.compile("^Clip")).click()
    desk.locator("[data-test=shutter]").get_by_role("button").click()
    desk.keyboard.type("180")
    desk.keyboard.press("Enter")
    until(lambda: running.project()["project"]["settings"]["shutter"]["angle"] == 180)
    go_to(desk, "1:10")
    pixels = settled_pixels(desk, 35)
    assert "motion blur" in desk.locator("[data-test=preview-state]").inner_text()
    assert psnr(pixels, exported(35, pixels)) >= 35


def test_speed_is_shown_in_place_of_value(desk):
    lane = desk.locator(".motion-lane").nth(1)
    value = lane.locator("path").nth(1).get_attribute("d")
    desk.keyboard.press("v")
    until(
        lambda: (
            lane.locator("path").nth(2).get_attribute("d") != value and desk.get_by_text("Opacity, %/s").count() == 1
        )
    )
    desk.keyboard.press("v")


def test_other_words_hold_from_the_playhead_on(desk, running):
    desk.get_by_role("button", name=re.compile("^Text")).last.click()
    go_to(desk, "4:00")
    before = settled_pixels(desk, 100)
    desk.get_by_role("button", name="change the words").click()
    field = desk.get_by_label(re.compile("Words from frame"))
    field.fill("BEES AT DUSK")
    desk.keyboard.press("Enter")
    until(lambda: clip(running)["content"]["held"].get("text", [{}])[0].get("value") == "BEES AT DUSK")
    assert psnr(settled_pixels(desk, 100), before) < 30
    # Typed into the picture there, it is the held words that change.
    desk.get_by_label("Words", exact=True).fill("BEES AT DAWN")
    until(lambda: clip(running)["content"]["held"]["text"][0]["value"] == "BEES AT DAWN")
    go_to(desk, "3:24")
    settled(desk, 99)
    command(desk, "go to 3:24")
    assert clip(running)["content"]["text"] == "THE SLOW HARVEST"


def test_a_small_curve_goes_to_its_nearest_key_and_other_lanes_idle(desk):
    desk.get_by_role("button", name="Focus blur moving: radius", exact=True).click()
    # The lanes of the other steps fold to a line; one that is clicked opens its own.
    until(lambda: [lane.bounding_box()["height"] for lane in desk.locator("[data-test=lane]").all()] == [38, 18, 18])
    curve = desk.get_by_role("button", name="Nearest key of Radius")
    box = curve.bounding_box()
    desk.mouse.click(box["x"] + 0.3 * box["width"], box["y"] + 5)
    until(lambda: desk.locator("[data-test=timecode]").inner_text().endswith("02:15"))
    assert desk.get_by_role("button", name="Key of Radius here").get_attribute("aria-pressed") == "true"
    curve.press("ArrowRight")
    until(lambda: desk.locator("[data-test=timecode]").inner_text().endswith("05:19"))
    desk.get_by_title("Open Opacity, %").click()
    until(lambda: [lane.bounding_box()["height"] for lane in desk.locator("[data-test=lane]").all()] == [18, 38, 38])


def test_marks_on_the_picture_fade_while_the_pointer_is_elsewhere(desk):
    seen = "grips => getComputedStyle(grips).opacity"
    box = desk.locator("canvas").bounding_box()
    desk.mouse.move(box["x"] + 30, box["y"] + 30)
    until(lambda: desk.locator(".grips").evaluate(seen) == "1")
    desk.mouse.move(400, 700)
    until(lambda: desk.locator(".grips").evaluate(seen) == "0")
    desk.locator("[data-test=turn]").focus()
    until(lambda: desk.locator(".grips").evaluate(seen) == "1")
