"""Followed points: kept with their shot, named, mended by hand."""

from __future__ import annotations

from typing import Literal

from ..contents import FollowedPoint, HandPlace
from ..moment.placed import around_matrix
from ..moment.points import on_picture, point_in, source_at
from ..motion.outlines import Number
from ..project.model import Clip, Footage, Frames, Frozen, Id, Media, Name, Project
from .base import EditError, clip_of, rule, with_clip

MOST_POINTS = 40


class SetPoint(Frozen):
    """Keep a point that was followed in a shot's picture; one of its id is replaced."""

    kind: Literal["set_point"] = "set_point"
    clip: Id
    point: FollowedPoint


class MendPoint(Frozen):
    """Put a point by hand where it is seen at a frame of its shot's clip, in px of the film's frame; at the same frame
    again it changes."""

    kind: Literal["mend_point"] = "mend_point"
    clip: Id
    point: Id
    frame: Frames
    x: Number
    y: Number


class LeavePoint(Frozen):
    """Take what was put by hand at a frame of its shot's clip away: the point is there as it was followed."""

    kind: Literal["leave_point"] = "leave_point"
    clip: Id
    point: Id
    frame: Frames


class NamePoint(Frozen):
    kind: Literal["name_point"] = "name_point"
    clip: Id
    point: Id
    name: Name


class RemovePoint(Frozen):
    """Take a followed point away. What is held to it stays as it is at rest."""

    kind: Literal["remove_point"] = "remove_point"
    clip: Id
    point: Id


def point_of(clip: Clip, id: str) -> FollowedPoint:
    point = point_in(clip, id)
    if point is None:
        raise EditError(f"“{clip.name}” has no followed point “{id}”; nothing was changed.")
    return point


def shot_of(project: Project, id: str) -> tuple[Clip, Footage]:
    clip = clip_of(project, id)
    if not isinstance(clip.content, Footage):
        raise EditError(f"“{clip.name}” is no shot; only in a shot can points be followed. Nothing was changed.")
    return clip, clip.content


def _with_points(project: Project, clip: Clip, points: tuple[FollowedPoint, ...]) -> Project:
    return with_clip(project, clip.model_copy(update={"content": clip.content.model_copy(update={"points": points})}))


def _with_point(project: Project, clip: Clip, content: Footage, point: FollowedPoint) -> Project:
    """The same point in all parts of a shot that was cut: each has its own copy, and all are one."""
    for each in project.clips.values():
        if isinstance(each.content, Footage) and each.content.media == content.media and point_in(each, point.id):
            points = tuple(point if one.id == point.id else one for one in each.content.points)
            project = _with_points(project, each, points)
    return project


@rule(SetPoint)
def set_point(project: Project, edit: SetPoint) -> tuple[Project, str]:
    clip, content = shot_of(project, edit.clip)
    if edit.point.media != content.media:
        raise EditError(
            f"“{edit.point.name}” was followed in another picture than “{clip.name}” shows; it was not kept."
        )
    if point_in(clip, edit.point.id) is None:
        if len(content.points) >= MOST_POINTS:
            raise EditError(f"“{clip.name}” has {MOST_POINTS} followed points, the most there can be; none was added.")
        return _with_points(project, clip, (*content.points, edit.point)), f"follow {edit.point.name}"
    return _with_point(project, clip, content, edit.point), f"follow {edit.point.name}"


@rule(MendPoint)
def mend_point(project: Project, edit: MendPoint) -> tuple[Project, str]:
    clip, content = shot_of(project, edit.clip)
    point = point_of(clip, edit.point)
    frame, place = picked(project, clip, edit.frame, edit.x, edit.y)
    hand = {each.frame: each for each in point.hand} | {frame: HandPlace(frame=frame, x=place[0], y=place[1])}
    now = point.model_copy(update={"hand": tuple(hand[each] for each in sorted(hand))})
    return _with_point(project, clip, content, now), f"mend {point.name}"


def picked(project: Project, clip: Clip, local: int, x: float, y: float) -> tuple[int, tuple[float, float]]:
    """The frame of a shot's source that is seen at a frame of its clip, and what of it lies at px of the film's frame,
    in px of the source. Raises EditError where the shot is not there, or the place is far from it."""
    if not 0 <= local < clip.length:
        raise EditError(f"“{clip.name}” is not there at that frame; go to a frame of it. Nothing was changed.")
    frame, matrix = source_at(project, clip, local), on_picture(project, clip, float(local))
    if frame is None or matrix is None or matrix.scale < 1e-9:
        raise EditError(f"The picture of “{clip.name}” is not there; nothing was changed.")
    matrix = around_matrix(project, clip, float(local)) @ matrix
    px, py = matrix.inverse().map(x, y)
    media = project.media[clip.content.media]  # type: ignore[union-attr]
    if not (-media.width < px < 2 * media.width and -media.height < py < 2 * media.height):
        raise EditError("That lies far outside of the shot's picture; nothing was changed.")
    return frame, (round(px, 3), round(py, 3))


@rule(LeavePoint)
def leave_point(project: Project, edit: LeavePoint) -> tuple[Project, str]:
    clip, content = shot_of(project, edit.clip)
    point = point_of(clip, edit.point)
    frame = source_at(project, clip, edit.frame)
    left = tuple(each for each in point.hand if each.frame != frame)
    if len(left) == len(point.hand):
        raise EditError(f"“{point.name}” was not put by hand at that frame; nothing was changed.")
    return _with_point(project, clip, content, point.model_copy(update={"hand": left})), f"leave {point.name}"


@rule(NamePoint)
def name_point(project: Project, edit: NamePoint) -> tuple[Project, str]:
    clip, content = shot_of(project, edit.clip)
    point = point_of(clip, edit.point).model_copy(update={"name": edit.name})
    return _with_point(project, clip, content, point), f"name {edit.name}"


@rule(RemovePoint)
def remove_point(project: Project, edit: RemovePoint) -> tuple[Project, str]:
    clip, content = shot_of(project, edit.clip)
    point = point_of(clip, edit.point)
    left = tuple(each for each in content.points if each.id != point.id)
    return _with_points(project, clip, left), f"remove {point.name}"


def moved_to(
    points: tuple[FollowedPoint, ...], old: Media | None, new: Media, later: int, project: Project
) -> tuple[FollowedPoint, ...]:
    """Points in another picture in the place of theirs, such as a new cut of the same shot: as much later, and larger
    with it. Whether they still lie on what was followed is for the editor to see; they say where they come from."""
    if old is None or old.id == new.id:
        return points
    across, down = new.width / old.width, new.height / old.height
    by = round(later * new.rate.fraction / project.settings.rate.fraction)
    made = []
    for point in points:
        begin = max(0, -(point.first + by))
        if begin >= len(point.x):
            continue
        hand = tuple(
            HandPlace(frame=each.frame + by, x=each.x * across, y=each.y * down)
            for each in point.hand
            if each.frame + by >= 0
        )
        made.append(
            point.model_copy(
                update={
                    "first": point.first + by + begin,
                    "x": tuple(each * across for each in point.x[begin:]),
                    "y": tuple(each * down for each in point.y[begin:]),
                    "sure": point.sure[begin:],
                    "hand": hand,
                }
            )
        )
    return tuple(made)
