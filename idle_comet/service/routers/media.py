"""Media of a project: adding files, and their thumbnails."""

from __future__ import annotations

import asyncio
import shutil
import uuid
from pathlib import Path
from typing import Annotated, Any, Callable

from fastapi import APIRouter, HTTPException, Request
from fastapi.responses import FileResponse
from pydantic import Field

from ...core.edits import AddMedia, ChangeSettings, Several
from ...core.modelled import Model
from ...core.project.model import Id, Media, Project
from ...media.apart import Apart, Unreadable
from ...media.importing import import_file, import_numbered, numbered, thumbnail_path
from ...media.probe import MediaError
from ...store.projects import StaleRevision
from ..context import Context, InContext
from ..problems import plainly
from ..receiving import receive_files
from .projects import EditAnswer, answer_of

router = APIRouter(prefix="/projects", tags=["media"])

_SECONDS, _BYTES_A_SECOND = 120.0, 400_000
"""How long reading a file may take: some time for any, and more the larger it is."""


class Rejected(Model):
    name: str
    why: str


class AddedMedia(Model):
    """What was added (as one edit, if anything was), and what was not, with the reason."""

    added: list[Media]
    rejected: list[Rejected]
    answer: EditAnswer | None


_FORM = {
    "requestBody": {
        "required": True,
        "content": {
            "multipart/form-data": {
                "schema": {
                    "type": "object",
                    "required": ["files"],
                    "properties": {"files": {"type": "array", "items": {"type": "string", "format": "binary"}}},
                }
            }
        },
    }
}


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
    return AddedMedia(
        added=added, rejected=[Rejected(name=name, why=why) for name, why in dropped] + rejected, answer=answer
    )


def _import(files: list[tuple[Path, str]], project: Project, media: Path) -> tuple[list[Media], list[Rejected]]:
    """Read the files in a process of its own: a hostile or broken one harms nothing but itself."""
    seconds = _SECONDS + sum(path.stat().st_size for path, _ in files) / _BYTES_A_SECOND
    with Apart(seconds) as reader:
        if numbered([name for _, name in files]):
            return _tried(files[0][1], lambda: reader.do(import_numbered, files, project.settings.rate, media))
        added, rejected = [], []
        for path, name in files:
            taken, refused = _tried(name, lambda: reader.do(import_file, path, name, media))
            added += taken
            rejected += refused
    return added, rejected


def _tried(name: str, work: Callable[[], Media]) -> tuple[list[Media], list[Rejected]]:
    try:
        return [work()], []
    except MediaError as error:
        return [], [Rejected(name=name, why=str(error))]
    except Unreadable as error:
        return [], [Rejected(name=name, why=f"“{name}” was not added: {error}.")]
    except OSError as error:
        return [], [Rejected(name=name, why=f"“{name}” was not added. {plainly(error)}")]
    except Exception as error:  # nobody foresaw it; the file is refused, the others are not
        return [], [Rejected(name=name, why=f"“{name}” was not added: it can't be read ({type(error).__name__}).")]


class FilmMedia(Model):
    """A media, and a film that has it."""

    project: str
    film: str
    media: Media


class MediaWanted(Model):
    """A media of another film."""

    project: Annotated[str, Field(max_length=64)]
    media: Id


@router.get("/{project_id}/media/elsewhere")
def media_elsewhere(project_id: str, context: InContext) -> list[FilmMedia]:
    """Media of other films that this one does not have, each once."""
    found = context.store.media_elsewhere(project_id)
    return [FilmMedia(project=film, film=name, media=media) for film, name, media in found]


@router.post("/{project_id}/media/elsewhere")
def take_media(project_id: str, wanted: MediaWanted, context: InContext) -> EditAnswer:
    """Add a media of another film to this one, as an edit; both go by the same file."""
    media = context.store.load(wanted.project).project.media.get(wanted.media)
    if media is None:
        raise HTTPException(404, f"That film has no media “{wanted.media}”; nothing was added.")
    known = context.store.load(project_id).project.media.get(media.id)
    if known is not None and known.hash != media.hash:
        media = media.model_copy(update={"id": f"{media.id[:54]}-{media.hash[:8]}"})
    return _put(context, project_id, [media])


def _put(context: Context, project_id: str, added: list[Media]) -> EditAnswer:
    """Enter the media into the project. The first shot of an empty film gives it its size and rate."""
    label = f"add {added[0].name[:150]}" if len(added) == 1 else f"add {len(added)} files"
    while True:
        stored = context.store.load(project_id)
        edits: list[AddMedia | ChangeSettings] = [AddMedia(media=item) for item in added]
        shot = next((item for item in added if item.kind == "video"), None)
        if shot and not stored.project.media and not stored.project.clips:
            edits.append(ChangeSettings(**_frame_of(shot)))
        try:
            edit = Several(label=label, edits=tuple(edits))
            return answer_of(context.store.edit(project_id, stored.revision, edit, uuid.uuid4().hex))
        except StaleRevision:
            continue


def _frame_of(shot: Media) -> dict[str, Any]:
    """The film's frame and rate after a shot: its own where a film can have them, else the nearest of its shape."""
    fit = min(1.0, 8192 / max(shot.width, shot.height))
    width, height = (min(8192, max(16, round(side * fit) // 2 * 2)) for side in (shot.width, shot.height))
    # A shot of changing rate, or of one no screen has, is no measure for a film.
    rate = {"rate": shot.rate} if 1 <= shot.rate.fraction <= 240 else {}
    return {"width": width, "height": height, **rate}


@router.get(
    "/{project_id}/media/{media_id}/thumbnail",
    response_class=FileResponse,
    responses={200: {"content": {"image/jpeg": {}}}},
)
def thumbnail(project_id: str, media_id: str, context: InContext) -> FileResponse:
    item = context.store.load(project_id).project.media.get(media_id)
    path = item and thumbnail_path(context.media / item.path)
    if not path or not path.exists():
        raise HTTPException(404, f"There is no thumbnail of “{media_id}”.")
    return FileResponse(path, media_type="image/jpeg", headers={"Cache-Control": "max-age=31536000, immutable"})
