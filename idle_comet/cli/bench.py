"""`./comet bench`: run the benchmarks in bench/."""

from __future__ import annotations

import importlib
import sys
from typing import Annotated, Optional

import typer

from ..setup.home import ROOT
from ..setup.packages import PAINTING, PackagesMissing, ensure


def bench(name: Annotated[Optional[str], typer.Argument(help="One benchmark; all if left out.")] = None) -> None:
    """Run benchmarks; each ends with one line, and the command fails when one falls short."""
    from ..setup.front_end import BuildFailed, build_front_end

    try:
        ensure("mariadbd", "my_print_defaults", "chromium", "node", "npm", *PAINTING)
        build_front_end()
    except (PackagesMissing, BuildFailed) as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(1) from None
    from ..media.apart import keep_memory

    # Every process that paints begins so: frames that are painted and those that are exported.
    keep_memory()
    sys.path.insert(0, str(ROOT))
    names = sorted(file.stem for file in (ROOT / "bench").glob("*.py") if file.stem not in ("__init__", "common"))
    if name is not None and name not in names:
        typer.echo(f"There is no benchmark “{name}”; there are {', '.join(names)}.", err=True)
        raise typer.Exit(1)
    held = [importlib.import_module(f"bench.{each}").run() for each in ([name] if name else names)]
    raise typer.Exit(0 if all(held) else 1)
