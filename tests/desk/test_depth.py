"""Solid type under a light, and a model that is slowed, made in the Desk and measured on exported frames."""

import numpy as np

from tests.conftest import until

from .helpers import clips, command, drag, go_to, middle, settled
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


def test_on_the_picture_a_clip_is_moved_along_its_axes_and_focus_arrives_as_the_camera_stops(editor, desk, running):
    editor.click(desk.locator("[data-clip=second-line]"), position={"x": 60, "y": 20})
    add_step(editor, "stand in space")
    until(lambda: "stand" in steps(running, "second-line"))
    go_to(desk, "3:00")

    def place():
        step = next(each for each in clips(running)["second-line"]["steps"] if each["kind"] == "stand")
        return {name: step["values"].get(name, {}).get("value", 0) for name in "xyz"}

    for axis, dx, dy in (("x", 60, 0), ("y", 0, 40)):
        before = place()
        drag(desk, *middle(desk.locator(f"[data-axis={axis}] rect")), dx, dy)
        after = until(lambda: (now := place())[axis] > before[axis] and now)
        assert all(after[other] == before[other] for other in "xyz" if other != axis)
        # At the frame's own distance it goes as far as the pointer does.
        share = desk.locator("canvas").bounding_box()["width"] / 1280
        assert abs((after[axis] - before[axis]) * share - (dx or dy)) < 3
        settled(desk)
    editor.click(desk.locator("[data-test=see-it]"))
    eye = until(lambda: content(running, "camera"))["id"]
    until(lambda: desk.locator(f"[data-clip={eye}].chosen").count() == 1)
    editor.click(desk.locator("[data-camera=slide]"))
    until(lambda: content(running, "camera")["content"]["values"].get("x", {}).get("state") == "moving")
    # Shorter, so that the words are there as it stops.
    assert running.edit({"kind": "trim_clip", "clip": eye, "head": 0, "length": 110}).status_code == 200
    stop = desk.locator("[data-test=sharp-at-stop]")
    until(lambda: stop.is_enabled())
    go_to(desk, "3:00")
    stop.click()
    until(lambda: desk.locator("[data-test=timecode]").inner_text() == "00:00:04:09")
    settled(desk)
    picture = clip_corners(running, 109)
    canvas = desk.locator("canvas").bounding_box()
    share = canvas["width"] / 1280
    desk.mouse.click(canvas["x"] + picture[0] * share, canvas["y"] + picture[1] * share)
    focus = until(lambda: content(running, "camera")["content"]["values"].get("focus"))
    assert focus["state"] == "moving" and [key["at"] for key in focus["keys"]] == [0, 109]
    told = running.api("GET", "/projects/slow-harvest/surroundings?at=109").json()
    plane = next(each for each in told["planes"] if each["clip"] == "second-line")
    assert abs(told["sharp"]["at"] - plane["ahead"]) < 2 and plane["disc"] < 0.2


def clip_corners(running, at):
    """Where the middle of the second line is seen at a frame, in px of the frame."""
    told = running.api("GET", f"/projects/slow-harvest/surroundings?at={at}").json()
    return next(each for each in told["planes"] if each["clip"] == "second-line")["seen"][0]
