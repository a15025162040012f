"""Space: a camera over a stretch of time, its ready moves, and planes that fill the frame."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field

from ..contents import with_properties
from ..moment.grips import space_of
from ..moment.surroundings import stood_at
from ..motion import Fixed, Key, Moving, Property, Strengths
from ..project.model import Camera, Clip, Frames, Frozen, Id, Project, Step
from ..project.timeline import UNSEEN, timeline_of
from ..steps import LENS, SENSOR, STAND, Stand, resting_eye
from .adding import on_top
from .base import EditError, clip_of, rule, with_clip
from .riding import span_over
from .values import SetValue, set_value

CameraMove = Literal["still", "push in", "pull out", "rise", "slide", "orbit", "dolly with zoom"]


class AddCamera(Frozen):
    """A camera from a frame on, above all: while it lasts, what stands in space is seen from there. `over` a clip it
    begins and ends with it, and rides with it from then on."""

    kind: Literal["add_camera"] = "add_camera"
    clip: Id
    frame: Frames
    length: Annotated[int, Field(ge=1, le=10_000_000)]
    over: Id | None = None


class MoveCamera(Frozen):
    """A ready move of a camera from its first frame to its last, `amount` times as far as usual; "still" takes it back
    to where the frame is seen as it is."""

    kind: Literal["move_camera"] = "move_camera"
    clip: Id
    move: CameraMove
    amount: Annotated[float, Field(ge=-4, le=4, allow_inf_nan=False)] = 1


class FillFrame(Frozen):
    """A clip that stands in space is made as large, about its pivot, as it must be for it to fill the frame at a frame
    of the clip, and no larger."""

    kind: Literal["fill_frame"] = "fill_frame"
    clip: Id
    frame: Frames


class StandTo(Frozen):
    """A clip stands behind or in front of another one, `gap` px away from it, as the camera sees them at a frame of the
    clip; one that did not stand in space does from now on. With `keeps` it is seen there as it was seen before, from
    where the camera is at that frame."""

    kind: Literal["stand_to"] = "stand_to"
    clip: Id
    other: Id
    where: Literal["behind", "in front of"]
    frame: Frames
    gap: Annotated[float, Field(ge=0, le=50_000, allow_inf_nan=False)] = 200
    keeps: bool = True


@rule(AddCamera)
def add_camera(project: Project, edit: AddCamera) -> tuple[Project, str]:
    clip = Clip(id=edit.clip, track="none", name="Camera", **span_over(project, edit), content=Camera())
    return on_top(project, clip, "Camera"), "add a camera"


def camera_of(project: Project, id: str) -> tuple[Clip, Camera]:
    """A clip that is a camera, and its content."""
    clip = clip_of(project, id)
    if not isinstance(clip.content, Camera):
        raise EditError(f"“{clip.name}” is no camera; nothing was changed.")
    return clip, clip.content


_SOFT = Strengths(start=0.35, end=0.6)


def _between(first: float, last: float) -> Moving:
    return _through([first, last])


def _through(values: list[float]) -> Moving:
    """Evenly spread over the clip, soft at its ends."""
    last = len(values) - 1
    keys = tuple(
        Key(counts_from="proportion", at=place / last, value=round(value, 3), ease=_SOFT)
        for place, value in enumerate(values)
    )
    return Moving(keys=keys, through=len(values) > 2)


@rule(MoveCamera)
def move_camera(project: Project, edit: MoveCamera) -> tuple[Project, str]:
    clip, content = camera_of(project, edit.clip)
    width, height = project.settings.width, project.settings.height
    away, by = width * LENS / SENSOR, edit.amount
    made: dict[str, Property] = {"lens": Fixed(value=LENS)}
    made |= {name: Fixed(value=0.0) for name in ("x", "y", "z", "aim_x", "aim_y", "aim_z", "roll")}
    near = 0.3 * away * by
    if edit.move in ("push in", "pull out", "dolly with zoom") and near >= 0.95 * away:
        raise EditError("So far the camera would go through what it looks at; nothing was changed. Go less far.")
    if edit.move == "push in":
        made["z"] = _between(0, near)
    elif edit.move == "pull out":
        made["z"] = _between(near, 0)
    elif edit.move == "rise":
        made["y"] = _between(0.2 * height * by, -0.2 * height * by)
    elif edit.move == "slide":
        # It looks straight ahead all the way.
        made["x"] = made["aim_x"] = _between(-0.15 * width * by, 0.15 * width * by)
    elif edit.move == "orbit":
        turns = [math.radians(18 * by * share) for share in (-1, -0.5, 0, 0.5, 1)]
        made["x"] = _through([away * math.sin(turn) for turn in turns])
        made["z"] = _through([away * (1 - math.cos(turn)) for turn in turns])
    elif edit.move == "dolly with zoom":
        # The lens goes with the distance, so that what lies in the frame's own plane stays as large.
        made["z"] = _between(0, near)
        made["lens"] = _between(LENS, LENS * (away - near) / away)
    return with_clip(project, clip.model_copy(update={"content": with_properties(content, made)})), (
        f"camera, {edit.move}"
    )


@rule(FillFrame)
def fill_frame(project: Project, edit: FillFrame) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    place = next((n for n, step in enumerate(clip.steps) if step.kind == STAND.kind and step.on), None)
    if place is None:
        raise EditError(f"“{clip.name}” is not placed in 3D; nothing was changed. Give it that step first.")
    step = clip.steps[place]
    plain = step.model_copy(update={"values": {**step.values, "size": Fixed(value=1.0)}})
    steps = (*clip.steps[:place], plain, *clip.steps[place + 1 :])
    space = space_of(project, clip.model_copy(update={"steps": steps}), place - 1, edit.frame)
    if space is None:
        raise EditError(f"“{clip.name}” is not there at this frame; nothing was changed.")
    standing, matrix = space
    width, height = project.settings.width, project.settings.height
    box, (ax, ay) = standing.box, standing.anchor
    if matrix.scale_at(ax, ay) < 1e-6:
        raise EditError(f"“{clip.name}” is seen edge-on, or not at all; nothing was changed.")
    back = matrix.inverse()
    needed = 0.0
    for corner in ((0.0, 0.0), (width, 0.0), (width, height), (0.0, height)):
        w = back.w_at(*corner)
        if w <= 1e-9:
            raise EditError(
                f"The horizon of “{clip.name}” is in the frame: however large, it can't fill it. Nothing was changed. "
                "Turn it less, or look down on it."
            )
        x = (back.a * corner[0] + back.c * corner[1] + back.e) / w
        y = (back.b * corner[0] + back.d * corner[1] + back.f) / w
        needed = max(
            needed,
            (x - ax) / max(1e-6, box.x1 - ax),
            (ax - x) / max(1e-6, ax - box.x0),
            (y - ay) / max(1e-6, box.y1 - ay),
            (ay - y) / max(1e-6, ay - box.y0),
        )
    if needed > 100:
        raise EditError(f"“{clip.name}” would have to be more than a hundred times as large; nothing was changed.")
    # A hair more, so that no rounding leaves a gap.
    filled = step.model_copy(update={"values": {**step.values, "size": Fixed(value=math.ceil(needed * 1e5) / 1e5)}})
    steps = (*clip.steps[:place], filled, *clip.steps[place + 1 :])
    return with_clip(project, clip.model_copy(update={"steps": steps})), f"{clip.name} fills the frame"


@rule(StandTo)
def stand_to(project: Project, edit: StandTo) -> tuple[Project, str]:
    clip, other = clip_of(project, edit.clip), clip_of(project, edit.other)
    if clip.id == other.id:
        raise EditError("A clip can't stand behind itself; nothing was changed.")
    if clip.content.kind in (*UNSEEN, "treatment"):
        raise EditError(f"“{clip.name}” has no place in space; nothing was changed.")
    if not any(step.kind == STAND.kind and step.on for step in clip.steps):
        taken = {step.id for step in clip.steps}
        id = next(name for name in ("stand", *(f"stand-{n}" for n in range(2, 400))) if name not in taken)
        # Placed by hand first, and then stood up: so its own way over the frame is a way in its plane.
        clip = clip.model_copy(update={"steps": (*clip.steps, Step(id=id, kind=STAND.kind))})
        project = with_clip(project, clip)
    within = timeline_of(project, clip)
    if timeline_of(project, other) != within:
        raise EditError(f"“{other.name}” stands in another space than “{clip.name}”; nothing was changed.")
    stood = {each.clip.id: each for each in stood_at(project, within, clip.head + edit.frame)}
    if clip.id not in stood:
        raise EditError(f"“{clip.name}” is not there at this frame; nothing was changed.")
    if other.id not in stood:
        raise EditError(f"“{other.name}” is not placed in 3D at this frame; nothing was changed.")
    assert isinstance(STAND, Stand)
    own, its = stood[clip.id], stood[other.id]
    eye = own.values.get("eye") or resting_eye(own.rest.width, own.rest.height)
    here = STAND.middle(own.values, own.rest)
    from_it = eye.depth(STAND.middle(its.values, its.rest)) + (edit.gap if edit.where == "behind" else -edit.gap)
    if from_it < 1:
        raise EditError(f"In front of “{other.name}” there is no room before the camera; nothing was changed.")
    now = eye.depth(here)
    moves: dict[str, float]
    if edit.keeps and now > 1:
        # Along the ray it is seen by, and as much larger as it is further away.
        by = from_it / now
        moves = {name: (at - here[n]) * (1 - by) for n, (name, at) in enumerate(zip("xyz", eye.at))}
        moves["size"] = own.values["size"] * (by - 1)
    else:
        moves = {name: (from_it - now) * along for name, along in zip("xyz", eye.ahead)}
    step = next(each for each in clip.steps if each.kind == STAND.kind and each.on)
    for name, change in moves.items():
        if abs(change) > 1e-9:
            value = round(own.values[name] + change, 6)
            put = SetValue(clip=clip.id, step=step.id, name=name, value=value, frame=edit.frame)
            project, _ = set_value(project, put)
    return project, f"{clip.name} {edit.where} {other.name}"
