"""Time and motion over the wire: what the Desk asks for, and jobs done by the API alone."""

import numpy as np
import pytest
from scipy import ndimage


def test_six_straps_are_one_second_shorter_in_one_act_and_half_a_second_longer_in_another(made):
    names = [f"strap-{i}" for i in range(6)]
    for i, name in enumerate(names):
        assert made.edit(kind="add_title", clip=name, frame=200 + 140 * i, text=name).status_code == 200
        assert (
            made.edit(kind="trim_clip", clip=name, head=200 + 140 * i, length=140 if i < 3 else 120).status_code == 200
        )
    before = made.state()["project"]["clips"]
    shorter = made.edit(kind="stretch_clips", clips=names, by=-25).json()
    assert set(shorter["change"]["clips"]) == set(names) and shorter["history"]["undo"] == "6 clips 25 frames shorter"
    now = made.state()["project"]["clips"]
    # The first four touched and still do; the others stay where they were; ends keep their frames.
    assert [now[name]["head"] for name in names] == [200, 315, 430, 545, 760, 900]
    assert all(
        (now[name]["arrival"], now[name]["departure"]) == (before[name]["arrival"], before[name]["departure"])
        for name in names
    )
    assert made.edit(kind="stretch_clips", clips=names, by=12).status_code == 200
    assert [made.clip(name)["length"] for name in names] == [127, 127, 127, 107, 107, 107]
    for _ in range(2):
        made.post("/undo", {"revision": made.state()["revision"]})
    assert made.state()["project"]["clips"] == before


def css(curve, u):
    """The CSS reference, solved by bisection on its own."""
    x1, y1, x2, y2 = curve
    low, high = 0.0, 1.0
    for _ in range(80):
        t = (low + high) / 2
        low, high = (t, high) if 3 * x1 * t * (1 - t) ** 2 + 3 * x2 * t * t * (1 - t) + t**3 < u else (low, t)
    return 3 * y1 * t * (1 - t) ** 2 + 3 * y2 * t * t * (1 - t) + t**3


@pytest.mark.parametrize(
    "rise, fall",
    [
        ("cubic-bezier(0.333, 0, 0.667, 1)", "cubic-bezier(0.333, 0, 0.667, 1)"),
        ("cubic-bezier(0, 0, 0.1, 1)", "cubic-bezier(0.9, 0, 1, 1)"),
        ("step-end", "step-end"),
    ],
)
def test_a_blur_pulses_by_the_css_curve_it_was_given(made, running, rise, fall):
    """A two-second pulse that repeats: the blur's radius, measured on the frames, against the CSS reference."""
    eases = [running.api("POST", "/ease", json={"css": each}).json()["ease"] for each in (rise, fall)]
    keys = [{"at": 0, "value": 1, "ease": eases[0]}, {"at": 25, "value": 9, "ease": eases[1]}, {"at": 50, "value": 1}]
    assert made.edit(kind="add_step", clip="title", at=0, step={"id": "blur", "kind": "focus_blur"}).status_code == 200
    assert (
        made.edit(
            kind="set_property", clip="title", step="placement", name="opacity", property={"state": "fixed", "value": 1}
        ).status_code
        == 200
    )
    sharp = made.picture(10)
    answer = made.edit(
        kind="set_property",
        clip="title",
        step="blur",
        name="radius",
        property={"state": "moving", "keys": keys, "repeat": {"mode": "loop"}},
    )
    assert answer.status_code == 200, answer.text

    def expected(frame):
        frame %= 50
        curve, u, (a, b) = (rise, frame / 25, (1, 9)) if frame < 25 else (fall, (frame - 25) / 25, (9, 1))
        return a if curve == "step-end" else a + (b - a) * css([float(each) for each in curve[13:-1].split(",")], u)

    for frame in (0, 8, 20, 30, 44, 58):
        radius = expected(frame)
        seen = made.picture(frame)
        errors = {
            sigma: np.abs(ndimage.gaussian_filter(sharp, sigma) - seen).mean()
            for sigma in (radius * 0.93, radius, radius * 1.07)
        }
        assert errors[radius] == min(errors.values()) and errors[radius] < 1


def test_the_service_says_how_an_ease_runs_and_reads_css(running):
    told = running.api("POST", "/ease", json={"ease": {"kind": "bounce", "bounces": 2, "kept": 0.4}}).json()
    assert told["css"].startswith("linear(0 0%") and told["says"] == "drops, 2 bounces" and told["curve"][-1] == [1, 1]
    wrong = running.api("POST", "/ease", json={"css": "bezier(1)"})
    assert wrong.status_code == 422 and "cubic-bezier(" in wrong.json()["detail"]
    named = running.api("GET", "/catalogue").json()
    assert [each["name"] for each in named["eases"]][:2] == ["soft both ends", "fast in, soft landing"] and named[
        "ceilings"
    ]["exact"] > named["ceilings"]["light"]


def test_ends_that_meet_something_are_told_with_what(made):
    made.edit(kind="set_marker", marker="m", frame=130, name="swarm")
    made.edit(kind="add_title", clip="other", frame=100, text="other")
    assert made.edit(kind="move_clips", heads={"other": 127}, snap=5).status_code == 200
    assert made.clip("other")["head"] == 130
    met = made.post("/meetings", {"clips": ["other"]})
    assert {"frame": 130, "what": "marker swarm"} in met


def test_a_trail_is_there_only_for_what_travels(made):
    assert made.get("/clips/title/trail").json() is None
    made.edit(kind="add_step", clip="title", at=1, step={"id": "rise", "kind": "placement"}, ready="drift")
    trail = made.get("/clips/title/trail").json()
    assert trail["every"] == 1 and len(trail["ends"]) == 2
    assert made.get("/clips/none/trail").status_code == 404


@pytest.mark.parametrize(
    "edit, says",
    [
        (
            {
                "kind": "set_property",
                "clip": "title",
                "step": "placement",
                "name": "x",
                "property": {"state": "moving", "keys": [{"at": 5, "value": 1}, {"at": 5, "value": 2}]},
            },
            "same frame",
        ),
        (
            {
                "kind": "set_property",
                "clip": "title",
                "step": "placement",
                "name": "x",
                "property": {"state": "moving", "keys": [{"at": -4, "value": 1}]},
            },
            "outside its clip",
        ),
        (
            {
                "kind": "set_property",
                "clip": "title",
                "step": "placement",
                "name": "x",
                "property": {
                    "state": "moving",
                    "keys": [{"at": 5, "value": 1, "ease": {"kind": "free", "x1": 3, "y1": 0, "x2": 1, "y2": 1}}],
                },
            },
            "less than or equal to 1",
        ),
        (
            {
                "kind": "set_property",
                "clip": "title",
                "step": "placement",
                "name": "x",
                "property": {"state": "moving", "keys": [{"at": 5, "value": "#ff0000"}]},
            },
            "is a number",
        ),
        (
            {
                "kind": "shift_keys",
                "keys": [{"clip": "title", "step": "placement", "name": "opacity", "key": 1}],
                "by": 900,
            },
            "outside it",
        ),
        (
            {
                "kind": "set_transition",
                "clip": "title",
                "end": "opening",
                "transition": {"kind": "wipe", "length": 4000},
            },
            "room for",
        ),
        (
            {"kind": "set_transition", "clip": "title", "end": "opening", "transition": {"kind": "star", "length": 4}},
            "Input should be",
        ),
        (
            {
                "kind": "set_motor",
                "clip": "title",
                "step": "placement",
                "name": "x",
                "motor": {"kind": "follow", "step": "placement", "name": "x"},
            },
            "circle",
        ),
        (
            {
                "kind": "set_motor",
                "clip": "title",
                "step": "placement",
                "name": "x",
                "motor": {"kind": "wobble", "rate": 1e9},
            },
            "less than or equal to 60",
        ),
        ({"kind": "set_range", "first": 9, "last": 3}, "ends where it begins"),
        ({"kind": "set_shutter", "clips": [], "shutter": {"angle": 720}}, "less than or equal to 360"),
        ({"kind": "hold_choice", "clip": "title", "name": "align", "frame": 4, "value": "sideways"}, "can't be held"),
        ({"kind": "ride_with", "clips": ["title"], "shot": "title"}, "itself"),
        ({"kind": "set_speed", "clip": "title", "speed": 2}, "only footage"),
        ({"kind": "split_clips", "clips": ["title"], "frame": 9999, "seed": "s"}, "nothing was cut"),
    ],
)
def test_what_does_not_fit_gets_a_sentence_and_changes_nothing(made, edit, says):
    before = made.state()
    answer = made.edit(**edit)
    assert answer.status_code == 422 and says in answer.text, answer.text
    assert made.state() == before


def test_no_number_that_is_none_reaches_a_key(made, running):
    before = made.state()
    for literal in ("NaN", "Infinity", "-Infinity", "1e999"):
        body = (
            '{"revision": %d, "edit": {"kind": "set_value", "clip": "title", "step": "placement",'
            ' "name": "x", "value": %s}}' % (before["revision"], literal)
        )
        answer = running.api(
            "POST", f"/projects/{made.id}/edits", content=body, headers={"content-type": "application/json"}
        )
        assert answer.status_code == 422
    assert made.state() == before


def test_a_clip_whose_neighbour_changes_is_drawn_anew(made):
    made.edit(kind="add_title", clip="next", frame=100, text="next")
    made.edit(kind="set_transition", clip="next", end="opening", transition={"kind": "dissolve", "length": 10})
    joined = made.post("/courses", {"clips": ["next"]})["courses"]["next"]["joins"][0]
    assert joined["between"] and joined["first"] == -5
    answer = made.edit(kind="trim_clip", clip="title", head=0, length=90).json()
    assert answer["courses"]["next"]["joins"][0]["between"] is False
    assert made.post("/courses", {"clips": ["next"]})["courses"]["next"]["joins"][0]["first"] == 0
