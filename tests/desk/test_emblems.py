"""Emblems that build, cards that turn and end cards, in the Desk, with their actions counted, measured on frames."""

import numpy as np

from idle_comet.core.compose import evaluate
from idle_comet.core.moment.whereabouts import whereabouts_of
from tests.conftest import until

from .helpers import choose, clips, drag, go_to, lay, named, settled
from .test_work_orders import do


def film_of(running):
    from idle_comet.core.project.model import Project

    return Project.model_validate(running.project()["project"])


def box_of(project, id, at):
    layer = next((each for each in evaluate(project, at).layers if each.clip == id), None)
    return layer and whereabouts_of(layer, project.settings.width, project.settings.height).box


def test_the_emblem_is_uncovered_by_its_stroke_and_exported_clear(editor, desk, empty, frame):
    """Of the series' own two pieces, in the ready build."""
    lay(editor, "cell-and-stroke")
    choose(editor, "cell", "Emblem, hexagon")
    choose(editor, "stroke", "Emblem, stroke")
    until(lambda: sum(each["content"]["kind"] == "still" for each in clips(empty).values()) == 3)
    project = film_of(empty)
    cell, stroke = (
        named(empty, "Emblem, hexagon"),
        min(
            (each for each in clips(empty).values() if each["name"] == "Emblem, stroke"), key=lambda each: each["head"]
        ),
    )
    seen = 0
    for at in (34, 38, 42, 46):
        # Half the size: only the cell is honey-coloured; none of it lies before the stroke.
        picture = frame(at)
        honey = (picture[..., 2] > 150) & (picture[..., 0] < 120)
        edge = box_of(project, stroke["id"], at)
        columns = np.flatnonzero(honey.any(0))
        seen += len(columns) > 0
        if len(columns):
            assert columns[0] >= edge.x0 / 2 - 1.5
    assert seen >= 2 and box_of(project, cell["id"], 60) is not None
    assert frame(60)[..., 0].max() < 160, "the stroke is gone"
    glow = [frame(at).sum() for at in (64, 77, 110)]
    assert glow[1] > 1.2 * glow[0] and glow[1] > glow[2]
    editor.click(desk.get_by_role("button", name="Export", exact=True))
    editor.click(desk.get_by_role("radio", name="with transparency"))
    assert editor.actions <= 20


def test_words_become_an_emblem_by_a_card_at_an_exact_frame(editor, desk, empty, frame):
    lay(editor, "words-to-emblem")
    field = desk.locator("[data-test=ensemble-parts]").get_by_label("words", exact=True)
    editor.click(field)
    editor.press("Control+a")
    editor.type("HALLOWES")
    field.blur()
    until(lambda: any(each["content"].get("text") == "HALLOWES" for each in clips(empty).values()))
    assert editor.actions <= 18
    assert frame(40).max() > 150 and frame(104).max() == 0, "edge-on at its frame, with nothing else there"
    before, after = frame(99), frame(109)
    assert before.max() > 120 and after.max() > 120
    # The bone-coloured stroke is on the back alone.
    assert not ((before.min(-1) > 190).sum() > 20) and (frame(140).min(-1) > 190).sum() > 60


def test_an_end_card_is_laid_and_filled_in(editor, desk, empty, frame):
    lay(editor, "end-card")
    panel = until(lambda: named(empty, "Panel"))
    assert editor.actions <= 8
    field = desk.locator("[data-test=ensemble-parts]").get_by_label("series", exact=True)
    editor.click(field)
    editor.press("Control+a")
    editor.type("The Long Winter")
    field.blur()
    until(lambda: named(empty, "The Long Winter"))
    choose(editor, "chime", "Knock on wood")
    until(lambda: named(empty, "Knock on wood"))
    assert editor.actions <= 18
    project = film_of(empty)
    assert panel["length"] + panel["head"] == 215 and {"Click", "Whoosh", "Bed"} <= {
        each["name"] for each in clips(empty).values()
    }
    # Each comes from its side, and is seen on its own side of its edge alone.
    resting = frame(90)
    outer = {track.id for track in project.tracks if track.within is None}
    others = [each.id for each in project.clips.values() if each.track in outer and each.id != panel["id"]]
    do(empty, {"kind": "set_seen", "clips": others, "seen": "hidden"})
    for at in (18, 22, 28, 90):
        columns = np.flatnonzero((frame(at).max(-1) > 20).any(0))
        assert not len(columns) or columns[-1] <= 570
    assert frame(108).max() == 0 and frame(104).max() > 60 and frame(112).max() > 60, "edge-on at 108"
    assert resting.max() > 200 and project.settings.width == 1280


def test_pieces_drawn_by_hand_turn_and_uncover(editor, desk, empty, frame):
    editor.click(desk.get_by_role("button", name="Media", exact=True))
    editor.click(desk.locator("[data-test=media-shapes]"))
    ids = []
    for form, (x, y, dx, dy) in {"polygon": (0.3, 0.3, 0.3, 0.4), "rectangle": (0.62, 0.25, 0.06, 0.5)}.items():
        editor.click(desk.locator(f"[data-shape={form}]"))
        box = desk.locator("[data-test=shaping]").bounding_box()
        editor.actions += 1
        drag(desk, box["x"] + box["width"] * x, box["y"] + box["height"] * y, box["width"] * dx, box["height"] * dy)
        ids.append(until(lambda form=form: named(empty, form.capitalize()))["id"])
        until(lambda: desk.locator(f"[data-clip={ids[-1]}].chosen").count() == 1)
    # The rectangle comes from the right, by a ready slide.
    editor.click(desk.locator("[data-test=add-step]"))
    editor.type("slide in from the right")
    editor.press("Enter")
    until(lambda: any("x" in step["values"] for step in clips(empty)[ids[1]]["steps"]))
    editor.click(desk.locator(f"[data-clip={ids[0]}]"), modifiers=["Shift"], position={"x": 30, "y": 20})
    editor.click(desk.locator("[data-test=uncover-trailing]"))
    until(lambda: any(step["kind"] == "mask" for step in clips(empty)[ids[0]]["steps"]))
    assert editor.actions <= 12
    project = film_of(empty)
    arrival = clips(empty)[ids[1]]["arrival"]
    seen = []
    for at in range(2, arrival + 1, 3):
        bar = box_of(project, ids[1], at)
        do(empty, {"kind": "set_seen", "clips": [ids[1]], "seen": "hidden"})
        columns = np.flatnonzero((frame(at)[..., 2] > 60).any(0))
        do(empty, {"kind": "set_seen", "clips": [ids[1]], "seen": "shown"})
        if len(columns):
            seen.append(at)
            assert columns[0] >= bar.x1 / 2 - 1, "nothing of it this side of the trailing edge"
    # Then both turn over as one card, at the playhead.
    settled(desk)
    go_to(desk, f"{arrival + 30}f")
    editor.click(desk.locator("[data-test=turn-into]"))
    until(lambda: any(step["kind"] == "turn_over" for each in clips(empty).values() for step in each["steps"]))
    assert frame(arrival + 30).max() == 0


def test_clips_copied_in_one_film_are_pasted_into_another_with_their_pictures(editor, desk, empty):
    pieces = ("emblem-hexagon", "emblem-stroke")
    do(empty, *({"kind": "add_picture", "clip": f"piece-{id}", "frame": 0, "media": id} for id in pieces))
    do(empty, {"kind": "gather_clips", "clips": [f"piece-{id}" for id in pieces], "group": "sign", "name": "Sign"})
    desk.locator("[data-clip=sign]").click(position={"x": 40, "y": 20})
    editor.press("Control+c")
    other = empty.api("POST", "/projects", json={"name": "Other film"}).json()["id"]
    desk.goto(f"{empty.address}/?project={other}")
    desk.locator("[data-test=empty]").wait_for()
    editor.press("Control+v")

    def project():
        return empty.api("GET", f"/projects/{other}").json()["project"]

    until(lambda: len(project()["clips"]) == 3)
    assert {each["name"] for each in project()["media"].values()} == {"Emblem, hexagon", "Emblem, stroke"}
    desk.locator("[data-test=saved]").filter(has_text="all saved").wait_for()
