"""Solid type under a light, and a model that is slowed, made in the Desk and measured on exported frames."""

import numpy as np

from tests.conftest import until

from .helpers import choose, clips, command, drag, go_to, lay, middle, named, pick, settled
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
    # It says at what it points; it may point elsewhere, from where it is.
    points = desk.locator("[data-test=light-onto]")
    until(lambda: "HARVEST" in points.inner_text())
    placed = clips(running)[lamp]["content"]["values"]
    made = editor.actions
    stands = {"kind": "add_step", "clip": "second-line", "at": 9, "step": {"id": "stand", "kind": "stand"}}
    assert running.edit(stands).status_code == 200
    pick(editor, points, clips(running)["second-line"]["name"])
    moved = until(lambda: (now := clips(running)[lamp]["content"]["values"])["aim_y"] != placed["aim_y"] and now)
    assert all(moved[name] == placed[name] for name in "xyz")
    pick(editor, points, clips(running)["title"]["name"])
    until(lambda: clips(running)[lamp]["content"]["values"] == placed)
    editor.actions = made
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


def test_a_poster_in_depth_is_laid_and_filled_in(editor, desk, empty, frame):
    """Two scenes with an iris between them, a figure between a ring and a frame, a leak over the cut."""
    lay(editor, "poster")
    field = desk.locator("[data-test=ensemble-parts]").get_by_label("title", exact=True)
    editor.click(field)
    editor.press("Control+a")
    editor.type("WINTER STORES")
    field.blur()
    until(lambda: named(empty, "WINTER STORES"))
    bare = frame(20)
    choose(editor, "first scene", "Heath, an old print")
    until(lambda: any(each["content"]["kind"] == "still" for each in clips(empty).values()))
    choose(editor, "second scene", "Jars in the window")
    until(lambda: sum(each["content"]["kind"] == "still" for each in clips(empty).values()) == 2)
    assert editor.actions <= 26
    assert np.abs(frame(20) - bare).mean() > 8
    # The camera comes in: what is nearer grows more. The ring lies behind the figure, the frame before it.
    told = {at: running_planes(empty, at) for at in (10, 140)}
    ahead = told[10]
    assert ahead["Frame"] < ahead["Mark"] < ahead["Figure"] < ahead["WINTER STORES"] < ahead["Ring"]
    near, far = (told[10][name] / told[140][name] for name in ("Figure", "Ring"))
    assert near > far > 1.1
    # At the cut the second scene is seen in an ellipse about the middle, and the first around it.
    early, cut, late = frame(55), frame(75), frame(110)
    corner, middle_of = (slice(5, 30), slice(5, 40)), (slice(170, 200), slice(470, 500))
    assert np.abs(cut[middle_of] - late[middle_of]).mean() < np.abs(cut[middle_of] - early[middle_of]).mean()
    assert cut[corner].mean() > early[corner].mean(), "light leaks over the cut"


def running_planes(running, at):
    told = running.api("GET", f"/projects/slow-harvest/surroundings?at={at}").json()
    return {each["name"]: each["ahead"] for each in told["planes"]}


def test_a_night_card_is_laid_and_its_letters_come_past_the_camera_however_short_it_is(
    editor, desk, empty, frame, brush
):
    lay(editor, "night-card")
    field = desk.locator("[data-test=ensemble-parts]").get_by_label("title", exact=True)
    editor.click(field)
    editor.press("Control+a")
    editor.type("HONEY MOON")
    field.blur()
    until(lambda: named(empty, "HONEY MOON"))
    title = named(empty, "HONEY MOON")["id"]
    assert editor.actions <= 18
    kinds = {step["kind"] for each in clips(empty).values() for step in each["steps"]}
    assert {"solid", "past_camera", "glow", "grain", "vignette", "gate_weave", "letterbox", "light_leak"} <= kinds
    assert sum(each["content"]["kind"] == "sound" for each in clips(empty).values()) == 2

    def letters(at):
        """How much the title adds to the picture at a frame."""
        film = empty.project()["project"]
        bare = {**film, "clips": {id: each for id, each in film["clips"].items() if id != title}}
        with_it, without = (brush(each, at, 640, 360).astype(float) for each in (film, bare))
        return float((np.abs(with_it - without).max(-1) > 30).mean())

    # Nothing, then letters, and at the end they have gone: so too when the clip is far shorter.
    rests = letters(75)
    assert rests > 0.01
    for length in (150, 60):
        assert empty.edit({"kind": "trim_clip", "clip": title, "head": 0, "length": length}).status_code == 200
        assert letters(0) < 0.2 * rests and letters(length - 1) < 0.2 * rests
        assert letters(round(length * 0.5)) > 0.5 * rests
    # Bars above and below are black, the picture between them is not still.
    assert frame(75)[:40].max() < 12 and np.abs(frame(76) - frame(75))[60:300].mean() > 0.5
