"""Recipes: look and motion together, with fill-ins for the next editor, as open JSON files."""

from .apply import apply_recipe, missing_parts
from .file import RecipeError, read_recipe, write_recipe
from .make import recipe_of
from .model import SORTS, FillIn, LineStyle, Recipe
from .shelf import shipped_recipes

__all__ = [
    "FillIn",
    "LineStyle",
    "Recipe",
    "RecipeError",
    "SORTS",
    "apply_recipe",
    "missing_parts",
    "read_recipe",
    "recipe_of",
    "shipped_recipes",
    "write_recipe",
]
