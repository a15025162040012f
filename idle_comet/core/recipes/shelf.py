"""The recipes that ship with the product."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from .ensemble import ENSEMBLE_SORTS, Ensemble
from .file import read_ensemble, read_recipe
from .model import SORTS, Recipe


@lru_cache(maxsize=1)
def shipped_recipes() -> dict[str, Recipe]:
    """By id, sorted as they are shown: by what they are for, then by name."""
    found = [read_recipe(file.read_text()) for file in (Path(__file__).parent / "shipped").glob("*.json")]
    return {each.id: each for each in sorted(found, key=lambda each: (SORTS.index(each.sort), each.name))}


@lru_cache(maxsize=1)
def shipped_ensembles() -> dict[str, Ensemble]:
    """By id, sorted as they are shown: by what they are for, then by name."""
    found = [read_ensemble(file.read_text())[0] for file in (Path(__file__).parent / "ensembles").glob("*.json")]
    return {each.id: each for each in sorted(found, key=lambda each: (ENSEMBLE_SORTS.index(each.sort), each.name))}
