"""Weathered cards, torn signals, waves, treatments and pulses of light, from the Desk to exported frames, with their
actions counted."""

import numpy as np
import pytest

from tests.conftest import until

from .helpers import clip, clips, drag, settled


def add_step(editor, name):
    editor.click(editor.page.locator("[data-test=add-step]"))
    editor.type(name)
    editor.press("Enter")


def kinds(running, id="title"):
    return [step["kind"] for step in clips(running)[id]["steps"]]


def of_kind(running, kind):
    """The clip with content of a kind, or None."""
    return next((each for each in clips(running).values() if each["content"]["kind"] == kind), None)


def off(clip, step):
    return {"kind": "switch_step", "clip": clip, "step": step["id"], "on": False}


def do(running, *edits):
    for edit in edits:
        state = running.api("GET", "/projects/slow-harvest").json()
        answer = running.api("POST", "/projects/slow-harvest/edits", json={"revision": state["revision"], "edit": edit})
        assert answer.status_code == 200, answer.text


def test_letters_grow_with_a_light_tint_of_glow(editor, running, frame):
    editor.press("Y")
    editor.recipe("honeycomb")
    until(lambda: clip(running).get("recipe") == "honeycomb")
    assert "glow" in kinds(running) and editor.actions <= 4
    lit = frame(100)
    do(running, off("title", {"id": "shine"}))
    assert np.abs(lit - frame(100)).max() > 20


def test_a_pulse_of_light_repeats_and_its_eases_are_compared(editor, desk, running):
    add_step(editor, "glow in pulses")
    until(lambda: "glow" in kinds(running))
    lane = desk.locator("[data-test=lane]").filter(has_text="Intensity")
    until(lambda: lane.locator("[data-test=key]").count() >= 3)
    editor.click(lane.locator("[data-test=key]").nth(0))
    editor.click(lane.locator("[data-test=key]").nth(1), modifiers=["Shift"])
    editor.press("5")
    grid = desk.locator("[data-test=beside-grid]")
    grid.wait_for()
    editor.click(grid.get_by_role("option", name="both sudden, soft landing", exact=True))

    def gain():
        step = next(step for step in clips(running)["title"]["steps"] if step["kind"] == "glow")
        return step["values"]["gain"]

    until(lambda: [key["ease"].get("start") for key in gain()["keys"][:2]] == [0, 0])
    assert gain()["repeat"] == {"mode": "loop", "times": None} and editor.actions <= 10
    # The last key of a pulse stands where a whole number of them fits the clip.
    assert (1 / gain()["keys"][-1]["at"]) == pytest.approx(round(1 / gain()["keys"][-1]["at"]))


def test_a_weathered_card(editor, desk, running, frame):
    add_step(editor, "weathered")
    until(lambda: kinds(running).count("displace") == 2)
    editor.press("U")
    treatment = until(lambda: of_kind(running, "treatment"))["id"]
    until(lambda: desk.locator(f"[data-clip={treatment}].chosen").count() == 1)
    add_step(editor, "vignette")
    until(lambda: "vignette" in kinds(running, treatment))
    add_step(editor, "grain")
    until(lambda: "grain" in kinds(running, treatment))
    add_step(editor, "handheld")
    shaken = until(lambda: next((s for s in clips(running)[treatment]["steps"] if s["kind"] == "handheld"), None))
    editor.click(desk.get_by_role("button", name="Media", exact=True))
    editor.click(desk.locator("[data-test=media-made]"))
    editor.click(desk.locator("[data-pattern=paper]"))
    paper = until(lambda: of_kind(running, "generated"))
    assert paper["blend"] == "multiply" and editor.actions <= 16
    settled(desk)
    # The whole frame is held by hand, very little: past its edge nothing but black would be seen, and none is.
    value = {"kind": "set_value", "clip": treatment, "step": shaken["id"], "frame": 0}
    do(running, value | {"name": "intensity", "value": 0.2})
    for at in (80, 95, 110):
        picture = frame(at)
        rim = np.concatenate([picture[0], picture[-1], picture[:, 0], picture[:, -1]])
        assert rim.max(-1).min() > 1
    # Grain is new at every frame and the same whenever a frame is made again.
    one = frame(90)
    assert (one == frame(90)).all()
    coarse, fine = (step for step in clips(running)["title"]["steps"] if step["kind"] == "displace")
    do(running, *(off(treatment, step) for step in clips(running)[treatment]["steps"]))
    torn = frame(90)
    do(running, off("title", coarse))
    changed = np.abs(frame(90) - torn).max(2)
    # What the coarse step does stays inside its two soft ellipses.
    y, x = np.mgrid[0:360, 0:640]
    inside = np.zeros(changed.shape, bool)
    for mask in coarse["masks"]:
        cx, cy, w, h, feather = (mask["values"][name]["value"] / 2 for name in ("x", "y", "width", "height", "feather"))
        inside |= ((x - cx) / (w / 2 + feather / 2 + 2)) ** 2 + ((y - cy) / (h / 2 + feather / 2 + 2)) ** 2 < 1
    assert changed[~inside].max() == 0 and changed[inside].max() > 60
    do(
        running,
        {"kind": "switch_step", "clip": "title", "step": coarse["id"], "on": True},
        {"kind": "move_step", "clip": "title", "step": fine["id"], "to": kinds(running).index("displace")},
    )
    assert np.abs(frame(90) - torn).max() > 10


def test_a_signal_that_tears_for_twelve_frames_and_ends_clean(editor, running, frame):
    head = clip(running)["head"]
    plain = [frame(head + at) for at in (6, 12)]
    add_step(editor, "glitch in")
    until(lambda: {"fray", "signal_tear"} <= set(kinds(running)))
    assert editor.actions <= 4
    torn = [frame(head + at) for at in (6, 12)]
    assert np.abs(torn[0] - plain[0]).max() > 8 and np.abs(torn[1] - plain[1]).max() == 0


def test_a_wave_travels_and_one_period_loops(editor, running, frame):
    add_step(editor, "travelling wave")
    until(lambda: "wave" in kinds(running))
    assert editor.actions <= 5
    step = next(step for step in clips(running)["title"]["steps"] if step["kind"] == "wave")["id"]

    def at(phase):
        prop = {"state": "fixed", "value": phase}
        do(running, {"kind": "set_property", "clip": "title", "step": step, "name": "phase", "property": prop})
        return frame(100)

    assert (at(0) == at(360)).all() and np.abs(at(0) - at(180)).max() > 60


def test_a_treatment_over_all_then_the_titles_as_one(editor, desk, running, frame):
    untreated = {at: frame(at) for at in (100, 560)}
    editor.press("Control+a")
    editor.press("U")
    treatment = until(lambda: of_kind(running, "treatment"))
    until(lambda: desk.locator(f"[data-clip={treatment['id']}].chosen").count() == 1)
    add_step(editor, "wide heath")
    until(lambda: {"colour_grade", "grain", "letterbox"} <= set(kinds(running, treatment["id"])))
    x, y = (lambda box: (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2))(
        desk.locator(f"[data-clip={treatment['id']}] [data-test=trim-tail]").bounding_box()
    )
    editor.actions += 1
    drag(desk, x, y, -120)
    # A trim is kept step by step while the pointer moves: only the last step ends before the frame looked at.
    until(lambda: (c := clips(running)[treatment["id"]])["length"] + c["head"] < 560)
    editor.press("Shift+a")
    editor.press("b")
    group = until(lambda: of_kind(running, "group"))
    until(lambda: desk.locator(f"[data-clip={group['id']}].chosen").count() == 1)
    settled(desk)
    inside, outside = frame(100), frame(560)
    assert np.abs(outside - untreated[560]).max() <= 1 and np.abs(inside - untreated[100]).mean() > 3
    assert inside[:20].max() < 24
    box = desk.locator(f"[data-clip={group['id']}]").bounding_box()
    editor.actions += 1
    drag(desk, box["x"] + 60, box["y"] + 20, 20)
    moved = until(lambda: (c := clips(running)[group["id"]])["head"] > group["head"] and c)
    desk.locator("[data-test=clip-row] .names").click()
    editor.actions += 1
    editor.click(desk.locator("[data-test=opening-kind]"))
    editor.click(desk.get_by_role("option", name="cross dissolve"))
    until(lambda: clips(running)[group["id"]]["opening"] is not None)
    assert editor.actions <= 12
    # Faded over eighty frames, half of the group is there half-way.
    dissolve = {"kind": "dissolve", "length": 80, "ease": {"kind": "linear"}}
    do(running, {"kind": "set_transition", "clip": group["id"], "end": "opening", "transition": dissolve})
    middle_of = moved["head"] + 40
    faded = frame(middle_of)
    do(running, {"kind": "set_transition", "clip": group["id"], "end": "opening", "transition": None})
    whole = frame(middle_of)
    do(running, {"kind": "set_seen", "clips": [group["id"]], "seen": "hidden"})
    nothing = frame(middle_of)
    lit = np.abs(whole - nothing) > 80
    assert lit.sum() > 200
    assert np.median((faded - nothing)[lit] / (whole - nothing)[lit]) == pytest.approx(0.5, abs=0.06)
