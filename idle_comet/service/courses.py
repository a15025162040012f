"""How clips are drawn, kept as long as the clip and what its course looks at are what they were."""

from __future__ import annotations

import weakref
from typing import Container, Iterable, NamedTuple

from ..core.contents import parameters_of, property_in
from ..core.moment.course import ClipCourse, course_of
from ..core.motion import Property
from ..core.project.difference import Difference
from ..core.project.model import Clip, Media, Project, Settings
from ..core.remember import Remembered

FEW = 24
"""Courses that come with an edit's answer; more than these are drawn when they are looked at."""


class _Made(NamedTuple):
    settings: Settings
    media: dict[str, Media]
    clips: dict[str, Clip] | None
    course: ClipCourse


_kept: Remembered[Clip, _Made] = Remembered()
_followed_by: dict[int, tuple[weakref.ref[Clip], frozenset[str]]] = {}


def courses_of(project: Project, clips: Iterable[str]) -> dict[str, ClipCourse]:
    """Courses of the clips of these ids that are in the project."""
    return {id: _course(project, project.clips[id]) for id in clips if id in project.clips}


def redrawn(project: Project, change: Difference) -> tuple[list[str], list[str]]:
    """Clips to be drawn anew after a change, the first few and the others: those that changed, those whose neighbours
    or shots did, and those that follow any of them."""
    changed = {*change.clips, *change.clips_gone}
    tracks = {clip.track for clip in change.clips.values()}
    looking = [
        clip.id
        for clip in project.clips.values()
        if clip.rides in changed or ((clip.opening or clip.closing) and (clip.track in tracks or change.clips_gone))
    ]
    around = [clip.id for clip in project.clips.values() if changed and _acts_on_others(clip, changed)]
    found = dict.fromkeys([*change.clips, *looking, *around])
    followers = [(clip.id, followed) for clip in project.clips.values() if (followed := _followed(clip))]
    grew = bool(followers)
    while grew:
        more = [
            id
            for id, followed in followers
            if id not in found and not followed.isdisjoint({*found, *change.clips_gone})
        ]
        found |= dict.fromkeys(more)
        grew = bool(more)
    every = list(found)
    return every[:FEW], every[FEW:]


def _properties(clip: Clip) -> Iterable[Property]:
    yield from (property_in(clip.content, each) for each in parameters_of(clip.content))
    for step in clip.steps:
        yield step.mix
        yield from step.values.values()


def _followed(clip: Clip) -> frozenset[str]:
    """The clips whose values this one's motors look at."""
    # Asked of every clip at every edit, so it is kept as plainly as can be; what it belongs to takes it along.
    key = id(clip)
    known = _followed_by.get(key)
    if known is not None and known[0]() is clip:
        return known[1]
    found = frozenset(
        other
        for prop in _properties(clip)
        if prop.state == "driven" and (other := getattr(prop.motor, "clip", None)) is not None
    )
    forget = _followed_by.pop
    _followed_by[key] = (weakref.ref(clip, lambda _: forget(key, None)), found)
    return found


def _looks_around(clip: Clip) -> bool:
    """Whether a clip's course depends on other clips: its neighbours, its shot, what it follows or acts on."""
    return (
        bool(clip.opening or clip.closing or clip.rides)
        or _acts_on_others(clip)
        or any(prop.state == "driven" for prop in _properties(clip))
    )


def _acts_on_others(clip: Clip, others: Container[str] | None = None) -> bool:
    """Whether what is said of a clip depends on what it is laid over, sees, shines on or is masked by: on any clip, or
    on one of `others`."""
    if clip.content.kind in ("treatment", "camera", "light"):
        return True
    masks = (mask.clip for step in clip.steps for mask in step.masks if mask.clip is not None)
    return any(others is None or each in others for each in masks)


def _course(project: Project, clip: Clip) -> ClipCourse:
    known = _kept.find(clip)
    if (
        known
        and known.settings is project.settings
        and known.media is project.media
        and (known.clips is None or known.clips is project.clips)
    ):
        return known.course
    return _kept.keep(
        clip,
        _Made(
            project.settings, project.media, project.clips if _looks_around(clip) else None, course_of(project, clip)
        ),
    ).course
