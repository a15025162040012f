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

from ..setup.home import ROOT
from ..setup.packages import ensure

_SHOTS = ROOT / "docs" / "screenshots"


def _desk(page) -> None:
    """The Desk as it opens, a moment before the title has arrived."""
    _go(page, "2:01")
    page.screenshot(path=_SHOTS / "desk.png")


def _text_tray(page) -> None:
    page.get_by_role("button", name="Text", exact=True).click()
    page.wait_for_timeout(1200)
    page.screenshot(path=_SHOTS / "text-tray.png")
    page.keyboard.press("Escape")


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
    """A moving property's lane with one of its keys in hand."""
    page.locator(".motion-lane").nth(2).locator("[data-test=key]").nth(1).click()
    page.wait_for_timeout(1500)
    page.screenshot(path=_SHOTS / "key-in-hand.png")
    page.keyboard.press("Escape")


VIEWS = (_desk, _text_tray, _media_tray, _key_in_hand, _export_done)


def screens() -> None:
    """Take one picture of each main view into docs/screenshots, at 1280×800."""
    from playwright.sync_api import sync_playwright

    ensure("chromium")
    _SHOTS.mkdir(parents=True, exist_ok=True)
    home = Path(tempfile.mkdtemp(prefix="idle-comet-screens-"))
    server = subprocess.Popen(
        [sys.executable, "-m", "idle_comet", "start"], cwd=ROOT, stdout=subprocess.PIPE, text=True,
        env={**os.environ, "IDLE_COMET_HOME": str(home)})
    try:
        address = next(line for line in server.stdout if "ready: " in line).split("ready: ")[1].strip()
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(
                executable_path=shutil.which("chromium"), args=["--no-sandbox", "--disable-gpu", "--disable-background-networking"])
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(address)
            page.locator("canvas[data-exact=true]").wait_for()
            page.wait_for_timeout(2500)
            for view in VIEWS:
                view(page)
                typer.echo(f"docs/screenshots: {view.__name__.strip('_').replace('_', '-')}.png")
            browser.close()
    finally:
        server.send_signal(signal.SIGINT)
        server.wait(30)
        shutil.rmtree(home, ignore_errors=True)
