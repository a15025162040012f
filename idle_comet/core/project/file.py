"""The project file: an open, versioned JSON format (docs/project-file.md)."""

from __future__ import annotations

import json
from pathlib import PurePosixPath
from typing import Any, Iterable, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from ..contents import CONTENT_PARAMETERS
from ..modelled import Model
from ..patterns import PATTERNS
from ..steps import KINDS, Parameter
from .model import Project
from .upgrade import upgraded_document
from .validity import Invalid, check_whole

FORMAT, VERSION = "idle-comet-project", 1


class ProjectFileError(ValueError):
    """A file that is not a project file, or not one that can be read; the message says where."""


class ProjectFile(Model):
    """What stands in the file. Media paths in `files` are relative to the file's own folder."""

    model_config = ConfigDict(extra="forbid")

    format: Literal["idle-comet-project"]
    version: Literal[1]
    files: dict[str, str] = Field(default={}, description="Media id to the path of its file, relative to this file.")
    project: Project


def write_project_file(project: Project, files: dict[str, str]) -> str:
    """The file's text: stable, so that two saves of one state are the same bytes."""
    document = ProjectFile(format="idle-comet-project", version=1, files=files, project=project)
    return json.dumps(document.model_dump(mode="json"), indent=2, sort_keys=True, ensure_ascii=False) + "\n"


def read_project_file(text: str) -> tuple[Project, dict[str, str]]:
    """The document and where its media lie; raises ProjectFileError."""
    try:
        raw: Any = json.loads(text)
    except json.JSONDecodeError as error:
        raise ProjectFileError(
            f"This is not a project file: no JSON at line {error.lineno}, column {error.colno}."
        ) from None
    except (RecursionError, ValueError):
        # Brackets without end, or numbers of more digits than anything means.
        raise ProjectFileError("This is not a project file: its brackets or its numbers go on without end.") from None
    if not isinstance(raw, dict) or raw.get("format") != FORMAT:
        raise ProjectFileError("This is not a project file of Idle Comet (its “format” says something else).")
    if raw.get("version") != VERSION:
        raise ProjectFileError(
            f"This project file has version {raw.get('version')}; this Idle Comet reads version {VERSION}."
        )
    try:
        if isinstance(raw.get("project"), dict):
            raw = {**raw, "project": upgraded_document(raw["project"])}
        document = ProjectFile.model_validate(raw)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        raise ProjectFileError(
            f"The project file can't be read at {where}: {first['msg']}. Nothing was loaded."
        ) from None
    for media, path in document.files.items():
        parts = PurePosixPath(path)
        if parts.is_absolute() or ".." in parts.parts:
            raise ProjectFileError(
                f"The file of “{media}” lies outside the project's folder ({path}); nothing was loaded."
            )
    _check(document.project)
    return document.project, document.files


def _check(project: Project) -> None:
    """What the schema alone can't say: names that lead somewhere, clips that do not overlap."""
    try:
        check_whole(project)
    except Invalid as error:
        raise ProjectFileError(f"{error}; nothing was loaded.") from None


def schema() -> dict[str, Any]:
    """The JSON Schema of the file; under `x-steps` every step kind with its values and choices, under `x-content` those
    of contents."""

    def values(parameters: Iterable[Parameter]) -> dict[str, Any]:
        return {
            each.name: {
                "label": each.label,
                "sort": each.sort,
                "unit": each.unit,
                "default": each.default.model_dump(mode="json")
                if isinstance(each.default, BaseModel)
                else each.default,
                "moves": each.may_move,
                **({"least": each.least, "most": each.most} if each.sort in ("number", "point") else {}),
                "shown times": each.shown_times,
            }
            for each in parameters
        }

    made = ProjectFile.model_json_schema()
    made["x-steps"] = {
        kind.kind: {
            "label": kind.label,
            "for words only": kind.text_only,
            "takes": kind.takes,
            "values": values(kind.parameters),
            "choices": {each.name: {"label": each.label, "options": list(each.options)} for each in kind.choices},
        }
        for kind in KINDS.values()
    }
    made["x-content"] = {kind: values(parameters) for kind, parameters in CONTENT_PARAMETERS.items()}
    made["x-patterns"] = {
        each.kind: {
            "label": each.label,
            "values": values(each.parameters),
            "choices": {one.name: {"label": one.label, "options": list(one.options)} for one in each.choices},
        }
        for each in PATTERNS.values()
    }
    return made
