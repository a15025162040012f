"""Scenes: the shelf, pictures of them, the editor's own, and clips taken to another film."""

from __future__ import annotations

import asyncio
import base64
import binascii
import hashlib
import tempfile
import uuid
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Body, HTTPException, Query
from fastapi.responses import Response
from pydantic import Field, StringConstraints

from ...core.edits import UseEnsemble, ensemble_of
from ...core.modelled import Model
from ...core.recipes import Ensemble, EnsembleSort, RecipeError, read_ensemble, shipped_ensembles, write_ensemble
from ...media.apart import Apart, Unreadable
from ...media.importing import import_file
from ...media.probe import MediaError
from ..context import Context, InContext
from ..painting import FrameRequest

_SECONDS = 120.0
"""For how long one medium of a file is read."""

router = APIRouter(tags=["ensembles"])

_CARRIED = 20 << 20
"""Bytes of media that a file brings along at most."""

Ids = Annotated[list[str], Query(min_length=1, max_length=500)]


class EnsembleInfo(Model):
    """An ensemble on the shelf, how many frames it lasts and lasts at least, and which of its media are not here."""

    ensemble: Ensemble
    own: bool
    length: int
    least: int
    missing: list[str]


class EnsembleOrder(Model):
    clips: Annotated[list[str], Field(min_length=1, max_length=500)]
    name: Annotated[str, StringConstraints(min_length=1, max_length=200)]
    sort: EnsembleSort = "arrangement"
    note: Annotated[str, StringConstraints(max_length=500)] = ""


class EnsembleFile(Model):
    text: Annotated[str, Field(max_length=30_000_000)]


def _find(context: Context, id: str) -> Ensemble:
    found = shipped_ensembles().get(id) or context.recipes.own_ensembles().get(id)
    if found is None:
        raise HTTPException(404, f"There is no scene “{id}”.")
    return found


def _info(context: Context, ensemble: Ensemble) -> EnsembleInfo:
    missing = [each.name for each in ensemble.film.media.values() if not (context.media / each.path).exists()]
    own = ensemble.id not in shipped_ensembles()
    least = ensemble.head + ensemble.tail + 1 if ensemble.stretches else ensemble.length
    return EnsembleInfo(ensemble=ensemble, own=own, length=ensemble.length, least=least, missing=missing)


@router.get("/ensembles")
def ensembles(context: InContext) -> list[EnsembleInfo]:
    """All of them, the editor's own first."""
    shelf = {**context.recipes.own_ensembles(), **shipped_ensembles()}
    return [_info(context, each) for each in shelf.values()]


@router.post("/ensembles")
def add_ensemble(file: Annotated[EnsembleFile, Body()], context: InContext) -> EnsembleInfo:
    """One from a file, with the media it brings along. One that has the id of another stands beside it."""
    try:
        ensemble, files = context.strangers.read(read_ensemble, file.text)
    except RecipeError as error:
        raise HTTPException(422, str(error)) from None
    except Unreadable as error:
        raise HTTPException(422, f"The recipe was not added: {error}.") from None
    for media in ensemble.film.media.values():
        if media.path in files and not (context.media / media.path).exists():
            _take(files[media.path], media.name + Path(media.path).suffix, media.hash, context.media)
    known = {**context.recipes.own_ensembles(), **shipped_ensembles()}.get(ensemble.id)
    if known is not None and known != ensemble:
        ensemble = ensemble.model_copy(update={"id": f"{ensemble.id[:50]}-{uuid.uuid4().hex[:8]}"})
    if known != ensemble:
        context.recipes.keep_ensemble(ensemble)
    return _info(context, ensemble)


def _take(written: str, name: str, digest: str, folder: Path) -> None:
    """One medium out of a file, read like any that is added."""
    try:
        data = base64.b64decode(written, validate=True)
    except (binascii.Error, ValueError):
        raise HTTPException(422, f"“{name}” in this file can't be read: it is no base64. It was not added.") from None
    if hashlib.sha256(data).hexdigest() != digest:
        raise HTTPException(422, f"“{name}” in this file is not what the file says it is. It was not added.")
    with tempfile.TemporaryDirectory(dir=folder) as apart:
        path = Path(apart) / f"given{Path(name).suffix}"
        path.write_bytes(data)
        try:
            with Apart(_SECONDS) as reader:
                reader.do(import_file, path, name, folder)
        except MediaError as error:
            raise HTTPException(422, str(error)) from None
        except Unreadable as error:
            raise HTTPException(422, f"“{name}” in this file was not added: {error}. Nor was the recipe.") from None


@router.get(
    "/ensembles/{id}/file",
    response_class=Response,
    responses={200: {"content": {"application/json": {"schema": {"type": "object"}}}}},
)
def ensemble_file(id: str, context: InContext) -> Response:
    """The ensemble as a file, with its media as far as they are not too large."""
    ensemble = _find(context, id)
    left, files = _CARRIED, {}
    for media in ensemble.film.media.values():
        path = context.media / media.path
        size = path.stat().st_size if path.exists() else _CARRIED + 1
        if size <= left:
            files[media.path] = base64.b64encode(path.read_bytes()).decode()
            left -= size
    return Response(
        write_ensemble(ensemble, files),
        media_type="application/json",
        headers={"Content-Disposition": f'attachment; filename="{id}.ensemble.json"'},
    )


@router.delete("/ensembles/{id}", status_code=204)
def remove_ensemble(id: str, context: InContext) -> None:
    if id in shipped_ensembles():
        raise HTTPException(422, "A recipe that ships with Idle Comet can't be removed.")
    if not context.recipes.remove_ensemble(id):
        raise HTTPException(404, f"There is no scene “{id}”.")


@router.post("/projects/{project_id}/ensembles")
def keep_ensemble(project_id: str, order: EnsembleOrder, context: InContext) -> EnsembleInfo:
    """Clips of one timeline, with all that they hold and use, as a recipe of the editor's own."""
    project = context.store.load(project_id).project
    made = ensemble_of(project, order.clips, f"own-{uuid.uuid4().hex[:12]}", order.name, order.sort, order.note)
    context.recipes.keep_ensemble(made)
    return _info(context, made)


@router.get("/projects/{project_id}/taken")
def taken(project_id: str, clips: Ids, context: InContext) -> Ensemble:
    """Clips of one timeline with their media, to be laid into another film; nothing is kept."""
    project = context.store.load(project_id).project
    return ensemble_of(project, clips, "taken", "clips of another film", "arrangement")


@router.get(
    "/projects/{project_id}/ensembles/{id}/moments",
    response_class=Response,
    responses={200: {"content": {"image/jpeg": {}}}},
)
async def ensemble_moments(
    project_id: str,
    id: str,
    context: InContext,
    at: Annotated[int, Query(ge=0, le=10_000_000)] = 0,
    tiles: Annotated[int, Query(ge=1, le=60)] = 1,
    width: Annotated[int, Query(ge=16, le=1024)] = 208,
    height: Annotated[int, Query(ge=16, le=1024)] = 117,
) -> Response:
    """The ensemble laid into this film from a frame on, at evenly spread moments one below the other."""
    stored = await asyncio.to_thread(context.store.load, project_id)
    ensemble = await asyncio.to_thread(_find, context, id)
    outer = {track.id for track in ensemble.film.tracks if track.within is None}
    ids = list(ensemble.film.clips)
    longest = max(
        (i for i in ids if ensemble.film.clips[i].track in outer), key=lambda i: ensemble.film.clips[i].length
    )
    edit = UseEnsemble(ensemble=ensemble, frame=at, seed="ensemble-shown")
    request = FrameRequest(
        at,
        width,
        height * tiles,
        False,
        82,
        clip=f"ensemble-shown-{ids.index(longest) + 1}",
        tiles=tiles,
        beside=(edit.model_dump_json(),),
        small=True,
    )
    painted = await context.painters.frame(project_id, stored.revision, stored.project, request)
    return Response(painted.jpeg, media_type="image/jpeg", headers={"Cache-Control": "no-store"})
