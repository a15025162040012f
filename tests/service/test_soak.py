"""Mixed use for as long as `COMET_SOAK` says, in seconds: what each process holds in memory does not grow.

COMET_SOAK=600 ./comet test tests/service/test_soak.py -s
"""

import os
import random
import statistics
import time
from collections import defaultdict
from pathlib import Path

import pytest

from tests.service.test_durability import mortal
from tests.service.test_every_fault import png

SECONDS = float(os.environ.get("COMET_SOAK", "0"))
__all__ = ["mortal"]


def memory(home):
    """Bytes each process that works for a home holds for itself (its proportional share), by its number and name."""
    for place in Path("/proc").glob("[0-9]*"):
        try:
            if f"IDLE_COMET_HOME={home}".encode() in (place / "environ").read_bytes().split(b"\0"):
                pss = next(
                    line for line in (place / "smaps_rollup").read_text().splitlines() if line.startswith("Pss:")
                )
                yield (int(place.name), (place / "comm").read_text().strip()), int(pss.split()[1]) << 10
        except (OSError, StopIteration):
            continue


class Editor:
    """Somebody who works on a film of their own, and now and then begins another."""

    def __init__(self, server):
        self.server, self.dice = server, random.Random(7)
        self.begin()

    def begin(self):
        self.film = self.server.api("POST", "/projects", json={"name": "Soak"}).json()["id"]
        self.edit(kind="add_title", clip="title", frame=0, text="SWARM")

    def edit(self, **edit):
        revision = self.ask("GET", "").json()["revision"]
        return self.ask("POST", "/edits", json={"revision": revision, "edit": edit})

    def ask(self, method, path, **more):
        answer = self.server.api(method, f"/projects/{self.film}{path}", **more)
        assert answer.status_code < 500, answer.text
        return answer

    def do(self, number):
        place = {"clip": "title", "step": "placement"}
        self.edit(kind="change_text", clip="title", text=f"SWARM {number % 97}")
        self.edit(kind="set_value", **place, name="x", value=number % 40, frame=number % 50)
        self.ask("GET", "/frame", params={"at": number % 90, "quality": 70})
        self.server.api("GET", "/projects/slow-harvest/frame", params={"at": number % 200, "quality": 70})
        if number % 5 == 0:
            self.ask("POST", "/undo", json={"revision": self.ask("GET", "").json()["revision"]})
        if number % 10 == 3:
            picture = png(self.dice.randrange(256))
            self.ask("POST", "/media", files=[("files", (f"p{number}.png", picture))])
        if number % 25 == 11:
            self.server.api("GET", "/projects/slow-harvest/film.wav")
        if number % 40 == 21:
            self.ask("POST", "/exports", json={"first": 0, "last": 20, "width": 320, "height": 180})
        if number % 60 == 59:
            self.ask("DELETE", "")
            self.begin()


@pytest.mark.skipif(not SECONDS, reason="takes as long as COMET_SOAK says")
def test_no_process_grows_with_use(mortal):
    editor, curves = Editor(mortal), defaultdict(list)
    began, number, looked = time.monotonic(), 0, 0.0
    while (now := time.monotonic() - began) < SECONDS:
        editor.do(number)
        number += 1
        if now - looked > SECONDS / 120:
            looked = now
            for process, held in memory(mortal.home):
                curves[process].append((now, held))
    grown = []
    for (pid, name), curve in sorted(curves.items()):
        middle = [held for at, held in curve if SECONDS / 3 < at < SECONDS * 2 / 3]
        last = [held for at, held in curve if at > SECONDS * 2 / 3]
        if len(middle) > 20 and len(last) > 20:
            before, after = statistics.median(middle), statistics.median(last)
            print(f"{name} {pid}: {before / 2**20:.0f} MB, then {after / 2**20:.0f} MB ({after / before - 1:+.1%})")
            if after > before * 1.05:
                grown.append((name, pid, before, after))
    print(f"{number} rounds")
    assert len(curves) >= 3 and not grown
