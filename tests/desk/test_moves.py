"""Moves and the handheld camera, from the Desk to exported frames, with their actions counted."""

import numpy as np
import pytest

from idle_comet.core.motion import Framing, shown
from tests.conftest import until

from .helpers import clips, drag, go_to, middle, settled
from .test_work_orders import do

SHOT = "shot-ottoline-bench"


def take(editor, id=SHOT):
    editor.click(editor.page.locator(f"[data-clip={id}]"), position={"x": 100, "y": 20})


def pull(editor, locator, dx, dy=0.0):
    editor.actions += 1
    x, y = middle(locator)
    drag(editor.page, x, y, dx, dy)


def steps(running, id=SHOT):
    return clips(running)[id]["steps"]


def framings(running, id=SHOT):
    move = next(step for step in steps(running, id) if step["kind"] == "move")
    return [key["value"] for key in move["values"]["framing"]["keys"]]


def camera(running, id=SHOT):
    state = running.project()
    answer = running.api("POST", "/projects/slow-harvest/courses", json={"clips": [id], "revision": state["revision"]})
    return answer.json()["courses"][id]["camera"]


def red(picture):
    return (picture[..., 2] > 150) & (picture[..., :2].max(-1) < 60)


def test_life_for_a_shot_from_a_tripod(editor, desk, running, frame):
    # The shot as it was taken, over a ground that would be seen at once.
    ground = {"id": "red", "track": "under", "name": "Red", "head": 0, "length": 620}
    do(
        running,
        {"kind": "remove_step", "clip": SHOT, "step": "placement"},
        {"kind": "add_track", "track": {"id": "under", "name": "Under"}, "at": 3},
        {"kind": "add_clip", "clip": ground | {"content": {"kind": "plain", "colour": "#ff0000"}}},
    )
    settled(desk)
    take(editor)
    editor.click(desk.locator("[data-move=push-slow]"))
    until(lambda: any(step["kind"] == "move" for step in steps(running)))
    editor.click(desk.locator("[data-test=frame-it]"))
    boxes = desk.locator("[data-test=framing-box]")
    until(lambda: boxes.count() == 2)
    # The picture and the frame, with a fiftieth more around.
    share = desk.locator(".whole svg").bounding_box()["width"] / (1280 * 1.04)
    # The second framing to 112 %, and both aside: from left to right.
    pull(editor, boxes.nth(1).locator("[data-test=framing-corner-2] rect"), -13 * share, -7 * share)
    until(lambda: framings(running)[1]["scale"] == pytest.approx(1.115, abs=0.02))
    settled(desk)
    desk.wait_for_timeout(200)
    # What lies on top of both is taken by its number.
    pull(editor, boxes.nth(1).locator("text"), 40 * share)
    until(lambda: framings(running)[1]["x"] == pytest.approx(40, abs=4))
    settled(desk)
    desk.wait_for_timeout(200)
    pull(editor, boxes.nth(0).locator("text"), -30 * share)
    until(lambda: framings(running)[0]["x"] == pytest.approx(-30, abs=4))
    # The handle is where the answer to the last edit has put it.
    settled(desk)
    desk.wait_for_timeout(200)
    pull(editor, boxes.nth(1).locator("[data-test=framing-turn] .knob"), 14 * share)
    until(lambda: 0.5 < framings(running)[1]["roll"] < 4)
    editor.press("Escape")
    editor.click(desk.locator("[data-test=add-step]"))
    editor.type("handheld")
    editor.press("Enter")
    until(lambda: steps(running)[-1]["kind"] == "handheld")
    editor.click(desk.locator("[data-situation=stabilised]"))
    until(lambda: steps(running)[-1]["choices"].get("situation") == "stabilised")
    assert editor.actions <= 14
    told = camera(running)
    assert told["first_edge"] is None and min(min(each[1:]) for each in told["spare"]) > -0.01
    head, length = clips(running)[SHOT]["head"], clips(running)[SHOT]["length"]
    for at in (head, head + 60, head + length - 15):
        assert not red(frame(at)).any()
    # As framed, an edge shows: it is said beside the steps and before the film is exported.
    free = {"kind": "set_choice", "clip": SHOT, "name": "edges"}
    held = steps(running)[-1]["id"]
    do(running, free | {"step": "move", "value": "as framed"}, free | {"step": held, "value": "as it comes"})
    assert red(frame(head)).any()
    desk.locator(".steps .note").filter(has_text="edge of the picture is in sight from 00:00:08:13").wait_for()
    desk.get_by_role("button", name="Export", exact=True).click()
    desk.locator("[data-test=export-warnings]").get_by_text("Ottoline at the bench").wait_for()
    # A shorter clip keeps its framings.
    before = framings(running)
    do(running, {"kind": "trim_clip", "clip": SHOT, "head": head, "length": 120})
    assert framings(running) == before


def test_one_click_two_handles_and_back_to_the_shot_as_it_was(editor, desk, running, frame):
    before = steps(running)
    take(editor)
    button = desk.locator("[data-move=push-quick]")
    x, y = middle(button)
    desk.mouse.move(x - 3, y)
    desk.mouse.move(x, y)
    # Resting on it plays it, and leaves no trace.
    desk.locator("[data-test=preview-state]").get_by_text("trial:").wait_for()
    assert steps(running) == before
    editor.click(button)
    until(lambda: framings(running)[-1]["scale"] == pytest.approx(1.35))
    assert editor.actions <= 3
    gauge = desk.get_by_role("slider", name="Rests at head", exact=True)
    gauge.focus()
    desk.keyboard.press("Shift+ArrowRight")
    until(lambda: next(s for s in steps(running) if s["id"] == "move")["values"]["framing"]["keys"][0]["at"] >= 8)
    x, y = middle(desk.locator("[data-test=move-tail]"))
    length = clips(running)[SHOT]["length"]
    scale = desk.locator(f"[data-clip={SHOT}]").bounding_box()["width"] / length
    drag(desk, x, y, -30 * scale)
    until(lambda: next(s for s in steps(running) if s["id"] == "move")["values"]["framing"]["keys"][-1]["at"] == -30)
    desk.get_by_role("slider", name="How much", exact=True).focus()
    desk.keyboard.press("Shift+ArrowLeft")
    until(lambda: framings(running)[-1]["scale"] < 1.34)
    assert next(s for s in steps(running) if s["id"] == "move")["values"]["framing"]["keys"][-1]["at"] == -30
    desk.locator("[data-test=as-shot]").click()
    until(lambda: steps(running) == before)
    # Framings that were made elsewhere are not replaced without a word.
    made = {"kind": "use_move", "clips": [SHOT], "move": "push-quick", "amount": 1, "at": None, "frame": 0}
    assert running.edit({**made, "alternate": False}).status_code == 200
    settled(desk)
    editor.click(desk.locator("[data-move=pull-slow]"))
    desk.locator("[data-test=replaced]").get_by_text("In place of the 2 framings that were there").wait_for()


def test_photographs_each_go_to_their_own_picked_point(editor, desk, running, frame):
    stills = ["ottoline-portrait", "heath-wide"]
    laid = {"kind": "add_picture", "track": None, "first": 0}
    do(running, *(laid | {"clip": f"print-{n}", "frame": 700 + 200 * n, "media": id} for n, id in enumerate(stills)))
    go_to(desk, "28:10")
    editor.click(desk.locator("[data-clip=print-0]"))
    editor.click(desk.locator("[data-clip=print-1]"), modifiers=["Shift"])
    editor.click(desk.locator("[data-move=turn-point]"))
    canvas = desk.locator("canvas").bounding_box()
    points = [(0.42, 0.4), (0.7, 0.6)]
    for n, (x, y) in enumerate(points):
        desk.locator("[data-test=picking]").get_by_text(f"{n + 1} of 2").wait_for()
        desk.wait_for_timeout(120)
        editor.actions += 1
        desk.mouse.click(canvas["x"] + x * canvas["width"], canvas["y"] + y * canvas["height"])
        until(lambda: any(step["kind"] == "move" for step in steps(running, f"print-{n}")))
    assert editor.actions <= 9
    for n, (x, y) in enumerate(points):
        own = clips(running)[f"print-{n}"]
        # What was pointed at stays on its place while all around it grows and turns; to keep the frame filled both are
        # shown a little larger.
        filled = camera(running, f"print-{n}")["filled"]
        x, y = 0.5 + (x - 0.5) * filled, 0.5 + (y - 0.5) * filled
        first, last = (frame(own["head"] + at, "1280x720") for at in (0, own["length"] - 1))
        at = slice(round(720 * y) - 5, round(720 * y) + 6), slice(round(1280 * x) - 5, round(1280 * x) + 6)
        assert np.abs(first[at].mean((0, 1)) - last[at].mean((0, 1))).max() < 12
        assert np.abs(first - last).mean() > 3


def test_six_photographs_get_one_move_at_once_and_are_shortened(editor, desk, running):
    names = ["heath-dawn", "ottoline-portrait", "jars-window", "heath-wide", "hives-upright", "bench-card"]
    do(running, {"kind": "lay_pictures", "seed": "print", "frame": 700, "media": names})
    prints = [f"print-{n}" for n in range(1, 7)]
    length = clips(running)["print-6"]["length"]
    last = desk.locator("[data-clip=print-6]")
    last.wait_for()
    go_to(desk, f"{clips(running)['print-6']['head'] + 5}f")
    editor.click(last)
    editor.click(desk.locator("[data-move=turn-point]"))
    canvas = desk.locator("canvas").bounding_box()
    editor.actions += 1
    desk.mouse.click(canvas["x"] + 0.6 * canvas["width"], canvas["y"] + 0.4 * canvas["height"])
    until(lambda: steps(running, "print-6"))
    # It settles a second before the end.
    scale = last.bounding_box()["width"] / length
    pull(editor, desk.locator("[data-test=move-tail]"), -25 * scale)
    # A drag around them takes all six in hand.
    first, end = (desk.locator(f"[data-clip={id}]").bounding_box() for id in (prints[0], prints[-1]))
    editor.actions += 1
    drag(desk, first["x"] - 12, first["y"] + 10, end["x"] + end["width"] - first["x"] + 6, 4)
    until(lambda: desk.locator(".clip.chosen").count() == 6)
    editor.click(desk.locator("[data-step]").filter(has_text="Move").locator(".names"))
    editor.click(desk.locator("[data-test=carry-step]"))
    until(lambda: all(steps(running, id) for id in prints))
    editor.click(desk.get_by_role("button", name="shorten"))
    until(lambda: all(clips(running)[id]["length"] == length - 25 for id in prints))
    assert editor.actions <= 9
    for id in prints:
        keys = next(s for s in steps(running, id) if s["kind"] == "move")["values"]["framing"]["keys"]
        assert (keys[-1]["counts_from"], keys[-1]["at"]) == ("tail", pytest.approx(-25, abs=1))
        # What was pointed at is seen on one place from the first framing to the last.
        one, other = (shown(Framing.model_validate(key["value"])) for key in (keys[0], keys[-1]))
        point = one.inverse(complex(0.1 * 1280, -0.1 * 720))
        assert abs(other.turn * point + other.shift - complex(128, -72)) < 0.5
        assert camera(running, id)["first_edge"] is None
