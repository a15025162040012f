"""Copies of clips: duplicated behind themselves, or pasted at a frame."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..project.model import Clip, Frames, Frozen, Id, Project
from .base import EditError, clip_of, rule
from .clips import Clips, check_source, named
from .insides import relooked, with_insides
from .lanes import with_clips
from .tracks import with_new_track

Seed = Annotated[Id, Field(max_length=56)]


class DuplicateClips(Frozen):
    """Copies behind the last of the clips, in the same order and at the same distances; called `seed`-1, `seed`-2 and
    so on."""

    kind: Literal["duplicate_clips"] = "duplicate_clips"
    clips: Clips
    seed: Seed


class PasteClips(Frozen):
    """Copied clips with the earliest at a frame, each on its own track if there is room, else on another.

    Clips whose picture is not in the project are refused.
    """

    kind: Literal["paste_clips"] = "paste_clips"
    clips: Annotated[tuple[Clip, ...], Field(min_length=1, max_length=5000)]
    frame: Frames
    seed: Seed


@rule(DuplicateClips)
def duplicate_clips(project: Project, edit: DuplicateClips) -> tuple[Project, str]:
    clips = [clip_of(project, id) for id in dict.fromkeys(edit.clips)]
    return _put(project, clips, max(clip.end for clip in clips), edit.seed), f"duplicate {named(clips)}"


@rule(PasteClips)
def paste_clips(project: Project, edit: PasteClips) -> tuple[Project, str]:
    for clip in edit.clips:
        check_source(project, clip)
    return _put(project, list(edit.clips), edit.frame, edit.seed), f"paste {named(list(edit.clips))}"


def _put(project: Project, clips: list[Clip], frame: int, seed: str) -> Project:
    by = frame - min(clip.head for clip in clips)
    new_ids = {clip.id: f"{seed}-{number}" for number, clip in enumerate(clips, 1)}
    taken = [id for id in new_ids.values() if id in project.clips]
    if taken:
        raise EditError(f"There is already a clip “{taken[0]}”; nothing was added.")
    for clip in clips:
        # What rode with a copied shot rides with the copy.
        rides = new_ids.get(clip.rides, clip.rides) if clip.rides else None
        copy = clip.model_copy(
            update={
                "id": new_ids[clip.id],
                "head": clip.head + by,
                "rides": rides if rides in {*project.clips, *new_ids.values()} else None,
            }
        )
        project = place_somewhere(project, relooked(copy, new_ids))
        if clip.content.kind == "group" and clip.id in project.clips:
            project = with_insides(project, clip.id, copy.id)
    return project


def has_room(project: Project, track: str, head: int, end: int) -> bool:
    return all(other.track != track or other.head >= end or other.end <= head for other in project.clips.values())


def with_room(project: Project, moved: list[Clip]) -> Project:
    """The document with clips of it at other times: each on its track if there is room, else on another."""
    rest = with_clips(project, (), [clip.id for clip in moved])
    for clip in sorted(moved, key=lambda each: each.head):
        rest = (
            with_clips(rest, [clip]) if has_room(rest, clip.track, clip.head, clip.end) else place_somewhere(rest, clip)
        )
    # In the order they were in, so that the document differs only where something moved.
    return rest.model_copy(update={"clips": {id: rest.clips[id] for id in project.clips}})


def _sort(clip: Clip) -> str:
    """What it shares tracks with: a picture on a track of treatments would lie over all that they treat."""
    return {"text": "words", "treatment": "treatment", "sound": "sound"}.get(clip.content.kind, "picture")


def place_somewhere(project: Project, clip: Clip) -> Project:
    """The clip on its own track, else on the nearest of its sort, else on a new one above its own and named like it.

    Words never go to an empty track on which pictures would lie over them.
    """
    sort = _sort(clip)
    words = sort == "words"
    within = next((track.within for track in project.tracks if track.id == clip.track), None)
    tracks = [track.id for track in project.tracks if not track.locked and track.within == within]
    sorts: dict[str, set[str]] = {}
    for other in project.clips.values():
        sorts.setdefault(other.track, set()).add(_sort(other))
    own = [clip.track] if clip.track in tracks else []
    order = [track.id for track in project.tracks]
    home = order.index(clip.track) if clip.track in order else 0 if words else len(order)
    highest = min((i for i, track in enumerate(order) if "picture" in sorts.get(track, ())), default=len(order))
    suited = [
        track
        for track in sorted(tracks, key=lambda track: abs(order.index(track) - home))
        if track not in own
        and (sort in sorts[track] if sorts.get(track) else sort == "picture" or order.index(track) < highest)
    ]
    for track in [*own, *suited]:
        if has_room(project, track, clip.head, clip.end):
            return with_clips(project, [clip.model_copy(update={"track": track})])
    like = next((track.name for track in project.tracks if track.id == clip.track), None)
    project, made = with_new_track(project, words, home, within, like)
    return with_clips(project, [clip.model_copy(update={"track": made})])
