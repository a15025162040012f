"""Space: what stands where before the camera of a timeline."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, HTTPException, Query

from ...core.moment.surroundings import SharpCourse, Surroundings, sharp_course, surroundings
from ...core.project.timeline import own_frame, timeline_of
from ..context import InContext

router = APIRouter(prefix="/projects/{project_id}", tags=["space"])


@router.get("/surroundings")
def space_around(
    project_id: str,
    at: Annotated[int, Query(ge=0, le=10_000_000)],
    context: InContext,
    clip: Annotated[str | None, Query(max_length=200)] = None,
) -> Surroundings:
    """The camera and everything that stands in space at a frame of the film: on the film's own timeline, or on that
    which a clip lies on."""
    project = context.store.load(project_id).project
    if clip is None:
        return surroundings(project, None, at)
    if clip not in project.clips:
        raise HTTPException(404, f"There is no clip “{clip}” in this project.")
    own = project.clips[clip]
    return surroundings(project, timeline_of(project, own), own_frame(project, own, at))


@router.get("/clips/{clip_id}/sharp")
def sharp_over(project_id: str, clip_id: str, context: InContext) -> SharpCourse | None:
    """What a camera has sharp over its clip, and how far away everything is meanwhile; null where all is sharp."""
    project = context.store.load(project_id).project
    clip = project.clips.get(clip_id)
    if clip is None or clip.content.kind != "camera":
        raise HTTPException(404, f"There is no camera “{clip_id}” in this project.")
    return sharp_course(project, clip)
