"""What groups hold, while groups are copied, cut or taken away."""

from __future__ import annotations

from ..motion import Property
from ..project.model import Clip, Project
from ..project.timeline import lanes
from .lanes import with_clips
from .spans import map_properties


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
    """A copy of all that one group holds for another of the same kind; ids get the new group's before them. What looks
    at another clip of the group looks at its copy."""
    copies: dict[str, str] = {}
    made: list[Clip] = []
    # From the top down, as tracks are listed.
    for lane in reversed(lanes(project, of)):
        track = lane.track.model_copy(update={"id": f"{to}-{len(project.tracks)}", "within": to})
        project = project.model_copy(update={"tracks": (*project.tracks, track)})
        for number, clip in enumerate(lane.clips):
            copies[clip.id] = f"{track.id}-{number}"
            made.append(clip.model_copy(update={"track": track.id}))
    for clip in made:
        rides = copies.get(clip.rides) if clip.rides else None
        copy = relooked(clip, copies).model_copy(update={"id": copies[clip.id], "rides": rides})
        project = with_clips(project, [copy])
        if clip.content.kind == "group":
            project = with_insides(project, clip.id, copy.id)
    return project


def relooked(clip: Clip, new_ids: dict[str, str]) -> Clip:
    """A copy that looks at and follows the copies of what its original did, as far as those were copied too."""

    def change(prop: Property) -> Property:
        other = getattr(prop.motor, "clip", None) if prop.state == "driven" else None
        if prop.state != "driven" or other not in new_ids:
            return prop
        return prop.model_copy(update={"motor": prop.motor.model_copy(update={"clip": new_ids[other]})})

    clip = map_properties(clip, change)
    if not any(mask.clip in new_ids for step in clip.steps for mask in step.masks):
        return clip
    return clip.model_copy(
        update={
            "steps": tuple(
                step.model_copy(
                    update={
                        "masks": tuple(
                            mask.model_copy(update={"clip": new_ids.get(mask.clip or "", mask.clip)})
                            for mask in step.masks
                        )
                    }
                )
                for step in clip.steps
            )
        }
    )
