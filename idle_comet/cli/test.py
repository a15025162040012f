"""`./comet test`: set up what the tests need and run them all."""

from __future__ import annotations

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
    raise typer.Exit(subprocess.call([sys.executable, "-m", "pytest", *context.args], cwd=ROOT))
