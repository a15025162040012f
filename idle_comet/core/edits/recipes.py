"""Applying recipes to clips, or to a new one over the playhead."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..project.model import MAX_TEXT, Clip, Frames, Frozen, Id, Project, Text
from ..recipes.apply import apply_recipe
from ..recipes.model import RATE, Recipe
from .adding import with_clip_somewhere
from .base import EditError, clip_of, rule
from .lanes import with_clips

Fills = dict[
    Annotated[str, StringConstraints(max_length=40)], float | Annotated[str, StringConstraints(max_length=MAX_TEXT)]
]


class UseRecipe(Frozen):
    """A recipe on the words of some titles; with `adds`, its steps come after theirs instead of replacing look and
    motion."""

    kind: Literal["use_recipe"] = "use_recipe"
    clips: Annotated[tuple[Id, ...], Field(min_length=1, max_length=5000)]
    recipe: Recipe
    fills: Fills = {}
    adds: bool = False


class AddFromRecipe(Frozen):
    """New titles from a frame on, one for each text, one after the other."""

    kind: Literal["add_from_recipe"] = "add_from_recipe"
    new: Id
    frame: Frames
    recipe: Recipe
    texts: Annotated[tuple[Annotated[str, StringConstraints(max_length=MAX_TEXT)], ...], Field(max_length=500)] = ()
    fills: Fills = {}


@rule(UseRecipe)
def use_recipe(project: Project, edit: UseRecipe) -> tuple[Project, str]:
    clips = [clip_of(project, id) for id in edit.clips]
    without = next((clip for clip in clips if clip.content.kind != "text"), None)
    if without is not None:
        raise EditError(f"“{without.name}” has no words; a recipe is a design for words. Nothing was changed.")
    made = [apply_recipe(project, clip, edit.recipe, edit.fills, edit.adds) for clip in clips]
    return with_clips(project, made), f"recipe {edit.recipe.name}" + (
        f" on {len(made)} titles" if len(made) > 1 else ""
    )


@rule(AddFromRecipe)
def add_from_recipe(project: Project, edit: AddFromRecipe) -> tuple[Project, str]:
    recipe = edit.recipe
    length = max(2, round(recipe.length * float(project.settings.rate.fraction) / RATE))
    sample = next((str(each.value) for each in recipe.fill_ins if each.kind == "words"), "New title")
    texts = edit.texts or (sample,)
    head = edit.frame
    for number, words in enumerate(texts, 1):
        id = edit.new if len(texts) == 1 else f"{edit.new[:58]}-{number}"
        bare = Clip(id=id, track="none", name="title", head=head, length=length, content=Text(text=words))
        project = with_clip_somewhere(
            project, apply_recipe(project, bare, recipe, {**edit.fills, "words": words}), False, None
        )
        head += length
    return project, f"add {recipe.name}" if len(texts) == 1 else f"add {len(texts)} × {recipe.name}"
