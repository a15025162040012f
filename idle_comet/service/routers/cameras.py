"""Cameras: the framings of a move on their picture, how a held camera turns, and tracks that were recorded."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, HTTPException, Query
from fastapi.responses import Response
from pydantic import Field

from ...core.modelled import Model
from ...core.moment.framed import Framed, framed
from ...core.moment.traces import Traces, recorded, traces_of
from ...core.motion import Moving
from ...core.motion.tracks import TrackError, keyed, read_track
from ...core.project.model import Clip, Project
from ...core.project.timeline import own_frame
from ..context import Context, InContext

router = APIRouter(prefix="/projects/{project_id}/clips/{clip_id}", tags=["cameras"])


def clip_in(context: Context, project_id: str, clip_id: str) -> tuple[Project, Clip]:
    """A project and a clip of it; 404 where it has none of that id."""
    project = context.store.load(project_id).project
    if clip_id not in project.clips:
        raise HTTPException(404, f"There is no clip “{clip_id}” in this project.")
    return project, project.clips[clip_id]


@router.get("/steps/{step_id}/framings")
def framings(
    project_id: str, clip_id: str, step_id: str, at: Annotated[int, Query(ge=0, le=10_000_000)], context: InContext
) -> Framed | None:
    """The framings of a move on the whole of its picture, at a frame of the film; nothing for another step."""
    project, clip = clip_in(context, project_id, clip_id)
    local = min(max(0.0, own_frame(project, clip, at) // 1 - clip.head), clip.length - 1)
    return framed(project, clip, step_id, local)


@router.get("/steps/{step_id}/traces")
def traces(project_id: str, clip_id: str, step_id: str, context: InContext) -> Traces | None:
    """How a handheld camera turns over its clip, and how often; nothing for another step."""
    return traces_of(*clip_in(context, project_id, clip_id), step_id)


@router.get(
    "/steps/{step_id}/track",
    response_class=Response,
    responses={200: {"content": {"text/csv": {"schema": {"type": "string"}}}}},
)
def track(project_id: str, clip_id: str, step_id: str, context: InContext) -> Response:
    """The turns of a handheld camera at every frame, as CSV: time, yaw, pitch, roll."""
    text = recorded(*clip_in(context, project_id, clip_id), step_id)
    if text is None:
        raise HTTPException(404, f"The step “{step_id}” is no handheld camera.")
    return Response(text, media_type="text/csv", headers={"Content-Disposition": 'attachment; filename="track.csv"'})


class TrackFile(Model):
    text: Annotated[str, Field(max_length=40_000_000)]


class TrackRead(Model):
    """A track as moving values of a handheld camera, and what an editor should know of it."""

    yaw: Moving
    pitch: Moving
    turned: Moving
    seconds: float
    says: list[str]


@router.post("/tracks")
def read_recorded(project_id: str, clip_id: str, file: TrackFile, context: InContext) -> TrackRead:
    """A recorded track (CSV: time in seconds; yaw, pitch and roll in degrees) fitted to a clip; nothing is changed
    yet."""
    project, clip = clip_in(context, project_id, clip_id)
    try:
        found = read_track(file.text)
    except TrackError as error:
        raise HTTPException(422, f"This track can't be used: {error}. The camera is as it was.") from None
    yaw, pitch, turned = keyed(found, float(project.settings.rate.fraction), clip.length, clip.skipped)
    return TrackRead(yaw=yaw, pitch=pitch, turned=turned, seconds=float(found.seconds[-1]), says=list(found.says))
