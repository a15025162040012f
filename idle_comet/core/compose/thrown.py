"""Shadows that bodies throw on themselves and on each other: how near the nearest of them is that each light sees."""

from __future__ import annotations

import math
from typing import Callable, Iterable

import numpy as np

from ..picture import Eye, Matrix, looking_at
from ..space import LightNow, Painted, Triangles, nearness_of
from ..type import Pose
from .deep import Body, Deep

Told = Callable[[Eye, int], Triangles | None]
"""What is to be seen of a body through an eye, in a picture of so many px a side."""

_SIDE = {True: 1024, False: 512}
"""Px along the side of what a light sees, as exported and in a light picture."""

_ROOM = 4
"""Of them, around what it looks at."""


def with_shadows(
    painted: Painted, lights: Iterable[LightNow], on: Triangles, bodies: Iterable[Told], exact: bool
) -> Painted:
    """The same surfaces, with what may keep lights from them: `on` are the triangles they belong to, `bodies` all that
    may be in the way, those too."""
    lights, side = tuple(lights), _SIDE[exact]
    views, maps = np.zeros((len(lights), 14)), np.zeros((len(lights), side, side), np.float32)
    places = on.carried[..., :3].reshape(-1, 3)
    low, high = places.min(0), places.max(0)
    middle, radius = (low + high) / 2, float(np.linalg.norm(high - low)) / 2
    for number, light in enumerate(lights):
        far = math.dist(light.at, middle)
        # A light within what it shines on is in the way of itself.
        if not light.shadows or light.sort == "everywhere" or far <= radius * 1.001:
            continue
        focal = (side / 2 - _ROOM) / math.tan(math.asin(radius / far))
        eye = looking_at(light.at, tuple(middle.tolist()), 0.0, focal)
        views[number] = [*eye.at, *eye.right, *eye.down, *eye.ahead, focal, light.size]
        for told in bodies:
            triangles = told(eye, side)
            if triangles is None:
                continue
            near, left, top = nearness_of(triangles, side, side, False)
            part = maps[number, top : top + near.shape[0], left : left + near.shape[1]]
            np.maximum(part, near, out=part)
    return painted._replace(maps=maps, views=views) if views[:, 12].any() else painted


def seen_by(pose: Pose, eye: Eye, side: int) -> Pose:
    """A pose as it is seen through another eye, in a picture of so many px a side."""
    of, frame = pose.solid, (float(side), float(side))
    if isinstance(of, Body):
        return pose._replace(solid=of._replace(deep=of.deep._replace(eye=eye, view=Matrix(), frame=frame)))
    return pose._replace(solid=of._replace(eye=eye, view=Matrix(), frame=frame)) if isinstance(of, Deep) else pose
