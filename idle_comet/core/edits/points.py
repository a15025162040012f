"""Followed points: kept with their shot, mended by hand, and what is held to them."""

from __future__ import annotations

import cmath
import math
from typing import Annotated, Literal

from pydantic import Field

from ..contents import FollowedPoint, HandPlace
from ..moment.compiled import sample_of
from ..moment.evaluate import evaluate_clip
from ..moment.placed import around_matrix
from ..moment.points import at_rest, on_picture, path_of, point_in, source_at
from ..moment.standing import stand
from ..motion import Driven, Fixed, OnPoint, Property
from ..motion.outlines import Number
from ..project.model import Clip, Footage, Frames, Frozen, Id, Media, Name, Project, Step
from ..steps import BY_HAND, STILL_POINT
from .base import EditError, clip_of, rule, with_clip, with_step
from .clips import Clips, named
from .lanes import with_clips
from .looks import check_looks

MOST_POINTS = 40

_PLACES: tuple[Literal["x", "y"], ...] = ("x", "y")

_HELD = "held-to-point"
"""The id of the step that holds a clip to a point."""


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


class HoldToPoint(Frozen):
    """Clips go with a point of a shot from now on, and with a second one turn and grow with both. At frame `at` of the
    timeline they lie on they stand as they stood. None lets them go: they stay where they are at that frame."""

    kind: Literal["hold_to_point"] = "hold_to_point"
    clips: Clips
    shot: Id | None
    point: Id | None = None
    second: Id | None = None
    at: Frames = 0


class HoldStill(Frozen):
    """A shot is moved against a point of its own, so that it stays where it is at a frame of its clip; with a second
    one against its turn and its size too. With `smooth` seconds only what is quicker than that is taken out."""

    kind: Literal["hold_still"] = "hold_still"
    clip: Id
    point: Id
    second: Id | None = None
    frame: Frames = 0
    smooth: Annotated[float, Field(ge=0, le=60, allow_inf_nan=False)] = 0.0


def _point_of(clip: Clip, id: str) -> FollowedPoint:
    point = point_in(clip, id)
    if point is None:
        raise EditError(f"“{clip.name}” has no followed point “{id}”; nothing was changed.")
    return point


def _shot(project: Project, id: str) -> tuple[Clip, Footage]:
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
    clip, content = _shot(project, edit.clip)
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
    clip, content = _shot(project, edit.clip)
    point = _point_of(clip, edit.point)
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
    clip, content = _shot(project, edit.clip)
    point = _point_of(clip, edit.point)
    frame = source_at(project, clip, edit.frame)
    left = tuple(each for each in point.hand if each.frame != frame)
    if len(left) == len(point.hand):
        raise EditError(f"“{point.name}” was not put by hand at that frame; nothing was changed.")
    return _with_point(project, clip, content, point.model_copy(update={"hand": left})), f"leave {point.name}"


@rule(NamePoint)
def name_point(project: Project, edit: NamePoint) -> tuple[Project, str]:
    clip, content = _shot(project, edit.clip)
    point = _point_of(clip, edit.point).model_copy(update={"name": edit.name})
    return _with_point(project, clip, content, point), f"name {edit.name}"


@rule(RemovePoint)
def remove_point(project: Project, edit: RemovePoint) -> tuple[Project, str]:
    clip, content = _shot(project, edit.clip)
    point = _point_of(clip, edit.point)
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


@rule(HoldToPoint)
def hold_to_point(project: Project, edit: HoldToPoint) -> tuple[Project, str]:
    clips = [clip_of(project, id) for id in dict.fromkeys(edit.clips)]
    if edit.shot is None:
        return with_clips(project, [_let_go(project, clip, edit.at) for clip in clips]), f"let {named(clips)} go"
    shot, _ = _shot(project, edit.shot)
    if edit.point is None:
        raise EditError("Choose the point that it shall go with; nothing was changed.")
    first = _point_of(shot, edit.point)
    second = None if edit.second is None else _point_of(shot, edit.second)
    local = min(max(edit.at - shot.head, 0), shot.length - 1)
    source, matrix = source_at(project, shot, local), on_picture(project, shot, float(local))
    if source is None or matrix is None:
        raise EditError(f"The picture of “{shot.name}” is not there; nothing was changed.")
    place = _seen(matrix.map, path_of(first).at(source))
    way = None if second is None else _seen(matrix.map, path_of(second).at(source)) - place
    if way is not None and abs(way) < 1:
        raise EditError("The two points lie on one another, and say nothing of a turn; nothing was changed.")
    made = []
    for clip in clips:
        check_looks(project, clip, shot.id, f"place of “{clip.name}”")
        made.append(_held(project, clip, _Holding(shot.id, first.id, edit.second, place, way)))
    label = f"hold {named(clips)} to {first.name}" + (f" and {second.name}" if second else "")
    return with_clips(project, made), label


class _Holding:
    """What a clip is held to: the point's place and the way to the second one, as seen at the frame of holding."""

    def __init__(self, shot: str | None, point: str, second: str | None, place: complex, way: complex | None) -> None:
        self.shot, self.point, self.second, self.place, self.way = shot, point, second, place, way

    def on(self, gives: Literal["x", "y", "turn", "size"], rest: float, **more: object) -> Property:
        """A value that goes with them."""
        return Driven(
            motor=OnPoint.model_validate(
                {"clip": self.shot, "point": self.point, "second": self.second, "gives": gives, **more}
            ),
            rest=rest,
        )


def _seen(through: object, place: complex) -> complex:
    return complex(*through(place.real, place.imag))  # type: ignore[operator]


def _held(project: Project, clip: Clip, to: _Holding) -> Clip:
    """A placement after all others that goes with the points, and does nothing yet at the frame it is held at."""
    layer = evaluate_clip(project, clip, 0)
    if layer is None:
        raise EditError(f"There is nothing of “{clip.name}” to be held; nothing was changed.")
    anchor = complex(*stand(layer.content, project.settings.width, project.settings.height).anchor)
    # The step turns and grows about where the content rests; that place goes with the points.
    aside = (anchor - to.place) / to.way if to.way is not None else 0j
    shift = anchor if to.way is not None else to.place
    values = {
        "x": to.on("x", 0.0, aside=(aside.real, aside.imag), offset=-shift.real),
        "y": to.on("y", 0.0, aside=(aside.real, aside.imag), offset=-shift.imag),
    }
    if to.way is not None:
        values["rotation"] = to.on("turn", 0.0, offset=-math.degrees(cmath.phase(to.way)))
        values["scale"] = to.on("size", 1.0, gain=project.settings.height / abs(to.way))
    step = next((each for each in clip.steps if each.id.startswith(_HELD)), None)
    if step is not None:
        return with_step(clip, step.model_copy(update={"values": values, "on": True}))
    if len(clip.steps) >= 100:
        raise EditError(f"“{clip.name}” already has 100 steps; it can't be held. Nothing was changed.")
    return clip.model_copy(update={"steps": (*clip.steps, Step(id=_HELD, kind=BY_HAND.kind, values=values))})


def _let_go(project: Project, clip: Clip, at: int) -> Clip:
    """What goes with a point stays as it is at a frame."""
    local = min(max(at - clip.head, 0), clip.length - 1)
    found = False
    for step in clip.steps:
        values = dict(step.values)
        for name, prop in step.values.items():
            if prop.state == "driven" and prop.motor.kind == "on_point":
                values[name], found = Fixed(value=round(float(sample_of(project, clip, step.id, name)(local)), 4)), True
        clip = with_step(clip, step.model_copy(update={"values": values}))
    if not found:
        raise EditError(f"“{clip.name}” is held to no point; nothing was changed.")
    return clip


@rule(HoldStill)
def hold_still(project: Project, edit: HoldStill) -> tuple[Project, str]:
    clip, _ = _shot(project, edit.clip)
    first = _point_of(clip, edit.point)
    second = None if edit.second is None else _point_of(clip, edit.second)
    local = min(edit.frame, clip.length - 1)
    source, matrix = source_at(project, clip, local), at_rest(project, clip)
    if source is None or matrix is None:
        raise EditError(f"The picture of “{clip.name}” is not there; nothing was changed.")
    place = _seen(matrix.map, path_of(first).at(source))
    way = None if second is None else _seen(matrix.map, path_of(second).at(source)) - place
    if way is not None and abs(way) < 1:
        raise EditError("The two points lie on one another, and say nothing of a turn; nothing was changed.")
    to, middle = (
        _Holding(None, first.id, edit.second, place, way),
        complex(project.settings.width, project.settings.height) / 2,
    )
    about = place - middle
    values: dict[str, Property]
    if edit.smooth:
        quick, slow = ({"part": part, "smooth": edit.smooth} for part in ("quick", "slow"))
        values = {
            **{name: to.on(name, 0.0, **quick) for name in _PLACES},
            "about_x": to.on("x", about.real, offset=-middle.real, **slow),
            "about_y": to.on("y", about.imag, offset=-middle.imag, **slow),
        }
        if way is not None:
            values |= {"turn": to.on("turn", 0.0, **quick), "size": to.on("size", 1.0, **quick)}
    else:
        values = {
            "x": to.on("x", 0.0, offset=-place.real),
            "y": to.on("y", 0.0, offset=-place.imag),
            "about_x": Fixed(value=about.real),
            "about_y": Fixed(value=about.imag),
        }
        if way is not None:
            values["turn"] = to.on("turn", 0.0, offset=-math.degrees(cmath.phase(way)))
            values["size"] = to.on("size", 1.0, gain=project.settings.height / abs(way))
    known = next((step for step in clip.steps if step.kind == STILL_POINT.kind), None)
    if known is not None:
        now = with_step(clip, known.model_copy(update={"values": values, "on": True}))
    elif len(clip.steps) >= 100:
        raise EditError(f"“{clip.name}” already has 100 steps; it can't be held still. Nothing was changed.")
    else:
        taken = {step.id for step in clip.steps}
        id = next(name for n in range(101) if (name := f"held-still-{n}" if n else "held-still") not in taken)
        # Before all else: what it goes with is the picture at rest.
        now = clip.model_copy(update={"steps": (Step(id=id, kind=STILL_POINT.kind, values=values), *clip.steps)})
    return with_clip(project, now), f"hold {clip.name} still by {first.name}"
