"""How clips are drawn, kept as long as the clip and what its course looks at are what they were."""

from __future__ import annotations

from typing import Iterable, NamedTuple

from ..core.contents import parameters_of, property_in
from ..core.moment.course import ClipCourse, course_of
from ..core.motion import Property
from ..core.project.difference import Difference
from ..core.project.model import Clip, Media, Project, Settings
from ..core.project.sifted import Sifted
from ..core.remember import Remembered

FEW = 24
"""Courses that come with an edit's answer; more than these are drawn when they are looked at."""


class _Made(NamedTuple):
    settings: Settings
    media: dict[str, Media]
    clips: dict[str, Clip] | None
    course: ClipCourse


_kept: Remembered[Clip, _Made] = Remembered()


class _Looks(NamedTuple):
    """Why a clip may have to be drawn anew although it did not change itself."""

    rides: str | None
    """The clip it is attached to."""
    meets: bool
    """It meets what is beside it, in a transition."""
    follows: frozenset[str]
    """Clips whose values its motors look at."""
    around: bool
    """It is laid over, sees or shines on others."""
    masked_by: frozenset[str]


def courses_of(project: Project, clips: Iterable[str]) -> dict[str, ClipCourse]:
    """Courses of the clips of these ids that are in the project."""
    return {id: _course(project, project.clips[id]) for id in clips if id in project.clips}


def redrawn(project: Project, change: Difference) -> tuple[list[str], list[str]]:
    """Clips to be drawn anew after a change, the first few and the others: those that changed, those whose neighbours
    or shots did, and those that follow any of them."""
    changed = {*change.clips, *change.clips_gone}
    tracks = {clip.track for clip in change.clips.values()}
    found = dict.fromkeys(change.clips)
    followers = []
    for id, looks in _LOOKS.of(project).items():
        if (
            looks.rides in changed
            or (looks.meets and (project.clips[id].track in tracks or change.clips_gone))
            or (changed and (looks.around or not looks.masked_by.isdisjoint(changed)))
        ):
            found[id] = None
        if looks.follows:
            followers.append((id, looks.follows))
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


def _looks_of(clip: Clip) -> _Looks | None:
    """None for a clip that looks at no other."""
    follows = (getattr(prop.motor, "clip", None) for prop in _properties(clip) if prop.state == "driven")
    masks = (mask.clip for step in clip.steps for mask in step.masks)
    found = _Looks(
        clip.rides,
        bool(clip.opening or clip.closing),
        frozenset(other for other in follows if other is not None),
        clip.content.kind in ("treatment", "camera", "light"),
        frozenset(other for other in masks if other is not None),
    )
    return found if any(found) else None


_LOOKS = Sifted(_looks_of)


def _looks_around(clip: Clip) -> bool:
    """Whether a clip's course depends on other clips."""
    return _looks_of(clip) is not None or any(prop.state == "driven" for prop in _properties(clip))


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
