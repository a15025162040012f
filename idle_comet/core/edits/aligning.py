"""Clips aligned to the frame, to the safe area or to one of them, and evenly distributed."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..moment.evaluate import evaluate_clip
from ..moment.placed import total_matrix
from ..moment.scene import TextNow
from ..moment.standing import TITLE_SAFE, stand
from ..motion import CENTRES, Property, number
from ..picture import Rect
from ..project.model import Clip, Frames, Frozen, Id, Project, Step
from ..steps import BY_HAND
from .base import EditError, clip_of, rule
from .lanes import with_clips
from .values import property_of, with_property

Side = Literal["left", "centre", "right", "top", "middle", "bottom"]


class AlignClips(Frozen):
    """Each clip's side brought to that of the frame, of the title safe area, or of the last clip named, as seen at a
    frame of the film.

    Titles are measured by their ink or by their type, as each is set to be; pictures by what is seen of them.
    """

    kind: Literal["align_clips"] = "align_clips"
    clips: Annotated[tuple[Id, ...], Field(min_length=1, max_length=5000)]
    side: Side
    to: Literal["frame", "safe", "last"] = "frame"
    frame: Frames


class DistributeClips(Frozen):
    """Three or more clips with even gaps between them; the outermost stay."""

    kind: Literal["distribute_clips"] = "distribute_clips"
    clips: Annotated[tuple[Id, ...], Field(min_length=1, max_length=5000)]
    along: Literal["across", "down"]
    frame: Frames


def box_at(project: Project, clip: Clip, frame: int) -> Rect:
    """Where a clip stands at a frame of the film, px; off its time, at the nearest frame of it."""
    # Where things stand is known where documents are composed; that room is asked late.

    layer = evaluate_clip(project, clip, min(max(frame - clip.head, 0), clip.length - 1))
    if layer is None:
        raise EditError(
            f"“{clip.name}” shows nothing that could be aligned; its picture is missing. Nothing was changed."
        )
    standing = stand(layer.content, project.settings.width, project.settings.height)
    by_type = isinstance(layer.content, TextNow) and layer.content.measured_by != "ink"
    measured = standing.box if by_type or standing.ink.empty else standing.ink
    return measured.through(total_matrix(layer, standing))


def moved(clip: Clip, x: float, y: float) -> Clip:
    """The clip's last placement, and with it all of its travel, moved by so many px; it gets one where it has none."""
    step = next((each for each in reversed(clip.steps) if each.kind == BY_HAND.kind and each.units is None), None)
    if step is None:
        step = Step(id="aligned", kind=BY_HAND.kind)
        clip = clip.model_copy(update={"steps": (*clip.steps, step)})
    for name, by in (("x", x), ("y", y)):
        if abs(by) > 1e-9:
            clip = with_property(clip, step.id, name, shifted(property_of(clip, step.id, name), by))
    return clip


def shifted(prop: Property, by: float) -> Property:
    """Every value of a number, whatever gives it, moved by as much."""
    if prop.state == "fixed":
        return prop.model_copy(update={"value": round(number(prop.value) + by, 3)})
    if prop.state == "moving":
        return prop.model_copy(
            update={
                "keys": tuple(key.model_copy(update={"value": round(number(key.value) + by, 3)}) for key in prop.keys)
            }
        )
    centre = CENTRES.get(prop.motor.kind, "centre")
    return prop.model_copy(update={"motor": prop.motor.model_copy(update={centre: getattr(prop.motor, centre) + by})})


def _place(box: Rect, side: Side) -> float:
    return {
        "left": box.x0,
        "centre": (box.x0 + box.x1) / 2,
        "right": box.x1,
        "top": box.y0,
        "middle": (box.y0 + box.y1) / 2,
        "bottom": box.y1,
    }[side]


@rule(AlignClips)
def align_clips(project: Project, edit: AlignClips) -> tuple[Project, str]:

    clips = [clip_of(project, id) for id in edit.clips]
    width, height = project.settings.width, project.settings.height
    if edit.to == "last":
        if len(clips) < 2:
            raise EditError("Two clips or more are aligned to each other; choose another. Nothing was changed.")
        target = box_at(project, clips[-1], edit.frame)
        clips = clips[:-1]
    else:
        safe = TITLE_SAFE if edit.to == "safe" else 0.0
        target = Rect(width * safe, height * safe, width * (1 - safe), height * (1 - safe))
    across = edit.side in ("left", "centre", "right")
    made = []
    for clip in clips:
        by = _place(target, edit.side) - _place(box_at(project, clip, edit.frame), edit.side)
        made.append(moved(clip, by if across else 0.0, 0.0 if across else by))
    where = {"frame": "of the frame", "safe": "of the safe area", "last": "of the last"}[edit.to]
    return with_clips(project, made), f"align to the {edit.side} {where}"


@rule(DistributeClips)
def distribute_clips(project: Project, edit: DistributeClips) -> tuple[Project, str]:
    if len(edit.clips) < 3:
        raise EditError("Three clips or more are distributed; choose others too. Nothing was changed.")
    low, high = (0, 2) if edit.along == "across" else (1, 3)
    boxes = sorted(
        ((box_at(project, clip_of(project, id), edit.frame), id) for id in edit.clips),
        key=lambda each: each[0][low] + each[0][high],
    )
    room = boxes[-1][0][low] - boxes[0][0][high] - sum(box[high] - box[low] for box, _ in boxes[1:-1])
    gap, at, made = room / (len(boxes) - 1), boxes[0][0][high], []
    for box, id in boxes[1:-1]:
        by = at + gap - box[low]
        made.append(moved(project.clips[id], by if low == 0 else 0.0, by if low == 1 else 0.0))
        at += gap + box[high] - box[low]
    return with_clips(project, made), f"distribute {len(boxes)} clips"
