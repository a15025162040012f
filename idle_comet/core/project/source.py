"""Which frames of its source footage shows, and how many it has to spare."""

from __future__ import annotations

from fractions import Fraction

from .model import Clip, Footage, Group, Project, Sound


def exact_speed(content: Footage | Group | Sound) -> Fraction:
    """Speeds count to a ten-thousandth, so that no platform's float decides a frame."""
    return Fraction(round(content.speed * 10_000), 10_000)


def source_length(project: Project, content: Footage | Sound) -> int:
    """Whole frames of the film's rate that the source lasts; 0 when it is missing."""
    media = project.media.get(content.media)
    if isinstance(content, Sound):
        lasts = media.sound.seconds if media is not None and media.sound is not None else 0.0
        return int(lasts * float(project.settings.rate.fraction) + 1e-6)
    return int(media.frames / media.rate.fraction * project.settings.rate.fraction) if media else 0


def source_frame(project: Project, content: Footage, local: int) -> int:
    """The source frame shown at a frame of the clip: ⌊t·r⌋, held at the source's ends. Its media must be there."""
    media = project.media[content.media]
    moved = Fraction(round(content.start * 10_000), 10_000) + exact_speed(content) * local
    return min(max(media.rate.frame_at(moved / project.settings.rate.fraction), 0), media.frames - 1)


def spare_frames(project: Project, clip: Clip) -> tuple[int, int] | None:
    """Frames of the film that could still be shown before the clip's head and after its end; None for no limit."""
    content = clip.content
    if not isinstance(content, (Footage, Sound)) or content.media not in project.media:
        return None
    speed = exact_speed(content)
    if speed == 0:
        return None
    last = source_length(project, content) - 1
    # From the source's first frame (its last, when it runs backwards) up to `start`; the same on the other side.
    before = content.start if speed > 0 else last - content.start
    after = last - content.start if speed > 0 else content.start
    return max(0, int(before / abs(speed))), max(0, int(after / abs(speed)) - (clip.length - 1))
