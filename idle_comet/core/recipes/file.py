"""The recipe file: an open, versioned JSON format (docs/project-file.md)."""

from __future__ import annotations

import json
from typing import Any, Callable, TypeVar

from pydantic import BaseModel, ValidationError

from ..project.upgrade import upgraded_document, upgraded_recipe
from ..project.validity import Invalid, check_whole
from .ensemble import Ensemble
from .model import Recipe

FORMAT, VERSION = "idle-comet-recipe", 1
ENSEMBLE_FORMAT = "idle-comet-ensemble"

R = TypeVar("R", bound=BaseModel)


class RecipeError(ValueError):
    """A file that is no recipe, or one that can't be read here; the message says why."""


def write_recipe(recipe: Recipe) -> str:
    """The file's text; two saves of one recipe are the same bytes."""
    return _written({"format": FORMAT, "version": VERSION, **_short(recipe)})


def write_ensemble(ensemble: Ensemble, files: dict[str, str] | None = None) -> str:
    """The file's text; `files` are the media it uses, by the names of their files, as base64."""
    carried = {"files": files} if files else {}
    return _written({"format": ENSEMBLE_FORMAT, "version": VERSION, **_short(ensemble), **carried})


def _written(document: dict[str, Any]) -> str:
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


def _short(value: Any) -> Any:
    """What is as it is by default is left out, but for what tells one kind of thing from another."""
    if isinstance(value, BaseModel):
        fields = type(value).model_fields
        return {
            name: _short(part)
            for name in fields
            if (part := getattr(value, name)) != fields[name].default or name in ("kind", "state")
        }
    if isinstance(value, dict):
        return {name: _short(part) for name, part in value.items()}
    return [_short(part) for part in value] if isinstance(value, (tuple, list)) else value


def read_recipe(text: str) -> Recipe:
    """Raises RecipeError."""
    return _read(upgraded_recipe, Recipe, _opened(text, FORMAT))


def read_ensemble(text: str) -> tuple[Ensemble, dict[str, str]]:
    """The ensemble, and what media it brings along, as base64 by the names of their files. Raises RecipeError."""
    raw = _opened(text, ENSEMBLE_FORMAT)
    files = raw.pop("files", {})
    if not isinstance(files, dict) or not all(isinstance(each, str) for each in files.values()):
        raise RecipeError("The recipe can't be read at files: they are no texts by name. It was not added.")
    made = _read(_upgraded_ensemble, Ensemble, raw)
    try:
        check_whole(made.film)
    except Invalid as error:
        raise RecipeError(f"The recipe can't be used: {error}. It was not added.") from None
    if not made.length:
        raise RecipeError("The recipe holds no clips. It was not added.")
    if made.head + made.tail > made.length:
        raise RecipeError(
            f"The recipe says that its first {made.head} and its last {made.tail} frames never change, and is only "
            f"{made.length} long. It was not added."
        )
    return made, files


def is_ensemble(text: str) -> bool:
    """Whether a file says of itself that it holds several clips."""
    return f'"{ENSEMBLE_FORMAT}"' in text[:400]


def _upgraded_ensemble(raw: dict[str, Any]) -> dict[str, Any]:
    film = raw.get("film")
    return {**raw, "film": upgraded_document(film)} if isinstance(film, dict) else raw


def _opened(text: str, format: str) -> dict[str, Any]:
    try:
        raw: Any = json.loads(text)
    except json.JSONDecodeError as error:
        raise RecipeError(f"This is no recipe file: no JSON at line {error.lineno}, column {error.colno}.") from None
    except (RecursionError, ValueError):
        raise RecipeError("This is no recipe file: its brackets or its numbers go on without end.") from None
    if not isinstance(raw, dict) or raw.get("format") != format:
        raise RecipeError("This is no recipe file of Idle Comet (its “format” says something else).")
    if raw.get("version") != VERSION:
        raise RecipeError(
            f"This recipe has version {raw.get('version')}; this Idle Comet reads version {VERSION}. It was not "
            f"added; save it again from "
            "the version here, or bring this one up to date."
        )
    return {name: value for name, value in raw.items() if name not in ("format", "version")}


def _read(upgrade: Callable[[dict[str, Any]], dict[str, Any]], model: type[R], raw: dict[str, Any]) -> R:
    try:
        return model.model_validate(upgrade(raw))
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        raise RecipeError(f"The recipe can't be read at {where}: {first['msg']}. It was not added.") from None
