"""Sounds put on what moves: their loudest moment where it is fastest, where it lands, where it leaves."""

from __future__ import annotations

import math
from typing import Literal

from ..moment.hits import MotionHit, motion_hits
from ..project.model import Clip, Frozen, Id, Project, Sound
from .adding import with_sound_somewhere
from .base import EditError, clip_of, rule

_AT_ONCE = 0.08
"""Seconds before its loudest moment, up to which a sound counts as one that begins at once."""


class PutSoundOn(Frozen):
    """A sound on the motion of a clip, with which it rides from now on: its loudest moment lies where the motion is
    fastest, has landed, leaves, or is gone. None chooses: a sound that begins at once marks the landing, one that
    swells the fastest moment."""

    kind: Literal["put_sound_on"] = "put_sound_on"
    new: Id
    media: Id
    clip: Id
    at: MotionHit | None = None


_SAYS = {"fastest": "arrival", "landed": "landing", "leaving": "departure", "gone": "end"}


@rule(PutSoundOn)
def put_sound_on(project: Project, edit: PutSoundOn) -> tuple[Project, str]:
    clip, media = clip_of(project, edit.clip), project.media.get(edit.media)
    if media is None or media.sound is None:
        raise EditError(f"There is no sound “{edit.media}” in this film; nothing was added.")
    if edit.new in project.clips:
        raise EditError(f"There is already a clip “{edit.new}”; nothing was added.")
    wanted = edit.at or ("landed" if media.sound.loudest <= _AT_ONCE else "fastest")
    found = motion_hits(project, clip)
    if wanted not in found:
        what = "departure" if wanted in ("leaving", "gone") else "arrival"
        raise EditError(f"“{clip.name}” has no {what} that moves; nothing was added. Put the sound at the playhead.")
    rate = float(project.settings.rate.fraction)
    begins = clip.head + found[wanted] - media.sound.loudest * rate
    # Its head is a whole frame; the sound itself begins within that.
    head = max(0, math.floor(begins + 1e-6))
    start = round(head - begins, 6)
    length = max(1, math.ceil(media.sound.seconds * rate - start - 1e-6))
    sound = Clip(
        id=edit.new,
        track="none",
        name=media.name,
        head=head,
        length=length,
        content=Sound(media=media.id, start=start),
        rides=clip.id,
    )
    within = next(track.within for track in project.tracks if track.id == clip.track)
    made = with_sound_somewhere(project, sound, within)
    return made, f"put {media.name} on the {_SAYS[wanted]} of {clip.name}"
