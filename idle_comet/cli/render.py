"""`./comet render` and `./comet frame`: pictures without the web server."""

from __future__ import annotations

import contextlib
import re
import sys
from pathlib import Path
from typing import Annotated, Iterator, Optional

import typer

from ..setup.home import Home

ProjectName = Annotated[str, typer.Argument(help="A project's name or id in the store.")]


class _Refused(Exception):
    """What was asked for can't be done; the message says why."""


@contextlib.contextmanager
def _saying() -> Iterator[None]:
    """Errors of the trade as one line, not a trace."""
    from ..core.clock import TimecodeError
    from ..media.probe import MediaError
    from ..setup.mariadb import DatabaseFailed
    from ..setup.packages import PackagesMissing

    try:
        yield
    except (_Refused, OSError, TimecodeError, MediaError, DatabaseFailed, PackagesMissing) as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(1) from None


@contextlib.contextmanager
def _database(home: Home):
    """The store's database: the running server's if there is one, else one of our own for the while."""
    from ..setup.home import HomeBusy
    from ..setup.mariadb import Address, MariaDB
    from ..setup.packages import ensure
    from ..store.database import Database

    ensure("mariadbd", "my_print_defaults")
    try:
        lock = home.make().lock()
    except HomeBusy:
        port = int((home.database / "port").read_text())
        yield Database(Address(port, (home.database / "password").read_text()).connect)
        return
    server = MariaDB(home.database).start()
    try:
        database = Database(server.address.connect)
        database.migrate()
        yield database
    finally:
        server.stop()
        lock.close()


def _load(home: Home, named: str):
    from ..store.projects import ProjectStore, UnknownProject

    with _database(home) as database:
        store = ProjectStore(database)
        try:
            return store.load(named).project
        except UnknownProject:
            rows = store.list()
            found = [row["id"] for row in rows if row["name"] == named]
            if len(found) == 1:
                return store.load(found[0]).project
            names = ", ".join(f"“{row['name']}” ({row['id']})" for row in rows) or "none yet"
            what = "more than one project" if found else "no project"
            raise _Refused(f"There is {what} called “{named}”. The store holds: {names}.") from None
        finally:
            database.close()


def _size(project, size: str | None) -> tuple[int, int]:
    if size is None:
        return project.settings.width, project.settings.height
    match = re.fullmatch(r"(\d{2,4})[x×](\d{2,4})", size)
    if not match:
        raise _Refused(f"“{size}” is not a size; write it as 640x360.")
    return int(match[1]), int(match[2])


def _sources(home: Home, project):
    from ..media.decode import ShotSources

    return ShotSources(lambda media: home.media / project.media[media].path)


def render(
    project: ProjectName,
    out: Annotated[Path, typer.Option(help="The MP4 to write.")],
    range: Annotated[Optional[str], typer.Option(help="First and last frame as A:B; frames, or times such as 1s:3s.")] = None,
    size: Annotated[Optional[str], typer.Option(help="Another size, such as 640x360.")] = None,
    quality: Annotated[int, typer.Option(min=0, max=40, help="The encoder's crf; smaller is better.")] = 16,
) -> None:
    """Render a film, or a range of it, to an MP4."""
    from ..core.clock import parse_time
    from ..core.compose.evaluate import film_length
    from ..media.film import render_film

    with _saying():
        home = Home.find()
        film = _load(home, project)
        length = film_length(film)
        first, last = 0, length - 1
        if range is not None:
            ends = range.split(":")
            if len(ends) != 2:
                raise _Refused(f"“{range}” is not a range; write it as A:B, such as 25:74 or 1s:3s.")
            first, last = (parse_time(end, film.settings.rate) for end in ends)
        last = min(last, length - 1)
        if not 0 <= first <= last:
            raise _Refused(f"There are no frames {first} to {last} in this film of {length} frames.")
        if not out.parent.is_dir():
            raise _Refused(f"The folder {out.parent} does not exist; nothing was rendered.")
        width, height = _size(film, size)
        total = last - first + 1

        def progress(done: int) -> None:
            if sys.stderr.isatty():
                print(f"\r{done} of {total} frames", end="", file=sys.stderr, flush=True)
        render_film(film, _sources(home, film), out, first, total, width, height, quality, progress=progress)
        typer.echo(f"{out}: {total} frames, {width}×{height}, {film.settings.rate} per second")


def frame(
    project: ProjectName,
    at: Annotated[str, typer.Option(help="The frame: a number, a time such as 3s, or a timecode.")],
    out: Annotated[Path, typer.Option(help="The PNG to write.")],
    size: Annotated[Optional[str], typer.Option(help="Another size, such as 640x360.")] = None,
) -> None:
    """Paint one frame to a PNG."""
    from ..core.clock import parse_time
    from ..core.compose import Painter
    from ..core.compose.evaluate import film_length
    from ..media.film import paint_frame
    from ..media.still import write_png

    with _saying():
        home = Home.find()
        film = _load(home, project)
        number, length = parse_time(at, film.settings.rate), film_length(film)
        if not 0 <= number < length:
            raise _Refused(f"There is no frame {number} in this film of {length} frames.")
        width, height = _size(film, size)
        write_png(out, paint_frame(Painter(_sources(home, film)), film, number, width, height))
        typer.echo(f"{out}: frame {number}, {width}×{height}")
