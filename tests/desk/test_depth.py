"""Solid type under a light, and a model that is slowed, made in the Desk and measured on exported frames."""

import numpy as np

from tests.conftest import until

from .helpers import clips, command, settled
from .test_work_orders import add_step


def content(running, kind):
    return next((each for each in clips(running).values() if each["content"]["kind"] == kind), None)


def spot(running):
    return next((each["id"] for each in clips(running).values() if each["name"] == "Spot"), None)


def steps(running, clip):
    return [each["kind"] for each in clips(running)[clip]["steps"]]


def test_solid_type_is_lit_by_a_coloured_spot_and_measured_as_a_draft(editor, desk, running, frame):
    before = frame(90)
    editor.click(desk.locator("[data-clip=title]"), position={"x": 60, "y": 20})
    add_step(editor, "make solid")
    # What is solid stands in space, so that a camera sees it from all sides.
    until(lambda: {"solid", "stand"} <= set(steps(running, "title")))
    editor.click(desk.locator("[data-test=light-it]"))
    lamp = until(
        lambda: content(running, "light") and desk.locator("[data-test=light-sides]").count() and spot(running)
    )
    lights = [each["name"] for each in clips(running).values() if each["content"]["kind"] == "light"]
    assert sorted(lights) == ["Light everywhere", "Spot"]
    until(lambda: clips(running)[lamp]["content"]["values"].get("aim_x"))
    lit = frame(90)
    editor.click(desk.get_by_label("Colour, typed"), click_count=3)
    editor.type("#ff5a2a")
    editor.press("Enter")
    until(lambda: clips(running)[lamp]["content"]["values"].get("colour"))
    editor.click(desk.locator("[data-test=see-by]"))
    until(lambda: content(running, "camera"))
    editor.click(desk.locator("[data-camera=orbit]"))
    until(lambda: content(running, "camera")["content"]["values"].get("x", {}).get("state") == "moving")
    assert editor.actions <= 10
    turned, later = frame(90), frame(150)
    for one, other in ((before, lit), (lit, turned), (turned, later)):
        assert np.abs(one - other).mean() > 0.1
    # The letters are as red as the lamp, which they were not (blue comes first).
    changed = np.abs(turned - before).max(-1) > 40
    assert (turned[changed][:, 2] - turned[changed][:, 0]).mean() > 20 + (
        before[changed][:, 2] - before[changed][:, 0]
    ).mean()
    # Before it is started, the film says how long it takes, in full and as a draft.
    desk.get_by_role("button", name="Export", exact=True).click()
    told = desk.locator("[data-test=estimate]")
    until(lambda: told.inner_text().startswith("About"), 90)
    full = told.inner_text()
    desk.locator("[data-test=as-draft]").click()
    assert "s a frame" in full and "s a frame" in told.inner_text()


def test_a_hive_is_brought_in_glows_is_moved_in_on_and_slowed(editor, desk, running, brush):
    def alone(at):
        """A frame of the film with nothing in it but the hive and what sees it."""
        film = running.project()["project"]
        kept = {id: each for id, each in film["clips"].items() if each["content"]["kind"] in ("model", "camera")}
        return brush({**film, "clips": kept}, int(at), 640, 360).astype(float)

    editor.click(desk.get_by_role("button", name="Media", exact=True))
    editor.click(desk.locator("[data-media=hive] .act"))
    hive = until(lambda: content(running, "model"))["id"]
    until(lambda: desk.locator(f"[data-clip={hive}].chosen").count() == 1)
    assert clips(running)[hive]["length"] == 100 and "stand" in steps(running, hive)
    add_step(editor, "glow")
    until(lambda: "glow" in steps(running, hive))
    head = clips(running)[hive]["head"]
    quick = [alone(head + at) for at in (0, 40, 80)]
    # Longer by four seconds: that is all it takes to slow it down.
    editor.actions += 1
    command(desk, "longer by 100f")
    until(lambda: clips(running)[hive]["length"] == 200)
    slow = [alone(head + round(at * 199 / 99)) for at in (0, 40, 80)]
    assert all(np.abs(one - other).mean() < 0.6 for one, other in zip(quick, slow)), "it moves half as fast"
    assert np.abs(quick[0] - quick[1]).mean() > 0.3
    editor.click(desk.locator("[data-test=see-it]"))
    until(lambda: content(running, "camera"))
    editor.click(desk.locator("[data-camera='push in']"))
    until(lambda: content(running, "camera")["content"]["values"].get("z", {}).get("state") == "moving")
    assert editor.actions <= 8
    settled(desk)
    assert np.abs(alone(head + 150) - slow[2]).mean() > 0.3
