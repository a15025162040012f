"""Several pictures in one frame, in the Desk, measured on exported frames."""

import numpy as np

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
