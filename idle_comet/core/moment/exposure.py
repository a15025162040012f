"""The shutter: while a frame is exposed, what moves leaves its trace."""

from __future__ import annotations

from ..project.model import Clip, Project
from .compiled import Compiled
from .scene import Exposure


def exposure_of(project: Project, clip: Clip, own: Compiled, local: float) -> Exposure | None:
    """The exposure of a clip at a frame of its own; None where the shutter leaves no trace.

    The shutter is open for angle/360 · smear frames, ending at, around or beginning at the frame.
    """
    shutter = clip.shutter or project.settings.shutter
    length = shutter.angle / 360 * shutter.smear
    if length <= 0 or not own.moves:
        return None
    opens = local - {"before": length, "on": length / 2, "after": 0.0}[shutter.sits]
    return Exposure(project, clip, opens, opens + length, local)
