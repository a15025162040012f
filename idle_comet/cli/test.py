"""`./comet test`: set up what the tests need and run them all."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import threading
from typing import Callable

import typer

from ..setup.home import ROOT
from ..setup.packages import TESTING, PackagesMissing, ensure

_CHECKS = (
    (".", [sys.executable, "-m", "ruff", "check", "--quiet", "."]),
    (".", [sys.executable, "-m", "ruff", "format", "--quiet", "--check", "."]),
    (".", [sys.executable, "-m", "mypy"]),
    ("web", ["npm", "run", "-s", "check"]),
    ("web", ["npm", "run", "-s", "lint"]),
    ("web", ["npm", "run", "-s", "test"]),
)
"""What is checked before a test runs: how code is written, its types, and the front end's own tests."""


_PYTEST = [sys.executable, "-m", "pytest"]


class _Lane:
    """Tests that go on in a process of their own, beside others; what they say is told when they are done."""

    def __init__(self, words: list[str], first: Callable[[], None] = lambda: None) -> None:
        """They begin when `first` returns."""
        self._words, self._first = words, first
        self._said = tempfile.TemporaryFile()
        self._process: subprocess.Popen[bytes] | None = None
        self._stopped = threading.Event()
        self._thread = threading.Thread(target=self._run, daemon=True)
        self._thread.start()

    def _run(self) -> None:
        self._first()
        if not self._stopped.is_set():
            self._process = subprocess.Popen(self._words, cwd=ROOT, stdout=self._said, stderr=subprocess.STDOUT)
            self._process.wait()

    def wait(self) -> int:
        """Until they are done; 0 if all of them passed."""
        self._thread.join()
        self._said.seek(0)
        typer.echo(self._said.read().decode(errors="replace"))
        return 1 if self._process is None else self._process.returncode

    def stop(self) -> None:
        self._stopped.set()
        if self._process is not None:
            self._process.terminate()


def test(context: typer.Context) -> None:
    """Run the tests; further arguments go to pytest."""
    from ..setup.front_end import BuildFailed, build_front_end
    from ..setup.loops import Loops

    rest: _Lane | None = None
    try:
        ensure(*TESTING)
        painting = None if context.args else _paint_beside()
        loops = Loops()
        if not context.args:
            rest = _without_servers(loops.wait)
        build_front_end()
    except (PackagesMissing, BuildFailed) as error:
        if rest is not None:
            rest.stop()
        typer.echo(str(error), err=True)
        raise typer.Exit(1) from None
    if rest is None or painting is None:
        raise typer.Exit(subprocess.call([*_PYTEST, *context.args], cwd=ROOT))
    failed = [subprocess.call(check, cwd=ROOT / folder) for folder, check in _CHECKS]
    painting.wait()
    loops.wait()
    raise typer.Exit(max(*failed, *_with_servers(), rest.wait()))


def _without_servers(loops_are_ready: Callable[[], None]) -> _Lane:
    """Tests that ask no server and open no window run wherever the others leave the machine idle, from when loops are
    compiled on: while the front end is built and looked at, too."""
    workers = str(min(4, max(2, os.cpu_count() or 1)))
    choice = ["-m", "not served and not alone", "-n", workers, "--dist", "worksteal"]
    return _Lane(["nice", "-n", "15", *_PYTEST, *choice], loops_are_ready)


def _with_servers() -> list[int]:
    """Tests in a window and those that ask a server wait half of the time: they run side by side. What must not be kept
    waiting comes last."""
    lanes = [_Lane([*_PYTEST, "-m", "served", *which]) for which in (["tests/desk"], ["--ignore", "tests/desk"])]
    return [*(each.wait() for each in lanes), subprocess.call([*_PYTEST, "-m", "alone"], cwd=ROOT)]


def _paint_beside() -> subprocess.Popen[bytes]:
    """Lay out the demo's files, which tests lend to their servers, while the front end is built and the code is looked
    at: those keep one core busy."""
    folder = ROOT / "var" / "demo-media"
    folder.mkdir(parents=True, exist_ok=True)
    words = "import pathlib, sys; from idle_comet.demo.world import make_world; make_world(pathlib.Path(sys.argv[1]))"
    return subprocess.Popen([sys.executable, "-c", words, str(folder)], cwd=ROOT)
