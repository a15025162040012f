"""Playing in the Desk, in headless Chromium: the demo, every ensemble and every recipe, twice. Frames that are late the
first time, and how small they are; and the same when what is played was painted ahead."""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tempfile
import time
from typing import NamedTuple

from idle_comet.core.recipes import shipped_ensembles, shipped_recipes
from idle_comet.setup.home import ROOT

from .common import close

_SECONDS = 6.0
_READY = 240.0
"""Seconds for which the second pass waits until its frames lie ready."""

_LOOK = """() => ({
  said: document.querySelector('[data-test=preview-state]').textContent,
  width: document.querySelector('[data-test=preview]').width,
  ready: document.querySelector('[data-test=cached]')?.dataset.frames ?? '',
})"""


class _Pass(NamedTuple):
    """Frames late, and the smallest picture as a share of the preview's size."""

    late: int
    share: float


def run() -> bool:
    from playwright.sync_api import sync_playwright

    with tempfile.TemporaryDirectory() as home:
        server = subprocess.Popen(
            [sys.executable, "-m", "idle_comet", "start"],
            cwd=ROOT,
            stdout=subprocess.PIPE,
            text=True,
            env={**os.environ, "IDLE_COMET_HOME": home},
        )
        try:
            assert server.stdout is not None
            address = next(line for line in server.stdout if "ready: " in line).split("ready: ")[1].strip()
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(
                    executable_path="/usr/bin/chromium",
                    args=["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
                )
                found = {name: _film(browser, address, name, edit) for name, edit in _films()}
                browser.close()
        finally:
            server.terminate()
            server.wait(30)
    first, second = [one for one, _ in found.values()], [two for _, two in found.values()]
    return close(
        "play",
        [
            ("frames late at first", sum(each.late for each in first), 0),
            ("late when painted ahead", sum(each.late for each in second), 0),
            ("smallest size at first, 1 in", 1 / min(each.share for each in first), 4),
            ("smallest size when painted ahead, 1 in", 1 / min(each.share for each in second), 1),
        ],
    )


def _films():
    """Names, and the edit that makes each of an empty film; the demo is made already."""
    yield "the demo", None
    for each in shipped_ensembles().values():
        yield each.name, {"kind": "use_ensemble", "ensemble": each.model_dump(mode="json"), "frame": 0, "seed": "e"}
    for recipe in shipped_recipes().values():
        yield recipe.name, {"kind": "add_from_recipe", "recipe": recipe.model_dump(mode="json"), "new": "r", "frame": 0}


def _film(browser, address: str, name: str, edit) -> tuple[_Pass, _Pass]:
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    id = "slow-harvest"
    if edit is not None:
        made = page.request.post(f"{address}/api/projects", data={"name": name})
        id = made.json()["id"]
        answer = page.request.post(f"{address}/api/projects/{id}/edits", data={"revision": 0, "edit": edit})
        assert answer.ok, f"{name}: {answer.text()[:300]}"
    page.goto(f"{address}/?project={id}")
    page.locator("[data-test=preview][data-exact=true]").wait_for(timeout=60_000)
    first = _played(page)
    _wait_until_ready(page, page.request.get(f"{address}/api/projects/{id}").json()["length"])
    second = _played(page)
    page.close()
    print(f"{name}: {first.late} late at {first.share:.0%} size, then {second.late} at {second.share:.0%}", flush=True)
    return first, second


def _played(page) -> _Pass:
    page.keyboard.press("Escape")
    page.keyboard.press("Home")
    page.wait_for_timeout(300)
    whole = page.evaluate(_LOOK)["width"]
    full = min(704, whole)
    page.keyboard.press("Space")
    late, least, until = 0, full, time.monotonic() + _SECONDS
    while time.monotonic() < until:
        page.wait_for_timeout(150)
        look = page.evaluate(_LOOK)
        if "late" in look["said"]:
            late = max(late, int(re.search(r"(\d+) frames? late", look["said"])[1]))
            least = min(least, look["width"])
        elif "getting ready" not in look["said"]:
            break
    else:
        page.keyboard.press("Space")
    return _Pass(late, least / full)


def _wait_until_ready(page, length: int) -> None:
    until = time.monotonic() + _READY
    while page.evaluate(_LOOK)["ready"] != f"0–{length - 1}":
        if time.monotonic() > until:
            print(f"not all of it lies ready within {_READY:g} s")
            return
        page.wait_for_timeout(500)
