"""Titles that ride with a shot: they move when it moves."""

from __future__ import annotations

from typing import Any, Literal, Protocol

from ..project.model import Clip, Footage, Frozen, Group, Id, Project, Sound
from ..project.retiming import speeds_of
from ..project.sifted import Sifted
from ..project.times import origin_of
from .base import EditError, clip_of, rule
from .clips import Clips, named
from .copies import with_room
from .lanes import with_clips


class RideWith(Frozen):
    """Clips ride with a shot from now on, or (None) with none."""

    kind: Literal["ride_with"] = "ride_with"
    clips: Clips
    shot: Id | None


@rule(RideWith)
def ride_with(project: Project, edit: RideWith) -> tuple[Project, str]:
    clips = [clip_of(project, id) for id in edit.clips]
    if edit.shot is None:
        return with_clips(
            project, [clip.model_copy(update={"rides": None}) for clip in clips]
        ), f"detach {named(clips)}"
    shot = clip_of(project, edit.shot)
    at: Clip | None = shot
    for _ in range(len(project.clips) + 1):
        if at is None or at.rides is None:
            break
        at = project.clips.get(at.rides)
        if at and at.id in edit.clips:
            raise EditError(
                f"“{shot.name}” is attached to “{at.name}” itself; they can't be attached to each other. "
                "Nothing was changed."
            )
    if shot.id in edit.clips:
        raise EditError(f"“{shot.name}” can't be attached to itself; nothing was changed.")
    return with_clips(
        project, [clip.model_copy(update={"rides": shot.id}) for clip in clips]
    ), f"attach {named(clips)} to {shot.name}"


class Over(Protocol):
    """An edit that lays a camera or a light from a frame on, or over a clip."""

    @property
    def frame(self) -> int: ...
    @property
    def length(self) -> int: ...
    @property
    def over(self) -> str | None: ...


def span_over(project: Project, edit: Over) -> dict[str, Any]:
    """Head and length of what is laid over a clip, and that clip as what it is attached to; or those asked for."""
    if edit.over is None:
        return {"head": edit.frame, "length": edit.length}
    shot = clip_of(project, edit.over)
    return {"head": shot.head, "length": shot.length, "rides": shot.id}


_WITH_ALL_OF_IT = ("camera", "light", "treatment")
"""What is there for the whole of the clip it is attached to, and is stretched with it."""


_RIDERS: Sifted[str] = Sifted(lambda clip: clip.rides)


def carried(before: Project, after: Project) -> Project:
    """The document with all riders moved as their shots were. A rider that was itself changed stays where it was put;
    a camera, a light or a treatment that was there as long as its shot still is.

    Where its place is taken it goes to another track; the shot's source, not its head, is what counts,
    so that trimming a shot in place moves nothing.
    """
    if before.clips is after.clips:
        return after
    riders = (after.clips[id] for id in _RIDERS.of(after))
    waiting = [clip for clip in riders if before.clips.get(clip.id) is clip]
    moved: list[Clip] = []
    shifts: dict[str, int] = {}
    for rider in waiting:
        old, new = before.clips.get(str(rider.rides)), after.clips.get(str(rider.rides))
        if old and new and rider.content.kind in _WITH_ALL_OF_IT and (rider.head, rider.end) == (old.head, old.end):
            if (old.head, old.end) != (new.head, new.end):
                moved.append(rider.model_copy(update={"head": new.head, "length": new.length}))
            continue
        by = _shift(before, after, str(rider.rides), shifts, 0)
        if by:
            moved.append(rider.model_copy(update={"head": max(0, rider.head + by)}))
    if not moved:
        return after
    return with_room(after, moved)


def _shift(before: Project, after: Project, id: str, known: dict[str, int], depth: int) -> int:
    """By how many frames a shot moved, itself or with what it is attached to."""
    if id not in known:
        old, new = before.clips.get(id), after.clips.get(id)
        if old is None or new is None or depth > 100:
            known[id] = 0
        elif old is new and new.rides:
            known[id] = _shift(before, after, new.rides, known, depth + 1)
        elif _speeds(old) != _speeds(new):
            # At another speed no one shift is right for all moments: the head counts.
            known[id] = new.head - old.head
        else:
            known[id] = round(origin_of(new) - origin_of(old))
    return known[id]


def _speeds(clip: Clip) -> list[float]:
    content = clip.content
    if isinstance(content, Group):
        return [content.speed]
    return speeds_of(content) if isinstance(content, (Footage, Sound)) else []


def misfits(project: Project) -> list[str]:
    """Riders that reach past their shot, or whose shot is gone: their ids, in order of time. A sound may begin before
    what it is put on, and die away after it."""
    found = []
    riders = (project.clips[id] for id in _RIDERS.of(project))
    for clip in sorted(riders, key=lambda each: each.head):
        shot = project.clips.get(str(clip.rides))
        if shot is not None and clip.content.kind == "sound":
            continue
        if shot is None or clip.head < shot.head or clip.end > shot.end:
            found.append(clip.id)
    return found
