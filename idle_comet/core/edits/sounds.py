"""Sounds: how they begin and end, muted or not, and a shot's sound parted from its picture."""

from __future__ import annotations

from typing import Literal

from ..project.model import Clip, Footage, Frames, Frozen, Project, Sound
from .base import EditError, clip_of, rule
from .clips import Clips, named
from .copies import Seed, has_room
from .lanes import with_clips
from .tracks import with_new_track


class SetFades(Frozen):
    """Over how many frames sounds come up at their heads and go down at their ends; what is None stays."""

    kind: Literal["set_fades"] = "set_fades"
    clips: Clips
    fade_in: Frames | None = None
    fade_out: Frames | None = None


class SetMuted(Frozen):
    """Whether sounds, and the sounds of shots, are not heard."""

    kind: Literal["set_muted"] = "set_muted"
    clips: Clips
    muted: bool


class PartSound(Frozen):
    """A shot's own sound as a clip below it that rides with it; the shot itself is muted. The clips are called
    `seed`-1, `seed`-2 and so on."""

    kind: Literal["part_sound"] = "part_sound"
    clips: Clips
    seed: Seed


@rule(SetFades)
def set_fades(project: Project, edit: SetFades) -> tuple[Project, str]:
    made = []
    for clip in (clip_of(project, id) for id in dict.fromkeys(edit.clips)):
        content = clip.content
        if not isinstance(content, Sound):
            raise EditError(f"“{clip.name}” is no sound; only sounds are faded so. Nothing was changed.")
        fade_in = content.fade_in if edit.fade_in is None else edit.fade_in
        fade_out = content.fade_out if edit.fade_out is None else edit.fade_out
        if max(fade_in, fade_out) > clip.length:
            raise EditError(f"“{clip.name}” is {clip.length} frames long; so long a fade was not taken.")
        made.append(
            clip.model_copy(update={"content": content.model_copy(update={"fade_in": fade_in, "fade_out": fade_out})})
        )
    return with_clips(project, made), f"fades of {named(made)}"


@rule(SetMuted)
def set_muted(project: Project, edit: SetMuted) -> tuple[Project, str]:
    made = []
    for clip in (clip_of(project, id) for id in dict.fromkeys(edit.clips)):
        if not isinstance(clip.content, (Sound, Footage)):
            raise EditError(f"“{clip.name}” has no sound; nothing was changed.")
        made.append(clip.model_copy(update={"content": clip.content.model_copy(update={"muted": edit.muted})}))
    return with_clips(project, made), f"{'mute' if edit.muted else 'hear'} {named(made)}"


@rule(PartSound)
def part_sound(project: Project, edit: PartSound) -> tuple[Project, str]:
    shots = [clip_of(project, id) for id in dict.fromkeys(edit.clips)]
    for number, shot in enumerate(shots, 1):
        project = _parted(project, shot, f"{edit.seed}-{number}")
    return project, f"part the sound of {named(shots)}"


def _parted(project: Project, shot: Clip, id: str) -> Project:
    content = shot.content
    media = project.media.get(content.media) if isinstance(content, Footage) else None
    if not isinstance(content, Footage) or media is None or media.sound is None:
        raise EditError(f"“{shot.name}” has no sound of its own; nothing was parted.")
    if not 0.1 <= content.speed <= 10:
        raise EditError(f"“{shot.name}” stands still or runs backwards, and is not heard so; nothing was parted.")
    if id in project.clips:
        raise EditError(f"There is already a clip “{id}”; nothing was parted.")
    sound = Clip(
        id=id,
        track="none",
        name=shot.name,
        head=shot.head,
        length=shot.length,
        content=Sound(media=content.media, start=content.start, speed=content.speed, gain=content.gain),
        rides=shot.id,
    )
    muted = shot.model_copy(update={"content": content.model_copy(update={"muted": True})})
    within = next(track.within for track in project.tracks if track.id == shot.track)
    kinds: dict[str, set[str]] = {track.id: set() for track in project.tracks if track.within == within}
    for each in project.clips.values():
        kinds.get(each.track, set()).add(each.content.kind)
    for track in reversed(project.tracks):
        if track.locked or kinds.get(track.id) != {"sound"}:
            continue
        if has_room(project, track.id, sound.head, sound.end):
            return with_clips(project, [muted, sound.model_copy(update={"track": track.id})])
    project, made = with_new_track(project, False, len(project.tracks), within, like="Sound")
    return with_clips(project, [muted, sound.model_copy(update={"track": made})])
