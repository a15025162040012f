"""Memory of the server and its painters while long words are typed and frames asked for: it must level off."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import tempfile
import urllib.request
from pathlib import Path

from idle_comet.setup.home import ROOT

from .common import close

_EDITS = 360
_WORDS = "The heath lies still and the hives are full. " * 60


def _ask(address: str, path: str, body: dict | None = None) -> bytes:
    request = urllib.request.Request(
        f"{address}/api{path}",
        json.dumps(body).encode() if body is not None else None,
        {"content-type": "application/json"},
    )
    with urllib.request.urlopen(request, timeout=60) as answer:
        return answer.read()


def _resident(pid: int) -> int:
    """Bytes that a process and all under it hold (shared pages counted once each)."""
    children = subprocess.run(["ps", "-o", "pid=", "--ppid", str(pid)], capture_output=True, text=True).stdout.split()
    held = 0
    for line in Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines():
        if line.startswith("Pss:"):
            held = int(line.split()[1]) << 10
    # The database is not ours to count.
    return held + sum(
        _resident(int(child)) for child in children if b"mariadbd" not in Path(f"/proc/{child}/cmdline").read_bytes()
    )


def run() -> bool:
    with tempfile.TemporaryDirectory() as place:
        environment = {**os.environ, "IDLE_COMET_HOME": place}
        server = subprocess.Popen(
            [sys.executable, "-m", "idle_comet", "start"], cwd=ROOT, env=environment, stdout=subprocess.PIPE, text=True
        )
        try:
            address = next(
                line.split(": ", 1)[1].strip() for line in server.stdout if line.startswith("Idle Comet is ready")
            )
            revision = json.loads(_ask(address, "/projects/slow-harvest"))["revision"]
            held = []
            for number in range(_EDITS):
                edit = (
                    {"kind": "change_text", "clip": "title", "text": f"{_WORDS}{number}"}
                    if number % 3
                    else {
                        "kind": "set_value",
                        "clip": "title",
                        "step": "content",
                        "name": "size",
                        "value": 8 + number % 5,
                    }
                )
                revision = json.loads(
                    _ask(address, "/projects/slow-harvest/edits", {"revision": revision, "edit": edit})
                )["revision"]
                _ask(address, f"/projects/slow-harvest/frame?at={60 + number % 90}&width=640&height=360&exact=false")
                if number % 40 == 39:
                    held.append(_resident(server.pid))
                    print(f"after {number + 1} edits {held[-1] >> 20} MB")
        finally:
            server.send_signal(signal.SIGINT)
            server.wait(30)
    half = len(held) // 2
    return close(
        "memory",
        [
            ("last against half-way", max(held[-2:]) / max(held[: half + 1]), 1.12),
            ("GB in all", held[-1] / (1 << 30), 1.0),
        ],
    )
