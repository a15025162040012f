"""The command line: one file for one command."""

from __future__ import annotations

import typer

from .bench import bench
from .demo import demo
from .ensembles import ensembles
from .files import load, save, schema
from .render import frame, render
from .screens import screens
from .sheet import sheet
from .start import start
from .test import test

app = typer.Typer(
    add_completion=False,
    no_args_is_help=True,
    pretty_exceptions_enable=False,
    help="Idle Comet: animated titles in a timeline.",
)
app.command()(start)
app.command(context_settings={"allow_extra_args": True, "ignore_unknown_options": True})(test)
app.command()(render)
app.command()(frame)
app.command()(bench)
app.command()(schema)
app.command()(save)
app.command()(load)
app.command()(screens)
app.command()(demo)
app.command()(sheet)
app.command()(ensembles)
