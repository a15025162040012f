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


def _export_done(page) -> None:
    page.get_by_role("button", name="Export", exact=True).click()
    page.locator("[data-test=export]").click()
    page.locator("[data-test=film]").wait_for(timeout=240_000)
    page.locator("[data-test=film]").evaluate("film => { film.currentTime = 3.2 }")
    page.wait_for_timeout(1500)
    page.screenshot(path=_SHOTS / "export-done.png")
    page.keyboard.press("Escape")


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
    page.get_by_role("button", name="everywhere else").click()
    box = page.locator("canvas").bounding_box()
    page.mouse.move(box["x"] + 40, box["y"] + 40)
    page.wait_for_timeout(2000)
    page.screenshot(path=_SHOTS / "treated.png")
    for _ in range(4):
        _undo(page)


def _looks(page) -> None:
    """A look being tried on a shot, out of the list of steps and looks."""
    page.locator("[data-clip=shot-ottoline-bench]").click(position={"x": 100, "y": 20})
    _go(page, "13:00")
    page.locator("[data-test=add-step]").click()
    page.get_by_label("Name of the step").fill("look")
    page.keyboard.press("ArrowDown")
    page.wait_for_timeout(2500)
    page.screenshot(path=_SHOTS / "looks.png")
    page.keyboard.press("Escape")


def _weathered(page) -> None:
    """A title torn inside two soft ellipses, one of them taken hold of; paper over all."""
    page.locator("[data-clip=title]").click(position={"x": 60, "y": 20})
    _go(page, "3:10")
    page.locator("[data-test=add-step]").click()
    page.get_by_label("Name of the step").fill("weathered")
    page.keyboard.press("Enter")
    page.wait_for_timeout(1500)
    page.locator(".steps .rows").evaluate("rows => { rows.scrollTop += 330 }")
    box = page.locator("canvas").bounding_box()
    page.mouse.move(box["x"] + 40, box["y"] + 40)
    page.wait_for_timeout(1500)
    page.screenshot(path=_SHOTS / "weathered.png")
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


def _handheld(page) -> None:
    """The same shot held by hand: the situation, how it turns, how often, and what is left beyond the frame."""
    page.locator("[data-test=add-step]").click()
    page.get_by_label("Name of the step").fill("handheld")
    page.keyboard.press("Enter")
    page.wait_for_timeout(2500)
    page.screenshot(path=_SHOTS / "handheld.png")
    _undo(page)
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


def _motion_path(page) -> None:
    """A title on a bent path, drawn as the shutter sees it, with a point and its tangents in hand."""
    _change(
        page,
        {
            "kind": "set_property",
            "clip": "title",
            "step": "placement",
            "name": "path",
            "property": {
                "state": "moving",
                "keys": [
                    {"at": 0, "value": [-260, 130]},
                    {"at": 60, "value": [40, -70]},
                    {"at": 120, "value": [250, 60]},
                ],
            },
        },
    )
    _change(page, {"kind": "set_shutter", "clips": ["title"], "shutter": {"angle": 180}})
    page.locator("[data-clip=title]").click(position={"x": 60, "y": 20})
    page.locator("[data-test=path-point]").nth(1).click()
    page.wait_for_timeout(1500)
    page.screenshot(path=_SHOTS / "motion-path.png")
    page.keyboard.press("Escape")
    _undo(page)
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


def _hits(page) -> None:
    """A title typed by the hits of a sound: each letter over its stroke."""
    _change(page, {"kind": "add_picture", "clip": "keys", "frame": 40, "media": "typewriter"})
    _change(page, {"kind": "change_text", "clip": "title", "text": "HEATHER IN"})
    page.locator("[data-clip=title]").click(position={"x": 60, "y": 20})
    page.locator("[data-test=add-step]").click()
    page.get_by_label("Name of the step").fill("typing")
    page.keyboard.press("Enter")
    page.wait_for_timeout(800)
    page.locator("[data-test=type-by-hits]").click()
    page.wait_for_timeout(1500)
    _go(page, "2:20")
    page.keyboard.press("Shift+f")
    page.locator("[data-clip=keys]").scroll_into_view_if_needed()
    page.wait_for_timeout(2000)
    page.screenshot(path=_SHOTS / "hits.png")
    page.keyboard.press("f")
    for _ in range(5):
        _undo(page)


def _sounds(page) -> None:
    """The shelf of sounds: the one that is rested on is heard; those put on the title's arrival lie on the timeline."""
    page.locator("[data-clip=title]").click(position={"x": 60, "y": 20})
    page.get_by_role("button", name="Sound", exact=True).click()
    page.locator("[data-sound=whoosh-soft] [data-test=on-arrival]").click()
    page.wait_for_timeout(800)
    page.locator("[data-sound=chime] [data-test=on-arrival]").click()
    page.wait_for_timeout(1500)
    page.locator("[data-clip]", has=page.locator("[data-test=waveform]")).last.scroll_into_view_if_needed()
    page.locator("[data-sound=chime] .wave").hover()
    page.wait_for_timeout(600)
    page.screenshot(path=_SHOTS / "sounds.png")
    page.keyboard.press("Escape")
    for _ in range(2):
        _undo(page)


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


def _change(page, change: dict) -> None:
    """An edit made behind the Desk's back; the page is loaded anew."""
    page.evaluate(
        """async (edit) => { const id = (await (await fetch('/api/projects')).json())[0].id; const { revision } = await
        (await fetch(`/api/projects/${id}`)).json(); await fetch(`/api/projects/${id}/edits`, { method: 'POST', headers:
        { 'content-type': 'application/json' }, body: JSON.stringify({ revision, edit }) }); }""",
        change,
    )
    page.reload()
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
    _motion_path,
    _treated,
    _looks,
    _weathered,
    _group,
    _moves,
    _handheld,
    _followed,
    _hits,
    _sounds,
    _loudness,
    _captions,
    _export_done,
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
                typer.echo(f"docs/screenshots: {view.__name__.strip('_').replace('_', '-')}.png")
            browser.close()
        sheet(_SHOTS / "recipe-sheet.png")
        pattern_sheet(_SHOTS / "generated-sheet.png")
    finally:
        server.send_signal(signal.SIGINT)
        server.wait(30)
        shutil.rmtree(home, ignore_errors=True)
