"""`./comet test`: set up what the tests need and run them all."""

from __future__ import annotations

import os
import subprocess
import sys

import typer

from ..setup.home import ROOT
from ..setup.packages import PAINTING, PackagesMissing, ensure


def test(context: typer.Context) -> None:
    """Run the tests; further arguments go to pytest."""
    from ..setup.front_end import BuildFailed, build_front_end

    try:
        ensure("mariadbd", "my_print_defaults", "chromium", "ffprobe", "node", "npm", *PAINTING)
        build_front_end()
    except (PackagesMissing, BuildFailed) as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(1) from None
    # All of them run side by side, file by file; what is asked for alone runs alone.
    beside = [] if context.args else ["-n", str(min(4, max(2, os.cpu_count() or 1))), "--dist", "loadfile"]
    if beside:
        # Painted once, before two runners want it at the same time.
        subprocess.run([sys.executable, "-m", "idle_comet.demo.world", str(ROOT / "var" / "demo-media")], cwd=ROOT, check=True)
    raise typer.Exit(subprocess.call([sys.executable, "-m", "pytest", *beside, *context.args], cwd=ROOT))
