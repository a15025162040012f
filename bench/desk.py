"""The Desk with 2,000 clips: frame intervals of a scripted scroll and zoom of the timeline, in headless Chromium."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import tempfile
import urllib.request

from idle_comet.setup.home import ROOT

from .common import close, p50, p95

_SCRIPT = """async () => {
  const box = document.querySelector('.timeline');
  const intervals = [];
  let last = null;
  const beat = (now) => { if (last !== null) intervals.push(now - last); last = now; };
  const next = () => new Promise(done => requestAnimationFrame(now => { beat(now); done(); }));
  for (let i = 0; i < 150; i += 1) { box.scrollLeft += 37; await next(); }
  for (let i = 0; i < 60; i += 1) {
    box.dispatchEvent(new WheelEvent('wheel', {
      deltaY: i < 30 ? 18 : -18, ctrlKey: true, clientX: 700, clientY: 600, bubbles: true, cancelable: true }));
    await next();
  }
  for (let i = 0; i < 150; i += 1) { box.scrollLeft -= 53; await next(); }
  return intervals;
}"""
_IDLE = """async () => {
  const intervals = []; let last = null;
  for (let i = 0; i < 120; i += 1) await new Promise(done => requestAnimationFrame(now => {
    if (last !== null) intervals.push(now - last);
    last = now; done();
  }));
  return intervals;
}"""


def _post(address: str, path: str, body: dict) -> dict:
    request = urllib.request.Request(
        f"{address}/api{path}", json.dumps(body).encode(), {"content-type": "application/json"}
    )
    return json.loads(urllib.request.urlopen(request).read())


def run() -> bool:
    from playwright.sync_api import sync_playwright

    with tempfile.TemporaryDirectory() as home:
        server = subprocess.Popen(
            [sys.executable, "-m", "idle_comet", "start", "--empty"],
            cwd=ROOT,
            stdout=subprocess.PIPE,
            text=True,
            env={**os.environ, "IDLE_COMET_HOME": home},
        )
        try:
            address = next(line for line in server.stdout if "ready: " in line).split("ready: ")[1].strip()
            film = _post(address, "/projects", {"name": "Two thousand"})
            edits = [{"kind": "add_track", "track": {"id": f"t{i}", "name": f"T{i}"}} for i in range(6)]
            edits += [
                {
                    "kind": "add_clip",
                    "clip": {
                        "id": f"c{n}",
                        "track": f"t{n % 6}",
                        "name": f"Title {n}",
                        "head": n // 6 * 70,
                        "length": 60,
                        "arrival": 10,
                        "departure": 10,
                        "content": {"kind": "text", "text": f"Title {n}"},
                    },
                }
                for n in range(2000)
            ]
            _post(
                address,
                f"/projects/{film['id']}/edits",
                {"revision": film["revision"], "edit": {"kind": "several", "label": "many", "edits": edits}},
            )
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(
                    executable_path="/usr/bin/chromium",
                    args=["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
                )
                page = browser.new_page(viewport={"width": 1280, "height": 800})
                page.goto(f"{address}/?project={film['id']}")
                page.locator("[data-clip=c0]").wait_for()
                page.keyboard.press("Escape")
                for _ in range(16):
                    page.keyboard.press("+")
                page.wait_for_timeout(2500)
                idle = page.evaluate(_IDLE)
                moving = page.evaluate(_SCRIPT)
                drawn = page.locator("[data-clip]").count()
                browser.close()
        finally:
            server.send_signal(signal.SIGINT)
            server.wait(30)
    print(
        f"standing still p50 {p50(idle):.1f} ms p95 {p95(idle):.1f} ms; scrolled and zoomed p50 {p50(moving):.1f} "
        f"ms p95 {p95(moving):.1f} ms; {drawn} clips drawn at the end"
    )
    return close("desk", [("p95 frame interval, ms", p95(moving), 50)])
