"""How clips are drawn, kept as long as the clip is what it was."""

from __future__ import annotations

from collections import OrderedDict
from typing import Iterable

from ..core.compose.drawing import ClipDrawing, draw_clip
from ..core.project.model import Clip, Media, Project, Settings

_MOST = 4096

_kept: OrderedDict[int, tuple[Clip, Settings, dict[str, Media], ClipDrawing]] = OrderedDict()
"""By the clip's identity: an edit makes a new clip, so one that is the same object draws the same."""


def drawings_of(project: Project, clips: Iterable[str]) -> dict[str, ClipDrawing]:
    """Drawings of the clips of these ids that are in the project."""
    return {id: _drawing(project, project.clips[id]) for id in clips if id in project.clips}


def _drawing(project: Project, clip: Clip) -> ClipDrawing:
    known = _kept.get(id(clip))
    if known and known[0] is clip and known[1] is project.settings and known[2] is project.media:
        return known[3]
    drawing = draw_clip(project, clip)
    _kept[id(clip)] = (clip, project.settings, project.media, drawing)
    while len(_kept) > _MOST:
        try:
            _kept.popitem(last=False)
        except KeyError:  # another thread was quicker
            break
    return drawing
