"""Pictures: a frame of the film, the picture after a step, and where things stand on it."""

from __future__ import annotations

import asyncio
import math
from typing import Annotated

from fastapi import APIRouter, HTTPException, Query
from fastapi.responses import Response

from ...core.compose.beside import MOST, Cell, cells
from ...core.modelled import Model
from ...core.moment.handles import Handles, clip_at, handles_of
from ...core.moment.trail import Trail, trail_of
from ...core.picture import Tally
from ...core.project.model import Project
from ...core.project.timeline import own_frame
from ..context import InContext
from ..painting import FrameRequest

router = APIRouter(prefix="/projects", tags=["frames"])

Side = Annotated[int, Query(ge=16, le=4096)]
FrameNumber = Annotated[int, Query(ge=0, le=10_000_000)]


_COUNTED = (480, 270)
"""Size of the picture whose tones are counted."""


class PointedAt(Model):
    clip: str | None


@router.get("/{project_id}/frame", response_class=Response, responses={200: {"content": {"image/jpeg": {}}}})
async def frame(
    project_id: str,
    at: FrameNumber,
    context: InContext,
    width: Side = 1280,
    height: Side = 720,
    exact: bool = True,
    quality: Annotated[int, Query(ge=30, le=100)] = 93,
) -> Response:
    """One frame as a JPEG of the asked size."""
    stored = await asyncio.to_thread(context.store.load, project_id)
    painted = await context.painters.frame(
        project_id, stored.revision, stored.project, FrameRequest(at, width, height, exact, quality)
    )
    return _jpeg(painted.jpeg)


@router.get(
    "/{project_id}/clips/{clip_id}/stage", response_class=Response, responses={200: {"content": {"image/jpeg": {}}}}
)
async def stage(
    project_id: str,
    clip_id: str,
    done: Annotated[int, Query(ge=0, le=100)],
    at: FrameNumber,
    context: InContext,
    width: Side = 148,
    height: Side = 80,
    whole: bool = False,
) -> Response:
    """The clip's picture after its first `done` steps; with `whole`, all of it, as it lies about the frame."""
    stored = await asyncio.to_thread(context.store.load, project_id)
    if clip_id not in stored.project.clips:
        raise HTTPException(404, f"There is no clip “{clip_id}” in this project.")
    painted = await context.painters.frame(
        project_id,
        stored.revision,
        stored.project,
        FrameRequest(_own(stored.project, clip_id, at), width, height, False, 90, clip_id, done, whole=whole),
    )
    return _jpeg(painted.jpeg)


@router.get("/{project_id}/clips/{clip_id}/tones")
async def tones(
    project_id: str, clip_id: str, done: Annotated[int, Query(ge=0, le=100)], at: FrameNumber, context: InContext
) -> Tally:
    """How the tones of a clip's picture are spread after its first `done` steps."""
    stored = await asyncio.to_thread(context.store.load, project_id)
    if clip_id not in stored.project.clips:
        raise HTTPException(404, f"There is no clip “{clip_id}” in this project.")
    request = FrameRequest(_own(stored.project, clip_id, at), *_COUNTED, False, 90, clip_id, done, counted=True)
    painted = await context.painters.frame(project_id, stored.revision, stored.project, request)
    return Tally.model_validate_json(painted.jpeg)


@router.get(
    "/{project_id}/clips/{clip_id}/strip", response_class=Response, responses={200: {"content": {"image/jpeg": {}}}}
)
async def strip(
    project_id: str,
    clip_id: str,
    tiles: Annotated[int, Query(ge=1, le=200)],
    context: InContext,
    width: Side = 1024,
    height: Side = 48,
) -> Response:
    """A clip at evenly spread moments, side by side: its film strip on the timeline."""
    stored = await asyncio.to_thread(context.store.load, project_id)
    if clip_id not in stored.project.clips:
        raise HTTPException(404, f"There is no clip “{clip_id}” in this project.")
    done = len(stored.project.clips[clip_id].steps)
    width = max(width, 8 * tiles)
    painted = await context.painters.frame(
        project_id, stored.revision, stored.project, FrameRequest(0, width, height, False, 80, clip_id, done, tiles)
    )
    return _jpeg(painted.jpeg)


@router.get("/{project_id}/clips/{clip_id}/handles")
def handles(project_id: str, clip_id: str, at: FrameNumber, context: InContext) -> Handles | None:
    """Outline, ink and carets of a clip on the picture; nothing when it is not on screen."""
    project = context.store.load(project_id).project
    if clip_id not in project.clips:
        raise HTTPException(404, f"There is no clip “{clip_id}” in this project.")
    return handles_of(project, clip_id, at)


@router.get("/{project_id}/clips/{clip_id}/trail")
def trail(project_id: str, clip_id: str, context: InContext) -> Trail | None:
    """The way a clip travels over the picture; nothing where it does not."""
    project = context.store.load(project_id).project
    if clip_id not in project.clips:
        raise HTTPException(404, f"There is no clip “{clip_id}” in this project.")
    return trail_of(project, clip_id)


@router.get("/beside/cells")
def beside_cells(count: Annotated[int, Query(ge=1, le=MOST)], width: Side, height: Side) -> list[Cell]:
    """Where so many variants stand side by side in a picture of this size."""
    return cells(count, width, height)


@router.get("/{project_id}/pointed-at")
def pointed_at(
    project_id: str,
    at: FrameNumber,
    x: float,
    y: float,
    context: InContext,
    opened: Annotated[list[str], Query(max_length=200)] = [],  # noqa: B006  FastAPI copies it
) -> PointedAt:
    """The topmost clip at a point of the frame; in groups that are `opened` what they hold there."""
    return PointedAt(clip=clip_at(context.store.load(project_id).project, at, x, y, opened))


def _own(project: Project, clip: str, frame: int) -> int:
    """A frame of the film on the timeline of a clip."""
    return max(0, math.floor(own_frame(project, project.clips[clip], frame)))


def _jpeg(data: bytes) -> Response:
    return Response(data, media_type="image/jpeg", headers={"Cache-Control": "no-store"})
