"""Rules of the timeline that many edits share: no overlaps, gaps that close, clips that push on."""

from __future__ import annotations

from typing import Iterable

from ..project.model import Clip, Project
from ..project.timeline import overlap
from .base import EditError


def with_clips(project: Project, clips: Iterable[Clip], gone: Iterable[str] = ()) -> Project:
    """The document with these clips in place; nothing is checked."""
    after = {**project.clips, **{clip.id: clip for clip in clips}}
    for id in gone:
        after.pop(id, None)
    return project.model_copy(update={"clips": after})


def track_clips(project: Project, track: str) -> list[Clip]:
    """A track's clips in order of time."""
    return sorted((clip for clip in project.clips.values() if clip.track == track), key=lambda clip: clip.head)


def check_room(project: Project, changed: Iterable[str]) -> None:
    """Raises EditError if one of the changed clips lies over another, or on a track that is not there."""
    ids = set(changed)
    known = {track.id for track in project.tracks}
    for id in ids:
        track = project.clips[id].track
        if track not in known:
            raise EditError(f"There is no track “{track}”; nothing was changed.")
    over = overlap(project, ids)
    if over:
        upper, lower = over if over[0].id in ids else reversed(over)
        raise EditError(
            f"“{upper.name}” would lie over “{lower.name}” on the same track; nothing was moved. "
            "Leave room, or use another track."
        )


def check_unlocked(before: Project, after: Project) -> None:
    """Raises EditError if a clip on a locked track was changed."""
    locked = {track.id: track.name for track in before.tracks if track.locked}
    if not locked:
        return
    for id, clip in before.clips.items():
        now = after.clips.get(id)
        if now is not clip and clip.track in locked and now != clip:
            raise EditError(
                f"The track “{locked[clip.track]}” is locked; “{clip.name}” is as it was. Unlock the track first."
            )
    for id, clip in after.clips.items():
        if id not in before.clips and clip.track in locked:
            raise EditError(f"The track “{locked[clip.track]}” is locked; nothing was put on it.")


def shift_after(project: Project, track: str, frame: int, by: int, leave: Iterable[str] = ()) -> list[Clip]:
    """The track's clips from a frame on, moved by so many frames."""
    kept = set(leave)
    moved = [
        clip for clip in project.clips.values() if clip.track == track and clip.head >= frame and clip.id not in kept
    ]
    for clip in moved:
        if clip.head + by < 0:
            raise EditError(f"“{clip.name}” would begin before the film; nothing was moved.")
    return [clip.model_copy(update={"head": clip.head + by}) for clip in moved]


def settled(project: Project, lengths: dict[str, Clip]) -> Project:
    """Clips with new lengths, and what that does to their tracks.

    Clips that touched still touch; one that grows into the next pushes it on; where there was room, gaps stay.
    """
    changed: list[Clip] = []
    for track in {project.clips[id].track for id in lengths}:
        before_end = after_end = 0
        for clip in track_clips(project, track):
            now = lengths.get(clip.id, clip)
            touched = clip.head == before_end
            head = after_end if touched else max(clip.head, after_end)
            if now is not clip or head != clip.head:
                now = now.model_copy(update={"head": head})
                changed.append(now)
            before_end, after_end = clip.end, head + now.length
    return with_clips(project, changed)
