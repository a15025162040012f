"""Putting new clips over the playhead: the core finds the track, the length and a gentle start."""

from __future__ import annotations

from itertools import takewhile
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..motion import Key, Moving
from ..project.model import (
    MAX_TEXT,
    Clip,
    Footage,
    Frames,
    Frozen,
    Id,
    Media,
    ModelFile,
    Plain,
    Project,
    Sound,
    Step,
    Still,
    Text,
    Track,
    Treatment,
    fixed,
)
from ..project.source import source_length
from ..steps import BY_HAND, STAND
from .base import EditError, rule
from .copies import Seed, has_room
from .tracks import with_new_track

_TITLE_SECONDS = 4
_STILL_SECONDS = 5


class AddTitle(Frozen):
    """A title from a frame on: on the topmost track with room, or on a new one above."""

    kind: Literal["add_title"] = "add_title"
    clip: Id
    frame: Frames
    text: Annotated[str, StringConstraints(max_length=MAX_TEXT)] = "New title"


class AddPicture(Frozen):
    """A shot, still or sound from a frame on, or one colour when no media is named.

    `first` and `last` are the in and out marked on a shot, in frames of the film's rate.
    """

    kind: Literal["add_picture"] = "add_picture"
    clip: Id
    frame: Frames
    media: Id | None = None
    track: Id | None = Field(default=None, description="The track it was dropped on; without it the core finds one.")
    first: Frames = 0
    last: Frames | None = None


class AddTreatment(Frozen):
    """A treatment over all that lies below, from a frame on for a length: on a track of treatments at the top."""

    kind: Literal["add_treatment"] = "add_treatment"
    clip: Id
    frame: Frames
    length: Annotated[int, Field(ge=1, le=10_000_000)]


class LayPictures(Frozen):
    """Shots and stills one after the other from a frame on, each whole; called `seed`-1, `seed`-2 and so on."""

    kind: Literal["lay_pictures"] = "lay_pictures"
    seed: Seed
    frame: Frames
    media: Annotated[tuple[Id, ...], Field(min_length=1, max_length=500)]


_WORDS = frozenset({"text", "shape", "group", "generated"})
"""What lies on tracks of titles and graphics."""
_PICTURES = frozenset({"footage", "still", "plain", "model", "group", "generated"})
_COVERS = _WORDS | _PICTURES
"""What hides something that lies behind it: a treatment, a camera or a light works on what lies below."""
_NAMED = {"Titles": _WORDS, "Groups": _WORDS, "Shots": _PICTURES, "Pictures": _PICTURES}
_OTHERS = ("Sound", "Treatments", "Camera", "Lights", "Over all")
"""Names of tracks that are made for something: while one is empty its name says for what."""


def _is_for(track: Track, kinds: set[str], own: frozenset[str]) -> bool:
    """Whether clips of some kinds belong on a track."""
    if track.captions is not None:
        return False
    stem = track.name.rstrip("0123456789").rstrip()
    return kinds <= own if kinds else stem not in _OTHERS and _NAMED.get(stem, own) == own


def with_clip_somewhere(project: Project, clip: Clip, pictures: bool, asked: str | None) -> Project:
    """The clip before all that it would be seen with: words and graphics before all else, pictures before pictures. On
    the asked track if it has room and is no track of sounds, else on the nearest track of its sort, else on a new one.
    """
    if clip.id in project.clips:
        raise EditError(f"There is already a clip “{clip.id}”; nothing was added.")
    if asked is not None and asked not in {track.id for track in project.tracks}:
        raise EditError(f"There is no track “{asked}”; nothing was added.")
    kinds: dict[str, set[str]] = {track.id: set() for track in project.tracks}
    met: dict[str, set[str]] = {track.id: set() for track in project.tracks}
    for each in project.clips.values():
        kinds[each.track].add(each.content.kind)
        if each.seen != "hidden" and each.head < clip.end and clip.head < each.end:
            met[each.track].add(each.content.kind)
    if asked is not None and kinds[asked] != {"sound"} and has_room(project, asked, clip.head, clip.end):
        return _laid(project, clip, asked)
    own = [track for track in project.tracks if track.within is None]
    covers = _PICTURES if pictures else _COVERS
    behind = [
        place for place, track in enumerate(own) if met[track.id] & covers and not track.hidden and not track.captions
    ]
    before = own[: min(behind, default=len(own))]
    sort = _PICTURES if pictures else _WORDS
    open_ = [
        track
        for track in reversed(before)
        if not track.locked
        and not track.hidden
        and _is_for(track, kinds[track.id], sort)
        and has_room(project, track.id, clip.head, clip.end)
    ]
    # A track with its own kind first, then one with its sort, then an empty one.
    found = min(open_, key=lambda track: (clip.content.kind not in kinds[track.id], not kinds[track.id]), default=None)
    if found is not None:
        return _laid(project, clip, found.id)
    at = project.tracks.index(own[len(before)]) if behind else _first_of(project, kinds, pictures)
    project, made = with_new_track(project, not pictures, at)
    return _laid(project, clip, made)


def _first_of(project: Project, kinds: dict[str, set[str]], pictures: bool) -> int:
    """Where a new track goes if nothing has to lie behind it: pictures below all words, words below what works on all
    that lies below it."""
    if pictures:
        words = [
            place
            for place, track in enumerate(project.tracks)
            if track.within is None and kinds[track.id] & {"text", "shape"}
        ]
        return max(words, default=-1) + 1
    return sum(1 for _ in takewhile(lambda track: kinds[track.id] and not kinds[track.id] & _COVERS, project.tracks))


def _laid(project: Project, clip: Clip, track: str) -> Project:
    placed = clip.model_copy(update={"track": track})
    return project.model_copy(update={"clips": {**project.clips, clip.id: placed}})


@rule(AddTitle)
def add_title(project: Project, edit: AddTitle) -> tuple[Project, str]:
    rate = float(project.settings.rate.fraction)
    arrival = round(0.6 * rate)
    fade = Moving(
        keys=(
            Key(at=0, value=0),
            Key(at=arrival, value=1),
            Key(counts_from="tail", at=-arrival, value=1),
            Key(counts_from="tail", at=0, value=0),
        )
    )
    clip = Clip(
        id=edit.clip,
        track="none",
        name=" ".join(edit.text.split())[:60] or "Empty title",
        head=edit.frame,
        length=max(2, round(_TITLE_SECONDS * rate)),
        arrival=arrival,
        departure=arrival,
        content=Text(text=edit.text, size=fixed(round(project.settings.height * 0.089))),
        steps=(Step(id="placement", kind=BY_HAND.kind, values={"opacity": fade}),),
    )
    return with_clip_somewhere(project, clip, False, None), "add a title"


@rule(AddPicture)
def add_picture(project: Project, edit: AddPicture) -> tuple[Project, str]:
    rate = project.settings.rate
    length, solid = max(1, round(_STILL_SECONDS * float(rate.fraction))), False
    content: Plain | Footage | Still | ModelFile
    if edit.media is None:
        content, name = Plain(), "Plain colour"
    elif edit.media in project.media and project.media[edit.media].kind == "sound":
        return _add_sound(project, edit, project.media[edit.media]), f"add {project.media[edit.media].name}"
    else:
        media = project.media.get(edit.media)
        if media is None:
            raise EditError(f"The picture “{edit.media}” is not in this project; nothing was added.")
        if media.kind == "table":
            raise EditError(f"“{media.name}” is a LUT, no picture; nothing was added. Give it to a step “LUT”.")
        name = media.name
        if media.kind == "video":
            shot = content = Footage(media=media.id, start=float(edit.first))
            whole = max(1, source_length(project, shot))
            last = whole - 1 if edit.last is None else min(edit.last, whole - 1)
            if not edit.first <= last:
                raise EditError(
                    f"“{media.name}” has frames 0 to {whole - 1}; from {edit.first} to {last} there is nothing to "
                    f"place."
                )
            length = last - edit.first + 1
        elif media.kind == "model":
            # A camera sees it from all sides.
            content, solid = ModelFile(media=media.id), True
            if media.frames > 1:
                length = max(1, round(media.frames / 25 * float(rate.fraction)))
        else:
            content = Still(media=media.id, fit="fit" if media.alpha else "fill")
    clip = Clip(
        id=edit.clip,
        track="none",
        name=name,
        head=edit.frame,
        length=length,
        content=content,
        steps=(Step(id="placement", kind=BY_HAND.kind), *((Step(id="stand", kind=STAND.kind),) if solid else ())),
    )
    return with_clip_somewhere(project, clip, True, edit.track), f"add {name}"


def _add_sound(project: Project, edit: AddPicture, media: Media) -> Project:
    if edit.clip in project.clips:
        raise EditError(f"There is already a clip “{edit.clip}”; nothing was added.")
    content = Sound(media=media.id, start=float(edit.first))
    whole = max(1, source_length(project, content))
    last = whole - 1 if edit.last is None else min(edit.last, whole - 1)
    if edit.first > last:
        raise EditError(f"“{media.name}” lasts {whole} frames; from {edit.first} on there is nothing to place.")
    clip = Clip(
        id=edit.clip, track="none", name=media.name, head=edit.frame, length=last - edit.first + 1, content=content
    )
    within = next((track.within for track in project.tracks if track.id == edit.track), None)
    return with_sound_somewhere(project, clip, within, edit.track)


def with_sound_somewhere(project: Project, clip: Clip, within: str | None, asked: str | None = None) -> Project:
    """A sound on the asked track if nothing but sounds lies there, else on a track of sounds of this timeline with
    room, the lowest first, or on a new one at the foot."""
    kinds: dict[str, set[str]] = {
        track.id: set() for track in project.tracks if track.within == within and not track.locked
    }
    for each in project.clips.values():
        kinds.get(each.track, set()).add(each.content.kind)
    own = [track for track in reversed(kinds) if kinds[track] == {"sound"}]
    if asked is not None and kinds.get(asked, {""}) <= {"sound"}:
        own.insert(0, asked)
    found = next((track for track in own if has_room(project, track, clip.head, clip.end)), None)
    if found is None:
        project, found = with_new_track(project, False, len(project.tracks), within, like="Sound")
    return project.model_copy(update={"clips": {**project.clips, clip.id: clip.model_copy(update={"track": found})}})


@rule(AddTreatment)
def add_treatment(project: Project, edit: AddTreatment) -> tuple[Project, str]:
    clip = Clip(
        id=edit.clip,
        track="none",
        name="Treatment",
        head=edit.frame,
        length=edit.length,
        content=Treatment(),
        steps=(Step(id="placement", kind=BY_HAND.kind),),
    )
    return on_top(project, clip, "Treatments"), "add a treatment"


def on_top(project: Project, clip: Clip, name: str) -> Project:
    """The clip over all others: on the uppermost track if only clips of its kind lie there and it has room, else on a
    new one above it."""
    if clip.id in project.clips:
        raise EditError(f"There is already a clip “{clip.id}”; nothing was added.")
    top = next((track for track in project.tracks if track.within is None), None)
    own = [each for each in project.clips.values() if top is not None and each.track == top.id]
    if (
        top is not None
        and not top.locked
        and own
        and all(each.content.kind == clip.content.kind for each in own)
        and has_room(project, top.id, clip.head, clip.end)
    ):
        made, with_track = top.id, project
    else:
        with_track, made = with_new_track(project, True, 0, like=name)
    placed = clip.model_copy(update={"track": made})
    return with_track.model_copy(update={"clips": {**with_track.clips, clip.id: placed}})


@rule(LayPictures)
def lay_pictures(project: Project, edit: LayPictures) -> tuple[Project, str]:
    frame, track = edit.frame, None
    for number, media in enumerate(edit.media, 1):
        clip = f"{edit.seed}-{number}"
        # Beside the one before, as long as its track has room.
        for asked in (track, None) if track else (None,):
            made, _ = add_picture(project, AddPicture(clip=clip, frame=frame, media=media, track=asked))
            if asked is None or made.clips[clip].track == asked:
                break
        project, frame, track = made, made.clips[clip].end, made.clips[clip].track
    first = project.media[edit.media[0]].name
    return project, f"add {first}" if len(edit.media) == 1 else f"add {len(edit.media)} pictures"
