"""The editor's own recipes, and the favourites among all."""

from __future__ import annotations

import logging
from typing import Any, Callable, TypeVar

from pymysql.cursors import DictCursor

from ..core.recipes import Ensemble, Recipe, RecipeError, read_ensemble, read_recipe, write_ensemble, write_recipe
from .database import Database

_log = logging.getLogger(__name__)

T = TypeVar("T")


def _all(cursor: DictCursor, table: str) -> list[dict[str, Any]]:
    cursor.execute(f"SELECT * FROM {table}{'' if table == 'favourite_recipes' else ' ORDER BY saved_at DESC, id'}")
    return list(cursor.fetchall())


class RecipeStore:
    """Recipes are the store's, not a project's: every film can use them."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def own(self) -> dict[str, Recipe]:
        """By id, the newest first."""
        return {each.id: each for each in self._read("recipes", read_recipe)}

    def keep(self, recipe: Recipe) -> None:
        """Save one; one of the same id is replaced."""
        self._database.run(
            lambda cursor: cursor.execute(
                "INSERT INTO recipes (id, document) VALUES (%s, %s) ON DUPLICATE KEY UPDATE document = "
                "VALUES(document), saved_at = CURRENT_TIMESTAMP(3)",
                (recipe.id, write_recipe(recipe)),
            )
        )

    def remove(self, id: str) -> bool:
        """Whether it was there."""
        return self._remove("recipes", id)

    def own_ensembles(self) -> dict[str, Ensemble]:
        """Recipes of several clips by id, the newest first."""
        return {each.id: each for each, _ in self._read("ensembles", read_ensemble)}

    def _read(self, table: str, read: Callable[[str], T]) -> list[T]:
        """The documents of a table, the newest first. One that can't be read any more is kept as it is, and left out:
        it is no reason for the others not to be there."""
        rows: list[dict[str, Any]] = self._database.run(lambda cursor: _all(cursor, table))
        found = []
        for row in rows:
            try:
                found.append(read(row["document"]))
            except RecipeError as error:
                _log.warning("“%s” of the editor's own %s can't be read: %s", row["id"], table, error)
        return found

    def keep_ensemble(self, ensemble: Ensemble) -> None:
        """Save one; one of the same id is replaced."""
        self._database.run(
            lambda cursor: cursor.execute(
                "INSERT INTO ensembles (id, document) VALUES (%s, %s) ON DUPLICATE KEY UPDATE document = "
                "VALUES(document), saved_at = CURRENT_TIMESTAMP(3)",
                (ensemble.id, write_ensemble(ensemble)),
            )
        )

    def remove_ensemble(self, id: str) -> bool:
        """Whether it was there."""
        return self._remove("ensembles", id)

    def _remove(self, table: str, id: str) -> bool:
        counts = []
        self._database.run(lambda cursor: counts.append(cursor.execute(f"DELETE FROM {table} WHERE id = %s", (id,))))
        # Where the answer of the commit was lost, it is done again and there is nothing any more.
        return any(counts)

    def favourites(self) -> set[str]:
        rows = self._database.run(lambda cursor: _all(cursor, "favourite_recipes"))
        return {row["id"] for row in rows}

    def like(self, id: str, liked: bool) -> None:
        self._database.run(
            lambda cursor: cursor.execute(
                "INSERT IGNORE INTO favourite_recipes (id) VALUES (%s)"
                if liked
                else "DELETE FROM favourite_recipes WHERE id = %s",
                (id,),
            )
        )
