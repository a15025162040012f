"""The editor's own recipes, and the favourites among all."""

from __future__ import annotations

from ..core.recipes import Ensemble, Recipe, read_ensemble, read_recipe, write_ensemble, write_recipe
from .database import Database


class RecipeStore:
    """Recipes are the store's, not a project's: every film can use them."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def own(self) -> dict[str, Recipe]:
        """By id, the newest first."""
        with self._database.transaction() as cursor:
            cursor.execute("SELECT document FROM recipes ORDER BY saved_at DESC, id")
            found = [read_recipe(row["document"]) for row in cursor.fetchall()]
        return {each.id: each for each in found}

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
        return bool(self._database.run(lambda cursor: cursor.execute("DELETE FROM recipes WHERE id = %s", (id,))))

    def own_ensembles(self) -> dict[str, Ensemble]:
        """Recipes of several clips by id, the newest first."""
        with self._database.transaction() as cursor:
            cursor.execute("SELECT document FROM ensembles ORDER BY saved_at DESC, id")
            found = [read_ensemble(row["document"])[0] for row in cursor.fetchall()]
        return {each.id: each for each in found}

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
        return bool(self._database.run(lambda cursor: cursor.execute("DELETE FROM ensembles WHERE id = %s", (id,))))

    def favourites(self) -> set[str]:
        with self._database.transaction() as cursor:
            cursor.execute("SELECT id FROM favourite_recipes")
            return {row["id"] for row in cursor.fetchall()}

    def like(self, id: str, liked: bool) -> None:
        self._database.run(
            lambda cursor: cursor.execute(
                "INSERT IGNORE INTO favourite_recipes (id) VALUES (%s)"
                if liked
                else "DELETE FROM favourite_recipes WHERE id = %s",
                (id,),
            )
        )
