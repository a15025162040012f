"""Shadows on bodies, of others, of planes and their own: how near the nearest is that each light sees."""

from __future__ import annotations

from typing import Callable, Iterable

import cv2
import numpy as np

from ..picture import Eye, Matrix, Patch, Vector, looking_at
from ..space import LightNow, Painted, Triangles, nearness_of
from ..type import Pose
from .deep import Body, Deep

Told = Callable[[Eye, int], tuple[np.ndarray, int, int]]
"""How near a thing is through an eye, in a picture of so many px a side (see `nearness_of`)."""

_SIDE = {True: 1024, False: 512}
"""Px along the side of what a light sees, as exported and in a light picture."""

_ROOM = 4
"""Of them, around what it looks at."""

_WIDEST = 6.0
"""Px to each side for a px ahead that a light looks at most: what lies further aside of one that is close by has no
shadow on it."""


def with_shadows(
    painted: Painted, lights: Iterable[LightNow], on: Triangles, between: Iterable[Told], exact: bool
) -> Painted:
    """The same surfaces, with what may keep lights from them: `on` are the triangles they belong to, `between` all that
    may be in the way, those too."""
    lights, side = tuple(lights), _SIDE[exact]
    views, maps = np.zeros((len(lights), 14)), np.zeros((len(lights), side, side), np.float32)
    places = on.carried[..., :3].reshape(-1, 3)
    middle = (places.min(0) + places.max(0)) / 2
    for number, light in enumerate(lights):
        if not light.shadows or light.sort == "everywhere":
            continue
        eye = looking_at(light.at, tuple(middle.tolist()), 0.0, 1.0)
        seen = (places - eye.at) @ np.array([eye.right, eye.down, eye.ahead]).T
        seen = seen[seen[:, 2] > 1e-6]
        if not len(seen):
            continue
        wide = float(np.abs(seen[:, :2] / seen[:, 2:]).max())
        focal = (side / 2 - _ROOM) / min(max(wide, 1e-6), _WIDEST)
        eye = eye._replace(focal=focal)
        views[number] = [*eye.at, *eye.right, *eye.down, *eye.ahead, focal, light.size]
        for told in between:
            near, left, top = told(eye, side)
            part = maps[number, top : top + near.shape[0], left : left + near.shape[1]]
            np.maximum(part, near, out=part)
    return painted._replace(maps=maps, views=views) if views[:, 12].any() else painted


def told_body(triangles: Callable[[Eye, int], Triangles | None]) -> Told:
    """How near a body is, by its triangles as an eye sees them."""

    def told(eye: Eye, side: int) -> tuple[np.ndarray, int, int]:
        found = triangles(eye, side)
        if found is None:
            return np.zeros((0, 0), np.float32), 0, 0
        return nearness_of(found, side, side, False)

    return told


def told_board(cover: Patch, scale: float, plane: tuple[Vector, Vector, Vector]) -> Told:
    """How near a plane is, where its picture covers half or more."""
    alpha = np.ascontiguousarray(cover.alpha * np.float32(cover.opacity))

    def told(eye: Eye, side: int) -> tuple[np.ndarray, int, int]:
        nothing = np.zeros((0, 0), np.float32), 0, 0
        if cover.rect.empty:
            return nothing
        origin, across, down = (np.array(each) for each in plane)
        # A ray through a px goes on by one ahead; how often until it meets the plane runs, one by it, straight over px.
        axes, normal = np.array([eye.right, eye.down, eye.ahead]), np.cross(across, down)
        apart = float(normal @ (origin - eye.at))
        if abs(apart) < 1e-9:
            return nothing
        a, b, c = axes @ normal / apart
        x = (np.arange(side, dtype=np.float32) + 0.5 - side / 2) / eye.focal
        near = (a * x + b * x[:, None] + c).astype(np.float32)
        # The way from the picture's px to px of what the eye sees.
        own = np.array([[1 / scale, 0, cover.x / scale], [0, 1 / scale, cover.y / scale], [0, 0, 1]])
        to_eye = np.array([[eye.focal, 0, side / 2], [0, eye.focal, side / 2], [0, 0, 1]]) @ axes
        by = to_eye @ np.column_stack([across, down, origin - eye.at]) @ own
        half = np.array([[1, 0, 0.5], [0, 1, 0.5], [0, 0, 1]])
        seen = cv2.warpPerspective(alpha, np.linalg.inv(half) @ by @ half, (side, side), flags=cv2.INTER_LINEAR)
        near[(seen < 127.5) | (near < 0)] = 0
        return near, 0, 0

    return told


def seen_by(pose: Pose, eye: Eye, side: int) -> Pose:
    """A pose as it is seen through another eye, in a picture of so many px a side."""
    of, frame = pose.solid, (float(side), float(side))
    if isinstance(of, Body):
        return pose._replace(solid=of._replace(deep=of.deep._replace(eye=eye, view=Matrix(), frame=frame)))
    return pose._replace(solid=of._replace(eye=eye, view=Matrix(), frame=frame)) if isinstance(of, Deep) else pose
