"""From a clean clone with an empty home to an address that answers, fetching apart; a second start; and from opening
the page to the first picture as exported."""

from __future__ import annotations

import os
import re
import subprocess
import tempfile
import time
from pathlib import Path

from idle_comet.setup.home import ROOT

from .common import close

_PART = re.compile(r"^(.+): ([\d.]+) s$")


def run() -> bool:
    from playwright.sync_api import sync_playwright

    with tempfile.TemporaryDirectory() as folder:
        clone, home = Path(folder) / "clone", Path(folder) / "home"
        subprocess.run(["git", "clone", "--quiet", str(ROOT), str(clone)], check=True)
        pictures: list[float] = []

        def open_page(address: str) -> None:
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(
                    executable_path="/usr/bin/chromium",
                    args=["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
                )
                page = browser.new_page(viewport={"width": 1280, "height": 800})
                began = time.monotonic()
                page.goto(f"{address}/?project=slow-harvest")
                page.locator("[data-test=preview][data-exact=true]").wait_for(timeout=60_000)
                pictures.append(time.monotonic() - began)
                browser.close()

        def first_time(address: str) -> None:
            open_page(address)
            # The second start is one of a machine on which all is compiled.
            while not (clone / "var" / "loops").exists():
                time.sleep(0.5)

        first, parts = _start(clone, home, first_time)
        for name, seconds in parts.items():
            print(f"{name}: {seconds:.1f} s")
        # What is fetched at the same time counts once.
        fetching = max((seconds for name, seconds in parts.items() if name.startswith("Fetching")), default=0.0)
        print(f"ready after {first:.1f} s, of which fetching {fetching:.1f} s; first picture {pictures[0]:.1f} s later")
        second, _ = _start(clone, home, open_page)
    return close(
        "start",
        [
            ("seconds beyond fetching", first - fetching, 120),
            ("seconds of a second start", second, 4),
            ("seconds to the first picture", pictures[1], 2),
        ],
    )


def _start(clone: Path, home: Path, then) -> tuple[float, dict[str, float]]:
    """Seconds until it is ready, and the parts that it says took time; `then` is done with its address."""
    began = time.monotonic()
    server = subprocess.Popen(
        ["./comet", "start"],
        cwd=clone,
        stdout=subprocess.PIPE,
        text=True,
        env={**os.environ, "IDLE_COMET_HOME": str(home)},
    )
    parts: dict[str, float] = {}
    try:
        assert server.stdout is not None
        for line in server.stdout:
            if "ready: " in line:
                seconds = time.monotonic() - began
                then(line.split("ready: ")[1].strip())
                return seconds, parts
            if found := _PART.match(line.strip()):
                parts[found[1]] = float(found[2])
        raise RuntimeError("the server did not start")
    finally:
        server.terminate()
        server.wait(30)
