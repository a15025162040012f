"""A project as a file with its media beside it, to be opened elsewhere."""

from __future__ import annotations

import os
import shutil
import uuid
from pathlib import Path

from ..core.checks.noticed import noticed
from ..core.project.file import ProjectFileError, read_project_file, write_project_file
from ..core.project.model import Media, Project
from ..disk import put, sync
from .probe import hash_file
from .proxying import make_proxy
from .sounding import read_sound, samples_of


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
                sync(target)
        files[item.id] = f"{beside.name}/{item.path}"
    unfinished = out.with_name(f".{out.name}.part")
    unfinished.write_text(write_project_file(project, files), encoding="utf-8")
    put(unfinished, out)
    return missing


def open_project(file: Path) -> tuple[Project, dict[str, Path], list[str]]:
    """The project of a file, where its media lie, and what of it can't be done as it says, in sentences.

    Raises ProjectFileError for what is no project file, and for media that have changed.
    """
    try:
        text = file.read_text(encoding="utf-8")
    except UnicodeDecodeError:
        raise ProjectFileError(f"{file.name} is not a project file: it holds no text.") from None
    project, files = read_project_file(text)
    places, said = {}, noticed(project)
    for item in project.media.values():
        path = file.parent / files.get(item.id, "")
        if not path.is_file():
            said.append(
                f"The media file of “{item.name}” is missing ({files.get(item.id) or 'no path is given'}); it is "
                f"shown as missing. Put it back beside the project file."
            )
            continue
        if hash_file(path) != item.hash:
            raise ProjectFileError(
                f"The media file of “{item.name}” has changed since the project was saved. Put the right one back."
            )
        places[item.id] = path
    return project, places, said


def take_media(project: Project, places: dict[str, Path], media: Path) -> Project:
    """Copy a project's media into a media folder, where they are not there yet; the project with each under its
    content's name."""
    # Whatever a stranger's file calls its media, here they are called by what they hold.
    named = {
        id: item.model_copy(update={"path": item.hash + "".join(Path(item.path).suffixes)})
        for id, item in project.media.items()
    }
    project = project.model_copy(update={"media": named})
    for id, path in places.items():
        item = project.media[id]
        target = media / item.path
        if not target.exists():
            unfinished = target.with_name(f".{uuid.uuid4().hex}.part")
            shutil.copyfile(path, unfinished)
            put(unfinished, target)
        if item.kind == "video":
            make_proxy(target)
        if item.sound is not None and samples_of(target) is None:
            read_sound(target)
    return project


def missing_files(project: Project, media: Path) -> list[str]:
    """Media of the film whose file is not in a media folder, or is not as long as it was, a sentence each."""
    said = []
    for item in project.media.values():
        path = media / item.path
        if not path.is_file():
            said.append(
                f"The media file of “{item.name}” is missing; it is shown as missing. Add the file again, or put it "
                f"back."
            )
        elif (size := path.stat().st_size) != item.size and (item.size is not None or not size):
            said.append(damaged(item))
    return said


def damaged(item: Media) -> str:
    """What is said of a file that no longer holds what was added."""
    return f"The media file of “{item.name}” is damaged. Add the same file again, and it is mended in all its places."
