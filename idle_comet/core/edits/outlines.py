"""Masks drawn by hand on the picture, and what is done to the corners of outlines."""

from __future__ import annotations

from typing import Literal

from ..moment.grips import space_of
from ..moment.placed import around_matrix
from ..motion import Corner, Fixed, Outline, Property
from ..motion.numbered import ItemId
from ..motion.outlines import Point, bent, halved, without_corner
from ..picture import Matrix
from ..project.address import Owner
from ..project.mask import Joining, Mask
from ..project.model import Frames, Frozen, Id, Project
from .base import EditError, clip_of, rule, step_of, with_clip
from .keys import seen_value
from .masks import AddMask, add_mask
from .values import SetValue, property_of, set_value, with_property


class DrawMask(Frozen):
    """A new mask on a step, drawn on the picture: an outline in px of the frame, as it is seen at a frame of the
    clip."""

    kind: Literal["draw_mask"] = "draw_mask"
    clip: Id
    step: Id
    mask: Id
    outline: Outline
    frame: Frames = 0
    joined: Joining = "intersect"


class ChangeCorner(Frozen):
    """What is done to a corner of an outline: another one half-way to the next (`part`), taken away (`remove`), made
    `round` or `sharp`. An outline that moves changes in all of its keys."""

    kind: Literal["change_corner"] = "change_corner"
    clip: Id
    step: Owner
    name: str = "outline"
    corner: ItemId
    does: Literal["part", "remove", "round", "sharp"]


class MoveCorner(Frozen):
    """A corner of an outline, or the ends of its handles, elsewhere at a frame of the clip; what is None stays. `into`
    and `out` are shifts from the corner, in px."""

    kind: Literal["move_corner"] = "move_corner"
    clip: Id
    step: Owner
    name: str = "outline"
    corner: ItemId
    frame: Frames = 0
    at: Point | None = None
    into: Point | None = None
    out: Point | None = None


@rule(DrawMask)
def draw_mask(project: Project, edit: DrawMask) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    step = step_of(clip, edit.step)
    space = space_of(project, clip, clip.steps.index(step), edit.frame)
    matrix = around_matrix(project, clip, edit.frame) @ space[1] if space is not None else Matrix.grow(0)
    if matrix.scale < 1e-6:
        raise EditError(
            f"“{clip.name}” can't be seen at this frame, so nothing can be drawn on it; nothing was changed. "
            "Go to a frame where it is seen."
        )
    back = matrix.inverse()
    corners = [_through(each, back) for each in edit.outline.corners]
    x, y = (sum(each.at[axis] for each in corners) / len(corners) for axis in (0, 1))
    counted = Matrix.shift(-x, -y)
    outline = Outline(corners=tuple(_through(each, counted) for each in corners))
    mask = Mask(
        id=edit.mask,
        form="outline",
        joined=edit.joined,
        values={"x": Fixed(value=x), "y": Fixed(value=y), "outline": Fixed(value=outline)},
    )
    return add_mask(project, AddMask(clip=edit.clip, step=edit.step, mask=mask))


def _through(corner: Corner, matrix: Matrix) -> Corner:
    """A corner and its handles through a transform (in perspective the handles' ends are)."""
    (x, y), (in_x, in_y), (out_x, out_y) = corner.at, corner.into, corner.out
    at, into, out = matrix.map(x, y), matrix.map(x + in_x, y + in_y), matrix.map(x + out_x, y + out_y)
    return Corner(id=corner.id, at=at, into=(into[0] - at[0], into[1] - at[1]), out=(out[0] - at[0], out[1] - at[1]))


@rule(ChangeCorner)
def change_corner(project: Project, edit: ChangeCorner) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    prop = property_of(clip, edit.step, edit.name)

    def done(value: object) -> Outline:
        if not isinstance(value, Outline):
            raise EditError(f"“{edit.name}” is no outline; nothing was changed.")
        place = next((place for place, each in enumerate(value.corners) if each.id == edit.corner), None)
        if place is None:
            raise EditError("This outline no longer has that corner; nothing was changed.")
        if edit.does == "remove" and len(value.corners) <= 3:
            raise EditError("An outline needs three corners; nothing was taken away. Remove it as a whole instead.")
        if edit.does == "part" and len(value.corners) >= 400:
            raise EditError("An outline has at most 400 corners; nothing was added.")
        if edit.does == "part":
            return halved(value, place)
        if edit.does == "remove":
            return without_corner(value, place)
        return bent(value, place, edit.does == "round")

    made: Property
    if prop.state == "moving":
        made = prop.model_copy(
            update={"keys": tuple(key.model_copy(update={"value": done(key.value)}) for key in prop.keys)}
        )
    elif prop.state == "fixed":
        made = Fixed(value=done(prop.value))
    else:
        raise EditError("This outline is driven, and has no corners of its own; nothing was changed.")
    return with_clip(project, with_property(clip, edit.step, edit.name, made)), "corner of an outline"


@rule(MoveCorner)
def move_corner(project: Project, edit: MoveCorner) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    frame = min(edit.frame, clip.length - 1)
    value = seen_value(project, clip, edit.step, edit.name, frame)
    if not isinstance(value, Outline) or all(each.id != edit.corner for each in value.corners):
        raise EditError("This outline no longer has that corner; nothing was changed.")
    given = {name: to for name, to in (("at", edit.at), ("into", edit.into), ("out", edit.out)) if to is not None}
    corners = tuple(each.model_copy(update=given) if each.id == edit.corner else each for each in value.corners)
    made = SetValue(clip=clip.id, step=edit.step, name=edit.name, value=Outline(corners=corners), frame=frame)
    return set_value(project, made)[0], "corner of an outline"
