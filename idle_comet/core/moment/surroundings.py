"""Space as an editor looks at it: what stands where before the camera, how far away, how sharp, how fast it goes by."""

from __future__ import annotations

import math
from typing import NamedTuple

from ..modelled import Model
from ..picture import Eye, Matrix, Vector, dot
from ..project.model import Clip, Project
from ..project.timeline import lanes, timeline_of
from ..steps import KINDS, STAND, Rest, Stand, Values, resting_eye
from .evaluate import evaluate_clip
from .lights import light_of, shining
from .placed import Point, total_matrix
from .scene import Layer
from .space import camera_at, eye_of, stands_in_space, told_of
from .standing import Standing, stand

SHARP = 1 / 1500
"""Of the frame's width: a disc that is not seen as one."""


class Plane(Model):
    """A clip that stands in space by a `step`, set to `place` across, down and away.

    `corners` are those of its picture in the world, px, clockwise from the upper left as it rests; `ahead` is how far
    its middle lies ahead of the camera, px, below 0 behind it. `disc` is the diameter its middle is spread over by the
    lens, and `passes` how far it moves over the picture for every 100 px that the camera goes aside, both in px of the
    frame. `seen` is where its picture's own middle is seen, and what lies 100 px from it across, down and away; None
    where that is behind the camera."""

    clip: str
    step: str
    name: str
    place: Vector
    corners: list[Vector]
    middle: Vector
    ahead: float
    disc: float
    passes: float
    seen: list[Point] | None


class Sharpness(Model):
    """How far ahead, in px, everything is sharp: at best, from where and to where. No `far` end is endlessly far."""

    at: float
    near: float
    far: float | None


class Shine(Model):
    """A light that has a place: where it is, at what it points, its colour, how wide its cone is in degrees (a light to
    all sides has none) and how wide it is itself, px."""

    clip: str
    name: str
    at: Vector
    aim: Vector
    colour: str
    cone: float | None
    size: float


class Surroundings(Model):
    """What a camera sees at a moment, and where all that stands in space is, in px of the world: x to the right and y
    down from the middle of the frame, z away.

    `camera` is the clip; None where the timeline has none there, and is seen as it is. `sees` are the corners,
    clockwise from the upper left, of what is seen in the distance of the aim. `angle` is how wide it sees, in degrees,
    and `metres` how large a px of the world is, for the lens; None without one."""

    camera: str | None
    at: Vector
    aim: Vector
    right: Vector
    down: Vector
    ahead: Vector
    sees: list[Vector]
    angle: float
    metres: float | None
    sharp: Sharpness | None
    planes: list[Plane]
    lights: list[Shine]


class Stood(NamedTuple):
    """A clip in space at one moment: what it is made of, and the values of the step it stands by."""

    clip: Clip
    step: str
    layer: Layer
    standing: Standing
    values: Values
    rest: Rest


def stood_at(project: Project, within: str | None, frame: float) -> list[Stood]:
    """Everything that stands in space on a timeline at a frame of it."""
    found = []
    for lane in lanes(project, within):
        for clip in lane.clips:
            if lane.track.hidden or not clip.head <= frame < clip.end or not stands_in_space(clip):
                continue
            layer = evaluate_clip(project, clip, frame - clip.head, placing=True)
            step = None if layer is None else next((each for each in layer.steps if each.kind == STAND.kind), None)
            if layer is None or step is None or step.mix <= 0:
                continue
            standing = stand(layer.content, project.settings.width, project.settings.height)
            found.append(Stood(clip, step.id, layer, standing, step.values, standing.rest(step.leaving, step.pivot)))
    return found


def corners_of(stood: Stood) -> list[Vector]:
    """The corners of its picture in the world."""
    assert isinstance(STAND, Stand)
    measured = stood.standing.box if stood.standing.ink.empty else stood.standing.ink
    before = Matrix()
    for step in stood.layer.steps:
        if step.kind == STAND.kind:
            break
        if not step.passed_on:
            placed = KINDS[step.kind].place(step.values, stood.standing.rest(step.leaving, step.pivot))
            before = before if placed is None else placed @ before
    origin, across, down = STAND.plane(stood.values, stood.rest)
    return [_point(origin, across, down, x, y) for x, y in measured.corners(before)]


def centre_of(stood: Stood) -> Vector:
    """The middle of its picture in the world: where it is seen, which need not be where it turns about."""
    x, y, z = (sum(corner[n] for corner in corners_of(stood)) / 4 for n in range(3))
    return x, y, z


def _point(origin: Vector, across: Vector, down: Vector, x: float, y: float) -> Vector:
    a, b, c = (origin[n] + across[n] * x + down[n] * y for n in range(3))
    return a, b, c


def distance_at(stood: Stood, at: Point) -> float | None:
    """How far ahead of the camera lies what is seen of a clip at a point of its timeline's picture, px; None beside
    it."""
    assert isinstance(STAND, Stand)
    matrix = total_matrix(stood.layer, stood.standing)
    try:
        back = matrix.inverse()
    except ZeroDivisionError:
        return None
    if back.w_at(*at) <= 0:
        return None
    x, y = back.map(*at)
    box = stood.standing.box if stood.standing.ink.empty else stood.standing.ink
    if not (box.x0 <= x <= box.x1 and box.y0 <= y <= box.y1):
        return None
    corners = corners_of(stood)
    share_x, share_y = (x - box.x0) / max(box.x1 - box.x0, 1e-9), (y - box.y0) / max(box.y1 - box.y0, 1e-9)
    along, up = (tuple(corners[n][i] - corners[0][i] for i in range(3)) for n in (1, 3))
    point = tuple(corners[0][i] + share_x * along[i] + share_y * up[i] for i in range(3))
    eye = stood.values.get("eye") or resting_eye(stood.rest.width, stood.rest.height)
    assert isinstance(eye, Eye)
    depth = eye.depth((point[0], point[1], point[2]))
    return depth if depth > 0 else None


def surroundings(project: Project, within: str | None, frame: float) -> Surroundings:
    """What stands where at a frame of a timeline: the film's own, or that within a group."""
    width, height = project.settings.width, project.settings.height
    camera = camera_at(project, within, frame)
    eye = resting_eye(width, height) if camera is None else eye_of(project, camera, frame - camera.head)
    planes = []
    for stood in stood_at(project, within, frame):
        assert isinstance(STAND, Stand)
        middle = STAND.middle(stood.values, stood.rest)
        ahead = eye.depth(middle)
        seen = ahead > 1e-6
        planes.append(
            Plane(
                clip=stood.clip.id,
                step=stood.step,
                name=stood.clip.name,
                place=(stood.values["x"], stood.values["y"], stood.values["z"]),
                corners=corners_of(stood),
                middle=middle,
                ahead=ahead,
                disc=abs(eye.focus.diameter(ahead)) if eye.focus is not None and seen else 0.0,
                passes=100 * eye.focal / ahead if seen else 0.0,
                seen=_seen(stood, eye),
            )
        )
    told = None if camera is None else told_of(project, camera, frame - camera.head)
    # One that stands in its aim looks at what lies a px ahead.
    far = -eye.at[2] if told is None else max(1.0, told.far)
    aim = _ahead(eye, far, 0.0, 0.0)
    sees = [
        _ahead(eye, far, far * x * width / eye.focal / 2, far * y * height / eye.focal / 2)
        for x, y in ((-1, -1), (1, -1), (1, 1), (-1, 1))
    ]
    sharp = None
    if eye.focus is not None:
        near, end = eye.focus.band(SHARP * width)
        sharp = Sharpness(at=eye.focus.sharp, near=near, far=None if math.isinf(end) else end)
    return Surroundings(
        camera=camera.id if camera is not None else None,
        at=eye.at,
        aim=aim,
        right=eye.right,
        down=eye.down,
        ahead=eye.ahead,
        sees=sees,
        angle=2 * math.degrees(math.atan(width / 2 / eye.focal)),
        metres=None if told is None or eye.focus is None else told.metres,
        sharp=sharp,
        planes=planes,
        lights=_lights(project, within, frame),
    )


class Passing(Model):
    """How far ahead of a camera a clip's middle lies at each of its frames, px; None where it is not there, or not
    before the camera."""

    clip: str
    name: str
    ahead: list[float | None]


class SharpCourse(Model):
    """What a camera has sharp over its clip: at each of some `frames` of it from where, at best and to where, px ahead
    (a far end of None is endlessly far), and where what stands in space is meanwhile."""

    frames: list[int]
    near: list[float]
    at: list[float]
    far: list[float | None]
    planes: list[Passing]


_LOOKS = 64
"""Moments of a camera at which it is asked what is sharp."""


def sharp_course(project: Project, camera: Clip) -> SharpCourse | None:
    """What a camera has sharp over its clip; None for one that has everything sharp."""
    last, within = camera.length - 1, timeline_of(project, camera)
    frames = sorted({round(last * look / _LOOKS) for look in range(_LOOKS + 1)})
    near, at, far = [], [], []
    ahead: dict[str, list[float | None]] = {}
    names: dict[str, str] = {}
    for place, frame in enumerate(frames):
        eye = eye_of(project, camera, frame)
        if eye.focus is None:
            return None
        begins, ends = eye.focus.band(SHARP * project.settings.width)
        near.append(begins)
        at.append(eye.focus.sharp)
        far.append(None if math.isinf(ends) else ends)
        for stood in stood_at(project, within, camera.head + frame):
            assert isinstance(STAND, Stand)
            depth = eye.depth(STAND.middle(stood.values, stood.rest))
            names[stood.clip.id] = stood.clip.name
            own = ahead.setdefault(stood.clip.id, [None] * len(frames))
            own[place] = depth if depth > 0 else None
    planes = [Passing(clip=clip, name=names[clip], ahead=found) for clip, found in ahead.items()]
    return SharpCourse(frames=frames, near=near, at=at, far=far, planes=planes)


def _seen(stood: Stood, eye: Eye) -> list[Point] | None:
    """Where a clip's centre is seen on its timeline's picture, and what lies 100 px from it along each axis."""
    later = Matrix()
    for step in reversed(stood.layer.steps):
        if step.kind == STAND.kind:
            break
        if not step.passed_on:
            placed = KINDS[step.kind].place(step.values, stood.standing.rest(step.leaving, step.pivot))
            later = later if placed is None else later @ placed
    x, y, z = centre = centre_of(stood)
    found = []
    for point in (centre, (x + 100, y, z), (x, y + 100, z), (x, y, z + 100)):
        depth = eye.depth(point)
        if depth <= 1e-3:
            return None
        apart = tuple(a - b for a, b in zip(point, eye.at))
        right, down = (eye.focal * dot(axis, apart) / depth for axis in (eye.right, eye.down))  # type: ignore[arg-type]
        found.append(later.map(stood.rest.width / 2 + right, stood.rest.height / 2 + down))
    return found


def _lights(project: Project, within: str | None, frame: float) -> list[Shine]:
    found = []
    for clip in shining(project, within, frame):
        now = light_of(project, clip, frame - clip.head)
        if now.sort == "everywhere":
            continue
        cone, aim = (now.cone, now.aim) if now.sort == "spot" else (None, now.at)
        found.append(
            Shine(clip=clip.id, name=clip.name, at=now.at, aim=aim, colour=now.colour, cone=cone, size=now.size)
        )
    return found


def _ahead(eye: Eye, far: float, right: float, down: float) -> Vector:
    x, y, z = (eye.at[n] + far * eye.ahead[n] + right * eye.right[n] + down * eye.down[n] for n in range(3))
    return x, y, z
