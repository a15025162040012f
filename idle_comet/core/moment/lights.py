"""Which lights shine on a timeline at a moment, and what throws shadows there."""

from __future__ import annotations

from typing import Sequence

from ..project.model import Clip, Project
from ..project.timeline import timeline_of
from ..remember import Remembered
from ..space import LightNow
from ..steps import STAND
from .compiled import compiled
from .scene import Join, Layer, StepNow, ValuesNow

_kept: Remembered[Project, tuple[Clip, ...]] = Remembered()


def _lights_of(project: Project) -> tuple[Clip, ...]:
    """All lights of a film: one without any is not searched at every frame."""
    found = _kept.find(project)
    if found is None:
        tracks = {track.id: place for place, track in enumerate(project.tracks)}
        lights = (clip for clip in project.clips.values() if clip.content.kind == "light")
        # Their order is the timeline's: sums of light come out the same whatever was cut or pasted.
        found = _kept.keep(project, tuple(sorted(lights, key=lambda clip: (-tracks.get(clip.track, -1), clip.head))))
    return found


def shining(project: Project, within: str | None, frame: float) -> list[Clip]:
    """The lights that are on, of a timeline at a frame of it."""
    found = [clip for clip in _lights_of(project) if clip.head <= frame < clip.end and clip.seen != "hidden"]
    if not found:
        return found
    tracks = {track.id: track for track in project.tracks}
    return [clip for clip in found if tracks[clip.track].within == within and not tracks[clip.track].hidden]


def lights_on(project: Project, clip: Clip, frame: float) -> tuple[LightNow, ...] | None:
    """The lights that shine on a clip at a frame of its timeline; None where there are none, and it is seen as it
    is."""
    return lights_at(project, timeline_of(project, clip), frame) if _lights_of(project) else None


def lights_at(project: Project, within: str | None, frame: float) -> tuple[LightNow, ...] | None:
    """All lights of a timeline at a frame of it; None where there are none."""
    return tuple(light_of(project, clip, frame - clip.head) for clip in shining(project, within, frame)) or None


def light_of(project: Project, light: Clip, local: float) -> LightNow:
    """A light at a frame counted from its head. Raises TypeError for anything else."""
    content = compiled(project, light).content
    now = content(local) if content is not None else None
    if not isinstance(now, ValuesNow):
        raise TypeError(f"{light.name} is no light")
    values = dict(now.values)
    return LightNow(
        values["sort"],
        (values["x"], values["y"], values["z"]),
        (values["aim_x"], values["aim_y"], values["aim_z"]),
        values["colour"],
        values["strength"],
        values["fades"] == "fades",
        values["reach"],
        values["cone"],
        values["feather"],
        values["size"],
        values["shadows"] == "cast",
    )


def _stands(layer: Layer | Join) -> StepNow | None:
    if not isinstance(layer, Layer):
        return None
    return next((step for step in layer.steps if step.kind == STAND.kind and step.mix > 0), None)


def with_casters(layers: Sequence[Layer | Join]) -> list[Layer | Join]:
    """Layers, those on which a light shines that throws shadows with all others that stand in space."""
    standing = [layer for layer in layers if isinstance(layer, Layer) and _stands(layer) is not None]
    made: list[Layer | Join] = []
    for layer in layers:
        step = _stands(layer)
        lights = step.values.get("lights") if step is not None else None
        if isinstance(layer, Layer) and lights and any(each.shadows for each in lights):
            others = tuple(each._replace(exposure=None) for each in standing if each is not layer)
            layer = layer._replace(
                steps=tuple(each._replace(casters=others) if each is step else each for each in layer.steps)
            )
        made.append(layer)
    return made


def cast_by(moment: Layer, whole: Layer) -> Layer:
    """A moment of a clip with what throws shadows on it at its frame."""
    casters = {step.id: step.casters for step in whole.steps if step.casters}
    if not casters:
        return moment
    return moment._replace(steps=tuple(step._replace(casters=casters.get(step.id, ())) for step in moment.steps))
