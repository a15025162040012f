"""What is dragged with the mouse is moved by keys too."""

import pytest

from tests.conftest import until

from .helpers import clip, clips

pytestmark = pytest.mark.usefixtures("as_it_was")


def test_steps_tracks_borders_and_handles_are_moved_by_keys(desk, running):
    def order():
        return [step["id"] for step in clip(running)["steps"]]

    before = order()
    row = desk.locator(f"[data-step={before[0]}] .names")
    row.focus()
    desk.keyboard.press("Alt+ArrowDown")
    until(lambda: order() == [before[1], before[0], *before[2:]])
    desk.keyboard.press("Control+z")
    until(lambda: order() == before)

    panel = desk.locator("[role=separator][aria-label='Width of the Steps']")
    wide = desk.locator(".split.upright").bounding_box()["x"]
    panel.focus()
    desk.keyboard.press("ArrowLeft")
    until(lambda: desk.locator(".split.upright").bounding_box()["x"] == wide - 8)

    def placed(name, rest):
        value = clip(running)["steps"][1]["values"].get(name)
        return value["value"] if value else rest

    desk.locator("[data-test=outline]").focus()
    # Two presses one after the other are one act.
    desk.keyboard.press("ArrowRight")
    desk.keyboard.press("Shift+ArrowRight")
    until(lambda: placed("x", 0) == 11)
    desk.locator("[data-test=turn]").focus()
    desk.keyboard.press("ArrowRight")
    until(lambda: placed("rotation", 0) == 1)
    desk.locator("[data-test=scale-0]").focus()
    desk.keyboard.press("Shift+ArrowUp")
    until(lambda: placed("scale", 1) == pytest.approx(1.1))

    tracks = [track["id"] for track in running.project()["project"]["tracks"]]
    name = desk.locator(".header .name").first
    name.focus()
    desk.keyboard.press("Alt+ArrowDown")
    until(
        lambda: [track["id"] for track in running.project()["project"]["tracks"]] == [tracks[1], tracks[0], *tracks[2:]]
    )
    desk.locator("[role=separator][aria-label^='Height of track']").first.focus()
    desk.keyboard.press("ArrowDown")
    until(lambda: any(track["height"] for track in running.project()["project"]["tracks"]))


def test_ends_knees_and_transitions_of_the_clip_in_hand_are_moved_by_arrow_keys(desk, running):
    title = lambda: clips(running)["title"]
    before = title()["length"], title()["arrival"]
    desk.locator("[data-clip=title] .face").focus()
    desk.locator("[data-clip=title] [data-test=trim-tail]").focus()
    for _ in range(3):
        desk.keyboard.press("ArrowLeft")
    until(lambda: title()["length"] == before[0] - 3)
    desk.locator("[data-clip=title] [data-test=knee-arrival]").focus()
    desk.keyboard.press("Shift+ArrowLeft")
    until(lambda: title()["arrival"] == before[1] - 10)
    # Presses in a row are one act.
    desk.keyboard.press("Control+z")
    desk.keyboard.press("Control+z")
    until(lambda: (title()["length"], title()["arrival"]) == before)
    desk.locator("[data-clip=shot-hands-jars] .face").focus()
    asked = clips(running)["shot-hands-jars"]["opening"]["length"]
    desk.locator("[data-clip=shot-hands-jars] [data-test=join]").focus()
    desk.keyboard.press("ArrowRight")
    until(lambda: clips(running)["shot-hands-jars"]["opening"]["length"] == asked + 1)
