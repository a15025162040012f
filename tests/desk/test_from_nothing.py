"""A film begun by hand: what is typed, added, set for several clips, pasted and put at its end."""

import pytest

from tests.conftest import until


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
    snapping = page.evaluate("() => localStorage.getItem('idle-comet-snapping')")

    def late(route):
        page.wait_for_timeout(1500)
        route.continue_()

    page.route("**/edits", late)
    page.keyboard.press("t")
    page.keyboard.type("Some tomatoes")
    until(lambda: words(film) == ["Some tomatoes"])
    page.unroute("**/edits")
    # The field on the picture goes on from there.
    page.locator("[data-test=type-here]").wait_for(state="attached")
    page.keyboard.type(" and salt")
    until(lambda: words(film) == ["Some tomatoes and salt"])
    assert page.evaluate("() => localStorage.getItem('idle-comet-snapping')") == snapping


def test_titles_are_pasted_line_by_line_and_set_together(page, film):
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.evaluate("() => navigator.clipboard.writeText('Mara Quill\\n\\n  Ono Brightwater\\nThe Slow Harvest')")
    page.keyboard.press("Control+v")
    until(
        lambda: (
            [each["content"]["text"] for each in titles(film)] == ["Mara Quill", "Ono Brightwater", "The Slow Harvest"]
        )
    )
    ids = [each["id"] for each in titles(film)]
    # What the Desk copied itself is pasted as clips.
    page.locator(f"[data-clip={ids[0]}] .face").click()
    page.locator(f"[data-clip={ids[2]}]").click(modifiers=["Control"])
    until(lambda: page.locator(".clip.chosen").count() == 2)
    page.locator("[data-test=step-content] .head, [aria-label=Steps] .row").first.wait_for()
    size = [each["content"]["size"]["value"] for each in titles(film)]
    field = page.get_by_label("Size", exact=True)
    if not field.count():
        page.get_by_role("button", name="Text").nth(0).click()
    row = page.locator(".gauge").filter(has=page.get_by_role("slider", name="Size", exact=True))
    row.locator("button.value").click()
    page.keyboard.type("+10")
    page.keyboard.press("Enter")
    until(lambda: [each["content"]["size"]["value"] for each in titles(film)] == [size[0] + 10, size[1], size[2] + 10])
    page.keyboard.press("Control+z")
    until(lambda: [each["content"]["size"]["value"] for each in titles(film)] == size)
    page.keyboard.press("Control+y")
    until(lambda: titles(film)[0]["content"]["size"]["value"] == size[0] + 10)
