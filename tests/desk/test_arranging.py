"""Several pictures in one frame, in the Desk, measured on exported frames."""

import numpy as np
import pytest

from idle_comet.core.project.cells import cells_of
from tests.conftest import until

from .helpers import clips, go_to, settled

SHOTS = ("shot-heath-evening", "shot-ottoline-bench", "shot-hands-jars")


def cell_of(running, id):
    step = next((each for each in clips(running)[id]["steps"] if each["kind"] == "cell"), None)
    return step and [step["values"][name]["value"] for name in ("x", "y", "width", "height")]


def test_a_shot_goes_into_a_corner_and_back(editor, desk, running, frame):
    editor.click(desk.locator("[data-clip=shot-hands-jars]"), position={"x": 60, "y": 30})
    before = frame(470)
    editor.click(desk.locator("[data-arrangement='in a corner']"))
    until(lambda: cell_of(running, "shot-hands-jars"))
    assert editor.actions <= 6
    x, y, width, height = (int(each / 2) for each in cell_of(running, "shot-hands-jars"))
    small = frame(470)
    # In its cell the whole picture is smaller; around it lies what is below: nothing, here.
    inside = small[y + 1 : y + height - 1, x + 1 : x + width - 1]
    wanted = before.reshape(360, 640, 3)[:: round(360 / height), :: round(640 / width)]
    assert inside.mean() > 20 and abs(inside.mean() - wanted.mean()) < 12
    outside = small.copy()
    outside[y - 1 : y + height + 1, x - 1 : x + width + 1] = 0
    assert outside[:, : x - 2].max() == 0
    # At its end it fills the frame again.
    assert frame(610).reshape(-1, 3).min(1).mean() > 5


def test_a_shot_goes_to_a_detail_that_is_picked_on_it(editor, desk, running, frame):
    editor.click(desk.locator("[data-clip=shot-hands-jars]"), position={"x": 60, "y": 30})
    editor.click(desk.locator("[data-arrangement='a quadrant']"))
    until(lambda: cell_of(running, "shot-hands-jars"))
    head = clips(running)["shot-hands-jars"]["head"]
    before = frame(500)
    settled(desk)
    go_to(desk, f"{head}f")
    settled(desk, head)
    editor.click(desk.locator("[data-test=pick-detail]"))
    box = desk.locator("[data-test=picking]").bounding_box()
    # A jar, as it is seen while the picture still fills the frame.
    editor.click(desk.locator("[data-test=picking]"), position={"x": box["width"] * 0.42, "y": box["height"] * 0.55})
    step = until(lambda: next((s for s in clips(running)["shot-hands-jars"]["steps"] if "zoom" in s["values"]), None))
    assert editor.actions <= 6
    picked = [step["values"][name]["value"] for name in ("detail_x", "detail_y", "zoom")]
    assert picked == pytest.approx([(0.42 - 0.5) * 1280, (0.55 - 0.5) * 720, 2], abs=3)
    # In its cell, and nowhere else, something else is seen.
    changed = np.abs(frame(500) - before).max(-1)
    assert changed[181:359, 321:639].mean() > 8 and changed[:178].max() == 0


def test_a_shot_gives_way_to_a_strip_with_an_address(editor, desk, running, frame):
    editor.click(desk.locator("[data-clip=shot-hands-jars]"), position={"x": 60, "y": 30})
    editor.click(desk.locator("[data-test=strip-below]"))
    words = until(lambda: next((each for id, each in clips(running).items() if id.endswith("-words")), None))
    desk.locator("[data-test=type-here]").wait_for(state="attached")
    editor.press("Control+a")
    editor.type("marrow-lane.example\n0000 555 0117")
    until(lambda: clips(running)[words["id"]]["content"]["text"].startswith("marrow-lane"))
    assert editor.actions <= 6
    stay = frame(520)
    strip, picture = stay[283:], stay[:278]
    # The ground is dark and smooth but for the words, which are light and in the strip alone.
    assert np.median(strip) < 90 and (strip.min(-1) > 200).sum() > 150
    lit = np.argwhere(strip.min(-1) > 200)
    assert abs((lit[:, 1].min() + lit[:, 1].max()) / 2 - 320) < 4 and picture.mean() > 30


def test_shots_that_follow_each_other_stand_in_a_row_and_one_comes_forward(editor, desk, running, frame):
    for number, id in enumerate(SHOTS):
        how = {"modifiers": ["Shift"]} if number else {}
        editor.click(desk.locator(f"[data-clip={id}]"), position={"x": 60, "y": 30}, **how)
    editor.click(desk.locator("[data-arrangement='in a row']"))
    until(lambda: all(cell_of(running, id) for id in SHOTS))
    assert len({clips(running)[id]["head"] for id in SHOTS}) == 1
    wanted = cells_of("row", 3, 1280, 720)
    assert [tuple(cell_of(running, id)) for id in SHOTS] == [tuple(map(float, cell)) for cell in wanted]
    picture = frame(90)
    # No px between them is empty.
    assert (picture.max(-1) > 0).mean() > 0.995
    settled(desk)
    go_to(desk, "100f")
    editor.click(desk.locator("[data-test=comes-forward]"))
    assert editor.actions <= 6
    until(lambda: any(id.endswith("-a-1") for id in clips(running)))
    forward = frame(135)
    # One picture fills the frame: at the borders of the cells nothing changes abruptly.
    apart = np.abs(np.diff(forward, axis=1)).max(-1).mean(0)
    for border in (213, 426):
        assert apart[border - 1 : border + 1].max() < 4 * np.median(apart) + 4
