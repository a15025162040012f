"""Which lights shine on a timeline at a moment, and what throws shadows there."""

from __future__ import annotations

from typing import Sequence

from ..project.model import Clip, Project
from ..remember import Remembered
from ..space import LightNow
from ..steps import STAND
from .compiled import compiled
from .scene import Join, Layer, StepNow, ValuesNow
from .timeline import lanes, timeline_of

_kept: Remembered[Project, bool] = Remembered()


def _has_light(project: Project) -> bool:
    found = _kept.find(project)
    if found is None:
        found = _kept.keep(project, any(clip.content.kind == "light" for clip in project.clips.values()))
    return found


def lights_on(project: Project, clip: Clip, frame: float) -> tuple[LightNow, ...] | None:
    """The lights that shine on a clip at a frame of its timeline; None where there are none, and it is seen as it
    is."""
    # A film without is not searched at every frame.
    return lights_at(project, timeline_of(project, clip), frame) if _has_light(project) else None


def lights_at(project: Project, within: str | None, frame: float) -> tuple[LightNow, ...] | None:
    """All lights of a timeline at a frame of it, from the bottom track up; None where there are none."""
    found = []
    for lane in lanes(project, within):
        if lane.track.hidden:
            continue
        for clip in lane.clips:
            if clip.content.kind == "light" and clip.head <= frame < clip.end and clip.seen != "hidden":
                found.append(light_of(project, clip, frame - clip.head))
    return tuple(found) or None


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
