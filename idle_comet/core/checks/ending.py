"""How a film ends."""

from __future__ import annotations

from ..clock import format_timecode
from ..compose import evaluate, plan
from ..project.model import Project
from ..project.timeline import film_length

_UNSEEN = ("sound", "camera", "light")
"""Contents without a picture: a film of nothing else is one of sound, and does not end on an empty picture."""

_SEARCHED = 250
"""Frames from the end that are looked at, at most."""


def empty_end(project: Project) -> list[str]:
    """A sentence where the film's last frames show nothing but its background; sound may go on."""
    if all(clip.content.kind in _UNSEEN for clip in project.clips.values()):
        return []
    length = film_length(project)
    settings = project.settings
    first = length
    while first > max(0, length - _SEARCHED):
        seen = plan(evaluate(project, first - 1), settings.width, settings.height, exact=False).picture.children
        if seen:
            break
        first -= 1
    if first == length or not first:
        return []
    if first == length - 1:
        return ["The last frame shows nothing but the background."]
    at = format_timecode(first, settings.rate)
    return [f"From {at} to the end, {length - first} frames, nothing but the background is seen."]
