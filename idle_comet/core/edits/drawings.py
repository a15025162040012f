"""A drawing from an SVG file: each of its shapes a clip of its own, in its place."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..motion import Fixed, Property
from ..picture import Rect, SvgError, SvgPart, outline_path, read_svg
from ..project.model import Clip, Frames, Frozen, Group, Id, Name, Project, Shape, Step, Track
from ..steps import BY_HAND
from .adding import with_clip_somewhere
from .base import EditError, rule

MOST_PARTS = 60
_SHARE = 0.6
"""Of the frame's height, or width, that a drawing is laid out in."""


class AddDrawing(Frozen):
    """The shapes of an SVG drawing from a frame on, gathered in a group called `group`: the drawing is whole in the
    middle of the frame, each shape in its place and colours on a track of its own, called `group`-1 and so on from the
    bottom up. Neighbours that are coloured alike are one clip where there would be too many."""

    kind: Literal["add_drawing"] = "add_drawing"
    group: Annotated[Id, Field(max_length=56)]
    frame: Frames
    length: Annotated[int, Field(ge=1, le=10_000_000)]
    svg: Annotated[str, StringConstraints(max_length=500_000)]
    name: Name = "Drawing"


@rule(AddDrawing)
def add_drawing(project: Project, edit: AddDrawing) -> tuple[Project, str]:
    try:
        parts = _seen(read_svg(edit.svg))
    except SvgError as error:
        raise EditError(f"{error} Nothing was added.") from None
    if not parts:
        raise EditError("Nothing of this drawing is seen: none of its shapes has a colour. Nothing was added.")
    if len(parts) > MOST_PARTS:
        parts = _joined(parts)
    if len(parts) > MOST_PARTS:
        raise EditError(
            f"The drawing has {len(parts)} shapes that are coloured each in its own way; nothing was added. "
            f"{MOST_PARTS} at most can be told apart on a timeline: join some of them, and save it again."
        )
    ids = [f"{edit.group}-{number}" for number in range(1, len(parts) + 1)]
    taken = next((id for id in (*ids, edit.group) if id in project.clips), None)
    if taken or any(track.id in ids for track in project.tracks):
        raise EditError(f"There is already a clip or a track “{taken or edit.group}”; nothing was added.")
    boxes = [_box(part) for part in parts]
    whole = boxes[0]
    for box in boxes:
        whole = Rect(min(whole.x0, box.x0), min(whole.y0, box.y0), max(whole.x1, box.x1), max(whole.y1, box.y1))
    width, height = project.settings.width * _SHARE, project.settings.height * _SHARE
    by = min(width / max(whole.x1 - whole.x0, 1e-6), height / max(whole.y1 - whole.y0, 1e-6))
    clips = [_clip(id, edit.length, part, box, whole, by) for id, part, box in zip(ids, parts, boxes)]
    tracks = tuple(Track(id=clip.id, name=clip.name, within=edit.group) for clip in reversed(clips))
    group = Clip(
        id=edit.group,
        track="none",
        name=edit.name,
        head=edit.frame,
        length=edit.length,
        content=Group(),
        steps=(Step(id="placement", kind=BY_HAND.kind),),
    )
    project = with_clip_somewhere(project, group, False, None)
    made = {**project.clips, **{clip.id: clip for clip in clips}}
    return project.model_copy(update={"clips": made, "tracks": (*project.tracks, *tracks)}), f"add {edit.name}"


def _seen(parts: list[SvgPart]) -> list[SvgPart]:
    return [part for part in parts if part.opacity > 0 and (part.fill or (part.line and part.width > 0))]


def _joined(parts: list[SvgPart]) -> list[SvgPart]:
    """Neighbours that are painted alike as one."""
    made: list[SvgPart] = []
    for part in parts:
        last = made[-1] if made else None
        if last is not None and last[2:] == part[2:] and len(last.outline) + len(part.outline) < 100_000:
            made[-1] = last._replace(outline=last.outline + part.outline)
        else:
            made.append(part)
    return made


def _box(part: SvgPart) -> Rect:
    bounds = outline_path(part.outline).computeTightBounds()
    return Rect(bounds.left(), bounds.top(), bounds.right(), bounds.bottom())


def _clip(id: str, length: int, part: SvgPart, box: Rect, whole: Rect, by: float) -> Clip:
    """A shape in its place: its middle from the drawing's, in px of the frame."""
    numbers = {
        "x": ((box.x0 + box.x1) - (whole.x0 + whole.x1)) / 2 * by,
        "y": ((box.y0 + box.y1) - (whole.y0 + whole.y1)) / 2 * by,
        # A straight line along one axis has no extent across it.
        "width": max(box.x1 - box.x0, 1e-3) * by,
        "height": max(box.y1 - box.y0, 1e-3) * by,
        "stroke": part.width * by,
    }
    values: dict[str, Property] = {name: Fixed(value=round(value, 3)) for name, value in numbers.items()}
    values |= {"filled": Fixed(value=1.0 if part.fill else 0.0), "colour": Fixed(value=part.fill or "#000000")}
    values |= {"line_colour": Fixed(value=part.line)} if part.line else {}
    choices = {"form": "drawing", "joins": "sharp" if part.sharp else "round"}
    opacity = Fixed(value=round(part.opacity, 4))
    return Clip(
        id=id,
        track=id,
        name=part.name,
        head=0,
        length=length,
        content=Shape(values=values, choices=choices, drawing=part.outline),
        steps=(Step(id="placement", kind=BY_HAND.kind, values={"opacity": opacity} if part.opacity < 1 else {}),),
    )
