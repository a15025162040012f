"""Which frames of its source footage shows, and how many it has to spare."""

from __future__ import annotations

from fractions import Fraction

from .model import Clip, Footage, Project, Sound
from .retiming import retiming

_MOST_SPARE = 3000
"""Spare frames that are counted of a clip whose speed moves."""


def source_length(project: Project, content: Footage | Sound) -> int:
    """Whole frames of the film's rate that the source lasts; 0 when it is missing."""
    media = project.media.get(content.media)
    if isinstance(content, Sound):
        lasts = media.sound.seconds if media is not None and media.sound is not None else 0.0
        return int(lasts * float(project.settings.rate.fraction) + 1e-6)
    return int(media.frames / media.rate.fraction * project.settings.rate.fraction) if media else 0


def source_place(project: Project, clip: Clip, local: int) -> Fraction:
    """The place in its source that a frame of a shot shows, in source frames and parts of one, held at the source's
    ends. Its media must be there."""
    content = clip.content
    assert isinstance(content, Footage)
    media = project.media[content.media]
    place = retiming(clip).exact(local) / project.settings.rate.fraction * media.rate.fraction
    return min(max(place, Fraction(0)), Fraction(media.frames - 1))


def source_frame(project: Project, clip: Clip, local: int) -> int:
    """The source frame shown at a frame of a shot: ⌊t·r⌋, held at the source's ends. Its media must be there."""
    return int(source_place(project, clip, local))


def spare_frames(project: Project, clip: Clip) -> tuple[int, int] | None:
    """Frames of the film that could still be shown before the clip's head and after its end; None for no limit."""
    content = clip.content
    if not isinstance(content, (Footage, Sound)) or content.media not in project.media:
        return None
    way, last = retiming(clip), source_length(project, content) - 1
    if way.fixed is None:
        before = next((n for n in range(_MOST_SPARE) if not 0 <= way.exact(-n - 1) <= last), _MOST_SPARE)
        after = next((n for n in range(_MOST_SPARE) if not 0 <= way.exact(clip.length + n) <= last), _MOST_SPARE)
        return before, after
    if way.fixed == 0:
        return None
    # From the source's first frame (its last, when it runs backwards) up to `start`; the same on the other side.
    gone = content.start if way.fixed > 0 else last - content.start
    left = last - content.start if way.fixed > 0 else content.start
    return max(0, int(gone / abs(way.fixed))), max(0, int(left / abs(way.fixed)) - (clip.length - 1))
