"""Space: which camera sees a timeline, and in which order what stands in it lies."""

from __future__ import annotations

import math
from typing import Any, NamedTuple, Sequence

import numpy as np

from ..motion.handheld import turns_at
from ..picture import Eye, Opening, Vector, looking_at, thin_lens, turned_by
from ..project.model import Camera, Clip, Project
from ..project.timeline import lanes, timeline_of
from ..remember import Remembered
from ..steps import LENS, SENSOR, STAND, Stand
from .compiled import compiled
from .scene import CameraNow, Join, Layer
from .standing import stand


def stands_in_space(clip: Clip) -> bool:
    """Whether a clip has a place in depth."""
    return any(step.kind == STAND.kind and step.on for step in clip.steps)


def camera_at(project: Project, within: str | None, frame: float) -> Clip | None:
    """The camera of a timeline at a frame of it: the topmost that is there."""
    # A film without is not searched at every frame.
    if not _has_camera(project):
        return None
    for lane in reversed(lanes(project, within)):
        if lane.track.hidden:
            continue
        for clip in lane.clips:
            # Whether others are seen alone is nothing to it: it is not seen itself.
            if clip.content.kind == "camera" and clip.head <= frame < clip.end and clip.seen != "hidden":
                return clip
    return None


_kept: Remembered[Project, bool] = Remembered()


def _has_camera(project: Project) -> bool:
    found = _kept.find(project)
    if found is None:
        found = _kept.keep(project, any(clip.content.kind == "camera" for clip in project.clips.values()))
    return found


def eye_at(project: Project, clip: Clip, frame: float) -> Eye | None:
    """What a clip that stands in space is seen by, at a frame of its timeline; None without a camera."""
    camera = camera_at(project, timeline_of(project, clip), frame)
    if camera is None:
        return None
    return eye_of(project, camera, frame - camera.head)


class Told(NamedTuple):
    """A camera at a moment as it was told: its values, where it stands and what it aims at in px of the world, how far
    apart the two are, and how many metres a px is."""

    values: dict[str, Any]
    at: Vector
    aim: Vector
    far: float
    metres: float


def told_of(project: Project, camera: Clip, local: float) -> Told:
    """A camera at a frame counted from its head."""
    content = compiled(project, camera).content
    now = content(local) if content is not None else None
    if not isinstance(now, CameraNow):
        raise TypeError(f"{camera.name} is no camera")
    values = dict(now.values)
    width = project.settings.width
    at = (values["x"], values["y"], values["z"] - width * LENS / SENSOR)
    aim = (values["aim_x"], values["aim_y"], values["aim_z"])
    return Told(values, at, aim, math.dist(at, aim), values["metres"] / width)


def eye_of(project: Project, camera: Clip, local: float) -> Eye:
    """What a camera sees with at a frame counted from its head."""
    values, at, aim, far, metres = told_of(project, camera, local)
    width, lens, sensor = project.settings.width, values["lens"], max(values["sensor"], 1e-3)
    focus = None
    if values["sharp"] == "by the lens":
        opening = Opening(int(values["blades"]), values["roundness"])
        focus = thin_lens(lens, sensor, values["stop"], far + values["focus"], width, 1000 * metres, opening)
        focus = focus._replace(highlights=values["highlights"])
    eye = looking_at(at, aim, values["roll"], width * lens / sensor, focus)
    if values["held"] == "still":
        return eye
    return _held(eye, values, (local + camera.skipped) / float(project.settings.rate.fraction), metres)


def _held(eye: Eye, values: dict[str, Any], seconds: float, metres: float) -> Eye:
    """A camera as it is held at a moment of its clip, counted from where that began before it was cut."""
    own, much, seed = np.array([seconds * values["speed"]]), values["intensity"], int(values["seed"])
    yaw, pitch, roll = (float(each) for each in turns_at(values["held"], seed, own)[0] * much)
    # It sways as it would turn at another time; mm to px of the world.
    aside, up, _ = turns_at(values["held"], seed + 1000, own)[0] * much * values["sway"] / 1000 / metres
    x, y, z = (eye.at[n] + float(aside) * eye.right[n] - float(up) * eye.down[n] for n in range(3))
    return turned_by(eye._replace(at=(x, y, z)), yaw, pitch, roll)


def camera_moves(project: Project, clip: Clip, frame: float) -> bool:
    """Whether the camera that sees a clip is elsewhere at another moment."""
    camera = camera_at(project, timeline_of(project, clip), frame)
    return camera is not None and (compiled(project, camera).moves or _is_held(camera))


def _is_held(camera: Clip) -> bool:
    return isinstance(camera.content, Camera) and camera.content.choices.get("held", "still") != "still"


def by_depth(layers: Sequence[Layer | Join], width: int, height: int) -> list[Layer | Join]:
    """Layers from the bottom up, those that stand in space in the order in which they lie: what is further away below.
    Each of them takes the place of one of them; flat ones stay where they are."""
    depths: dict[int, float] = {}
    for place, layer in enumerate(layers):
        found = _depth(layer, width, height) if isinstance(layer, Layer) else None
        if found is not None:
            depths[place] = found
    if len(depths) < 2:
        return list(layers)
    ordered = list(layers)
    for place, other in zip(sorted(depths), sorted(depths, key=lambda each: (-depths[each], each))):
        ordered[place] = layers[other]
    return ordered


def _depth(layer: Layer, width: int, height: int) -> float | None:
    """How far ahead of the camera the middle of a layer lies; None for a flat one."""
    step = next((each for each in layer.steps if each.kind == STAND.kind and each.mix > 0), None)
    if step is None:
        return None
    assert isinstance(STAND, Stand)
    standing = stand(layer.content, width, height)
    rest = standing.rest(step.leaving, step.pivot)
    middle = STAND.middle(step.values, rest)
    eye: Eye | None = step.values.get("eye")
    return middle[2] if eye is None else eye.depth(middle)
