"""Models painted: their meshes where their own motion and their steps have them, with their surfaces."""

from __future__ import annotations

import math
from typing import Sequence

import numpy as np

from ..moment.scene import ModelNow
from ..picture import Eye, Matrix, Patch, Rect, turned_axes
from ..space import LightNow, Painted, Triangles, around, rasterise, rows_of, usual
from ..space.model import Material, ReadModel, box_of, drawn_in, placed
from ..type import Pose
from .deep import Deep, array, deep_in
from .solid import nearness_in, seen_through
from .textures import Textures, turned_around
from .thrown import Told, seen_by, told_body, with_shadows


def paint_model(
    model: ReadModel, now: ModelNow, deep: Deep, window: Rect, exact: bool, between: Sequence[Told] = ()
) -> Patch:
    """A model as far as it lies in a window; `between` is all that may throw shadows on it."""
    x0, y0, x1, y1 = window.whole()
    triangles = _triangles(model, now, deep, window)
    if triangles is None:
        return Patch.empty()
    lights = usual(now.width) if now.lights is None else now.lights
    painted = _painted(model, dict(now.values), lights)
    if deep.eye.until < math.inf:
        # What a light sees is a shadow.
        painted = painted.shape_alone
    else:
        painted = with_shadows(painted, lights, triangles, between, exact)
    pixels, left, top = rasterise(triangles, painted, np.array(deep.eye.at), x1 - x0, y1 - y0, exact, deep.eye.until)
    return Patch(pixels, x0 + left, y0 + top) if pixels.size else Patch.empty()


def told_model(model: ReadModel, now: ModelNow, pose: Pose) -> Told:
    """How near a model is through any eye."""

    def seen(eye: Eye, side: int) -> Triangles | None:
        deep = seen_by(pose, eye, side).solid
        assert isinstance(deep, Deep)
        return _triangles(model, now, deep, Rect(0, 0, side, side))

    return told_body(seen)


def model_nearness(model: ReadModel, now: ModelNow, deep: Deep, window: Rect) -> Patch:
    """How near a model is at each px of what it covers (see `nearness_of`)."""
    return nearness_in(_triangles(model, now, deep, window), window)


def _triangles(model: ReadModel, now: ModelNow, deep: Deep, window: Rect) -> Triangles | None:
    """What is to be seen of a model, from the corner of a window on."""
    x0, y0, _, _ = window.whole()
    values = dict(now.values)
    if values["size"] <= 0:
        return None
    view = Matrix.shift(-x0, -y0) @ deep.view
    x, y = now.width / 2, now.height / 2
    own = drawn_in(box_of(model), values["size"], x, y)
    turn = np.eye(4)
    turn[:3, :3] = np.array(turned_axes(values["tilt"], values["swing"], values["roll"])).T
    about = np.eye(4)
    about[:2, 3] = x, y
    in_frame = about @ turn @ np.linalg.inv(about) @ own
    nodes = placed(model, now.animation, now.seconds)
    corners, carried, surfaces, opened = [], [], [], []
    open_ones = np.array([each.open for each in model.materials])
    for part in model.parts:
        world = array(deep.world) @ in_frame @ nodes[part.node]
        seen = seen_through(part.mesh, world, deep, view)
        if seen is None:
            continue
        mesh_surfaces = part.mesh.surfaces[seen[2]]
        corners.append(seen[0])
        carried.append(seen[1])
        surfaces.append(mesh_surfaces)
        opened.append(open_ones[mesh_surfaces])
    if not corners:
        return None
    return Triangles(*(np.concatenate(each) for each in (corners, carried, surfaces, opened)))


def _painted(model: ReadModel, values: dict[str, object], lights: tuple[LightNow, ...]) -> Painted:
    textures = Textures()
    numbers = [textures.add(picture) for picture in model.pictures]
    surfaces = np.array([_row(material, numbers) for material in model.materials], np.float64)
    surrounding = turned_around(around(values["around"]), float(values["turned"]), float(values["mirror"]))  # type: ignore[arg-type]
    texels, sheets = textures.packed()
    return Painted(surfaces, rows_of(lights), surrounding, texels, sheets)


def _row(of: Material, numbers: list[int]) -> list[float]:
    pictures = [
        numbers[each] if each >= 0 else -1 for each in (of.colour_picture, of.surface_picture, of.light_picture)
    ]
    return [*of.colour, of.metal, of.rough, *of.own_light, 0.04, *pictures, float(of.unlit), 0.0]


def portrait(model: ReadModel, width: int, height: int) -> np.ndarray:
    """(height, width, 4) uint8 premultiplied: a model to be known by, a little from the side and from above."""
    size = 0.62 * min(width, height)
    now = ModelNow(
        "", (("size", size), ("tilt", 18.0), ("swing", -28.0), ("roll", 0.0), *_PLAIN), -1, 0.0, width, height
    )
    from_before = deep_in(width, height, Matrix())
    patch = paint_model(model, now, from_before, Rect(0, 0, width, height), True)
    out = np.zeros((height, width, 4), np.uint8)
    if not patch.rect.empty:
        out[patch.y : patch.y + patch.height, patch.x : patch.x + patch.width] = np.rint(patch.pixels).astype(np.uint8)
    return out


_PLAIN = (("around", "studio"), ("mirror", 1.0), ("turned", 0.0))
