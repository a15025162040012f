"""What turns one document into another, part by part.

An inverse is a difference, what the store has to write is a difference, and what
the Desk has to draw again is one too.
"""

from __future__ import annotations

from itertools import compress
from operator import is_not
from typing import Any, Literal, TypeVar

from .model import Clip, Frozen, Id, InToOut, Marks, Media, Project, Settings, Track

Part = TypeVar("Part", Clip, Media)


class Difference(Frozen):
    """The parts to put in place; what is None or absent stays as it is."""

    kind: Literal["difference"] = "difference"
    settings: Settings | None = None
    tracks: tuple[Track, ...] | None = None
    marks: Marks | None = None
    range: InToOut | None = None
    media: dict[Id, Media] = {}
    media_gone: tuple[Id, ...] = ()
    clips: dict[Id, Clip] = {}
    clips_gone: tuple[Id, ...] = ()

    @property
    def empty(self) -> bool:
        return self == Difference()


def replaced(old: dict[str, Part], new: dict[str, Part]) -> list[tuple[str, Part, Part]] | None:
    """Parts that are another object than before, as (id, before, after); None where some came or went. Of thousands
    most often one is, so that those that are the same must cost next to nothing."""
    if old is new:
        return []
    global _last
    if _last and _last[0] is old and _last[1] is new:
        return _last[2]
    # Two lists are compared without a look at what is the same object.
    if len(old) != len(new) or list(old) != list(new):
        return None
    found = [(id, old[id], new[id]) for id in compress(old, map(is_not, old.values(), new.values()))]
    _last = old, new, found
    return found


_last: tuple[Any, Any, Any] | None = None
"""What was compared last, and how it differs: at an edit it is asked several times, and each time takes 3 ms of 8,000
clips."""


def _changed(old: dict[str, Part], new: dict[str, Part]) -> tuple[dict[str, Part], tuple[str, ...]]:
    others = replaced(old, new)
    if others is not None:
        return {key: after for key, before, after in others if before != after}, ()
    put = {key: part for key, part in new.items() if old.get(key) is not part and old.get(key) != part}
    return put, () if old.keys() == new.keys() else tuple(key for key in old if key not in new)


def difference(old: Project, new: Project) -> Difference:
    """The difference that turns `old` into `new`."""
    clips, clips_gone = _changed(old.clips, new.clips)
    media, media_gone = _changed(old.media, new.media)
    return Difference(
        settings=None if old.settings == new.settings else new.settings,
        tracks=None if old.tracks == new.tracks else new.tracks,
        marks=None if old.marks == new.marks else new.marks,
        range=None if old.range == new.range else new.range,
        media=media,
        media_gone=media_gone,
        clips=clips,
        clips_gone=clips_gone,
    )


def whole(project: Project) -> Difference:
    """The difference that puts all of a document in place."""
    return Difference(
        settings=project.settings,
        tracks=project.tracks,
        marks=project.marks,
        range=project.range,
        media=project.media,
        clips=project.clips,
    )


def inverse_of(change: Difference, old: Project) -> Difference:
    """The difference that takes `change`, made on `old`, back."""
    return Difference(
        settings=None if change.settings is None else old.settings,
        tracks=None if change.tracks is None else old.tracks,
        marks=None if change.marks is None else old.marks,
        range=None if change.range is None else old.range,
        media={id: old.media[id] for id in (*change.media, *change.media_gone) if id in old.media},
        media_gone=tuple(id for id in change.media if id not in old.media),
        clips={id: old.clips[id] for id in (*change.clips, *change.clips_gone) if id in old.clips},
        clips_gone=tuple(id for id in change.clips if id not in old.clips),
    )


def apply_difference(project: Project, change: Difference) -> Project:
    """`project` with the parts of `change` in place."""
    clips, media = project.clips, project.media
    if change.clips or change.clips_gone:
        gone = set(change.clips_gone)
        # With thousands of clips a copy is much less than a look at each.
        clips = ({key: clip for key, clip in clips.items() if key not in gone} if gone else clips) | change.clips
    if change.media or change.media_gone:
        gone = set(change.media_gone)
        media = {key: item for key, item in media.items() if key not in gone} | change.media
    return project.model_copy(
        update={
            "settings": change.settings or project.settings,
            "tracks": project.tracks if change.tracks is None else change.tracks,
            "marks": change.marks or project.marks,
            "range": change.range or project.range,
            "media": media,
            "clips": clips,
        }
    )


def joined(changes: list[Difference]) -> Difference:
    """One difference that does what these do one after the other."""
    settings, tracks, marks, range = None, None, None, None
    clips: dict[str, Clip | None] = {}
    media: dict[str, Media | None] = {}
    for change in changes:
        settings = change.settings or settings
        tracks = tracks if change.tracks is None else change.tracks
        marks = change.marks or marks
        range = change.range or range
        clips |= dict.fromkeys(change.clips_gone) | change.clips
        media |= dict.fromkeys(change.media_gone) | change.media
    return Difference(
        settings=settings,
        tracks=tracks,
        marks=marks,
        range=range,
        media={key: item for key, item in media.items() if item},
        media_gone=tuple(key for key, item in media.items() if not item),
        clips={key: clip for key, clip in clips.items() if clip},
        clips_gone=tuple(key for key, clip in clips.items() if not clip),
    )
