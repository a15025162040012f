"""Followed points: where they are, and following more."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, HTTPException, Query
from pydantic import Field

from ...core.edits import EditError
from ...core.modelled import Model
from ...core.moment.pointed import PointNow, points_at
from ...core.project.model import Id, Name
from ...core.project.timeline import own_frame
from ..context import InContext
from ..following import Direction, FollowJob
from .cameras import clip_in

router = APIRouter(tags=["points"])


class Pick(Model):
    """A point picked on the film's picture: the frame of the film, and px of the film's frame. With `point` one that is
    there already is followed anew from here; forward is the way the clip is played."""

    at: Annotated[int, Field(ge=0, le=10_000_000)]
    x: Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
    y: Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
    name: Name | None = None
    point: Id | None = None
    direction: Direction = "both"


@router.post("/projects/{project_id}/clips/{clip_id}/points")
def follow_point(project_id: str, clip_id: str, pick: Pick, context: InContext) -> FollowJob:
    """Begin to follow a point of a shot; when it is done it is entered as an edit. 422 says why nothing was begun."""
    project, clip = clip_in(context, project_id, clip_id)
    # A shot within a group that is played at its own pace is picked at its own frame.
    local = int(own_frame(project, clip, pick.at) // 1) - clip.head
    try:
        return context.following.order(
            project_id, project, clip, local, (pick.x, pick.y), pick.name, pick.point, pick.direction
        )
    except EditError as error:
        raise HTTPException(422, str(error)) from None


@router.get("/projects/{project_id}/clips/{clip_id}/points")
def followed_points(
    project_id: str, clip_id: str, at: Annotated[int, Query(ge=0, le=10_000_000)], context: InContext
) -> list[PointNow]:
    """The followed points of a shot at a frame of the film; the nearest frame of the shot where it is not there."""
    project, clip = clip_in(context, project_id, clip_id)
    local = min(max(0.0, own_frame(project, clip, at) // 1 - clip.head), clip.length - 1.0)
    return points_at(project, clip, local)


@router.get("/projects/{project_id}/following")
def following(project_id: str, context: InContext) -> list[FollowJob]:
    """What is followed in a film, and what was lately."""
    return context.following.of(project_id)


@router.get("/following/{job_id}")
def followed(job_id: str, context: InContext) -> FollowJob:
    try:
        return context.following.get(job_id)
    except LookupError as error:
        raise HTTPException(404, str(error)) from None


@router.delete("/following/{job_id}")
def give_up(job_id: str, context: InContext) -> FollowJob:
    """Give a following up; the shot is as it was."""
    try:
        return context.following.cancel(job_id)
    except LookupError as error:
        raise HTTPException(404, str(error)) from None
