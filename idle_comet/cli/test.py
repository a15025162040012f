"""`./comet test`: set up what the tests need and run them all."""

from __future__ import annotations

import contextlib
import os
import subprocess
import sys
import tempfile

import typer

from ..setup.home import ROOT
from ..setup.packages import PAINTING, SPEAKING, PackagesMissing, ensure

_CHECKS = (
    (".", [sys.executable, "-m", "ruff", "check", "--quiet", "."]),
    (".", [sys.executable, "-m", "ruff", "format", "--quiet", "--check", "."]),
    (".", [sys.executable, "-m", "mypy"]),
    ("web", ["npm", "run", "-s", "lint"]),
    ("web", ["npm", "run", "-s", "test"]),
)
"""What is checked before a test runs: how code is written, its types, and the front end's own tests."""


def test(context: typer.Context) -> None:
    """Run the tests; further arguments go to pytest."""
    from ..setup.front_end import BuildFailed, build_front_end
    from ..setup.loops import Loops

    try:
        ensure("mariadbd", "my_print_defaults", "chromium", "ffprobe", "node", "npm", *PAINTING, *SPEAKING)
        painting = None if context.args else _paint_beside()
        loops = Loops()
        build_front_end()
    except (PackagesMissing, BuildFailed) as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(1) from None
    if context.args:
        raise typer.Exit(subprocess.call([sys.executable, "-m", "pytest", *context.args], cwd=ROOT))
    failed = [subprocess.call(check, cwd=ROOT / folder) for folder, check in _CHECKS]
    if painting is not None:
        painting.wait()
    loops.wait()
    raise typer.Exit(max(*failed, *_run_all()))


def _run_all() -> list[int]:
    """All tests. Those in a window and those that ask a server wait half of the time: they run side by side, and what
    needs neither runs wherever they leave the machine idle. What must not be kept waiting comes last, by itself."""
    workers = str(min(4, max(2, os.cpu_count() or 1)))
    pytest = [sys.executable, "-m", "pytest", "-m"]
    together = [
        [*pytest, "served", "tests/desk"],
        [*pytest, "served", "--ignore", "tests/desk"],
        ["nice", "-n", "15", *pytest, "not served and not alone", "-n", workers, "--dist", "worksteal"],
    ]
    with contextlib.ExitStack() as told:
        files = [told.enter_context(tempfile.TemporaryFile()) for _ in together]
        running = [
            subprocess.Popen(words, cwd=ROOT, stdout=file, stderr=subprocess.STDOUT)
            for words, file in zip(together, files)
        ]
        codes = [each.wait() for each in running]
        for file in files:
            file.seek(0)
            typer.echo(file.read().decode(errors="replace"))
    return [*codes, subprocess.call([*pytest, "alone"], cwd=ROOT)]


def _paint_beside() -> subprocess.Popen[bytes]:
    """Paint the demo's files, which tests lend to their servers, while the front end is built and the code is looked
    at: those keep one core busy."""
    folder = ROOT / "var" / "demo-media"
    folder.mkdir(parents=True, exist_ok=True)
    words = "import pathlib, sys; from idle_comet.demo.world import make_world; make_world(pathlib.Path(sys.argv[1]))"
    return subprocess.Popen([sys.executable, "-c", words, str(folder)], cwd=ROOT)
