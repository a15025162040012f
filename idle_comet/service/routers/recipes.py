"""Recipes: the shelf, pictures of them on the editor's own words, and the editor's own."""

from __future__ import annotations

import asyncio
import uuid
from typing import Annotated, Literal

from fastapi import APIRouter, Body, HTTPException, Query
from fastapi.responses import Response
from pydantic import Field, StringConstraints

from ...core.edits import AddFromRecipe, UseRecipe
from ...core.modelled import Model
from ...core.recipes import Recipe, RecipeError, missing_parts, read_recipe, recipe_of, shipped_recipes, write_recipe
from ...media.apart import Unreadable
from ..context import Context, InContext
from ..painting import FrameRequest

router = APIRouter(tags=["recipes"])


class RecipeInfo(Model):
    """A recipe on the shelf; `missing` are parts that are not here and what stands in for them."""

    recipe: Recipe
    own: bool
    favourite: bool
    missing: list[str]


class SaveOrder(Model):
    name: Annotated[str, StringConstraints(min_length=1, max_length=200)]
    sort: Literal["title", "strap", "chapter", "quote", "counter", "end card", "credits", "caption"] = "title"
    note: Annotated[str, StringConstraints(max_length=500)] = ""


class RecipeFile(Model):
    text: Annotated[str, Field(max_length=4_000_000)]


def _shelf(context: Context) -> dict[str, Recipe]:
    return {**context.recipes.own(), **shipped_recipes()}


def _find(context: Context, id: str) -> Recipe:
    found = shipped_recipes().get(id) or context.recipes.own().get(id)
    if found is None:
        raise HTTPException(404, f"There is no recipe “{id}”.")
    return found


def _info(context: Context, recipe: Recipe, liked: set[str]) -> RecipeInfo:
    return RecipeInfo(
        recipe=recipe,
        own=recipe.id not in shipped_recipes(),
        favourite=recipe.id in liked,
        missing=missing_parts(recipe),
    )


@router.get("/recipes")
def recipes(context: InContext) -> list[RecipeInfo]:
    """All of them, the editor's own first."""
    liked = context.recipes.favourites()
    return [_info(context, each, liked) for each in _shelf(context).values()]


@router.get(
    "/recipes/{id}/file",
    response_class=Response,
    responses={200: {"content": {"application/json": {"schema": {"type": "object"}}}}},
)
def recipe_file(id: str, context: InContext) -> Response:
    """The recipe as a file."""
    return Response(
        write_recipe(_find(context, id)),
        media_type="application/json",
        headers={"Content-Disposition": f'attachment; filename="{id}.recipe.json"'},
    )


@router.post("/recipes")
def add_recipe(file: Annotated[RecipeFile, Body()], context: InContext) -> RecipeInfo:
    """A recipe from a file. One that has the id of another becomes a recipe beside it."""
    try:
        recipe = context.strangers.read(read_recipe, file.text)
    except RecipeError as error:
        raise HTTPException(422, str(error)) from None
    except Unreadable as error:
        raise HTTPException(422, f"The recipe was not added: {error}.") from None
    known = _shelf(context).get(recipe.id)
    if known is not None and known != recipe:
        recipe = recipe.model_copy(update={"id": f"{recipe.id[:50]}-{uuid.uuid4().hex[:8]}"})
    if known != recipe:
        context.recipes.keep(recipe)
    return _info(context, recipe, context.recipes.favourites())


@router.put("/recipes/{id}")
def rename_recipe(id: str, order: SaveOrder, context: InContext) -> RecipeInfo:
    """Another name, kind or note for one of the editor's own."""
    recipe = context.recipes.own().get(id)
    if recipe is None:
        raise HTTPException(404, f"There is no recipe “{id}” of your own.")
    recipe = recipe.model_copy(update={"name": order.name, "sort": order.sort, "note": order.note})
    context.recipes.keep(recipe)
    return _info(context, recipe, context.recipes.favourites())


@router.delete("/recipes/{id}", status_code=204)
def remove_recipe(id: str, context: InContext) -> None:
    if id in shipped_recipes():
        raise HTTPException(422, "A recipe that ships with Idle Comet can't be removed.")
    if not context.recipes.remove(id):
        raise HTTPException(404, f"There is no recipe “{id}”.")


@router.put("/recipes/{id}/favourite", status_code=204)
def like_recipe(id: str, liked: Annotated[bool, Query()], context: InContext) -> None:
    _find(context, id)
    context.recipes.like(id, liked)


@router.post("/projects/{project_id}/clips/{clip_id}/recipe")
def save_recipe(project_id: str, clip_id: str, order: SaveOrder, context: InContext) -> RecipeInfo:
    """A title's look and motion as a recipe of the editor's own."""
    project = context.store.load(project_id).project
    clip = project.clips.get(clip_id)
    if clip is None or clip.content.kind != "text":
        raise HTTPException(404, f"There is no title “{clip_id}” in this project; a recipe is made of one.")
    recipe = recipe_of(project, clip, f"own-{uuid.uuid4().hex[:12]}", order.name, order.sort, order.note)
    context.recipes.keep(recipe)
    return _info(context, recipe, context.recipes.favourites())


@router.get(
    "/projects/{project_id}/recipes/{id}/moments",
    response_class=Response,
    responses={200: {"content": {"image/jpeg": {}}}},
)
async def moments(
    project_id: str,
    id: str,
    context: InContext,
    clip: str | None = None,
    at: Annotated[int, Query(ge=0, le=10_000_000)] = 0,
    tiles: Annotated[int, Query(ge=1, le=60)] = 1,
    width: Annotated[int, Query(ge=16, le=1024)] = 208,
    height: Annotated[int, Query(ge=16, le=1024)] = 117,
) -> Response:
    """The recipe on a title of this film over its own footage, at evenly spread moments one below the other; with one,
    in its stay.

    Without a title it is shown on its own sample words from a frame of the film on.
    """
    stored = await asyncio.to_thread(context.store.load, project_id)
    recipe = await asyncio.to_thread(_find, context, id)
    title = stored.project.clips.get(clip) if clip else None
    if title is not None and title.content.kind == "text":
        edit: UseRecipe | AddFromRecipe = UseRecipe(clips=(title.id,), recipe=recipe)
        shown = title.id
    else:
        edit, shown = AddFromRecipe(new="recipe-shown", frame=at, recipe=recipe), "recipe-shown"
    request = FrameRequest(
        at, width, height * tiles, False, 82, clip=shown, tiles=tiles, beside=(edit.model_dump_json(),), small=True
    )
    painted = await context.painters.frame(project_id, stored.revision, stored.project, request)
    return Response(painted.jpeg, media_type="image/jpeg", headers={"Cache-Control": "no-store"})
