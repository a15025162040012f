"""Sounds: how they begin and end, muted or not, and a shot's sound parted from its picture."""

from __future__ import annotations

from typing import Any, Literal

from ..motion import Ease
from ..project.model import Clip, Footage, Frames, Frozen, Project, Sound
from ..project.retiming import speeds_of
from .adding import with_sound_somewhere
from .base import EditError, clip_of, rule
from .clips import Clips, named
from .copies import Seed
from .lanes import with_clips

FadeEase = Ease | Literal["equal-power"]
"""How a fade runs; with equal power two sounds that cross are as loud as one."""


class SetFades(Frozen):
    """Over how many frames sounds come up at their heads and go down at their ends; what is None stays."""

    kind: Literal["set_fades"] = "set_fades"
    clips: Clips
    fade_in: Frames | None = None
    fade_out: Frames | None = None
    fade_in_ease: FadeEase | None = None
    fade_out_ease: FadeEase | None = None


class SetKeepsPitch(Frozen):
    """Whether the pitch of sounds, and of the sounds of shots, stays as it is at another speed."""

    kind: Literal["set_keeps_pitch"] = "set_keeps_pitch"
    clips: Clips
    keeps: bool


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
        if max(edit.fade_in or 0, edit.fade_out or 0) > clip.length:
            raise EditError(f"“{clip.name}” is {clip.length} frames long; so long a fade was not taken.")
        # A new fade begins at the clip's own head, whatever was cut off before it, and ends at its own end.
        changes: dict[str, Any] = {}
        if edit.fade_in is not None:
            changes |= {"fade_in": edit.fade_in, "fade_before": 0}
        if edit.fade_out is not None:
            changes |= {"fade_out": edit.fade_out, "fade_after": 0}
        for name in ("fade_in_ease", "fade_out_ease"):
            ease = getattr(edit, name)
            if ease is not None:
                changes[name] = None if ease == "equal-power" else ease
        made.append(clip.model_copy(update={"content": content.model_copy(update=changes)}))
    return with_clips(project, made), f"fades of {named(made)}"


@rule(SetMuted)
def set_muted(project: Project, edit: SetMuted) -> tuple[Project, str]:
    project, names = _sounding(project, edit.clips, {"muted": edit.muted})
    return project, f"{'mute' if edit.muted else 'hear'} {names}"


@rule(SetKeepsPitch)
def set_keeps_pitch(project: Project, edit: SetKeepsPitch) -> tuple[Project, str]:
    project, names = _sounding(project, edit.clips, {"keeps_pitch": edit.keeps})
    return project, f"{'keep' if edit.keeps else 'let go'} the pitch of {names}"


def _sounding(project: Project, clips: Clips, changes: dict[str, bool]) -> tuple[Project, str]:
    """What is heard of clips, changed; and their names."""
    made = []
    for clip in (clip_of(project, id) for id in dict.fromkeys(clips)):
        if not isinstance(clip.content, (Sound, Footage)):
            raise EditError(f"“{clip.name}” has no sound; nothing was changed.")
        made.append(clip.model_copy(update={"content": clip.content.model_copy(update=changes)}))
    return with_clips(project, made), named(made)


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
    if not all(0.1 <= each <= 10 for each in speeds_of(content)):
        raise EditError(f"“{shot.name}” stands still or runs backwards, and is not heard so; nothing was parted.")
    if id in project.clips:
        raise EditError(f"There is already a clip “{id}”; nothing was parted.")
    sound = Clip(
        id=id,
        track="none",
        name=shot.name,
        head=shot.head,
        length=shot.length,
        content=Sound(
            media=content.media,
            start=content.start,
            speed=content.speed,
            gain=content.gain,
            keeps_pitch=content.keeps_pitch,
        ),
        rides=shot.id,
    )
    if content.speed.state == "moving":
        # Its speed counts its keys as the shot's does.
        fields = ("arrival", "departure", "skipped", "cut_off")
        sound = sound.model_copy(update={each: getattr(shot, each) for each in fields})
    muted = shot.model_copy(update={"content": content.model_copy(update={"muted": True})})
    within = next(track.within for track in project.tracks if track.id == shot.track)
    return with_sound_somewhere(with_clips(project, [muted]), sound, within)
