"""A screen turned in space, focus pulled to what is to be read, and the working view, measured on exported frames."""

import cv2
import numpy as np

from tests.conftest import until

from .helpers import clips, command, drag, go_to, middle, settled
from .test_work_orders import add_step

SHOT = "shot-heath-evening"


def step_of(running, kind, clip=SHOT):
    return next((each for each in clips(running)[clip]["steps"] if each["kind"] == kind), None)


def camera(running):
    return next((each for each in clips(running).values() if each["content"]["kind"] == "camera"), None)


def fine(pixels):
    """How much fine detail there is."""
    return float(np.abs(cv2.Laplacian(pixels.astype(np.float32).mean(-1), cv2.CV_32F)).mean())


def test_a_screen_is_turned_filled_pushed_in_on_and_comes_into_focus(editor, desk, running, frame):
    editor.click(desk.locator(f"[data-clip={SHOT}]"), position={"x": 60, "y": 30})
    add_step(editor, "stand in space")
    until(lambda: step_of(running, "stand"))
    gauge = desk.locator(".gauge").filter(has=desk.get_by_role("slider", name="Rotation Y", exact=True))
    editor.click(gauge.locator("button.value"))
    editor.type("35")
    editor.press("Enter")
    until(lambda: step_of(running, "stand")["values"].get("swing"))
    editor.click(desk.locator("[data-test=fill-frame]"))
    until(lambda: step_of(running, "stand")["values"].get("size"))
    command(desk, "add a camera")
    id = until(lambda: camera(running))["id"]
    until(lambda: desk.locator(f"[data-clip={id}].chosen").count() == 1)
    editor.click(desk.locator("[data-camera='push in']"))
    until(lambda: camera(running)["content"]["values"].get("z", {}).get("state") == "moving")
    go_to(desk, "6:00")
    editor.click(desk.locator("[data-test=pull-focus]"))
    canvas = desk.locator("canvas").bounding_box()
    # What is further away, at the left, is to be sharp in the end.
    editor.actions += 1
    desk.mouse.click(canvas["x"] + 0.12 * canvas["width"], canvas["y"] + 0.6 * canvas["height"])
    until(lambda: camera(running)["content"]["values"].get("focus", {}).get("state") == "moving")
    assert editor.actions <= 12
    desk.locator("[data-test=sharp-band]").get_by_text("ahead").wait_for()
    settled(desk)
    # No edge of the shot is in the frame, and in the end its left is sharper than it was, its right softer.
    early, late = frame(124), frame(150)
    assert min(early[:, 1].max(), late[:, 1].max(), late[-2].max()) > 20
    left, right = (slice(0, 360), slice(20, 150)), (slice(0, 360), slice(490, 620))
    assert fine(late[left]) / fine(early[left]) > 1.05 * fine(late[right]) / fine(early[right])


def test_things_are_moved_in_the_working_view_and_stand_by_words(editor, desk, running, frame):
    editor.click(desk.locator(f"[data-clip={SHOT}]"), position={"x": 60, "y": 30})
    add_step(editor, "stand in space")
    until(lambda: step_of(running, "stand"))
    go_to(desk, "4:00")
    before = frame(100)
    editor.press("a")
    plane = desk.locator(f"[data-plane={SHOT}]")
    plane.wait_for()
    desk.locator("[data-test=from-above]").click()
    # Seen from above, what is further away lies higher.
    x, y = middle(desk.locator("[data-grip=z] rect"))
    drag(desk, x, y, 0, -40)
    away = until(lambda: (step_of(running, "stand")["values"].get("z") or {}).get("value"))
    assert away > 50
    settled(desk)
    assert frame(100)[:4].max() < before[:4].max(), "it is smaller than the frame now"
    # Turning the view about touches nothing.
    space = desk.locator("[data-test=space]").bounding_box()
    kept, look = clips(running), plane.locator("polygon").get_attribute("points")
    desk.mouse.move(space["x"] + 20, space["y"] + space["height"] - 20)
    desk.mouse.down()
    desk.mouse.move(space["x"] + 120, space["y"] + space["height"] - 60, steps=4)
    desk.mouse.up()
    until(lambda: plane.locator("polygon").get_attribute("points") != look)
    assert clips(running) == kept
    # A title stands in front of it, and is seen as it was.
    do = {"kind": "stand_to", "clip": "title", "other": SHOT, "where": "in front of", "frame": 75}
    was = frame(100)
    assert running.edit(do).status_code == 200
    assert step_of(running, "stand", "title")["values"]["z"]["value"] < away
    assert np.abs(frame(100) - was).mean() < 0.5
    editor.click(desk.locator("[data-clip=title]"), position={"x": 60, "y": 20})
    desk.locator("[data-test=stands-says]").get_by_text("before the camera").wait_for()
    editor.click(desk.locator(f"[data-test=behind-{SHOT}]"))
    until(lambda: step_of(running, "stand", "title")["values"]["z"]["value"] > away)
    assert np.abs(frame(100) - was).mean() > 0.5, "behind the shot it is not seen"
    desk.keyboard.press("a")
    plane.wait_for(state="detached")
