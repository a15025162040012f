"""Type in the Desk: recipes, words moved one by one, typefaces, the series' style. Actions are counted as an editor
makes them."""

import io
import re

import numpy as np
from fontTools.ttLib import TTFont

from idle_comet.core.type import faces
from tests.conftest import until

from .helpers import clip, clips, command, go_to, settled, settled_pixels


def newest(running, before):
    until(lambda: set(clips(running)) - before)
    (id,) = set(clips(running)) - before
    return id


def test_an_episode_title_from_a_recipe(editor, desk, running):
    editor.press("Y")
    editor.recipe("first-light")
    until(lambda: clip(running).get("recipe") == "first-light")
    kinds = [step["kind"] for step in clip(running)["steps"]]
    assert "focus_blur" in kinds and clip(running)["content"]["text"] == "THE SLOW HARVEST" and editor.actions <= 6
    desk.get_by_role("button", name="close").click()
    settled(desk)


def test_a_name_strap_from_a_recipe_follows_its_name(editor, desk, running):
    before = set(clips(running))
    desk.keyboard.press("Escape")
    go_to(desk, "15:00")
    editor.press("Y")
    editor.recipe("marrow-lane")
    strap = newest(running, before)
    assert clips(running)[strap]["content"]["text"] == "Ottoline Brask\nhead beekeeper"
    desk.locator("[data-test=fill-ins] [data-test=words]").wait_for()
    editor.click(desk.locator("[data-test=fill-ins] [data-test=words]"))
    editor.actions += 1
    desk.locator("[data-test=fill-ins] [data-test=words]").fill("Ágota Ýrsson-Jędrzejczyk\nhead beekeeper")
    until(lambda: clips(running)[strap]["content"]["text"].startswith("Ágota"))
    assert editor.actions <= 4
    # The role keeps its own setting under the longer name.
    (role,) = clips(running)[strap]["content"]["ranges"]
    assert clips(running)[strap]["content"]["text"][role["start"] : role["end"]] == "head beekeeper"


def test_words_rise_one_by_one(editor, desk, running):
    before = set(clips(running))
    editor.press("T")
    made = newest(running, before)
    desk.locator("[data-test=type-here]").wait_for(state="attached")
    editor.type("Found at dawn above the quiet heath")
    until(lambda: clips(running)[made]["content"]["text"].startswith("Found at dawn above the quiet"))
    desk.keyboard.press("Escape")
    editor.press("Y")
    editor.recipe("skep")
    until(lambda: clips(running)[made].get("recipe") == "skep")
    units = clips(running)[made]["steps"][0]["units"]
    assert (units["arrival"]["unit"], units["arrival"]["delay"], units["departure"]["unit"]) == (
        "word",
        4,
        "all",
    ) and clips(running)[made]["shutter"]["angle"] == 360
    assert editor.actions <= 8
    # The onsets stand on the timeline, each with its word.
    desk.locator("[data-test=find-recipe]").fill("")
    desk.get_by_role("button", name="close").click()
    assert desk.locator(f"[data-clip={made}] .onset").count() == 7


def test_three_words_stretch_on_a_beat_kept_and_used_on_two_more(editor, desk, running):
    editor.click(desk.locator("[data-test=add-step]"))
    editor.type("stretch in, word")
    editor.press("Enter")
    until(lambda: any(step["kind"] == "stretch" for step in clip(running)["steps"]))
    editor.press("Y")
    editor.click(desk.locator("[data-test=keep-recipe]"))
    own = desk.locator("[data-recipe^=own-]")
    own.first.wait_for()
    editor.click(desk.locator("[data-clip=second-line]"))
    editor.click(desk.locator("[data-clip=end-line]"), modifiers=["Shift"])
    editor.click(own)
    until(
        lambda: all(
            any(step["kind"] == "stretch" for step in clips(running)[id]["steps"]) for id in ("second-line", "end-line")
        )
    )
    assert editor.actions <= 8 and clips(running)["end-line"]["content"]["text"] == "Marrow Lane\nApiary"
    for each in running.api("GET", "/recipes").json():
        if each["own"]:
            running.api("DELETE", f"/recipes/{each['recipe']['id']}")


def test_letters_grow_from_a_recipe(editor, desk, running):
    editor.press("Y")
    editor.recipe("honeycomb")
    until(lambda: clip(running).get("recipe") == "honeycomb")
    grow = next(step for step in clip(running)["steps"] if step["id"] == "grow")
    assert (
        editor.actions <= 4
        and grow["units"]["arrival"] | {"unit": "letter", "order": "from the middle"} == grow["units"]["arrival"]
    )
    assert grow["units"]["pivot"] == "baseline-centre"


def test_typing_by_hand_in_few_actions(editor, desk, running):
    editor.click(desk.locator("[data-test=add-step]"))
    editor.type("typing by hand")
    editor.press("Enter")
    until(lambda: any(step["kind"] == "typing" for step in clip(running)["steps"]))
    assert editor.actions <= 5


def test_a_recipe_plays_while_the_pointer_rests_on_it_and_leaves_no_trace(desk, running):
    before = running.project()
    pixels = settled_pixels(desk)
    desk.keyboard.press("y")
    tile = desk.locator("[data-recipe=torn-label]")
    # A pointer that was there before the tray was opened has not come to it.
    desk.mouse.move(700, 300)
    tile.hover()
    tile.locator(".moving").wait_for()
    until(lambda: desk.get_by_role("button", name="Pause").count() > 0)
    desk.mouse.move(700, 300)
    until(lambda: desk.get_by_role("button", name="Pause").count() == 0)
    desk.get_by_role("button", name="close").click()
    assert running.project()["project"] == before["project"]
    assert np.abs(settled_pixels(desk)[::4, ::4] - pixels[::4, ::4]).mean() < 2


def test_how_a_step_is_passed_on_is_set_by_hand(editor, desk, running):
    desk.locator("[data-step]").filter(has_text="Placement").locator(".names").click()
    panel = desk.locator("[data-test=units]")
    panel.get_by_role("radio", name="by word").first.click()

    def units(end):
        return (clip(running)["steps"][1]["units"] or {}).get(end) or {}

    until(lambda: units("arrival").get("unit") == "word")
    apart = panel.get_by_role("slider", name="Apart")
    apart.focus()
    desk.keyboard.press("ArrowRight")
    until(lambda: units("arrival")["delay"] > 3)
    command(desk, "move letter by letter 2")
    until(lambda: (units("arrival")["unit"], units("arrival")["delay"]) == ("letter", 2))
    panel.get_by_role("button", name="in its own way").click()
    until(lambda: units("departure").get("unit") == "all")


def test_a_typeface_is_searched_for_and_a_font_of_ones_own_added(editor, desk, running, tmp_path):
    desk.locator(".row").filter(has_text="Archivo").first.locator(".names").click()
    desk.locator("[data-test=typeface]").first.click()
    desk.get_by_label("Search typefaces").fill("slab")
    desk.get_by_role("option").first.click()
    until(lambda: clip(running)["content"]["typeface"] == "bitter")
    font = TTFont(faces._SHIPPED / "caveat" / "latin.ttf")
    font["name"].setName("My Hand", 1, 3, 1, 0x409)
    out = io.BytesIO()
    font.save(out)
    desk.locator(".picker input[type=file]").first.set_input_files(
        {"name": "Hand.ttf", "mimeType": "font/ttf", "buffer": out.getvalue()}
    )
    until(lambda: clip(running)["content"]["typeface"].startswith("own-"))
    settled(desk)
    desk.locator(".picker input[type=file]").first.set_input_files(
        {"name": "Bad.ttf", "mimeType": "font/ttf", "buffer": b"nonsense"}
    )
    desk.get_by_text(re.compile("no font file")).wait_for()


def test_chosen_words_are_set_in_their_own_way(editor, desk, running):
    desk.locator(".row").filter(has_text="Archivo").first.locator(".names").click()
    field = desk.locator(".settings [data-test=words]")
    field.evaluate(
        "field => { field.focus(); field.setSelectionRange(4, 8); field.dispatchEvent(new Event('select')) }"
    )
    part = desk.locator("[data-test=part]")
    part.get_by_role("radio", name="small", exact=True).click()
    until(lambda: clip(running)["content"]["ranges"] and clip(running)["content"]["ranges"][0]["case"] == "lower")
    weight = part.get_by_role("slider", name="Weight")
    weight.focus()
    desk.keyboard.press("Shift+ArrowRight")
    until(lambda: (clip(running)["content"]["ranges"][0]["weight"] or 0) > 600)
    assert (clip(running)["content"]["ranges"][0]["start"], clip(running)["content"]["ranges"][0]["end"]) == (4, 8)


def test_words_are_read_replaced_and_pasted_as_several_titles(editor, desk, running):
    desk.keyboard.press("Shift+Y")
    desk.locator("[data-test=reading]").first.wait_for()
    assert re.search(r"[\d.]+ of [\d.]+ s", desk.locator("[data-test=reading]").first.inner_text())
    desk.locator("[data-test=find]").fill("harvest")
    desk.locator("[data-test=replace-by]").fill("SWARM")
    desk.get_by_role("button", name="replace 1 in 1 title").click()
    until(lambda: clip(running)["content"]["text"] == "THE SLOW SWARM")
    desk.locator("[data-test=find]").fill("")
    before = set(clips(running))
    field = desk.locator(".tray [data-test=words]").first
    field.focus()
    field.evaluate("""field => { const data = new DataTransfer();
      data.setData('text', 'Isko Tamm\\nWren Hallowes\\nDavit Omorodi');
      field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true })) }""")
    desk.locator("[data-test=titles-from-lines]").click()
    until(lambda: len(set(clips(running)) - before) == 2)
    assert {clips(running)[id]["name"] for id in set(clips(running)) - before} == {
        "Wren Hallowes",
        "Davit Omorodi",
    } and clip(running)["content"]["text"] == "Isko Tamm"


def test_a_colour_of_the_series_says_what_it_will_change_and_is_taken_from_the_picture(editor, desk, running):
    desk.keyboard.press("y")
    series = desk.locator("[data-test=series]")
    series.get_by_role("button", name="add a colour").click()
    series.get_by_role("button", name="use on the words").click()
    until(lambda: clip(running)["palette"])
    series.get_by_role("button", name=re.compile("taken from the Preview")).click()
    box = desk.locator("canvas").bounding_box()
    desk.mouse.click(box["x"] + box["width"] * 0.1, box["y"] + box["height"] * 0.05)
    waiting = desk.locator("[data-test=will-change]")
    waiting.wait_for()
    assert "1 title" in waiting.inner_text() and "THE SLOW HARVEST" in waiting.inner_text()
    old = clip(running)["content"]["colour"]["value"]
    waiting.get_by_role("button", name="change them").click()
    until(lambda: clip(running)["content"]["colour"]["value"] != old)
    taken = clip(running)["content"]["colour"]["value"]
    pixels = settled_pixels(desk)
    seen = pixels[int(pixels.shape[0] * 0.05), int(pixels.shape[1] * 0.1)]
    assert np.abs(seen - [int(taken[i : i + 2], 16) for i in (1, 3, 5)]).max() < 14


def test_motion_is_carried_over_onto_others_and_all_is_set_back_to_plain(editor, desk, running):
    desk.locator("[data-clip=end-line]").click(modifiers=["Shift"])
    desk.locator("[data-test=many]").get_by_role("button", name="motion", exact=True).click()
    until(
        lambda: (
            [step["kind"] for step in clips(running)["end-line"]["steps"]] == ["focus_blur", "placement"]
            and clips(running)["end-line"]["arrival"] == 40
        )
    )
    assert clips(running)["end-line"]["content"]["typeface"] == "fraunces"
    command(desk, "back to plain")
    until(lambda: all(clips(running)[id]["arrival"] == 0 for id in ("title", "end-line")))
