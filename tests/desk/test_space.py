"""Planes before a camera, in the Desk, measured on exported frames."""

import numpy as np

from tests.conftest import until

from .helpers import clips, command, settled
from .test_work_orders import add_step


def test_a_title_stands_before_a_shot_and_a_camera_slides_past(editor, desk, running, frame):
    editor.click(desk.locator("[data-clip=shot-heath-evening]"), position={"x": 60, "y": 30})
    add_step(editor, "stand in space")
    step = until(lambda: next((s for s in clips(running)["shot-heath-evening"]["steps"] if s["kind"] == "stand"), None))
    before = frame(100)
    gauge = desk.locator(".gauge").filter(has=desk.get_by_role("slider", name="Z", exact=True))
    editor.click(gauge.locator("button.value"))
    editor.type("900")
    editor.press("Enter")
    until(lambda: (step_of(running, step["id"])["values"].get("z") or {}).get("value") == 900)
    small = frame(100)
    # Further away it is smaller: at its rim there is nothing.
    assert small[:20].max() == 0 and before[:20].max() > 30
    editor.click(desk.locator("[data-test=fill-frame]"))
    until(lambda: step_of(running, step["id"])["values"].get("size"))
    assert np.abs(frame(100) - before).mean() < 2, "it fills the frame again, and looks as it did"
    command(desk, "add a camera")
    camera = until(
        lambda: next((each for each in clips(running).values() if each["content"]["kind"] == "camera"), None)
    )
    until(lambda: desk.locator(f"[data-clip={camera['id']}].chosen").count() == 1)
    editor.click(desk.locator("[data-camera=slide]"))
    until(lambda: clips(running)[camera["id"]]["content"]["values"].get("x", {}).get("state") == "moving")
    assert editor.actions <= 12
    settled(desk)
    # What is flat stays where it is; the shot goes by.
    first = frame(camera["head"] + 4)
    assert np.abs(first - frame(camera["head"] + camera["length"] - 4)).mean() > 3


def step_of(running, id):
    return next(step for step in clips(running)["shot-heath-evening"]["steps"] if step["id"] == id)
