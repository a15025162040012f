"""Exporting films."""

from __future__ import annotations

from fastapi import APIRouter, HTTPException
from fastapi.responses import FileResponse
from pydantic import Field

from ...core.checks.edges import camera_warnings
from ...core.checks.ending import empty_end
from ...core.edits import EditError
from ...core.edits.alone import only
from ...core.modelled import Model
from ...core.motion.values import Colour
from ...core.project.model import Id, Project
from ...core.project.timeline import film_length
from ...media.film import Order
from ...media.soundtrack import SoundFormat
from ...media.transparent import AlphaKind, FilmFormat
from ..context import Context, InContext
from ..exports import EstimateFailed, ExportEstimate, ExportJob, StillRunning

router = APIRouter(tags=["exports"])


class ExportOrder(Model):
    """A film of frames [first, last]; the whole film when they are left out. Quality is the encoder's crf; the sound is
    AAC in MP4, or PCM of 24 bits in QuickTime.

    A format other than H.264 has transparency: what is seen over nothing, or over a plain `ground`, with its colours
    straight or multiplied by their alpha. With `clip` only that clip is in the film, for as long as it lasts.
    A `draft` is half as wide and as high and painted as light pictures are, which takes less time."""

    first: int | None = Field(default=None, ge=0)
    last: int | None = Field(default=None, ge=0)
    width: int | None = Field(default=None, ge=16, le=8192, multiple_of=2)
    height: int | None = Field(default=None, ge=16, le=8192, multiple_of=2)
    quality: int = Field(default=16, ge=0, le=40)
    sound: SoundFormat = "aac"
    format: FilmFormat = "h264"
    alpha: AlphaKind = "straight"
    ground: Colour | None = None
    clip: Id | None = None
    draft: bool = False


_KINDS = {".mov": "video/quicktime", ".webm": "video/webm", ".zip": "application/zip"}


def _job(context: Context, job_id: str) -> ExportJob:
    try:
        return context.exports.get(job_id)
    except LookupError as error:
        raise HTTPException(404, str(error)) from None


def _ordered(context: Context, project_id: str, order: ExportOrder) -> tuple[int, Project, Order]:
    """The film's revision, what is to be exported of it, and how."""
    stored = context.store.load(project_id)
    project, length = stored.project, film_length(stored.project)
    if not length:
        raise EditError("There is nothing on the timeline yet, so there is no film to export.")
    first, last = order.first or 0, length - 1 if order.last is None else min(order.last, length - 1)
    if order.clip is not None:
        project, clip = only(project, order.clip)
        first, last = max(first, clip.head), min(last, clip.end - 1)
    if first > last:
        raise EditError(f"The range ends before it begins (frames {first} to {last}); no export was started.")
    settings = project.settings
    wanted = Order(
        first,
        last - first + 1,
        order.width or settings.width,
        order.height or settings.height,
        order.quality,
        order.sound,
        order.format,
        order.alpha,
        order.ground,
    )
    return stored.revision, project, wanted.as_draft() if order.draft else wanted


@router.post("/projects/{project_id}/exports", status_code=202)
def order_export(project_id: str, order: ExportOrder, context: InContext) -> ExportJob:
    revision, project, wanted = _ordered(context, project_id, order)
    return context.exports.order(project_id, revision, project, wanted)


@router.post("/projects/{project_id}/exports/estimate")
def estimate_export(project_id: str, order: ExportOrder, context: InContext) -> ExportEstimate:
    """How long the film would take, in full and as a draft, measured on frames of it. Nothing is exported."""
    _, project, wanted = _ordered(context, project_id, order.model_copy(update={"draft": False}))
    try:
        return context.exports.estimate(project, wanted)
    except EstimateFailed as error:
        raise HTTPException(503, f"How long it takes can't be told now. {error}") from None


@router.get("/projects/{project_id}/exports/warnings")
def export_warnings(project_id: str, context: InContext) -> list[str]:
    """What should be looked at before the film is exported, in sentences."""
    project = context.store.load(project_id).project
    return [*camera_warnings(project), *empty_end(project)]


@router.get("/projects/{project_id}/exports")
def list_exports(project_id: str, context: InContext) -> list[ExportJob]:
    context.store.load(project_id)
    return context.exports.of(project_id)


@router.get("/exports/{job_id}")
def read_export(job_id: str, context: InContext) -> ExportJob:
    return _job(context, job_id)


@router.delete("/exports/{job_id}")
def cancel_export(job_id: str, context: InContext) -> ExportJob:
    _job(context, job_id)
    return context.exports.cancel(job_id)


@router.delete("/exports/{job_id}/film", status_code=204)
def delete_export(job_id: str, context: InContext) -> None:
    """Remove an export that has ended: its file, and the document it was made of."""
    _job(context, job_id)
    try:
        context.exports.delete(job_id)
    except StillRunning as error:
        raise HTTPException(409, str(error)) from None


@router.get(
    "/exports/{job_id}/film",
    response_class=FileResponse,
    responses={
        200: {"content": {"video/mp4": {}, "video/quicktime": {}}},
        206: {"content": {"video/mp4": {}, "video/quicktime": {}}},
        416: {"description": "The film has no such bytes."},
    },
)
def film(job_id: str, context: InContext) -> FileResponse:
    job = _job(context, job_id)
    path = context.exports.path_of(job)
    if job.state != "done" or not path.is_file():
        raise HTTPException(
            404, "This film is not there: it is not finished, or its file was taken away. Export it again."
        )
    kind = _KINDS.get(path.suffix, "video/mp4")
    return FileResponse(path, media_type=kind, filename=path.name, content_disposition_type="inline")
