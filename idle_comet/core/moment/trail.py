"""The way a clip travels over the picture, drawn as the shutter sees it, and its first and last placement."""

from __future__ import annotations

import math

from ..contents import parameters_of, property_in
from ..modelled import Model
from ..motion import Moving, held_state, path_segments, resolve_keys
from ..picture import Matrix
from ..project.model import Clip, Project, Step
from ..project.timeline import timeline_of
from ..project.times import clock_of
from ..steps import BY_HAND, KINDS, Values
from .compiled import compiled
from .evaluate import evaluate_clip
from .placed import Point, around_matrix, total_matrix
from .scene import Layer
from .space import stands_in_space
from .standing import Standing, stand

_MOST = 400
"""Frames that are drawn one by one; a longer way is drawn every second, third… frame."""


class Dash(Model):
    """Where the clip's pivot is while the shutter is open at one frame; (with `every` > 1, at one of so many)."""

    frame: int
    points: list[Point]


class PathPoint(Model):
    """A point of a path in hand: where it is on the picture, and the far ends of its tangents."""

    key: int
    frame: float
    at: Point
    into: Point
    out: Point


class Placed(Model):
    """The clip's outline at one frame."""

    frame: int
    corners: list[Point]


class Trail(Model):
    """`crossbars` are frames at every fifth of which a bar crosses the way, (place, direction as a unit)."""

    every: int
    dashes: list[Dash]
    crossbars: list[tuple[Point, Point]]
    ends: list[Placed]
    points: list[PathPoint]


def trail_of(project: Project, clip_id: str) -> Trail | None:
    """The trail of a clip; None where nothing of it travels."""
    clip = project.clips[clip_id]
    step = next((each for each in reversed(clip.steps) if each.kind == BY_HAND.kind and each.on), None)
    moving = step and any(prop.state != "fixed" for name, prop in step.values.items() if name != "opacity")
    if not moving:
        return None
    every = max(1, -(-clip.length // _MOST))
    shutter = clip.shutter or project.settings.shutter
    share = min(1.0, shutter.angle / 360 * shutter.smear) or 0.5
    opens = {"before": -share, "on": -share / 2, "after": 0.0}[shutter.sits]
    dashes, bars = [], []
    way = _Way(project, clip)
    for frame in range(0, clip.length, every):
        points = [way.at(frame + every * (opens + share * part)) for part in (0.0, 0.5, 1.0)]
        dashes.append(Dash(frame=frame, points=[point for point in points if point]))
        if frame % (5 * every) == 0:
            bar = way.crossbar(frame)
            if bar:
                bars.append(bar)
    ends = [placed for placed in (_placed(project, clip, frame) for frame in _end_frames(clip)) if placed]
    return Trail(
        every=every, dashes=dashes, crossbars=bars, ends=ends, points=_path_points(project, clip, step) if step else []
    )


class _Way:
    """Where a clip's pivot is at any moment; worked out once for all moments at which nothing moves it."""

    def __init__(self, project: Project, clip: Clip) -> None:
        self._project, self._clip = project, clip
        self._known: dict[object, Point | None] = {}
        steps, kinds = compiled(project, clip).steps, [KINDS[each.kind] for each in compiled(project, clip).steps]
        self._placing = [step for step, kind in zip(steps, kinds) if kind.places]
        # What moves by itself, or with something else, is asked at every moment.
        self._moved_by_keys = (
            timeline_of(project, clip) is None
            and not stands_in_space(clip)
            and all(property_in(clip.content, each).state == "fixed" for each in parameters_of(clip.content))
            and not (clip.content.kind == "text" and clip.content.held)
            and not any(kind.changes_words or kind.places and (kind.restless or kind.with_source) for kind in kinds)
        )

    def at(self, local: float) -> Point | None:
        local = min(self._clip.length - 1.0, max(0.0, local))
        key = self._held(local) or local
        if key not in self._known:
            self._known[key] = _pivot(self._project, self._clip, local)
        return self._known[key]

    def _held(self, local: float) -> tuple[int, ...] | None:
        """Names the values of all that places the clip, where every one of them is held."""
        if not self._moved_by_keys:
            return None
        states = [int(step.since <= local < step.until) for step in self._placing]
        for step in self._placing:
            for each in (*step.varying, step.mix):
                state = held_state(each.leads, local)
                if not state:
                    return None
                states.append(state)
        return tuple(states)

    def crossbar(self, frame: int) -> tuple[Point, Point] | None:
        here, there = (self.at(frame + by) for by in (-0.25, 0.25))
        at = self.at(frame)
        if here is None or there is None or at is None or math.dist(here, there) < 1e-6:
            return None
        length = math.dist(here, there)
        return at, ((there[0] - here[0]) / length, (there[1] - here[1]) / length)


def _end_frames(clip: Clip) -> tuple[int, int]:
    """The first and the last frame."""
    return 0, clip.length - 1


def _pivot(project: Project, clip: Clip, local: float) -> Point | None:
    layer = evaluate_clip(project, clip, local, math.floor(local), placing=True)
    if layer is None:
        return None
    standing = stand(layer.content, project.settings.width, project.settings.height)
    place: Values = next((step.values for step in reversed(layer.steps) if step.kind == BY_HAND.kind), {})
    pivot = (standing.anchor[0] + place.get("pivot_x", 0), standing.anchor[1] + place.get("pivot_y", 0))
    return _seen(project, clip, local, layer, standing).map(*pivot)


def _seen(project: Project, clip: Clip, local: float, layer: Layer, standing: Standing) -> Matrix:
    """From the clip's own space to the picture of the film."""
    return around_matrix(project, clip, local) @ total_matrix(layer, standing)


def _placed(project: Project, clip: Clip, frame: int) -> Placed | None:
    layer = evaluate_clip(project, clip, frame, placing=True)
    if layer is None:
        return None
    standing = stand(layer.content, project.settings.width, project.settings.height)
    return Placed(frame=frame, corners=standing.box.corners(_seen(project, clip, frame, layer, standing)))


def _path_points(project: Project, clip: Clip, step: Step) -> list[PathPoint]:
    prop = step.values.get("path")
    if not isinstance(prop, Moving):
        return []
    timed = resolve_keys(prop, clock_of(clip))
    segments = path_segments(timed)
    found = []
    for place, item in enumerate(timed):
        # A path's points lie where the pivot is, less the way itself.
        pivot, here = _pivot(project, clip, min(clip.length - 1.0, max(0.0, item.frame))), item.key.value
        if pivot is None or not isinstance(here, tuple):
            continue
        into = segments[place - 1].c if place else here
        out = segments[place].b if place < len(segments) else here
        found.append(
            PathPoint(
                key=item.key.id,
                frame=item.frame,
                at=pivot,
                into=_moved(pivot, here, into),
                out=_moved(pivot, here, out),
            )
        )
    return found


def _moved(pivot: Point, here: Point, to: Point) -> Point:
    return pivot[0] + to[0] - here[0], pivot[1] + to[1] - here[1]
