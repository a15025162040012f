"""A point picked on the picture: followed, mended, with a title that goes with it; as exported frames have it."""

import math

import cv2
import numpy as np
import pytest

from tests.conftest import until
from tests.service.test_following import FILM, clasp

from .helpers import clips, go_to, middle, settled
from .test_work_orders import do


@pytest.fixture
def walk(editor, desk, running):
    """The shot of a walk behind the demo's film, in hand, forty frames in."""
    do(running, {"kind": "add_picture", "clip": "walk", "frame": 620, "media": "walk-home", "track": "shots"})
    settled(desk)
    editor.click(desk.locator("[data-clip=walk]"), position={"x": 30, "y": 20})
    go_to(desk, "660f")
    settled(desk)
    editor.actions = 0


def on_canvas(desk, x, y):
    box = desk.locator("canvas").bounding_box()
    return box["x"] + x * box["width"] / 1280, box["y"] + y * box["height"] / 720


def point(running):
    found = clips(running)["walk"]["content"]["points"]
    return found[0] if found else None


def test_a_title_goes_with_a_figure_that_walks(walk, editor, desk, running, frame):
    editor.click(desk.locator("[data-test=follow-point]"))
    editor.actions += 1
    desk.mouse.click(*on_canvas(desk, *clasp(40)))
    desk.locator("[data-test=following]").wait_for()
    until(lambda: point(running), 60)
    desk.locator("[data-test=followed]").filter(has_text="found again").wait_for()
    editor.click(desk.locator("[data-test=write-held]"))
    until(
        lambda: (
            desk.locator("[data-test=words]").count() or desk.evaluate("document.activeElement.tagName") == "TEXTAREA"
        )
    )
    editor.actions += 1
    desk.keyboard.type("Wren")
    assert editor.actions <= 4
    title = until(lambda: next((c for c in clips(running).values() if c["content"].get("text") == "Wren"), None))
    desk.keyboard.press("Escape")
    # Bright and without its fades, so that it can be measured: its middle against where the clasp is known to be.
    do(
        running,
        {"kind": "remove_step", "clip": title["id"], "step": title["steps"][0]["id"]},
        {"kind": "set_value", "clip": title["id"], "step": "content", "name": "colour", "value": "#00ff00", "frame": 0},
    )
    apart = []
    for at in (664, 690, 720, 756):
        picture = frame(at, "1280x720")
        green = (picture[..., 1] > 200) & (picture[..., [0, 2]].max(-1) < 120)
        assert green.sum() > 500
        rows, columns = np.nonzero(green)
        x, y = clasp(at - 620)
        apart.append((columns.mean() - x, rows.mean() - y))
    assert max(math.dist(apart[0], each) for each in apart) < 1


def test_what_was_lost_is_put_by_hand_and_the_shot_is_held_still(walk, editor, desk, running, frame):
    x, y = clasp(40)
    running.api("POST", f"{FILM}/clips/walk/points", json={"at": 660, "x": x, "y": y})
    until(lambda: point(running), 60)
    mark = desk.locator("[data-test=point-mark] [role=slider]")
    go_to(desk, "742f")
    until(lambda: "lost here" in desk.locator("[data-test=point]").inner_text())
    # Dragged to the shoulder, behind the tree.
    x, y = clasp(122)
    editor.actions += 1
    desk.mouse.move(*middle(mark.locator(".take")))
    desk.mouse.down()
    desk.mouse.move(*on_canvas(desk, x - 20, y + 60), steps=5)
    desk.mouse.up()
    until(lambda: [each for each in point(running)["hand"] if each["frame"] == 122])
    settled(desk)
    until(lambda: "put by hand here" in desk.locator("[data-test=point]").inner_text())
    hand = [each for each in point(running)["hand"] if each["frame"] == 122]
    assert math.dist((hand[0]["x"], hand[0]["y"]), (x - 20, y + 60)) < 4
    editor.click(desk.locator("[data-test=hold-still]"))
    until(lambda: clips(running)["walk"]["steps"][0]["kind"] == "still_point")
    settled(desk)
    # What stays is the hat; what goes is all else.
    x, y = (round(each) for each in running.api("GET", f"{FILM}/clips/walk/points?at=650").json()[0]["at"])
    one, other = (frame(at, "1280x720").mean(2).astype(np.float32) for at in (650, 668))
    hat = slice(y - 16, y + 16), slice(x - 16, x + 16)
    (across, down), _ = cv2.phaseCorrelate(one[hat].copy(), other[hat].copy(), cv2.createHanningWindow((32, 32), 5))
    assert math.hypot(across, down) < 0.7 and np.abs(one - other).mean() > 4
