"""The Desk with 2,000 clips, in headless Chromium: frame intervals of a scripted scroll and zoom of the timeline, and
the time from a key pressed while typing to the new picture."""

from __future__ import annotations

import json
import math
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


_COLLECT = """() => {
  window.frames_apart = []; let last = null;
  const step = (now) => {
    if (last !== null) window.frames_apart.push(now - last);
    last = now;
    if (!window.enough) requestAnimationFrame(step);
  };
  requestAnimationFrame(step);
}"""


def _dragging(page) -> list[float]:
    """Intervals between frames, ms, while the gauge of a value that moves is dragged and its lane is open."""
    page.locator("[data-clip=c0]").click()
    page.locator(".steps .names").nth(2).click()
    page.locator(".motion-lane").first.wait_for()
    gauge = page.get_by_role("slider", name="Size", exact=True)
    box = gauge.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.evaluate(_COLLECT)
    for step in range(120):
        page.mouse.move(x + 30 * math.sin(step / 9), y)
    intervals = page.evaluate("() => { window.enough = true; return window.frames_apart; }")
    page.mouse.up()
    page.wait_for_timeout(800)
    page.locator(".steps .names").nth(2).click()
    return intervals


_TYPED = """() => {
  const canvas = document.querySelector('canvas');
  window.typed = [];
  let pressed = null;
  document.addEventListener('keydown', () => { pressed = performance.now(); }, true);
  new MutationObserver(() => {
    if (pressed !== null) window.typed.push(performance.now() - pressed);
    pressed = null;
  }).observe(canvas, { attributes: true, attributeFilter: ['data-revision'] });
}"""
# The parts of that wait, asked for by themselves on a film that no window shows: an edit's answer, and one frame that
# nobody has painted yet.
_PARTS = """async ([film, words, frame, width, height]) => {
  const at = `/api/projects/${film}`;
  const { revision } = await (await fetch(at)).json();
  const edit = { kind: 'change_text', clip: 'c0', text: words };
  const began = performance.now();
  await (await fetch(`${at}/edits`, {
    method: 'POST', headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ revision, edit }) })).json();
  const answered = performance.now();
  const jpeg = await (await fetch(`${at}/frame?at=${frame}&width=${width}&height=${height}&exact=false`)).blob();
  (await createImageBitmap(jpeg)).close();
  return [answered - began, performance.now() - answered];
}"""
_KEYS = "heather honey from the slow harvest of the year"


def _typing(page, film: str) -> tuple[list[float], list[float]]:
    """Waits in ms for the picture after each key, and what an edit's answer and a cold frame take by themselves."""
    page.locator("[data-clip=c0]").click()
    # The rows of a title: the clip, its times, its words.
    page.locator(".steps .names").nth(2).click()
    page.locator(".settings [data-test=words]").first.click()
    page.wait_for_timeout(1500)
    page.evaluate(_TYPED)
    width, height = page.evaluate("() => { const c = document.querySelector('canvas'); return [c.width, c.height]; }")
    frame = int(page.locator("canvas").get_attribute("data-frame"))
    parts = []
    for number, key in enumerate(_KEYS):
        page.keyboard.type(key)
        page.wait_for_function(f"() => window.typed.length > {number}")
        page.wait_for_timeout(120)
        parts.append(sum(page.evaluate(_PARTS, [film, _KEYS[: number + 1], frame, width, height])))
        page.wait_for_timeout(60)
    # The first few wait for what is made once.
    return page.evaluate("() => window.typed")[5:], parts[5:]


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
            growing = {"state": "moving", "keys": [{"at": 0, "value": 60}, {"at": 30, "value": 90}]}
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
                        "content": {"kind": "text", "text": f"Title {n}", **({"size": growing} if n == 0 else {})},
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
                page.keyboard.press("Escape")
                dragged = _dragging(page)
                copy = _post(address, f"/projects/{film['id']}/copy", {})
                waits, parts = _typing(page, copy["id"])
                browser.close()
        finally:
            server.send_signal(signal.SIGINT)
            server.wait(30)
    print(
        f"standing still p50 {p50(idle):.1f} ms p95 {p95(idle):.1f} ms; scrolled and zoomed p50 {p50(moving):.1f} "
        f"ms p95 {p95(moving):.1f} ms; a gauge dragged p50 {p50(dragged):.1f} ms p95 {p95(dragged):.1f} ms; "
        f"{drawn} clips drawn at the end"
    )
    print(
        f"a key to its picture p50 {p50(waits):.1f} ms p95 {p95(waits):.1f} ms; "
        f"an edit's answer and a cold frame by themselves p50 {p50(parts):.1f} ms"
    )
    return close(
        "desk",
        [
            ("p95 frame interval, ms", p95(moving), 34),
            ("dragging, ms", p95(dragged), 34),
            ("typing", p50(waits) / p50(parts), 2.0),
        ],
    )
