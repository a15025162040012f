"""The project file: an open, versioned JSON format (docs/project-file.md)."""

from __future__ import annotations

import json
from pathlib import PurePosixPath
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from .model import Project

FORMAT, VERSION = "idle-comet-project", 1


class ProjectFileError(ValueError):
    """A file that is not a project file, or not one that can be read; the message says where."""


class ProjectFile(BaseModel):
    """What stands in the file. Media paths in `files` are relative to the file's own folder."""

    model_config = ConfigDict(extra="forbid")

    format: Literal["idle-comet-project"]
    version: Literal[1]
    files: dict[str, str] = Field(default={}, description="Media id to the path of its file, relative to this file.")
    project: Project


def write_project_file(project: Project, files: dict[str, str]) -> str:
    """The file's text: stable, so that two saves of one state are the same bytes."""
    document = ProjectFile(format=FORMAT, version=VERSION, files=files, project=project)
    return json.dumps(document.model_dump(mode="json"), indent=2, sort_keys=True, ensure_ascii=False) + "\n"


def read_project_file(text: str) -> tuple[Project, dict[str, str]]:
    """The document and where its media lie; raises ProjectFileError."""
    try:
        raw: Any = json.loads(text)
    except json.JSONDecodeError as error:
        raise ProjectFileError(f"This is not a project file: no JSON at line {error.lineno}, column {error.colno}.") from None
    if not isinstance(raw, dict) or raw.get("format") != FORMAT:
        raise ProjectFileError("This is not a project file of Idle Comet (its “format” says something else).")
    if raw.get("version") != VERSION:
        raise ProjectFileError(f"This project file has version {raw.get('version')}; this Idle Comet reads version {VERSION}.")
    try:
        document = ProjectFile.model_validate(raw)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        raise ProjectFileError(f"The project file can't be read at {where}: {first['msg']}. Nothing was loaded.") from None
    for media, path in document.files.items():
        parts = PurePosixPath(path)
        if parts.is_absolute() or ".." in parts.parts:
            raise ProjectFileError(f"The file of “{media}” lies outside the project's folder ({path}); nothing was loaded.")
    _check(document.project)
    return document.project, document.files


def _check(project: Project) -> None:
    """What the schema alone can't say: names that lead somewhere, clips that do not overlap."""
    tracks = {track.id for track in project.tracks}
    ends: dict[str, tuple[int, str]] = {}
    for key, clip in sorted(project.clips.items(), key=lambda item: item[1].head):
        if key != clip.id:
            raise ProjectFileError(f"Clip “{key}” calls itself “{clip.id}”; nothing was loaded.")
        if clip.track not in tracks:
            raise ProjectFileError(f"“{clip.name}” lies on a track that is not there ({clip.track}); nothing was loaded.")
        end, other = ends.get(clip.track, (0, ""))
        if clip.head < end:
            raise ProjectFileError(f"“{clip.name}” lies over “{other}” on one track; nothing was loaded.")
        ends[clip.track] = (clip.head + clip.length, clip.name)
