"""Type over the wire: jobs done by the API alone, recipes and typefaces as files, and what is answered to bad ones."""

import io
import json

import numpy as np
import pytest
from fontTools.ttLib import TTFont

from idle_comet.core.type import faces


def step_of(made, clip="title"):
    return made.clip(clip)["steps"][0]


def test_a_sentence_rises_word_by_word_and_leaves_as_one(made):
    made.edit(kind="change_text", clip="title", text="Found at dawn above the quiet heath")
    made.edit(kind="trim_clip", clip="title", head=0, length=120)
    made.edit(kind="add_step", clip="title", at=0, step={"id": "rise", "kind": "placement"}, ready="words-rise")
    made.edit(kind="set_units", clip="title", step="rise", departure={"unit": "all"})
    made.edit(kind="set_shutter", clips=["title"], shutter={"angle": 360})
    drawn = made.post("/courses", {"clips": ["title"]})["courses"]["title"]
    assert [frame for frame, _ in drawn["onsets"]] == [0, 4, 8, 12, 16, 20, 24] and [
        word for _, word in drawn["onsets"]
    ][:2] == ["Found", "at"]
    seen = [np.count_nonzero(made.picture(frame).max(0) > 60) for frame in (4, 12, 20, 60)]
    assert seen == sorted(seen) and seen[0] < seen[-1] / 3
    # A typo mended and another face: one source of words, the motion stays.
    before = step_of(made)
    made.edit(kind="change_text", clip="title", text="Found at dusk above the quiet heath", typeface="bitter")
    assert step_of(made) == before


def test_words_are_typed_by_hand_with_a_caret(made):
    made.edit(kind="change_text", clip="title", text="found at dawn, 4 km from home")
    made.edit(kind="set_spans", clip="title", arrival=60)
    answer = made.edit(kind="add_step", clip="title", at=0, step={"id": "type", "kind": "typing"}, ready="typing-human")
    assert answer.status_code == 200 and step_of(made)["values"]["uneven"]["value"] == 0.6
    widths = [np.flatnonzero(made.picture(frame).max(0) > 100) for frame in (10, 30, 50, 70)]
    ends = [each[-1] if len(each) else 0 for each in widths]
    assert ends == sorted(ends) and ends[0] < ends[-1]


def test_recipes_are_listed_kept_shared_and_taken_away(made, running):
    shelf = running.api("GET", "/recipes").json()
    assert len([each for each in shelf if not each["own"]]) >= 20 and not any(each["missing"] for each in shelf)
    skep = next(each["recipe"] for each in shelf if each["recipe"]["id"] == "skep")
    assert made.edit(kind="use_recipe", clips=["title"], recipe=skep).status_code == 200
    kept = running.api(
        "POST",
        f"/projects/{made.id}/clips/title/recipe",
        json={"name": "Our title", "sort": "title", "note": "for episodes"},
    ).json()
    assert kept["own"] and kept["recipe"]["note"] == "for episodes"
    id = kept["recipe"]["id"]
    running.api("PUT", f"/recipes/{id}", json={"name": "Ours", "sort": "title"})
    running.api("PUT", f"/recipes/{id}/favourite", params={"liked": True})
    text = running.api("GET", f"/recipes/{id}/file").text
    assert json.loads(text)["format"] == "idle-comet-recipe" and json.loads(text)["name"] == "Ours"
    found = next(each for each in running.api("GET", "/recipes").json() if each["recipe"]["id"] == id)
    assert found["favourite"] and found["recipe"]["name"] == "Ours"
    assert (
        running.api("DELETE", f"/recipes/{id}").status_code == 204
        and running.api("DELETE", f"/recipes/{id}").status_code == 404
    )
    again = running.api("POST", "/recipes", json={"text": text})
    assert again.status_code == 200 and again.json()["recipe"]["id"] == id
    running.api("DELETE", f"/recipes/{id}")


def test_recipe_files_that_cannot_be_read_are_answered_with_a_sentence(running):
    shelf = running.api("GET", "/recipes").json()
    later = {"format": "idle-comet-recipe", "version": 7, "name": "From the future"}
    for text, why in (
        ("{", "no JSON"),
        ("[]", "says something else"),
        (json.dumps(later), "version 7"),
        (json.dumps({**later, "version": 1}), "can't be read at"),
    ):
        answer = running.api("POST", "/recipes", json={"text": text})
        assert answer.status_code == 422 and why in answer.json()["detail"]
    assert running.api("GET", "/recipes").json() == shelf
    assert running.api("DELETE", "/recipes/skep").status_code == 422


def test_a_recipe_is_shown_on_the_editors_own_words(made, running):
    one = made.get("/recipes/skep/moments", params={"clip": "title", "width": 160, "height": 90})
    sheet = made.get("/recipes/skep/moments", params={"clip": "title", "tiles": 6, "width": 160, "height": 90})
    assert one.headers["content-type"] == "image/jpeg" and len(sheet.content) > len(one.content)
    assert made.get("/recipes/unheard-of/moments").status_code == 404
    assert step_of(made)["kind"] == "placement", "looking changes nothing"


def test_a_font_is_added_sampled_and_set_in(made, running, tmp_path):
    font = TTFont(faces._SHIPPED / "anton" / "400.ttf")
    font.flavor = "woff2"
    packed = io.BytesIO()
    font.save(packed)
    told = running.api("POST", "/typefaces", files={"files": ("Poster.woff2", packed.getvalue())}).json()
    assert told["own"] and told["id"] in {each["id"] for each in running.api("GET", "/catalogue").json()["families"]}
    before = made.picture(50)
    assert made.edit(kind="change_text", clip="title", typeface=told["id"]).status_code == 200
    assert np.abs(made.picture(50) - before).max() > 100
    assert (
        running.api("GET", f"/typefaces/{told['id']}/sample", params={"words": "SWARM"}).headers["content-type"]
        == "image/jpeg"
    )


@pytest.mark.parametrize(
    "data, why",
    [
        (b"not a font at all", "no font file"),
        (b"\0\1\0\0" + b"\x00\xff" * 900, "no whole font file"),
        (b"", "no font file"),
    ],
)
def test_what_is_no_font_is_not_added(running, data, why):
    before = running.api("GET", "/catalogue").json()["families"]
    answer = running.api("POST", "/typefaces", files={"files": ("x.ttf", data)})
    assert answer.status_code == 422 and why in answer.json()["detail"]
    assert running.api("GET", "/catalogue").json()["families"] == before


def test_words_are_read_found_replaced_and_styled_by_name(made, running):
    made.edit(kind="change_text", clip="title", text="The hive is a hive")
    (words,) = made.get("/texts").json()
    assert words["text"] == "The hive is a hive" and words["reading"] > 1 and words["shown"] > words["reading"]
    assert made.get("/find", params={"words": "HIVE"}).json() == [
        {"clip": "title", "name": "The hive is a hive", "times": 2}
    ]
    assert made.edit(kind="replace_words", find="hive", by="skep").json()["history"]["undo"] == "replace “hive” 2 times"
    made.edit(kind="set_palette_colour", colour={"id": "honey", "name": "Honey", "value": "#f0b440"})
    made.edit(kind="use_palette_colour", clips=["title"], step="content", name="colour", colour="honey")
    made.edit(kind="save_type_style", clip="title", style="plain", name="Plain")
    assert [each["clip"] for each in made.get("/referring", params={"colour": "honey"}).json()] == ["title"]
    assert [each["name"] for each in made.get("/referring", params={"style": "plain"}).json()] == ["The skep is a skep"]
    # All of it is in the store, and in the project file.
    state = made.state()["project"]
    assert state["settings"]["palette"][0]["name"] == "Honey" and state["clips"]["title"]["palette"] == {
        "content.colour": "honey"
    }


@pytest.mark.parametrize(
    "edit, says",
    [
        (dict(kind="set_units", clip="title", step="gone", arrival={"unit": "word"}), "no step"),
        (dict(kind="set_choice", clip="title", step="placement", name="towards", value="up"), "no choice"),
        (dict(kind="style_range", clip="title", style={"start": 40, "end": 50, "weight": 900}), "no characters"),
        (dict(kind="style_line", clip="title", line=7, style={"start": 0, "end": 0}), "no line 8"),
        (dict(kind="use_type_style", clips=["title"], style="gone"), "no type style"),
        (dict(kind="use_palette_colour", clips=["title"], step="content", name="colour", colour="gone"), "no colour"),
        (dict(kind="replace_words", find="wasp", by="bee"), "No title has"),
        (dict(kind="distribute_clips", clips=["title"], along="across", frame=0), "Three clips"),
    ],
)
def test_what_does_not_fit_is_answered_and_nothing_is_lost(made, edit, says):
    before = made.state()
    answer = made.edit(**edit)
    assert answer.status_code == 422 and says in answer.json()["detail"]
    assert made.state() == before


def test_clips_are_aligned_and_distributed_as_they_are_seen(made):
    for id, text, frame in (("b", "B", 0), ("c", "CC", 0)):
        made.edit(kind="add_title", clip=id, frame=frame, text=text)
        made.edit(kind="set_value", clip=id, step="placement", name="y", value=-120 if id == "b" else 190)
        made.edit(kind="set_value", clip=id, step="placement", name="x", value=60 if id == "b" else -90)
    made.edit(kind="align_clips", clips=["title", "b", "c"], side="left", to="safe", frame=50)
    lefts = [
        min(x for x, _ in made.get(f"/clips/{id}/handles", params={"at": 50}).json()["ink"])
        for id in ("title", "b", "c")
    ]
    assert lefts == pytest.approx([64, 64, 64], abs=0.01)
    made.edit(kind="distribute_clips", clips=["title", "b", "c"], along="down", frame=50)
    boxes = sorted(
        (min(y for _, y in ink), max(y for _, y in ink))
        for ink in (made.get(f"/clips/{id}/handles", params={"at": 50}).json()["ink"] for id in ("title", "b", "c"))
    )
    gaps = [b[0] - a[1] for a, b in zip(boxes, boxes[1:])]
    assert gaps[0] == pytest.approx(gaps[1], abs=0.01)
