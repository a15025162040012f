"""Whether what stands in the frame fits into it."""

from __future__ import annotations

from ..moment.evaluate import evaluate_clip
from ..moment.placed import total_matrix
from ..moment.scene import TextNow
from ..moment.standing import TITLE_SAFE, stand
from ..picture import Rect
from ..project.model import Clip, Project

_SLACK = 1.0
"""Px that nobody sees."""


def outside(project: Project, clip: Clip) -> float | None:
    """How many px a title's ink reaches out of the title safe area in the middle of its stay; 0 where it is inside,
    None where there are no words."""
    middle = (clip.arrival + clip.length - clip.departure) / 2
    layer = evaluate_clip(project, clip, min(max(middle, 0), clip.length - 1))
    if layer is None or not isinstance(layer.content, TextNow):
        return None
    width, height = project.settings.width, project.settings.height
    standing = stand(layer.content, width, height)
    if standing.ink.empty:
        return None
    ink = standing.ink.through(total_matrix(layer, standing))
    safe = Rect(width * TITLE_SAFE, height * TITLE_SAFE, width * (1 - TITLE_SAFE), height * (1 - TITLE_SAFE))
    over = max(safe.x0 - ink.x0, safe.y0 - ink.y0, ink.x1 - safe.x1, ink.y1 - safe.y1)
    return over if over > _SLACK else 0.0


def no_longer_fits(before: Project, after: Project) -> list[str]:
    """Titles that were inside the safe area and are not any more, a sentence each, in order of time."""
    found = []
    for clip in sorted(after.clips.values(), key=lambda each: each.head):
        now = outside(after, clip)
        was = before.clips.get(clip.id)
        if now and was is not None and outside(before, was) == 0:
            found.append(f"“{clip.name}” reaches {now:.0f} px out of the safe area in this frame.")
    return found
