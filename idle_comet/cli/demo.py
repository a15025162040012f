"""`./comet demo`: the demo's files, painted anew."""

from __future__ import annotations

import typer


def demo() -> None:
    """Paint the demo's shots, stills and model anew, as they ship with the product."""
    from ..demo.painting import paint_files
    from ..demo.world import FILES

    paint_files()
    for file in sorted(FILES.iterdir()):
        typer.echo(f"{file.stat().st_size / 1e6:.2f} MB  {file.name}")
