"""Followed points: where they are, mended by hand, and what the values that go with them make of it."""

from __future__ import annotations

import math
from typing import Callable, NamedTuple

import numpy as np

from ..contents import FollowedPoint
from ..motion.motors import OnPoint
from ..picture import Matrix
from ..picture.following import SURE
from ..project.model import Clip, Footage, Project
from ..project.source import source_frame
from ..project.timeline import timeline_of
from ..remember import Remembered
from .evaluate import evaluate_clip
from .looking import looking, watched_by
from .placed import total_matrix
from .standing import stand


class Path(NamedTuple):
    """Of a followed point: (n,) complex places in px of the source from frame `first` on, and where they are `known`,
    not led across a gap."""

    first: int
    places: np.ndarray
    known: np.ndarray

    def at(self, frame: int) -> complex:
        """Where it is in a frame of the source; before its first and after its last known one it stays."""
        return complex(self.places[min(max(frame - self.first, 0), len(self.places) - 1)])


_paths: Remembered[FollowedPoint, Path] = Remembered()


def path_of(point: FollowedPoint) -> Path:
    """A point's path as it holds, with what was put by hand.

    Where it was lost it is led straight from the last known place to the next. A place put by hand holds in its frame;
    by how much the followed path lay beside it is spread evenly up to the next one by hand, and goes on as it is past
    the last."""
    return _paths.find(point) or _paths.keep(point, _reckoned(point))


def _reckoned(point: FollowedPoint) -> Path:
    first = min([point.first, *(each.frame for each in point.hand)])
    last = max([point.first + len(point.x) - 1, *(each.frame for each in point.hand)])
    count = min(last - first + 1, 2 * len(point.x) + 60_000)
    places, known = np.zeros(count, complex), np.zeros(count, bool)
    begins = point.first - first
    own = slice(begins, begins + len(point.x))
    places[own] = np.array(point.x) + 1j * np.array(point.y)
    known[own] = np.array(point.sure) >= SURE
    hand = [(each.frame - first, complex(each.x, each.y)) for each in point.hand if each.frame - first < count]
    mended = [(frame, place - places[frame]) for frame, place in hand if known[frame]]
    if mended:
        frames, off = np.array([frame for frame, _ in mended]), np.array([each for _, each in mended])
        every = np.arange(count)
        places = places + np.interp(every, frames, off.real) + 1j * np.interp(every, frames, off.imag)
    for frame, place in hand:
        places[frame], known[frame] = place, True
    if known.any():
        every, sure = np.arange(count), np.flatnonzero(known)
        there = places[sure]
        places = np.interp(every, sure, there.real) + 1j * np.interp(every, sure, there.imag)
    return Path(first, places, known)


def point_in(clip: Clip, id: str | None) -> FollowedPoint | None:
    """A followed point of a clip's picture, by its id."""
    if id is None or not isinstance(clip.content, Footage):
        return None
    return next((point for point in clip.content.points if point.id == id), None)


def at_rest(project: Project, clip: Clip) -> Matrix | None:
    """The way from px of a shot's source to px of the frame, before any step moves it; None for what is no shot."""
    if not isinstance(clip.content, Footage) or clip.content.media not in project.media:
        return None
    layer = evaluate_clip(project, clip.model_copy(update={"steps": ()}), 0)
    return None if layer is None else stand(layer.content, project.settings.width, project.settings.height).matrix


def source_at(project: Project, clip: Clip, local: float) -> int | None:
    """The frame of its source that a shot shows at a frame of the clip; None for what is no shot, or whose file is
    gone."""
    content = clip.content
    if not isinstance(content, Footage) or content.media not in project.media:
        return None
    return source_frame(project, clip, int(math.floor(min(max(local, 0.0), clip.length - 1.0))))


def on_picture(project: Project, clip: Clip, local: float) -> Matrix | None:
    """The way from px of a shot's source to px of the frame as its steps place it, at a frame of the clip."""
    layer = evaluate_clip(project, clip, local)
    if layer is None or not isinstance(clip.content, Footage):
        return None
    standing = stand(layer.content, project.settings.width, project.settings.height)
    return total_matrix(layer, standing) @ standing.matrix


def _watched(project: Project, clip: Clip, motor: OnPoint) -> Callable[[float], float | None] | None:
    seen = _own(project, clip, motor) if motor.clip is None else _of_another(project, clip, motor)
    if seen is None or (motor.gives in ("turn", "size") and motor.second is None):
        return None
    high, aside = float(project.settings.height), complex(*motor.aside)

    def value(frame: float) -> float | None:
        found = seen(frame)
        if found is None:
            return None
        place, way = found
        if motor.gives in ("x", "y"):
            at = place + (aside if motor.second is None else aside * way)
            return at.real if motor.gives == "x" else at.imag
        if motor.gives == "size":
            # What is quick of a size is how much larger it is.
            return abs(way) / (1.0 if motor.part == "quick" else high)
        return math.degrees(math.atan2(way.imag, way.real))

    return value


Watched = Callable[[float], "tuple[complex, complex] | None"]
"""By a clip's frame: where a point is, and the way from it to the second one (1 where there is none)."""


def _own(project: Project, clip: Clip, motor: OnPoint) -> Watched | None:
    """Of the clip's own picture at rest."""
    first, second = point_in(clip, motor.point), point_in(clip, motor.second)
    matrix = at_rest(project, clip)
    if first is None or matrix is None or (motor.second is not None and second is None):
        return None
    one, other = path_of(first), path_of(second) if second is not None else None
    media = project.media[clip.content.media]  # type: ignore[union-attr]
    spread = motor.smooth * float(media.rate.fraction)

    def seen(frame: float) -> tuple[complex, complex] | None:
        source = source_at(project, clip, frame)
        if source is None:
            return None
        place, way = _part(one, source, motor.part, spread), 1 + 0j
        if other is not None:
            way = _direction(one, other, source, motor.part, spread)
            way = way if motor.part == "quick" else _carried(matrix, way)
        # What is quick of a place is a way from where it would be.
        return _carried(matrix, place) if motor.part == "quick" else _mapped(matrix, place), way

    return seen


def _mapped(matrix: Matrix, place: complex) -> complex:
    return complex(*matrix.map(place.real, place.imag))


def _carried(matrix: Matrix, way: complex) -> complex:
    """A way through a matrix: at rest it is the same everywhere."""
    return _mapped(matrix, way) - _mapped(matrix, 0j)


def _part(path: Path, frame: int, part: str, spread: float) -> complex:
    if part == "whole":
        return path.at(frame)
    slow = _slowed(path.places, path.first, frame, spread)
    return slow if part == "slow" else path.at(frame) - slow


def _direction(one: Path, other: Path, frame: int, part: str, spread: float) -> complex:
    """The way between two points. What is quick of it is its quotient by what is slow: a turn and a growth."""
    whole = other.at(frame) - one.at(frame)
    if part == "whole":
        return whole
    slow = _slowed(other.places, other.first, frame, spread) - _slowed(one.places, one.first, frame, spread)
    return slow if part == "slow" else whole / slow if abs(slow) > 1e-9 else 1 + 0j


def _slowed(places: np.ndarray, first: int, frame: int, spread: float) -> complex:
    """A path weighed by a bell of `spread` frames about a frame; past its ends it goes on as its mirror image turned
    about the end, so that an even pan stays as it is."""
    at = min(max(frame - first, 0), len(places) - 1)
    if spread < 0.1 or len(places) < 2:
        return complex(places[at])
    far = int(math.ceil(3 * spread))
    every = np.arange(at - far, at + far + 1)
    last = len(places) - 1
    folded = np.where(every < 0, -every, np.where(every > last, 2 * last - every, every))
    inner = np.clip(folded, 0, last)
    values = places[inner]
    values = np.where(every < 0, 2 * places[0] - values, np.where(every > last, 2 * places[last] - values, values))
    weights = np.exp(-0.5 * ((every - at) / spread) ** 2)
    return complex((values * weights).sum() / weights.sum())


def _of_another(project: Project, clip: Clip, motor: OnPoint) -> Watched | None:
    """Of another shot, as it is seen on the picture. The parts of a shot that was cut share their points."""
    named = project.clips.get(motor.clip or "")
    if named is None or named is clip or point_in(named, motor.point) is None:
        return None
    if motor.second is not None and point_in(named, motor.second) is None:
        return None
    shots = [named, *_parts_of(project, named, motor.point)]
    kept: dict[int, tuple[complex, complex] | None] = {}

    def whole(frame: int) -> tuple[complex, complex] | None:
        if frame not in kept:
            if len(kept) > 4000:
                kept.clear()
            kept[frame] = _seen_at(project, clip, _shot_at(shots, frame), motor, frame)
        return kept[frame]

    def seen(local: float) -> tuple[complex, complex] | None:
        # The shot shows one picture while the shutter is open; what goes with it moves evenly from one to the next.
        at = clip.head + local
        begins = math.floor(at)
        first = whole(begins)
        if first is None or at == begins:
            return first
        then = whole(begins + 1)
        if then is None:
            return first
        share = at - begins
        return tuple(a + (b - a) * share for a, b in zip(first, then))  # type: ignore[return-value]

    return seen


def _parts_of(project: Project, named: Clip, point: str) -> list[Clip]:
    media = named.content.media if isinstance(named.content, Footage) else None
    return [
        each
        for each in project.clips.values()
        if each is not named
        and isinstance(each.content, Footage)
        and each.content.media == media
        and timeline_of(project, each) == timeline_of(project, named)
        and point_in(each, point) is not None
    ]


def _shot_at(shots: list[Clip], frame: int) -> Clip:
    """The one that is there at a frame of the film; else the nearest."""
    return min(shots, key=lambda each: max(each.head - frame, frame - each.end + 1, 0))


def _seen_at(project: Project, clip: Clip, shot: Clip, motor: OnPoint, frame: int) -> tuple[complex, complex] | None:
    local = min(max(frame - shot.head, 0), shot.length - 1)
    source = source_at(project, shot, local)
    first, second = point_in(shot, motor.point), point_in(shot, motor.second)
    if source is None or first is None or (motor.second is not None and second is None):
        return None
    with looking(clip.id, shot.id) as free:
        matrix = on_picture(project, shot, float(local)) if free else None
    if matrix is None:
        return None
    place = _mapped(matrix, path_of(first).at(source))
    if second is None:
        return place, 1 + 0j
    return place, _mapped(matrix, path_of(second).at(source)) - place


watched_by(_watched)
