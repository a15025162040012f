"""The shutter: while a frame is exposed, what moves leaves its trace."""

from __future__ import annotations

import math
from bisect import bisect_right

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
    closes = opens + length
    # A jump is a cut: a frame shows what is before it or what is after it, never both.
    at = bisect_right(own.jumps, local)
    if at > 0:
        opens = max(opens, own.jumps[at - 1])
    if at < len(own.jumps):
        closes = min(closes, math.nextafter(own.jumps[at], -math.inf))
    return Exposure(project, clip, opens, closes, local) if closes > opens else None
