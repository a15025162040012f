"""The recipe file: an open, versioned JSON format (docs/project-file.md)."""

from __future__ import annotations

import json
from typing import Any

from pydantic import BaseModel, ValidationError

from ..project.upgrade import upgraded_recipe
from .model import Recipe

FORMAT, VERSION = "idle-comet-recipe", 1


class RecipeError(ValueError):
    """A file that is no recipe, or one that can't be read here; the message says why."""


def write_recipe(recipe: Recipe) -> str:
    """The file's text; two saves of one recipe are the same bytes."""
    document = {"format": FORMAT, "version": VERSION, **_short(recipe)}
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
    try:
        raw: Any = json.loads(text)
    except json.JSONDecodeError as error:
        raise RecipeError(f"This is no recipe file: no JSON at line {error.lineno}, column {error.colno}.") from None
    if not isinstance(raw, dict) or raw.get("format") != FORMAT:
        raise RecipeError("This is no recipe file of Idle Comet (its “format” says something else).")
    if raw.get("version") != VERSION:
        raise RecipeError(
            f"This recipe has version {raw.get('version')}; this Idle Comet reads version {VERSION}. It was not "
            f"added; save it again from "
            "the version here, or bring this one up to date."
        )
    try:
        return Recipe.model_validate(
            upgraded_recipe({name: value for name, value in raw.items() if name not in ("format", "version")})
        )
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        raise RecipeError(f"The recipe can't be read at {where}: {first['msg']}. It was not added.") from None
