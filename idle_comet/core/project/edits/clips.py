"""Placing clips on tracks: add, remove, move, trim."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..model import MAX_FRAMES, Clip, Colour, Frames, Frozen, Id, Project
from .base import EditError, changed, clip_of, with_clip


class AddClip(Frozen):
    kind: Literal["add_clip"] = "add_clip"
    clip: Clip


class RemoveClip(Frozen):
    kind: Literal["remove_clip"] = "remove_clip"
    clip: Id


class MoveClip(Frozen):
    """A new head, and another track if one is named."""

    kind: Literal["move_clip"] = "move_clip"
    clip: Id
    head: Frames
    track: Id | None = None


class TrimClip(Frozen):
    """New ends. Trimming the head of footage shows it from a later source frame."""

    kind: Literal["trim_clip"] = "trim_clip"
    clip: Id
    head: Frames
    length: int = Field(ge=1, le=MAX_FRAMES)


class ChangeFit(Frozen):
    """How a picture meets the frame, or the colour of a plain clip."""

    kind: Literal["change_fit"] = "change_fit"
    clip: Id
    fit: Literal["fill", "fit", "own"] | None = None
    colour: Colour | None = None


def _place(project: Project, clip: Clip) -> Project:
    """The document with this clip, if its track exists and has room for it."""
    if all(track.id != clip.track for track in project.tracks):
        raise EditError(f"There is no track “{clip.track}”; nothing was changed.")
    for other in project.clips.values():
        if (other.track == clip.track and other.id != clip.id
                and other.head < clip.head + clip.length and clip.head < other.head + other.length):
            raise EditError(f"“{clip.name}” would lie over “{other.name}” on the same track; nothing was moved. "
                            "Leave room, or use another track.")
    return with_clip(project, clip)


def _check_source(project: Project, clip: Clip) -> None:
    if clip.content.kind in ("footage", "still") and clip.content.media not in project.media:
        raise EditError(f"The picture “{clip.content.media}” is not in this project; nothing was changed.")


def add_clip(project: Project, edit: AddClip) -> tuple[Project, str]:
    if edit.clip.id in project.clips:
        raise EditError(f"There is already a clip “{edit.clip.id}”; nothing was added.")
    _check_source(project, edit.clip)
    return _place(project, edit.clip), f"add {edit.clip.name}"


def remove_clip(project: Project, edit: RemoveClip) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    clips = {key: item for key, item in project.clips.items() if key != clip.id}
    return project.model_copy(update={"clips": clips}), f"remove {clip.name}"


def move_clip(project: Project, edit: MoveClip) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    moved = clip.model_copy(update={"head": edit.head, "track": edit.track or clip.track})
    return _place(project, moved), f"move {clip.name}"


def trim_clip(project: Project, edit: TrimClip) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    content = clip.content
    if content.kind == "footage":
        start = content.start + edit.head - clip.head
        if start < 0:
            raise EditError(f"“{clip.name}” has no earlier frames: {-start} more would be needed before its head.")
        media = project.media.get(content.media)
        if media:
            spare = int(media.frames / media.rate.fraction * project.settings.rate.fraction)
            if start + edit.length > max(spare, content.start + clip.length):
                raise EditError(f"“{clip.name}” has only {spare} frames; its tail can't go further out.")
        content = content.model_copy(update={"start": start})
    trimmed = clip.model_copy(update={"head": edit.head, "length": edit.length, "content": content})
    return _place(project, trimmed), f"trim {clip.name} to {edit.length} frames"


def change_fit(project: Project, edit: ChangeFit) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    if edit.fit and clip.content.kind in ("footage", "still"):
        content, label = changed(clip.content, fit=edit.fit), f"{edit.fit} the frame"
    elif edit.colour and clip.content.kind == "plain":
        content, label = changed(clip.content, colour=edit.colour), "colour"
    else:
        raise EditError(f"“{clip.name}” shows {clip.content.kind}; that can't be set on it.")
    return with_clip(project, clip.model_copy(update={"content": content})), label
