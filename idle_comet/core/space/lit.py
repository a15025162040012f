"""A flat picture as lights shine on it: matt, by Lambert's cosine, on the side that is seen."""

from __future__ import annotations

from typing import Mapping

import numpy as np

from ..picture import Matrix, Patch, Vector, code_of, kernel, light_of
from .shade import reached


@kernel(
    "void(float32[:,:,::1], float64[:,::1], float64[:,::1], float64[::1], float64[:,::1], float32[:,:,::1], float64,"
    " float64)"
)
def _lit(light, back, plane, normal, lights, shadows, left, top):
    """`back` (3, 3) leads from px to the plane's own, `plane` (3, 3) has where its x and y go and its origin."""
    height, width = light.shape[0], light.shape[1]
    for y in range(height):
        py = y + top + 0.5
        for x in range(width):
            if light[y, x, 3] <= 0:
                continue
            px = x + left + 0.5
            w = back[2, 0] * px + back[2, 1] * py + back[2, 2]
            if abs(w) < 1e-12:
                continue
            u = (back[0, 0] * px + back[0, 1] * py + back[0, 2]) / w
            v = (back[1, 0] * px + back[1, 1] * py + back[1, 2]) / w
            ax = plane[0, 0] * u + plane[1, 0] * v + plane[2, 0]
            ay = plane[0, 1] * u + plane[1, 1] * v + plane[2, 1]
            az = plane[0, 2] * u + plane[1, 2] * v + plane[2, 2]
            r = g = b = 0.0
            for n in range(lights.shape[0]):
                much, wx, wy, wz = reached(lights, n, ax, ay, az)
                if lights[n, 0] != 0:
                    much *= max(0.0, normal[0] * wx + normal[1] * wy + normal[2] * wz)
                    if shadows.shape[1] and much > 0:
                        much *= 1 - shadows[n, y, x]
                r += much * lights[n, 7]
                g += much * lights[n, 8]
                b += much * lights[n, 9]
            light[y, x, 0] *= r
            light[y, x, 1] *= g
            light[y, x, 2] *= b


def lit(
    patch: Patch,
    placed: Matrix,
    plane: tuple[Vector, Vector, Vector],
    eye: Vector,
    lights: np.ndarray,
    shadows: Mapping[int, Patch],
) -> Patch:
    """A plane's picture under lights (see `rows_of`). `placed` leads from the plane's px to the painted picture,
    `plane` says where px (x, y) of it lie: at origin + x · across + y · down. `shadows` are what lies between a light
    and the plane, by the light's number, as the plane is painted."""
    if patch.rect.empty:
        return patch
    light = light_of(patch)
    origin, across, down = (np.array(each) for each in plane)
    normal = np.cross(across, down)
    normal /= max(float(np.linalg.norm(normal)), 1e-12)
    if normal @ (np.array(eye) - origin) < 0:
        normal = -normal
    try:
        back = placed.inverse()
    except ZeroDivisionError:
        return patch
    rows = np.array([[back.a, back.c, back.e], [back.b, back.d, back.f], [back.g, back.h, back.i]])
    between = np.zeros((len(lights), patch.height, patch.width) if shadows else (0, 0, 0), np.float32)
    for number, shadow in shadows.items():
        inside = shadow.cut(patch.rect)
        x, y = inside.x - patch.x, inside.y - patch.y
        if not inside.rect.empty:
            alpha = inside.alpha * np.float32(inside.opacity / 255)
            between[number, y : y + inside.height, x : x + inside.width] = alpha
    _lit(light, rows, np.stack([across, down, origin]), normal, lights, between, float(patch.x), float(patch.y))
    return Patch(code_of(light), patch.x, patch.y, None, patch.opacity, patch.extends)
