"""A project as a file with its media beside it, to be opened elsewhere."""

from __future__ import annotations

import os
import shutil
from pathlib import Path

from ..core.project.file import ProjectFileError, read_project_file, write_project_file
from ..core.project.model import Project
from .probe import hash_file
from .proxying import make_proxy


def save_project(project: Project, media: Path, out: Path) -> list[str]:
    """Write the project file and its media into a folder beside it; returns the names of media that are missing."""
    beside = out.with_name(f"{out.stem} media")
    files, missing = {}, []
    for item in project.media.values():
        source = media / item.path
        if not source.exists():
            missing.append(item.name)
            continue
        beside.mkdir(parents=True, exist_ok=True)
        target = beside / item.path
        if not target.exists():
            try:
                os.link(source, target)
            except OSError:
                shutil.copyfile(source, target)
        files[item.id] = f"{beside.name}/{item.path}"
    unfinished = out.with_name(f".{out.name}.part")
    unfinished.write_text(write_project_file(project, files), encoding="utf-8")
    os.replace(unfinished, out)
    return missing


def open_project(file: Path) -> tuple[Project, dict[str, Path]]:
    """The project of a file and where its media lie; raises ProjectFileError for wrong or changed media."""
    try:
        text = file.read_text(encoding="utf-8")
    except UnicodeDecodeError:
        raise ProjectFileError(f"{file.name} is not a project file: it holds no text.") from None
    project, files = read_project_file(text)
    places = {}
    for item in project.media.values():
        path = file.parent / files.get(item.id, "")
        if not path.is_file():
            raise ProjectFileError(f"The media file of “{item.name}” is missing ({files.get(item.id) or 'no path is given'}). Put it back beside the project file.")
        if hash_file(path) != item.hash:
            raise ProjectFileError(f"The media file of “{item.name}” has changed since the project was saved. Put the right one back.")
        places[item.id] = path
    return project, places


def take_media(project: Project, places: dict[str, Path], media: Path) -> None:
    """Copy a project's media into a media folder, where they are not there yet."""
    for id, path in places.items():
        item = project.media[id]
        target = media / item.path
        if not target.exists():
            shutil.copyfile(path, target.with_name(f".{target.name}.part"))
            os.replace(target.with_name(f".{target.name}.part"), target)
        if item.kind == "video":
            make_proxy(target)
