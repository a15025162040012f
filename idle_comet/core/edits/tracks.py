"""Tracks: add, name, hide, lock, reorder, take away."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..contents.sound import SILENT
from ..project.model import CaptionTrack, Frozen, Id, Language, Name, Project, Track
from .base import EditError, changed, rule


class AddTrack(Frozen):
    """A track at a place counted from the top of the picture."""

    kind: Literal["add_track"] = "add_track"
    track: Track
    at: int = Field(default=0, ge=0, le=500)


class ChangeTrack(Frozen):
    """What is None stays; a height of 0 is the track's own measure again."""

    kind: Literal["change_track"] = "change_track"
    track: Id
    name: Name | None = None
    hidden: bool | None = None
    locked: bool | None = None
    muted: bool | None = None
    alone: bool | None = None
    language: Language | None = None
    """Of captions."""
    gain: Annotated[float, Field(ge=SILENT, le=24, allow_inf_nan=False)] | None = None
    height: int | None = Field(default=None, ge=0, le=240)


class MoveTrack(Frozen):
    """To a place counted from the top of the picture."""

    kind: Literal["move_track"] = "move_track"
    track: Id
    to: int = Field(ge=0, le=500)


class RemoveTrack(Frozen):
    """Take a track and all on it away."""

    kind: Literal["remove_track"] = "remove_track"
    track: Id


def track_of(project: Project, id: str) -> Track:
    for track in project.tracks:
        if track.id == id:
            return track
    raise EditError(f"There is no track “{id}”; nothing was changed.")


_MADE = "track-"
"""How ids of tracks begin that edits make for their clips."""
_NAMES = ("Titles", "Pictures", "Sound", "Treatments", "Camera", "Lights", "Over all")


def with_new_track(
    project: Project, words: bool, at: int, within: str | None = None, like: str | None = None
) -> tuple[Project, str]:
    """One more track of a timeline, at a place among all tracks; and its id.

    It is named `like` another, or by what it is for, and counted among those of that name.
    """
    ids = {track.id for track in project.tracks}
    number = 1 + len(ids)
    while f"{_MADE}{number}" in ids:
        number += 1
    word = like.rstrip("0123456789").rstrip() if like else ""
    word = word or ("Titles" if words else "Pictures")
    alike = sum(
        track.within == within and (track.name == word or track.name.startswith(f"{word} ")) for track in project.tracks
    )
    track = Track(id=f"{_MADE}{number}", name=f"{word} {alike + 1}" if alike else word, within=within)
    return add_track(project, AddTrack(track=track, at=at))[0], track.id


def without_bare(project: Project, tracks: set[str]) -> Project:
    """The document without those of some tracks that an edit made for its clips, that hold nothing any more and are as
    they were made."""
    full = {clip.track for clip in project.clips.values()}
    bare = {
        track.id
        for track in project.tracks
        if track.id in tracks - full
        and track.id.startswith(_MADE)
        and track.name.rstrip("0123456789 ") in _NAMES
        and track == Track(id=track.id, name=track.name, within=track.within)
    }
    return project.model_copy(update={"tracks": tuple(each for each in project.tracks if each.id not in bare)})


@rule(AddTrack)
def add_track(project: Project, edit: AddTrack) -> tuple[Project, str]:
    if any(track.id == edit.track.id for track in project.tracks):
        raise EditError(f"There is already a track “{edit.track.id}”; nothing was added.")
    if len(project.tracks) >= 500:
        raise EditError("There are 500 tracks already; nothing was added.")
    tracks = list(project.tracks)
    tracks.insert(edit.at, edit.track)
    return project.model_copy(update={"tracks": tuple(tracks)}), f"add track {edit.track.name}"


@rule(ChangeTrack)
def change_track(project: Project, edit: ChangeTrack) -> tuple[Project, str]:
    track = track_of(project, edit.track)
    names = ("name", "hidden", "locked", "muted", "alone", "gain", "height")
    values = {name: getattr(edit, name) for name in names if getattr(edit, name) is not None}
    if values.get("height") is not None:
        values["height"] = max(20, values["height"]) if values["height"] else None
    if edit.language is not None:
        values["captions"] = (track.captions or CaptionTrack()).model_copy(update={"language": edit.language})
    now = changed(track, **values)
    label = f"name track {now.name}" if edit.name else f"track {track.name}"
    for name, words in _SWITCHES.items():
        if getattr(edit, name) is not None:
            label = f"{words[getattr(edit, name)]} track {track.name}"
    if edit.language is not None:
        label = f"{track.name} holds captions in {edit.language}"
    if edit.gain is not None:
        label = f"gain of track {track.name}"
    return project.model_copy(
        update={"tracks": tuple(now if each.id == track.id else each for each in project.tracks)}
    ), label


_SWITCHES = {
    "hidden": ("show", "hide"),
    "locked": ("unlock", "lock"),
    "muted": ("hear", "mute"),
    "alone": ("hear all beside", "hear alone"),
}


@rule(MoveTrack)
def move_track(project: Project, edit: MoveTrack) -> tuple[Project, str]:
    track = track_of(project, edit.track)
    own = [each for each in project.tracks if each.within == track.within and each.id != track.id]
    own.insert(edit.to, track)
    # Tracks of other timelines stay where they are among all.
    order = iter(own)
    tracks = tuple(next(order) if each.within == track.within else each for each in project.tracks)
    return project.model_copy(update={"tracks": tracks}), f"reorder track {track.name}"


@rule(RemoveTrack)
def remove_track(project: Project, edit: RemoveTrack) -> tuple[Project, str]:
    track = track_of(project, edit.track)
    clips = {id: clip for id, clip in project.clips.items() if clip.track != track.id}
    return project.model_copy(
        update={"tracks": tuple(each for each in project.tracks if each.id != track.id), "clips": clips}
    ), f"remove track {track.name}"
