"""Media of a project: adding files, and their thumbnails."""

from __future__ import annotations

import asyncio
import shutil
import uuid
from pathlib import Path

from fastapi import APIRouter, HTTPException, Request
from fastapi.responses import FileResponse
from pydantic import BaseModel

from ...core.project.edits import AddMedia, ChangeSettings, Several
from ...core.project.model import Media, Project
from ...media.importing import import_file, import_numbered, numbered, thumbnail_path
from ...media.probe import MediaError
from ...store.projects import StaleRevision
from ..context import Context, InContext
from ..receiving import receive_files
from .projects import EditAnswer, answer_of

router = APIRouter(prefix="/projects", tags=["media"])

class Rejected(BaseModel):
    name: str
    why: str


class AddedMedia(BaseModel):
    """What was added (as one edit, if anything was), and what was not, with the reason."""

    added: list[Media]
    rejected: list[Rejected]
    answer: EditAnswer | None


_FORM = {"requestBody": {"required": True, "content": {"multipart/form-data": {"schema": {
    "type": "object", "required": ["files"],
    "properties": {"files": {"type": "array", "items": {"type": "string", "format": "binary"}}}}}}}}


@router.post("/{project_id}/media", openapi_extra=_FORM)
async def add_media(project_id: str, request: Request, context: InContext) -> AddedMedia:
    """Add files, sent as a form. Pictures whose names count up become one shot at the film's rate."""
    project = (await asyncio.to_thread(context.store.load, project_id)).project
    folder = context.media / f".upload-{uuid.uuid4().hex[:8]}"
    folder.mkdir(parents=True)
    try:
        kept, dropped = await receive_files(request, folder)
        added, rejected = await asyncio.to_thread(_import, kept, project, context.media)
    finally:
        shutil.rmtree(folder, ignore_errors=True)
    answer = await asyncio.to_thread(_put, context, project_id, added) if added else None
    return AddedMedia(added=added, rejected=[Rejected(name=name, why=why) for name, why in dropped] + rejected, answer=answer)


def _import(files: list[tuple[Path, str]], project: Project, media: Path) -> tuple[list[Media], list[Rejected]]:
    if numbered([name for _, name in files]):
        try:
            return [import_numbered(files, project.settings.rate, media)], []
        except MediaError as error:
            return [], [Rejected(name=files[0][1], why=str(error))]
    added, rejected = [], []
    for path, name in files:
        try:
            added.append(import_file(path, name, media))
        except MediaError as error:
            rejected.append(Rejected(name=name, why=str(error)))
    return added, rejected


def _put(context: Context, project_id: str, added: list[Media]) -> EditAnswer:
    """Enter the media into the project. The first shot of an empty film gives it its size and rate."""
    label = f"add {added[0].name}" if len(added) == 1 else f"add {len(added)} files"
    while True:
        stored = context.store.load(project_id)
        edits: list = [AddMedia(media=item) for item in added]
        shot = next((item for item in added if item.kind == "video"), None)
        if shot and not stored.project.media and not stored.project.clips:
            edits.append(ChangeSettings(width=shot.width // 2 * 2, height=shot.height // 2 * 2, rate=shot.rate))
        try:
            edit = Several(label=label, edits=tuple(edits))
            return answer_of(context.store.edit(project_id, stored.revision, edit, uuid.uuid4().hex))
        except StaleRevision:
            continue


@router.get("/{project_id}/media/{media_id}/thumbnail", response_class=FileResponse, responses={200: {"content": {"image/jpeg": {}}}})
def thumbnail(project_id: str, media_id: str, context: InContext) -> FileResponse:
    item = context.store.load(project_id).project.media.get(media_id)
    path = item and thumbnail_path(context.media / item.path)
    if not path or not path.exists():
        raise HTTPException(404, f"There is no thumbnail of “{media_id}”.")
    return FileResponse(path, media_type="image/jpeg", headers={"Cache-Control": "max-age=31536000, immutable"})
