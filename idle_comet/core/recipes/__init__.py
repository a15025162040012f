"""Recipes: look and motion together, with fill-ins for the next editor, as open JSON files."""

from .apply import apply_recipe, missing_parts
from .ensemble import Ensemble, EnsembleSort, Part
from .file import RecipeError, is_ensemble, read_ensemble, read_recipe, write_ensemble, write_recipe
from .make import recipe_of
from .model import SORTS, FillIn, LineStyle, Recipe
from .shelf import shipped_ensembles, shipped_recipes

__all__ = [
    "Ensemble",
    "EnsembleSort",
    "Part",
    "is_ensemble",
    "read_ensemble",
    "shipped_ensembles",
    "write_ensemble",
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
