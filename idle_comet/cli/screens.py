"""`./comet screens`: take the pictures of the main views anew, from the demo."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
import tempfile
from pathlib import Path

import typer

from ..setup.home import ROOT, Home
from ..setup.packages import ensure
from .sheet import pattern_sheet, sheet

_CLASP = (352.3, 387.9)
"""Where the clasp of the walking figure's hat is two seconds into its shot, px of its frame."""

_SHOTS = ROOT / "docs" / "screenshots"


def _desk(page) -> None:
    """The Desk as it opens, a moment before the title has arrived."""
    _go(page, "2:01")
    page.screenshot(path=_SHOTS / "desk.png")


def _go(page, typed: str) -> None:
    page.locator("[data-test=timecode]").click()
    page.get_by_label("Go to a time").fill(typed)
    page.keyboard.press("Enter")
    page.wait_for_timeout(1500)


def _media_tray(page) -> None:
    page.get_by_role("button", name="Media", exact=True).click()
    page.wait_for_timeout(1500)
    page.screenshot(path=_SHOTS / "media-tray.png")
    page.keyboard.press("Escape")


def _key_in_hand(page) -> None:
    """An opened arrival: lanes of what moves in it, one key in hand with the handles of its ease."""
    page.locator("[data-clip=title]").click(position={"x": 60, "y": 20})
    page.keyboard.press("e")
    page.locator(".motion-lane").nth(2).locator("[data-test=key]").nth(0).click()
    _go(page, "1:20")
    page.screenshot(path=_SHOTS / "key-in-hand.png")
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")


def _treated(page) -> None:
    """A treatment over the film's first shot and titles, done to a part of the picture only, with the mask's grips."""
    page.locator("[data-clip=title]").click(position={"x": 60, "y": 20})
    _go(page, "4:00")
    page.keyboard.press("/")
    page.locator("[data-test=command]").fill("add a treatment")
    page.keyboard.press("Enter")
    page.wait_for_timeout(1000)
    page.locator("[data-test=add-step]").click()
    page.get_by_label("Name of the step").fill("tone colours")
    page.keyboard.press("Enter")
    page.wait_for_timeout(800)
    page.locator("[data-test=add-mask]").click()
    page.wait_for_timeout(600)
    page.get_by_role("button", name="invert").click()
    box = page.locator("canvas").bounding_box()
    page.mouse.move(box["x"] + 40, box["y"] + 40)
    page.wait_for_timeout(2000)
    page.screenshot(path=_SHOTS / "treated.png")
    for _ in range(4):
        _undo(page)


def _group(page) -> None:
    """Two lines of a title gathered into a group, moved as one and opened in place."""
    page.locator("[data-clip=title]").click(position={"x": 60, "y": 20})
    page.locator("[data-clip=second-line]").click(position={"x": 60, "y": 20}, modifiers=["Shift"])
    page.keyboard.press("b")
    page.wait_for_timeout(1500)
    page.keyboard.press("Control+Shift+ArrowRight")
    page.wait_for_timeout(800)
    page.keyboard.press("Shift+B")
    page.locator("[data-clip=second-line]").click(position={"x": 60, "y": 20})
    _go(page, "4:00")
    page.screenshot(path=_SHOTS / "group.png")
    page.keyboard.press("Escape")
    for _ in range(2):
        _undo(page)


def _moves(page) -> None:
    """A move to a face: its framings on the whole picture, the film beside it, what is spare over the clip."""
    page.locator("[data-clip=shot-ottoline-bench]").click(position={"x": 100, "y": 20})
    _go(page, "11:00")
    page.locator("[data-move=turn-point]").click()
    box = page.locator("canvas").bounding_box()
    page.mouse.click(box["x"] + 0.54 * box["width"], box["y"] + 0.33 * box["height"])
    page.wait_for_timeout(1500)
    page.locator("[data-test=frame-it]").click()
    page.wait_for_timeout(2500)
    page.screenshot(path=_SHOTS / "moves.png")
    page.locator("[data-test=framed-done]").click()
    _undo(page)


def _followed(page) -> None:
    """A walking figure's hat followed past a tree, with a title that goes with it."""
    shot = {"kind": "add_picture", "clip": "walk", "frame": 620, "media": "walk-home", "track": "shots"}
    _change(page, shot)
    page.locator("[data-clip=walk]").click(position={"x": 20, "y": 20})
    _go(page, "26:20")
    page.locator("[data-test=follow-point]").click()
    box = page.locator("canvas").bounding_box()
    x, y = _CLASP
    page.mouse.click(box["x"] + x * box["width"] / 1280, box["y"] + y * box["height"] / 720)
    page.locator("[data-test=point]").wait_for(timeout=60_000)
    page.locator("[data-test=write-held]").click()
    page.wait_for_timeout(1500)
    page.keyboard.type("Wren walks home")
    page.wait_for_timeout(1200)
    page.keyboard.press("Escape")
    page.locator("[data-clip=walk]").click(position={"x": 20, "y": 20})
    _go(page, "28:20")
    page.screenshot(path=_SHOTS / "followed.png")
    for _ in range(4):
        _undo(page)


def _recipes(page) -> None:
    """A recipe playing on the end line under the pointer, over its own shot."""
    page.locator("[data-clip=end-line]").click(position={"x": 60, "y": 20})
    _go(page, "21:20")
    page.keyboard.press("y")
    page.locator("[data-recipe=harvest-home]").wait_for()
    page.wait_for_timeout(6000)
    page.locator("[data-recipe=harvest-home]").hover()
    page.wait_for_timeout(2900)
    page.screenshot(path=_SHOTS / "recipes.png")
    page.mouse.move(700, 300)
    page.wait_for_timeout(500)
    page.get_by_role("button", name="close").click()


def _loudness(page) -> None:
    """A bed that goes down under a voice, and the film brought to a loudness."""
    _change(page, {"kind": "add_picture", "clip": "bed", "frame": 0, "media": "bed"})
    _change(page, {"kind": "add_picture", "clip": "say", "frame": 150, "media": "voice"})
    page.locator("[data-clip=bed]").click(position={"x": 60, "y": 30})
    page.locator("[data-test=duck]").click()
    page.get_by_role("option", name="Ottoline speaks").click()
    page.wait_for_timeout(1500)
    page.get_by_role("button", name="Sound", exact=True).click()
    page.locator("[data-test=sound-loudness]").click()
    page.locator("[data-test=bring-23]").click()
    page.locator("[data-test=integrated]").filter(has_text="-23.0").wait_for(timeout=60_000)
    page.locator("[data-clip=bed]").scroll_into_view_if_needed()
    page.wait_for_timeout(1500)
    page.screenshot(path=_SHOTS / "loudness.png")
    page.keyboard.press("Escape")
    for _ in range(4):
        _undo(page)


def _captions(page) -> None:
    """What is said in a voice, written down and coloured word by word, in the Text tray with the time to read it."""
    _change(page, {"kind": "add_picture", "clip": "say", "frame": 190, "media": "voice"})
    page.locator("[data-clip=say]").click(position={"x": 40, "y": 30})
    page.get_by_role("button", name="Text", exact=True).click()
    page.locator("[data-test=write-down]").click()
    page.locator("[data-test=written]").filter(has_text="words in").wait_for(timeout=60_000)
    page.locator("[data-test=caption-style]").click()
    page.get_by_role("option", name="Honey Words").click()
    page.wait_for_timeout(1500)
    _go(page, "18:12")
    page.locator("[data-test=captions]").scroll_into_view_if_needed()
    page.wait_for_timeout(2000)
    page.screenshot(path=_SHOTS / "captions.png")
    page.keyboard.press("Escape")
    for _ in range(3):
        _undo(page)


def _lay(page, id: str) -> None:
    """An ensemble alone, from the film's beginning on."""
    clips = page.evaluate("async () => Object.keys((await (" + _FILM + ")()).project.clips)")
    _send(page, {"kind": "remove_clips", "clips": clips})
    page.locator("[data-test=empty]").wait_for()
    page.keyboard.press("Home")
    page.get_by_role("button", name="Recipes", exact=True).click()
    page.locator("[data-test=ensembles]").click()
    page.locator(f"[data-ensemble={id}]").click()
    page.locator("[data-test=ensemble-parts]").wait_for()
    page.wait_for_timeout(2500)


def _emblem(page) -> None:
    """The emblem's build: a cell that its stroke uncovers, with the mask that it wipes."""
    _step_of(page, "cell-and-stroke", "Cell", "1:14", "uncovered", "emblem.png")


def _step_of(page, ensemble: str, clip: str, at: str, step: str, name: str) -> None:
    """A step of a clip of an ensemble, opened at a time of the film."""
    _lay(page, ensemble)
    page.get_by_role("button", name="close").click()
    page.locator("[data-clip]").filter(has_text=clip).click(position={"x": 60, "y": 20})
    _go(page, at)
    page.locator(f"[data-step={step}] .names").click()
    page.wait_for_timeout(2000)
    page.screenshot(path=_SHOTS / name)
    for _ in range(2):
        _undo(page)


def _stage(page) -> None:
    """Letters on a floor under a spot: the working view, and what the camera sees beside it."""
    _lay(page, "stage")
    page.get_by_role("button", name="close").click()
    page.locator("[data-clip]").filter(has_text="Spot").click(position={"x": 60, "y": 10})
    _go(page, "2:05")
    page.keyboard.press("a")
    page.wait_for_timeout(3000)
    page.get_by_role("button", name="side", exact=True).click()
    page.wait_for_timeout(1000)
    page.screenshot(path=_SHOTS / "space.png")
    page.keyboard.press("a")
    for _ in range(2):
        _undo(page)


def _screen(page) -> None:
    """A screen that comes into focus as the camera goes in, with the lane of what is sharp."""
    _lay(page, "screen")
    page.get_by_role("button", name="close").click()
    page.locator("[data-clip]").filter(has_text="Camera").click(position={"x": 60, "y": 10})
    _go(page, "3:05")
    page.wait_for_timeout(2500)
    page.screenshot(path=_SHOTS / "screen.png")
    for _ in range(2):
        _undo(page)


def _night_card(page) -> None:
    """Letters of gold on their way past the camera, with what they are made of."""
    _step_of(page, "night-card", "Title", "0:19", "solid", "night-card.png")


def _hive(page) -> None:
    """A model between a title and a shot, with the light that it is given."""
    _change(
        page,
        {
            "kind": "several",
            "label": "a hive",
            "edits": [
                {"kind": "add_picture", "clip": "hive", "frame": 20, "media": "hive"},
                {"kind": "set_value", "clip": "hive", "step": "content", "name": "swing", "value": -32},
                {"kind": "set_value", "clip": "hive", "step": "content", "name": "tilt", "value": 10},
                {"kind": "set_value", "clip": "hive", "step": "placement", "name": "x", "value": 250},
                {"kind": "set_value", "clip": "hive", "step": "placement", "name": "y", "value": 70},
                {"kind": "add_light", "clip": "lamp", "frame": 0, "length": 213},
                {"kind": "set_light", "clip": "lamp", "side": "above right", "onto": "hive", "frame": 60},
                {"kind": "set_value", "clip": "lamp", "step": "content", "name": "strength", "value": 1.6},
            ],
        },
    )
    page.locator("[data-clip=hive]").click(position={"x": 60, "y": 20})
    _go(page, "2:12")
    page.get_by_text("Model", exact=True).first.click()
    page.wait_for_timeout(2500)
    page.screenshot(path=_SHOTS / "hive.png")
    _undo(page)


def _end_card(page) -> None:
    """The ready end card with what it leaves to be filled in."""
    _lay(page, "end-card")
    page.locator("[data-test=ensemble-parts]").scroll_into_view_if_needed()
    page.locator("[data-test=ensemble-parts]").evaluate("part => part.scrollIntoView()")
    page.wait_for_timeout(2000)
    page.screenshot(path=_SHOTS / "end-card.png")
    page.get_by_role("button", name="close").click()
    for _ in range(2):
        _undo(page)


def _clear_film(page) -> None:
    """A film with transparency, played over the page."""
    _lay(page, "cell-and-stroke")
    page.keyboard.press("i")
    _go(page, "1:05")
    page.keyboard.press("i")
    _go(page, "1:20")
    page.keyboard.press("o")
    page.get_by_role("button", name="Export", exact=True).click()
    page.locator("[data-test=as-clear]").click()
    page.locator("[data-test=format-vp9]").click()
    page.get_by_role("radio", name="in to out").click()
    page.locator("[data-test=export]").click()
    page.locator("[data-test=film]").wait_for(timeout=240_000)
    page.locator("[data-test=film]").evaluate("film => { film.currentTime = 0.4 }")
    page.locator("[data-test=film]").scroll_into_view_if_needed()
    page.wait_for_timeout(1500)
    page.screenshot(path=_SHOTS / "clear-film.png")
    page.get_by_role("button", name="close").click()
    for _ in range(5):
        _undo(page)


_FILM = """async () => { const id = (await (await fetch('/api/projects')).json())[0].id;
return { id, ...await (await fetch(`/api/projects/${id}`)).json() }; }"""


def _send(page, change: dict) -> None:
    """An edit made behind the Desk's back; the page is loaded anew."""
    page.evaluate(
        "async (edit) => { const { id, revision } = await (" + _FILM + ")(); "
        "await fetch(`/api/projects/${id}/edits`, { method: 'POST', headers: { 'content-type': 'application/json' }, "
        "body: JSON.stringify({ revision, edit }) }); }",
        change,
    )
    page.reload()


def _change(page, change: dict) -> None:
    """The same of a film that is not empty after it."""
    _send(page, change)
    page.locator("canvas[data-exact=true]").wait_for()
    page.wait_for_timeout(1500)


def _undo(page) -> None:
    page.keyboard.press("Control+z")
    page.wait_for_timeout(800)


VIEWS = (
    _desk,
    _media_tray,
    _recipes,
    _key_in_hand,
    _treated,
    _group,
    _moves,
    _followed,
    _loudness,
    _captions,
    _stage,
    _screen,
    _night_card,
    _hive,
    _emblem,
    _end_card,
    _clear_film,
)


def screens() -> None:
    """Take one picture of each main view into docs/screenshots, at 1280×800."""
    from playwright.sync_api import sync_playwright

    ensure("chromium")
    _SHOTS.mkdir(parents=True, exist_ok=True)
    home = Path(tempfile.mkdtemp(prefix="idle-comet-screens-"))
    painted = ROOT / "var" / "demo-media"
    if painted.exists():
        # Painted before, by the tests or a benchmark: the demo is the same.
        shutil.copytree(painted, Home(home).make().media, dirs_exist_ok=True)
    server = subprocess.Popen(
        [sys.executable, "-m", "idle_comet", "start"],
        cwd=ROOT,
        stdout=subprocess.PIPE,
        text=True,
        env={**os.environ, "IDLE_COMET_HOME": str(home)},
    )
    try:
        address = next(line for line in server.stdout if "ready: " in line).split("ready: ")[1].strip()
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(
                executable_path=shutil.which("chromium"),
                args=["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
            )
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(address)
            page.locator("canvas[data-exact=true]").wait_for()
            page.wait_for_timeout(2500)
            for view in VIEWS:
                view(page)
                typer.echo(f"docs/screenshots: {view.__name__.strip('_').replace('_', ' ')}")
            browser.close()
        sheet(_SHOTS / "recipe-sheet.png")
        pattern_sheet(_SHOTS / "generated-sheet.png")
    finally:
        server.send_signal(signal.SIGINT)
        server.wait(30)
        shutil.rmtree(home, ignore_errors=True)
