"""Followed points as an editor sees them: where they are on the picture, how sure that is over the clip, what holds to
them."""

from __future__ import annotations

import numpy as np

from ..contents import FollowedPoint
from ..modelled import Model
from ..picture import Matrix
from ..picture.following import SURE
from ..project.address import places
from ..project.model import Clip, Footage, Project
from ..project.retiming import retiming
from .placed import Point, around_matrix
from .points import Path, on_picture, path_of, source_at

_SHOWN = 240
"""At most about so many frames of a clip are told."""


class PointNow(Model):
    """A followed point of a shot at one frame of it.

    `at` is where it is seen on the picture of the film, px; `known` is False where it was lost and is led across.
    `trail` is the whole of its way over the clip, on the picture as it stands at this frame; `sure` are (frame of the
    clip, 0..1), `lost` the first and last frames of stretches where it is not known, `hand` the frames at which it was
    put by hand. `holds` are the clips that go with it; `elsewhere` says that it was followed in another picture."""

    id: str
    name: str
    at: Point
    known: bool
    by_hand: bool
    trail: list[Point]
    sure: list[tuple[int, float]]
    lost: list[tuple[int, int]]
    hand: list[int]
    holds: list[str]
    elsewhere: bool
    least: float = SURE
    """Below this it counts as lost."""


def points_at(project: Project, clip: Clip, local: float) -> list[PointNow]:
    """All followed points of a shot at a frame of its clip; none of what is no shot, or is not there."""
    matrix = on_picture(project, clip, local)
    source = source_at(project, clip, local)
    if matrix is None or source is None or not isinstance(clip.content, Footage):
        return []
    matrix = around_matrix(project, clip, local) @ matrix
    step = -(-clip.length // _SHOWN)
    frames = sorted({*range(0, clip.length, step), clip.length - 1})
    sources = [source_at(project, clip, frame) or 0 for frame in frames]
    return [_now(project, clip, point, source, matrix, frames, sources) for point in clip.content.points]


def _now(
    project: Project,
    clip: Clip,
    point: FollowedPoint,
    source: int,
    matrix: Matrix,
    frames: list[int],
    sources: list[int],
) -> PointNow:
    path = path_of(point)
    sure = _sure(point, path)
    inside = [min(max(each - path.first, 0), len(sure) - 1) for each in sources]
    row = []
    for number, place in enumerate(inside):
        # The least of the frames that are not told.
        then = inside[min(number + 1, len(inside) - 1)]
        low, high = min(place, then), max(place, then)
        known = 0 <= sources[number] - path.first < len(sure)
        row.append((frames[number], float(sure[low : max(high, low + 1)].min()) if known else 0.0))
    hand = {each.frame for each in point.hand}
    here = source - path.first
    return PointNow(
        id=point.id,
        name=point.name,
        at=_mapped(matrix, path.at(source)),
        known=bool(0 <= here < len(sure) and sure[here] >= SURE),
        by_hand=source in hand,
        trail=[_mapped(matrix, path.at(each)) for each in sources],
        sure=row,
        lost=_lost(row, clip.length),
        hand=sorted({local for each in hand if (local := _local(project, clip, each)) is not None}),
        holds=_holds(project, clip, point.id),
        elsewhere=isinstance(clip.content, Footage) and point.media != clip.content.media,
    )


def _mapped(matrix: Matrix, place: complex) -> Point:
    return matrix.map(place.real, place.imag)


def _sure(point: FollowedPoint, path: Path) -> np.ndarray:
    """(n,) 0..1 over a point's path: as it was followed, and wholly where it was put by hand."""
    sure = np.zeros(len(path.places))
    begins = point.first - path.first
    sure[begins : begins + len(point.sure)] = point.sure
    for each in point.hand:
        if 0 <= each.frame - path.first < len(sure):
            sure[each.frame - path.first] = 1.0
    return sure


def _lost(row: list[tuple[int, float]], length: int) -> list[tuple[int, int]]:
    made: list[tuple[int, int]] = []
    for number, (frame, sure) in enumerate(row):
        end = row[number + 1][0] - 1 if number + 1 < len(row) else length - 1
        if sure >= SURE:
            continue
        if made and made[-1][1] == frame - 1:
            made[-1] = made[-1][0], end
        else:
            made.append((frame, end))
    return made


def _local(project: Project, clip: Clip, source: int) -> int | None:
    """The first frame of a clip at which a frame of its source is shown; None where it is not."""
    content = clip.content
    if not isinstance(content, Footage) or content.media not in project.media:
        return None
    media = project.media[content.media]
    film = source / media.rate.fraction * project.settings.rate.fraction
    about = retiming(clip).when(float(film))
    if about is None:
        return None
    near = range(max(0, int(about) - 3), min(clip.length, int(about) + 4))
    return next((local for local in near if source_at(project, clip, local) == source), None)


def _holds(project: Project, clip: Clip, point: str) -> list[str]:
    found = []
    for each in project.clips.values():
        for place in places(each):
            motor = place.property.motor if place.property.state == "driven" else None
            if motor is None or motor.kind != "on_point" or point not in (motor.point, motor.second):
                continue
            if motor.clip == clip.id or (motor.clip is None and each.id == clip.id):
                found.append(each.id)
                break
    return found
