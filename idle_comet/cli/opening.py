"""Opening a project by name, by id or by file, with or without a running server."""

from __future__ import annotations

import contextlib
from pathlib import Path
from typing import Iterator

import typer

from ..setup.home import Home


class Refused(Exception):
    """What was asked for can't be done; the message says why."""


@contextlib.contextmanager
def saying() -> Iterator[None]:
    """Errors of the trade as one line, not a trace."""
    from ..core.clock import TimecodeError
    from ..core.project.file import ProjectFileError
    from ..media.probe import MediaError
    from ..setup.mariadb import DatabaseFailed
    from ..setup.packages import PackagesMissing

    try:
        yield
    except (Refused, TimecodeError, ProjectFileError, MediaError, DatabaseFailed, PackagesMissing) as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(1) from None
    except OSError as error:
        place = f" ({error.filename})" if error.filename else ""
        typer.echo(
            f"This can't be done here: {(error.strerror or str(error)).lower()}{place}. Nothing else was changed.",
            err=True,
        )
        raise typer.Exit(1) from None


@contextlib.contextmanager
def open_database(home: Home):
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


def say(sentences: list[str]) -> None:
    """What an editor should know, beside what was asked for."""
    for sentence in sentences:
        typer.echo(sentence, err=True)


def load_from_store(home: Home, named: str):
    from ..store.projects import ProjectStore, UnknownProject

    with open_database(home) as database:
        store = ProjectStore(database)
        try:
            return store.load(named).project
        except UnknownProject:
            rows = store.listed()
            found = [row["id"] for row in rows if row["name"] == named]
            if len(found) == 1:
                return store.load(found[0]).project
            names = ", ".join(f"“{row['name']}” ({row['id']})" for row in rows) or "none yet"
            what = "more than one project" if found else "no project"
            raise Refused(f"There is {what} called “{named}”. The store holds: {names}.") from None
        finally:
            database.close()


def open_film(named: str):
    """The project and its sources: from a project file (no database is needed), or from the store."""
    from ..setup.packages import PAINTING, ensure

    ensure(*PAINTING)
    from ..core.checks.noticed import noticed
    from ..media.decode import ShotSources
    from ..media.faces import use_faces
    from ..media.package import missing_files, open_project

    file = Path(named)
    if file.suffix == ".json" or file.is_file():
        if not file.is_file():
            raise Refused(f"There is no project file {named}.")
        project, places, said = open_project(file)
        say(said)
        return project, ShotSources(lambda media: places[media])
    home = Home.find()
    use_faces(home.media)
    project = load_from_store(home, named)
    say([*noticed(project), *missing_files(project, home.media)])
    return project, ShotSources(lambda media: home.media / project.media[media].path)
