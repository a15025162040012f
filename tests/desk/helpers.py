"""What tests of the Desk do again and again."""

import base64
import time

import cv2
import numpy as np
from playwright.sync_api import TimeoutError, expect


def settled(page, frame=None):
    """Wait until the canvas shows the newest revision as exported, and return its pixels (h, w, 3)."""

    def state():
        shown = page.locator("canvas").evaluate("canvas => ({...canvas.dataset})")
        return {
            **shown,
            "saved": page.locator("[data-test=saved]").inner_text(),
            "time": page.locator("[data-test=timecode]").inner_text(),
            "says": page.locator("[data-test=preview-state]").inner_text(),
        }

    def newest():
        return page.evaluate(
            "() => fetch('/api/projects/slow-harvest').then(a => a.json()).then(one => String(one.revision))"
        )

    deadline = time.monotonic() + 60
    while True:
        now = state()
        if (
            now["saved"].startswith("all saved")
            and now.get("exact") == "true"
            and (frame is None or now["frame"] == str(frame))
            # Asked last: a whole film is told with it.
            and now["revision"] == newest()
        ):
            return canvas_pixels(page)
        assert time.monotonic() < deadline, now
        time.sleep(0.05)


def canvas_pixels(page):
    data = page.locator("canvas").evaluate("canvas => canvas.toDataURL('image/png')").split(",")[1]
    return cv2.imdecode(np.frombuffer(base64.b64decode(data), np.uint8), cv2.IMREAD_COLOR)[..., ::-1].astype(float)


def go_to(page, typed):
    page.locator("[data-test=timecode]").click()
    field = page.get_by_label("Go to a time")
    field.fill(typed)
    with page.expect_response(lambda answer: "/time?" in answer.url):
        field.press("Enter")
    page.wait_for_timeout(50)


def clip(running):
    return running.project()["project"]["clips"]["title"]


def psnr(a, b):
    return 10 * np.log10(255**2 / max(1e-9, ((a - b) ** 2).mean()))


def drag(page, x, y, dx, dy=0.0):
    """Press at a point of the page, move in steps, release, and wait until the last of its edits is kept."""
    page.mouse.move(x, y)
    page.mouse.down()
    for part in range(1, 7):
        page.mouse.move(x + dx * part / 6, y + dy * part / 6)
    page.mouse.up()
    page.locator("[data-test=saved]").filter(has_text="all saved").wait_for()


def middle(locator):
    box = locator.bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def command(page, typed):
    """Do something by typing its name."""
    page.keyboard.press("/")
    page.locator("[data-test=command]").fill(typed)
    page.keyboard.press("Enter")


def clips(running):
    return running.project()["project"]["clips"]


class Counted:
    """Clicks, drags, key presses that mean something and typed values."""

    def __init__(self, page):
        self.page, self.actions = page, 0

    def click(self, locator, **how):
        self.actions += 1
        locator.first.click(**how)

    def press(self, keys):
        self.actions += 1
        self.page.keyboard.press(keys)

    def type(self, words):
        self.actions += 1
        self.page.keyboard.type(words)

    def recipe(self, id):
        self.click(self.page.locator(f"[data-recipe={id}]"))


def named(running, name):
    return next((each for each in clips(running).values() if each["name"] == name), None)


def lay(editor, id):
    """An ensemble from the shelf at the playhead."""
    editor.click(editor.page.get_by_role("button", name="Recipes", exact=True))
    editor.click(editor.page.locator("[data-test=ensembles]"))
    editor.click(editor.page.locator(f"[data-ensemble={id}]"))
    editor.page.locator("[data-test=ensemble-parts]").wait_for()


def pick(editor, field, name):
    """One of the words of a list that opens. While that is still being laid out a press may miss what it was on: then
    it is pressed again, as an editor would."""
    option = editor.page.get_by_role("option", name=name, exact=True).first
    editor.actions += 2
    for _ in range(4):
        if not option.is_visible():
            field.first.click()
        option.click()
        try:
            option.wait_for(state="hidden", timeout=3000)
            expect(field.first).to_contain_text(name, timeout=8000)
            return
        except (AssertionError, TimeoutError):
            continue
    raise AssertionError(f"“{name}” could not be chosen")


def choose(editor, part, name):
    """A picture or a sound of the film for a part of an ensemble."""
    pick(editor, editor.page.locator("[data-test=ensemble-parts]").get_by_label(part, exact=True).locator(".."), name)
