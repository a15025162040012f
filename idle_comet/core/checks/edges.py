"""Before a film is exported: pictures whose edges are in sight, or that pan too fast."""

from __future__ import annotations

from ..moment.camera import camera_notes
from ..project.model import Project


def camera_warnings(project: Project) -> list[str]:
    """What is wrong with cameras anywhere in the film, each with the name of its clip, in order of time."""
    return [
        f"“{clip.name}”: {note}"
        for clip in sorted(project.clips.values(), key=lambda each: (each.head, each.id))
        for note in camera_notes(project, clip)
    ]
