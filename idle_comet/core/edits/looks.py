"""Clips that look at others, by a tether, a followed point or a mask: both on one timeline, and never in a circle."""

from __future__ import annotations

from ..moment.points import point_in
from ..motion import OnPoint, SoundLevel
from ..project.address import places
from ..project.mask import OF_ANOTHER
from ..project.model import Clip, Project, Sound
from ..project.timeline import timeline_of
from .base import EditError, clip_of


def looks_of(clip: Clip) -> set[str]:
    """The clips a clip looks at."""
    tethers: set[str | None] = {
        place.property.motor.clip
        for place in places(clip)
        if place.property.state == "driven" and place.property.motor.kind in ("tether", "on_point", "sound_level")
    }
    masks = {mask.clip for step in clip.steps for mask in step.masks if mask.form in OF_ANOTHER and mask.clip}
    return {each for each in tethers | masks if each is not None}


def check_looks(project: Project, clip: Clip, other: str, what: str) -> None:
    """Raises EditError where a clip can't look at another; `what` of it would."""
    seen = clip_of(project, other)
    if seen.id == clip.id:
        raise EditError(f"The {what} can't look at its own clip; nothing was changed. Choose another clip.")
    if timeline_of(project, seen) != timeline_of(project, clip):
        raise EditError(
            f"“{seen.name}” lies on another timeline than “{clip.name}”; nothing was changed. Gather both into one "
            f"group first."
        )
    row = _way_back(project, seen, clip.id)
    if row is not None:
        names = " looks at ".join(f"“{each.name}”" for each in (clip, *row, clip))
        raise EditError(f"That would be a circle: {names}. Nothing was changed; let one of them stand on its own.")


def check_point(project: Project, clip: Clip, motor: OnPoint, what: str) -> None:
    """Raises EditError where a value can't go with a followed point; `what` is that value."""
    shot = clip if motor.clip is None else clip_of(project, motor.clip)
    if motor.clip is not None:
        check_looks(project, clip, motor.clip, what)
        if motor.part != "whole":
            raise EditError("Only a shot's own points have a slow and a quick part; nothing was changed.")
    for id in (motor.point, motor.second):
        if id is not None and point_in(shot, id) is None:
            raise EditError(f"“{shot.name}” has no followed point “{id}”; nothing was changed. Follow one first.")
    if motor.second == motor.point or (motor.second is None and motor.gives in ("turn", "size")):
        raise EditError("A turn and a size take two different points; nothing was changed. Follow a second one.")


def check_level(project: Project, clip: Clip, motor: SoundLevel, what: str) -> None:
    """Raises EditError where a value can't go with a sound; `what` is that value."""
    sound = clip_of(project, motor.clip)
    check_looks(project, clip, motor.clip, what)
    if not isinstance(sound.content, Sound) or motor.band >= len(sound.content.levels):
        raise EditError(f"“{sound.name}” was not measured so; nothing was changed. Measure how loud it is first.")


def _way_back(project: Project, start: Clip, target: str) -> list[Clip] | None:
    """The clips from one to another along what they look at; None where no way leads there."""
    came: dict[str, str | None] = {start.id: None}
    open_ends = [start.id]
    while open_ends:
        id = open_ends.pop()
        if id == target:
            row = []
            at = came[id]
            while at is not None:
                row.append(project.clips[at])
                at = came[at]
            return row[::-1]
        for other in looks_of(project.clips[id]):
            if other in project.clips and other not in came:
                came[other] = id
                open_ends.append(other)
    return None
