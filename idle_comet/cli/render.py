"""`./comet render` and `./comet frame`: pictures without the web server."""

from __future__ import annotations

import re
import sys
from pathlib import Path
from typing import Annotated, Optional

import typer

from .opening import Refused, open_film, saying

ProjectName = Annotated[str, typer.Argument(help="A project's name or id in the store, or the path of a project file.")]


def _size(project, size: str | None) -> tuple[int, int]:
    if size is None:
        return project.settings.width, project.settings.height
    match = re.fullmatch(r"(\d{2,4})[x×](\d{2,4})", size)
    if not match:
        raise Refused(f"“{size}” is not a size; write it as 640x360.")
    return int(match[1]), int(match[2])


def render(
    project: ProjectName,
    out: Annotated[Path, typer.Option(help="The MP4 to write.")],
    range: Annotated[
        Optional[str], typer.Option(help="First and last frame as A:B; frames, or times such as 1s:3s.")
    ] = None,
    size: Annotated[Optional[str], typer.Option(help="Another size, such as 640x360.")] = None,
    draft: Annotated[bool, typer.Option("--draft", help="Half as wide and as high, in less time.")] = False,
    quality: Annotated[int, typer.Option(min=0, max=40, help="The encoder's crf; smaller is better.")] = 16,
) -> None:
    """Render a film, or a range of it, to an MP4."""
    from ..core.clock import parse_time
    from ..core.project.timeline import film_length
    from ..media.film import Order, render_film

    with saying():
        film, sources = open_film(project)
        length = film_length(film)
        first, last = 0, length - 1
        if range is not None:
            ends = range.split(":")
            if len(ends) != 2:
                raise Refused(f"“{range}” is not a range; write it as A:B, such as 25:74 or 1s:3s.")
            first, last = (parse_time(end, film.settings.rate) for end in ends)
        last = min(last, length - 1)
        if not 0 <= first <= last:
            raise Refused(f"There are no frames {first} to {last} in this film of {length} frames.")
        if not out.parent.is_dir():
            raise Refused(f"The folder {out.parent} does not exist; nothing was rendered.")
        width, height = _size(film, size)
        total = last - first + 1

        def progress(done: int) -> None:
            if sys.stderr.isatty():
                print(f"\r{done} of {total} frames", end="", file=sys.stderr, flush=True)

        order = Order(first, total, width, height, quality)
        order = order.as_draft() if draft else order
        render_film(film, sources, out, order, progress)
        typer.echo(f"{out}: {total} frames, {order.width}×{order.height}, {film.settings.rate} per second")


def frame(
    project: ProjectName,
    at: Annotated[str, typer.Option(help="The frame: a number, a time such as 3s, or a timecode.")],
    out: Annotated[Path, typer.Option(help="The PNG to write.")],
    size: Annotated[Optional[str], typer.Option(help="Another size, such as 640x360.")] = None,
) -> None:
    """Paint one frame to a PNG."""
    from ..core.clock import parse_time
    from ..core.compose import Painter
    from ..core.project.timeline import film_length
    from ..media.film import paint_frame
    from ..media.still import write_png

    with saying():
        film, sources = open_film(project)
        number, length = parse_time(at, film.settings.rate), film_length(film)
        if not 0 <= number < length:
            raise Refused(f"There is no frame {number} in this film of {length} frames.")
        width, height = _size(film, size)
        write_png(out, paint_frame(Painter(sources), film, number, width, height))
        typer.echo(f"{out}: frame {number}, {width}×{height}")
