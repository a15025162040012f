"""What tests of the Desk do again and again."""

import base64
import time

import cv2
import numpy as np
from playwright.sync_api import TimeoutError, expect

_STATE = """async (frame) => {
  const says = (name) => document.querySelector(`[data-test=${name}]`)?.textContent.trim() ?? ''
  const shown = document.querySelector('canvas')?.dataset ?? {}
  const now = { ...shown, saved: says('saved'), time: says('timecode'), says: says('preview-state') }
  const there = now.saved.startsWith('all saved') && now.exact === 'true' && (frame === null || now.frame === frame)
  // Asked last: a whole film is told with it.
  now.settled = there && now.revision === String((await (await fetch('/api/projects/slow-harvest')).json()).revision)
  return now
}"""


def settled(page, frame=None):
    """Wait until the canvas shows the newest revision as exported."""
    deadline = time.monotonic() + 60
    while not (now := page.evaluate(_STATE, None if frame is None else str(frame)))["settled"]:
        assert time.monotonic() < deadline, now
        time.sleep(0.06)


def settled_pixels(page, frame=None):
    """The pixels of the canvas (h, w, 3) when it shows the newest revision as exported."""
    settled(page, frame)
    return canvas_pixels(page)


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
