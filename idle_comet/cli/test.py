"""`./comet test`: set up what the tests need and run them all."""

from __future__ import annotations

import os
import subprocess
import sys

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

    try:
        ensure("mariadbd", "my_print_defaults", "chromium", "ffprobe", "node", "npm", *PAINTING, *SPEAKING)
        build_front_end()
    except (PackagesMissing, BuildFailed) as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(1) from None
    runs = [context.args]
    if not context.args:
        # What needs neither a running server nor a browser runs side by side; those have the machine to themselves.
        beside = ["-n", str(min(4, max(2, os.cpu_count() or 1))), "--dist", "worksteal"]
        runs = [["-m", "not alone", *beside], ["-m", "alone"]]
    failed = [] if context.args else [subprocess.call(check, cwd=ROOT / folder) for folder, check in _CHECKS]
    failed += [subprocess.call([sys.executable, "-m", "pytest", *run], cwd=ROOT) for run in runs]
    raise typer.Exit(max(failed))
