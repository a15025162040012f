"""`./comet schema`, `save` and `load`: projects as files."""

from __future__ import annotations

import json
import re
import uuid
from pathlib import Path
from typing import Annotated

import typer

from ..setup.home import Home
from .opening import Refused, load_from_store, open_database, say, saying


def schema() -> None:
    """Print the JSON Schema of the project file, with every step kind and what can be set of it."""
    from ..core.project.file import schema as described

    typer.echo(json.dumps(described(), indent=2, ensure_ascii=False))


def save(
    project: Annotated[str, typer.Argument(help="A project's name or id in the store.")],
    out: Annotated[Path, typer.Option(help="The project file to write; its media go into a folder beside it.")],
) -> None:
    """Save a project and its media as files."""
    from ..media.package import save_project

    with saying():
        if not out.parent.is_dir():
            raise Refused(f"The folder {out.parent} does not exist; nothing was saved.")
        home = Home.find()
        missing = save_project(load_from_store(home, project), home.media, out)
        for name in missing:
            typer.echo(f"The file of “{name}” is missing from the store; the project was saved without it.", err=True)
        typer.echo(str(out))


def load(file: Annotated[Path, typer.Argument(help="A project file.")]) -> None:
    """Load a project file into the store as a new project."""
    from ..media.package import open_project, take_media
    from ..store.projects import ProjectStore

    with saying():
        home = Home.find().make()
        project, places, said = open_project(file)
        say(said)
        project = take_media(project, places, home.media)
        id = re.sub(r"[^a-z0-9]+", "-", project.settings.name.lower()).strip("-")[:40] or "project"
        with open_database(home) as database:
            store = ProjectStore(database)
            if any(row["id"] == id for row in store.listed(with_deleted=True)):
                id = f"{id}-{uuid.uuid4().hex[:6]}"
            store.create(id, project)
            database.close()
        typer.echo(f"{project.settings.name}: loaded as {id}")
