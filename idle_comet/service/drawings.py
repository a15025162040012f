"""How clips are drawn, kept as long as the clip and what its drawing looks at are what they were."""

from __future__ import annotations

from typing import Iterable, NamedTuple

from ..core.compose.drawing import ClipDrawing, draw_clip
from ..core.project.difference import Difference
from ..core.project.model import Clip, Media, Project, Settings
from ..core.remember import Remembered

FEW = 24
"""Drawings that come with an edit's answer; more than these are drawn when they are looked at."""


class _Made(NamedTuple):
    settings: Settings
    media: dict[str, Media]
    clips: dict[str, Clip] | None
    drawing: ClipDrawing


_kept: Remembered[Clip, _Made] = Remembered()


def drawings_of(project: Project, clips: Iterable[str]) -> dict[str, ClipDrawing]:
    """Drawings of the clips of these ids that are in the project."""
    return {id: _drawing(project, project.clips[id]) for id in clips if id in project.clips}


def redrawn(project: Project, change: Difference) -> list[str]:
    """Clips to be drawn anew after a change: those that changed, and those whose ends or shots did; the first few."""
    changed = {*change.clips, *change.clips_gone}
    tracks = {clip.track for clip in change.clips.values()}
    looking = [clip.id for clip in project.clips.values()
               if clip.rides in changed or ((clip.opening or clip.closing) and (clip.track in tracks or change.clips_gone))]
    return list(dict.fromkeys([*change.clips, *looking]))[:FEW]


def _looks_around(clip: Clip) -> bool:
    """Whether a clip's drawing depends on other clips: its neighbours, its shot, or what it follows."""
    if clip.opening or clip.closing or clip.rides:
        return True
    content = [getattr(clip.content, name) for name in ("size", "tracking", "leading", "colour") if hasattr(clip.content, name)]
    return any(prop.state == "driven" for step in clip.steps for prop in (step.mix, *step.values.values())) or any(
        prop.state == "driven" for prop in content)


def _drawing(project: Project, clip: Clip) -> ClipDrawing:
    known = _kept.find(clip)
    if known and known.settings is project.settings and known.media is project.media and (known.clips is None or known.clips is project.clips):
        return known.drawing
    return _kept.keep(clip, _Made(project.settings, project.media, project.clips if _looks_around(clip) else None, draw_clip(project, clip))).drawing
