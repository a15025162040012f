"""A film begun by hand: what is typed, added, set for several clips, pasted and put at its end."""

import base64
import re

import cv2
import numpy as np
import pytest

from tests.conftest import until

from .helpers import command


@pytest.fixture
def film(page, running):
    """An empty film on the page, and its document as it is stored."""
    made = running.api("POST", "/projects", json={"name": "From nothing"}).json()
    page.goto(f"{running.address}/?project={made['id']}")
    page.locator("[data-test=add-title]").wait_for()
    yield lambda: running.api("GET", f"/projects/{made['id']}").json()["project"]
    running.api("DELETE", f"/projects/{made['id']}")


def titles(film):
    found = [each for each in film()["clips"].values() if each["content"]["kind"] == "text"]
    return sorted(found, key=lambda each: each["head"])


def words(film):
    return [each["content"]["text"] for each in titles(film)]


def test_from_t_on_every_key_belongs_to_the_title_however_late_the_answer(page, film):
    snaps = page.get_by_role("button", name="snap", exact=True)
    before, held = snaps.get_attribute("aria-pressed"), []
    page.route("**/edits", lambda route: held.append(route))
    page.keyboard.press("t")
    page.keyboard.type("Some tomatoes")
    until(lambda: len(held) == 1)
    held.pop().continue_()
    page.unroute("**/edits")
    until(lambda: words(film) == ["Some tomatoes"])
    # The field on the picture goes on from there.
    page.locator("[data-test=type-here]").wait_for(state="attached")
    page.keyboard.type(" and salt")
    until(lambda: words(film) == ["Some tomatoes and salt"])
    assert snaps.get_attribute("aria-pressed") == before


def gauge(page, name):
    return page.locator(".gauge").filter(has=page.get_by_role("slider", name=name, exact=True))


def test_titles_are_pasted_line_by_line_and_set_together(page, film):
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.evaluate("() => navigator.clipboard.writeText('Mara Quill\\n\\n  Ono Brightwater\\nThe Slow Harvest')")
    page.keyboard.press("Control+v")
    until(lambda: words(film) == ["Mara Quill", "Ono Brightwater", "The Slow Harvest"])
    first, _, last = (each["id"] for each in titles(film))
    page.locator(f"[data-clip={first}] .face").click()
    page.locator(f"[data-clip={last}]").click(modifiers=["Control"])
    until(lambda: page.locator(".clip.chosen").count() == 2)

    def sizes():
        return [each["content"]["size"]["value"] for each in titles(film)]

    own = sizes()
    row = page.locator("[aria-label=Steps]").get_by_role("button", name=re.compile("^Text")).first
    row.click()
    gauge(page, "Size").locator("button.value").click()
    page.keyboard.type("+10")
    page.keyboard.press("Enter")
    until(lambda: sizes() == [own[0] + 10, own[1], own[2] + 10])
    page.keyboard.press("Control+z")
    until(lambda: sizes() == own)
    page.keyboard.press("Control+y")
    until(lambda: sizes() == [own[0] + 10, own[1], own[2] + 10])
    # What differs is shown as mixed; an entry makes it one.
    page.locator(f"[data-clip={first}] .face").click()
    page.locator(f"[data-clip={titles(film)[1]['id']}]").click(modifiers=["Control"])
    row.click()
    gauge(page, "Size").get_by_role("button", name="mixed").click()
    page.keyboard.type("50")
    page.keyboard.press("Enter")
    until(lambda: sizes() == [50, 50, own[2] + 10])
    # What the Desk copied itself is pasted as clips, whatever text was copied before.
    page.keyboard.press("Control+c")
    page.keyboard.press("End")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Control+v")
    until(lambda: len(words(film)) == 5)
    assert words(film)[3:] == ["Mara Quill", "Ono Brightwater"]
    # The playhead stood where the film ended.
    assert titles(film)[3]["head"] == titles(film)[2]["head"] + titles(film)[2]["length"]


def test_a_value_confirmed_at_a_frame_is_a_key_there_and_ends_are_where_the_playhead_stands(page, film):
    page.keyboard.press("t")
    page.keyboard.type("Dusk")
    until(lambda: words(film) == ["Dusk"])
    page.keyboard.press("Escape")
    page.locator("[aria-label=Steps]").get_by_role("button", name=re.compile("^Placement")).first.click()
    state = page.get_by_role("button", name=re.compile("^Scale: "))
    state.click()
    page.get_by_role("menuitem", name="moving").click()

    def keys():
        scale = titles(film)[0]["steps"][-1]["values"].get("scale", {})
        return sorted(round(key["at"]) for key in scale.get("keys", []))

    (begin,) = until(keys)
    page.keyboard.press("Shift+ArrowRight")
    gauge(page, "Scale").locator("button.value").click()
    page.keyboard.press("Enter")
    until(lambda: keys() == [begin, begin + 25])
    # A pulse by eases of its own is two acts.
    state.click()
    page.get_by_role("menuitem", name="pulsing").click()
    motor = until(lambda: titles(film)[0]["steps"][-1]["values"]["scale"].get("motor"))
    assert (motor["kind"], motor["shape"], motor["up"]) == ("oscillation", "eased", 0.5)
    page.keyboard.press("Control+z")
    # It lies before the rest, and ends where the playhead stands.
    page.keyboard.press("w")
    until(lambda: titles(film)[0]["length"] == begin + 25)


def test_what_a_command_needs_is_said_and_all_of_the_shelf_goes_by_its_trade_name(page, film):
    page.keyboard.press("/")
    page.locator("[data-test=command]").fill("speed 50")
    page.get_by_role("option", name=re.compile("^Speed .*needs a shot or a sound in hand")).wait_for()
    page.keyboard.press("Escape")
    page.keyboard.press("t")
    page.keyboard.type("Found at dawn")
    until(lambda: words(film) == ["Found at dawn"])
    page.keyboard.press("Escape")
    command(page, "typewriter")
    until(lambda: [step["kind"] for step in titles(film)[0]["steps"]] == ["typing", "placement"])
    for word in ("glitch", "shake", "wave", "pulse"):
        page.keyboard.press("/")
        page.locator("[data-test=command]").fill(word)
        page.locator("[aria-label='What goes by that name'] [role=option]").first.wait_for()
        page.keyboard.press("Escape")


def test_a_new_film_takes_media_of_other_films(page, film):
    page.get_by_role("button", name="Media", exact=True).click()
    page.locator("[data-test=elsewhere]").click()
    offered = page.locator("[data-elsewhere=hands-jars]")
    offered.get_by_text("in The Slow Harvest").wait_for()
    offered.get_by_role("button", name="take it into this film").click()
    until(lambda: [each["name"] for each in film()["media"].values()] == ["Hands and jars"])
    offered.wait_for(state="detached")
    # The first shot gives an empty film its size; it is put as any other.
    assert (film()["settings"]["width"], film()["settings"]["height"]) == (1280, 720)
    page.locator("[data-media=hands-jars]").get_by_role("button", name="insert", exact=True).click()
    until(lambda: [each["content"]["kind"] for each in film()["clips"].values()] == ["footage"])


DROP = """([names, x, y]) => {
  const carried = new DataTransfer();
  for (const [name, data] of names) {
    const bytes = Uint8Array.from(atob(data), letter => letter.charCodeAt(0));
    carried.items.add(new File([bytes], name, { type: 'image/png' }));
  }
  const under = document.elementFromPoint(x, y);
  for (const kind of ['dragover', 'drop'])
    under.dispatchEvent(new DragEvent(kind, { bubbles: true, cancelable: true, dataTransfer: carried }));
}"""


def png(shade):
    return base64.b64encode(cv2.imencode(".png", np.full((90, 160, 3), shade, np.uint8))[1]).decode()


def test_what_is_dropped_lies_where_it_is_dropped_and_what_is_chosen_goes_to_all_in_hand(page, film):
    def dropped_on(place, *names):
        box = page.locator(place).bounding_box()
        page.evaluate(DROP, [[[name, png(7 * len(name))] for name in names], box["x"] + 60, box["y"] + 60])

    def of(name):
        return next(each for each in film()["clips"].values() if each["name"] == name)

    dropped_on("[data-test=preview]", "heather.png")
    until(lambda: any(each["name"] == "heather" for each in film()["clips"].values()))
    assert of("heather")["head"] == 0
    # Beside the clips it is in the film's media, and that is said.
    dropped_on(".steps", "skep.png")
    page.get_by_text("“skep” is in Media.").wait_for()
    assert {each["name"] for each in film()["media"].values()} == {"heather", "skep"}
    names = ["bees.png", "comb.png", "dusk-light.png", "evening-road.png", "field-of-clover.png"]
    dropped_on(".steps", *names)
    until(lambda: len(film()["media"]) == 7)
    page.get_by_role("button", name="Media", exact=True).click()
    page.locator("[data-test=find-media]").fill("sk")
    until(lambda: page.locator("[data-media]").count() == 2)
    page.locator("[data-test=find-media]").press("Escape")
    until(lambda: page.locator("[data-media]").count() == 7)
    # One move goes to both pictures in hand.
    dropped_on("[data-test=preview]", "hives-at-the-gate.png")
    until(lambda: len(film()["clips"]) == 2)
    page.locator(f"[data-clip={of('heather')['id']}]").click(modifiers=["Control"])
    until(lambda: page.locator(".clip.chosen").count() == 2)
    page.locator("[data-test=add-step]").click()
    page.keyboard.type("quick push in")
    page.keyboard.press("Enter")
    until(lambda: all(any(step["kind"] == "move" for step in each["steps"]) for each in film()["clips"].values()))
    # Escape closes a list that is open, and nothing else.
    page.locator("[data-test=add-step]").click()
    page.keyboard.press("Escape")
    page.locator("[data-test=add-step]").wait_for()
    assert page.locator(".clip.chosen").count() == 2
