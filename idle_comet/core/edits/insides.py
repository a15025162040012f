"""What groups hold, while groups are copied, cut or taken away."""

from __future__ import annotations

from ..moment.timeline import lanes
from ..project.model import Project
from .lanes import with_clips


def without_strays(project: Project) -> Project:
    """The document without what belonged to groups that are gone."""
    while True:
        within = {track.id: project.clips.get(track.within) for track in project.tracks if track.within is not None}
        stray = {id for id, group in within.items() if group is None or group.content.kind != "group"}
        if not stray:
            return project
        project = with_clips(
            project, (), [clip.id for clip in project.clips.values() if clip.track in stray]
        ).model_copy(update={"tracks": tuple(track for track in project.tracks if track.id not in stray)})


def with_insides(project: Project, of: str, to: str) -> Project:
    """A copy of all that one group holds for another of the same kind; ids get the new group's before them."""
    for lane in lanes(project, of):
        track = lane.track.model_copy(update={"id": f"{to}-{len(project.tracks)}", "within": to})
        project = project.model_copy(update={"tracks": (*project.tracks, track)})
        for number, clip in enumerate(lane.clips):
            copy = clip.model_copy(update={"id": f"{track.id}-{number}", "track": track.id, "rides": None})
            project = with_clips(project, [copy])
            if clip.content.kind == "group":
                project = with_insides(project, clip.id, copy.id)
    return project
