"""Which places of a document a change touches: what two edits made side by side are compared by.

A place is a path of names from the document down: `("clips", "title", "steps", "glow", "values", "radius", "value")`.
Items of a run that have an `id` stand in the path by it, so that a place means the same thing wherever the item stands.
"""

from __future__ import annotations

from enum import Enum
from typing import Any, Mapping

from pydantic import BaseModel

from .difference import Difference
from .model import Project

Path = tuple[str, ...]


class How(Enum):
    """What became of a place."""

    ADDED = "added"
    CHANGED = "changed"
    REMOVED = "removed"


Touched = Mapping[Path, How]

ORDER = "order of"
"""The last name of a path that stands for the order of a run, as in `("clips", "title", "steps", "order of")`."""

_SORTED = {"keys", "markers"}
"""Runs whose order follows from their items: it is no place of its own."""


def touched(before: Project, change: Difference) -> dict[Path, How]:
    """The places of `before` that a change to it touches. Only the parts that the change names are compared."""
    found: dict[Path, How] = {}
    for name in ("settings", "tracks", "marks", "range"):
        after = getattr(change, name)
        if after is not None:
            _compare((name,), getattr(before, name), after, found)
    for name, gone in (("media", change.media_gone), ("clips", change.clips_gone)):
        known: Mapping[str, BaseModel] = getattr(before, name)
        for id, part in getattr(change, name).items():
            if id in known:
                _compare((name, id), known[id], part, found)
            else:
                found[name, id] = How.ADDED
        for id in gone:
            if id in known:
                found[name, id] = How.REMOVED
    return found


def meeting(mine: Touched, theirs: Touched) -> list[Path]:
    """The places of `mine` at which it meets `theirs`.

    They meet at the same place, at one within a place that they touched, and at one that holds such a place, if it was
    there before.
    """
    holders = {path[:length] for path in theirs for length in range(1, len(path))}
    return [
        path
        for path, how in mine.items()
        if any(path[:length] in theirs for length in range(1, len(path) + 1)) or (how != How.ADDED and path in holders)
    ]


def value_at(project: Project, path: Path) -> Any:
    """What stands at a place; None where there is nothing."""
    here: Any = project
    for name in path:
        if name == ORDER:
            return tuple(each.id for each in here)
        if isinstance(here, BaseModel):
            here = getattr(here, name, None)
        elif isinstance(here, Mapping):
            here = here.get(name)
        elif isinstance(here, tuple):
            here = next((each for each in here if str(getattr(each, "id", "")) == name), None)
        else:
            return None
    return here


def _compare(path: Path, old: Any, new: Any, found: dict[Path, How]) -> None:
    if old is new or old == new:
        return
    if isinstance(old, BaseModel) and type(old) is type(new):
        for name in type(old).model_fields:
            _compare((*path, name), getattr(old, name), getattr(new, name), found)
    elif isinstance(old, Mapping) and isinstance(new, Mapping):
        _compare_named(path, old, new, found)
    elif _named(old) and _named(new) and (old or new):
        first, second = ({str(each.id): each for each in run} for run in (old, new))
        _compare_named(path, first, second, found)
        both = [id for id in first if id in second]
        if path[-1] not in _SORTED and both != [id for id in second if id in first]:
            found[(*path, ORDER)] = How.CHANGED
    else:
        found[path] = How.ADDED if old is None else How.REMOVED if new is None else How.CHANGED


def _compare_named(path: Path, old: Mapping[str, Any], new: Mapping[str, Any], found: dict[Path, How]) -> None:
    for name, value in new.items():
        if name in old:
            _compare((*path, name), old[name], value, found)
        else:
            found[(*path, name)] = How.ADDED
    for name in old:
        if name not in new:
            found[(*path, name)] = How.REMOVED


def _named(run: Any) -> bool:
    """Whether all items of a run have ids."""
    return isinstance(run, tuple) and all(isinstance(each, BaseModel) and hasattr(each, "id") for each in run)
