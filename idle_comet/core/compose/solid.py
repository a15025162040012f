"""Solids painted: words and shapes as bodies, as their steps made and placed them."""

from __future__ import annotations

import math
from typing import Any, Callable, Iterator, Sequence

import numpy as np

from ..moment.scene import ShapeNow, TextNow
from ..moment.shaped import line_of, path_of
from ..moment.standing import layout_of
from ..picture import Eye, Matrix, Patch, Rect, as_light, gathered, lines_of, parse_colour
from ..remember import BUDGET
from ..space import (
    EDGE,
    FRONT,
    SIDE,
    Cut,
    Mesh,
    Painted,
    Triangles,
    around,
    around_of,
    extruded,
    joined,
    nearness_of,
    rasterise,
    region_of,
    rows_of,
    usual,
    worked,
)
from ..steps import Solid
from ..type import Glyph, Pose, glyphs_of
from .deep import Body, Deep, array
from .textures import Textures, turned_around
from .thrown import Told, seen_by, told_body, with_shadows

FrameOf = Callable[[str, int, int], np.ndarray]

_FINE = 0.06
"""Px by which an outline may be off."""

_FINEST = 6
"""Octaves of enlargement up to which outlines are made as fine as they are seen."""

_DARKER = 0.34
"""Of the front's light: what sides are that have no colour of their own."""

_SLANTED = 0.7
"""Px along both axes of what a surface is worked like, for a px that a side goes back."""

_UNIT, _FAR = 1.0, 2.0
"""How deep the edge and all of a body are when it is made; it is stretched to what is asked, so that a body that grows
in depth is made once."""


def bodies(poses: Sequence[Pose]) -> bool:
    """Whether any ink is solid."""
    return any(isinstance(pose.solid, Body) for pose in poses)


def paint_solid(
    content: TextNow | ShapeNow,
    poses: Sequence[Pose],
    window: Rect,
    exact: bool,
    frame_of: FrameOf,
    between: Sequence[Told] = (),
) -> Patch:
    """Poses that are solid, those that are wholly there among each other in depth, each that fades by itself;
    `between` is all that may throw shadows on them."""
    whole = [pose for pose in poses if pose.opacity >= 1]
    made = []
    for together in ([whole] if whole else []) + [[pose] for pose in poses if 0 < pose.opacity < 1]:
        patch = _painted(content, together, window, exact, frame_of, between)
        if not patch.rect.empty:
            made.append(patch.faded(together[0].opacity))
    if not made:
        return Patch.empty()
    return made[0] if len(made) == 1 else gathered(made, window)


def solid_nearness(content: TextNow | ShapeNow, poses: Sequence[Pose], window: Rect, frame_of: FrameOf) -> Patch:
    """How near poses that are solid are at each px of what they cover (see `nearness_of`)."""
    triangles, _ = _triangles(content, poses, window, frame_of)
    return nearness_in(triangles, window)


def nearness_in(triangles: Triangles | None, window: Rect) -> Patch:
    """How near triangles are that were told from the corner of a window, where that lies."""
    if triangles is None:
        return Patch.empty()
    x0, y0, x1, y1 = window.whole()
    near, left, top = nearness_of(triangles, x1 - x0, y1 - y0)
    return Patch(near, x0 + left, y0 + top, colour=(0, 0, 0)) if near.size else Patch.empty()


def told_solid(content: TextNow | ShapeNow, poses: Sequence[Pose], frame_of: FrameOf) -> Told:
    """How near poses that are solid are through any eye."""

    def seen(eye: Eye, side: int) -> Triangles | None:
        there = [seen_by(pose, eye, side) for pose in poses if pose.opacity >= 0.5]
        return _triangles(content, there, Rect(0, 0, side, side), frame_of)[0] if there else None

    return told_body(seen)


def _painted(
    content: TextNow | ShapeNow,
    poses: Sequence[Pose],
    window: Rect,
    exact: bool,
    frame_of: FrameOf,
    between: Sequence[Told],
) -> Patch:
    x0, y0, x1, y1 = window.whole()
    triangles, looks = _triangles(content, poses, window, frame_of)
    if triangles is None:
        return Patch.empty()
    first = poses[0].solid
    assert isinstance(first, Body)
    eye, painted = first.deep.eye, looks.painted(first.deep.eye)
    if eye.until == math.inf:
        painted = with_shadows(painted, first.solid.lights or (), triangles, between, exact)
    pixels, left, top = rasterise(triangles, painted, np.array(eye.at), x1 - x0, y1 - y0, exact, eye.until)
    return Patch(pixels, x0 + left, y0 + top) if pixels.size else Patch.empty()


def _triangles(
    content: TextNow | ShapeNow, poses: Sequence[Pose], window: Rect, frame_of: FrameOf
) -> tuple[Triangles | None, _Looks]:
    """What is to be seen of poses that are solid, from the corner of a window on, and what it looks like."""
    x0, y0, _, _ = window.whole()
    first = poses[0].solid
    assert isinstance(first, Body)
    looks = _Looks(first.solid, first.deep.frame[0], frame_of)
    corners, carried, surfaces = [], [], []
    for pose in poses:
        body = pose.solid
        assert isinstance(body, Body)
        placed = Matrix.shift(-x0, -y0) @ body.deep.view
        for mesh, colour in _meshes(content, pose, body.solid):
            seen = seen_through(mesh, array(body.deep.world), body.deep, placed)
            if seen is not None:
                corners.append(seen[0])
                carried.append(seen[1])
                surfaces.append(looks.rows(body.solid, colour)[mesh.surfaces[seen[2]]])
    if not corners:
        return None, looks
    closed = np.zeros(sum(map(len, corners)), np.bool_)
    return Triangles(np.concatenate(corners), np.concatenate(carried), np.concatenate(surfaces), closed), looks


def seen_through(
    mesh: Mesh, world: np.ndarray, deep: Deep, view: Matrix
) -> tuple[np.ndarray, np.ndarray, slice | np.ndarray] | None:
    """A mesh's triangles on the painted picture, what their corners carry, and which of its triangles they are; None
    where there is none. `world` (4, 4) leads from its spots to the world; where that or `view` (to the painted
    picture) turns things inside out, so it does each triangle."""
    eye, inside_out = deep.eye, np.linalg.det(world)
    if abs(inside_out) < 1e-18:
        return None
    spots = np.column_stack([mesh.spots, np.ones(len(mesh.spots))]) @ world.T
    there = spots[:, 3] > 1e-3
    if not there.any():
        return None
    places = spots[:, :3] / np.maximum(spots[:, 3:], 1e-3)
    faces = mesh.faces
    kept = there[faces].all(1)
    on_eye = (places - eye.at) @ np.array([eye.right, eye.down, eye.ahead]).T
    width, height = deep.frame
    frame = np.column_stack(
        [
            eye.focal * on_eye[:, 0] + width / 2 * on_eye[:, 2],
            eye.focal * on_eye[:, 1] + height / 2 * on_eye[:, 2],
            on_eye[:, 2],
        ]
    )
    painted = frame @ np.array([[view.a, view.c, view.e], [view.b, view.d, view.f], [view.g, view.h, view.i]]).T
    # −1/w runs straight over the picture, and is less the nearer a place is.
    seen = np.column_stack([painted[:, :2], np.full(len(painted), -1.0), painted[:, 2]])
    # A plane's normal and distance go by the inverse transposed.
    flat = np.einsum("mij,mij->mi", mesh.normals, mesh.spots[faces])
    planes = np.concatenate([mesh.normals, -flat[..., None]], -1) @ np.linalg.inv(world)
    carried = np.concatenate([places[faces], planes[..., :3], mesh.places], -1)
    which: slice | np.ndarray = slice(None) if kept.all() else kept
    turn = -1 if inside_out * view.scale_sign < 0 else 1
    return seen[faces][which][:, ::turn], carried[which][:, ::turn], which


def _meshes(content: TextNow | ShapeNow, pose: Pose, solid: Solid) -> Iterator[tuple[Mesh, tuple[int, int, int]]]:
    """The bodies of a pose in px of the frame, each with the colour of its front."""
    if isinstance(content, ShapeNow):
        yield from _shape_meshes(content, pose, solid)
        return
    layout = layout_of(content)
    by_colour: dict[str, list[Mesh]] = {}
    for glyph in glyphs_of(layout, pose):
        mesh = _glyph_mesh(glyph, pose, solid)
        if len(mesh.faces):
            by_colour.setdefault(glyph.colour or content.colour, []).append(mesh)
    for colour, meshes in by_colour.items():
        yield _finished(joined(meshes), solid), parse_colour(colour)


def _octave(enlarged: float) -> int:
    return min(_FINEST, max(0, math.ceil(math.log2(max(enlarged, 1e-6)))))


def _glyph_mesh(glyph: Glyph, pose: Pose, solid: Solid) -> Mesh:
    """A glyph in its place, with its edge and its body as deep as they are made."""
    to_frame = solid.to_frame
    em = to_frame.scale * glyph.size
    octave = _octave(pose.matrix.scale / max(to_frame.scale, 1e-9))
    name = (_glyph_mesh, id(glyph.face), glyph.gid, em, solid.bevel, solid.wide, octave)
    known = BUDGET.find(name)
    if known is None or known[0] is not glyph.face:
        pieces = glyph.face.pieces(glyph.gid, em * 2**octave) * em
        mesh = extruded(region_of(pieces), _FAR, Cut(solid.bevel, solid.wide, _UNIT), _FINE / 2**octave)
        known = (glyph.face, mesh)
        BUDGET.keep(name, known, mesh.nbytes + 400)
    x, y = to_frame.map(glyph.x, glyph.y)
    mesh = known[1]
    return mesh._replace(spots=mesh.spots + (x, y, 0.0))


def _shape_meshes(shape: ShapeNow, pose: Pose, solid: Solid) -> Iterator[tuple[Mesh, tuple[int, int, int]]]:
    values = dict(shape.values)
    octave = _octave(pose.matrix.scale)
    for path, colour, there in (
        (path_of(shape), values["colour"], values["filled"] > 0 and values["form"] != "line"),
        (line_of(shape), values["line_colour"], True),
    ):
        if there and not path.isEmpty():
            name = (_shape_meshes, shape, colour, solid.bevel, solid.wide, octave)
            mesh = BUDGET.find(name)
            if mesh is None:
                region = region_of(lines_of(path, 2.0**octave))
                mesh = extruded(region, _FAR, Cut(solid.bevel, solid.wide, _UNIT), _FINE / 2**octave)
                BUDGET.keep(name, mesh, mesh.nbytes + 400)
            if len(mesh.faces):
                yield _finished(mesh, solid), parse_colour(colour)


def _finished(mesh: Mesh, solid: Solid) -> Mesh:
    """A body stretched to its depth, its front's places on a picture that covers all of the ink."""
    z = mesh.spots[:, 2]
    edge = solid.deep if solid.bevel != "none" else 0.0
    spots = np.column_stack([mesh.spots[:, :2], np.where(z > _UNIT, solid.depth, np.minimum(z, _UNIT) * edge)])
    normals = mesh.normals
    if edge > 0:
        of_edge = mesh.surfaces == EDGE
        stretched = normals[of_edge] * (1, 1, _UNIT / edge)
        normals = normals.copy()
        normals[of_edge] = stretched / np.maximum(np.linalg.norm(stretched, axis=-1, keepdims=True), 1e-12)
    wide, high = max(solid.box.x1 - solid.box.x0, 1e-6), max(solid.box.y1 - solid.box.y0, 1e-6)
    looks, along = dict(solid.looks), spots[mesh.faces]
    over = along[..., :2]
    if looks["worn"] == "on all sides":
        # A picture lies over the front as the ink does, and goes on over the sides as if it was folded back.
        over = over + along[..., 2:] * normals[..., :2]
    places = (over - (solid.box.x0, solid.box.y0)) / (wide, high)
    if looks["worked"] != "smooth" and not _wears(solid):
        # In px of the frame, so that letters of any size are of one stuff.
        places = (along[..., :2] + along[..., 2:] * _SLANTED) / max(looks["coarse"], 1e-3)
        return mesh._replace(spots=spots, normals=normals, places=places)
    return mesh._replace(spots=spots, normals=normals, places=_covering(places, solid, wide / high))


def _wears(solid: Solid) -> bool:
    """Whether its front has a picture on it."""
    return solid.picture is not None and dict(solid.looks)["worn"] != "all around, mirrored"


def _covering(places: np.ndarray, solid: Solid, ratio: float) -> np.ndarray:
    """Places 0..1 over the ink's box on a picture of another shape, which covers it."""
    if solid.picture is None:
        return places
    own = solid.picture[1] / solid.picture[2]
    by = (1.0, own / ratio) if ratio > own else (ratio / own, 1.0)
    return (places - 0.5) * by + 0.5


class _Looks:
    """The surfaces of bodies that stand together: their lights and surroundings are those of the first of them."""

    def __init__(self, solid: Solid, width: float, frame_of: FrameOf) -> None:
        self._solid, self._width, self._frame_of = solid, width, frame_of
        self._rows: list[list[float]] = []
        self._known: dict[tuple[object, ...], np.ndarray] = {}
        self._textures = Textures()
        self._numbers: dict[object, int] = {}

    def rows(self, solid: Solid, colour: tuple[int, int, int]) -> np.ndarray:
        """The rows of a body's FRONT, EDGE and SIDE."""
        name = (solid.looks, solid.picture, colour)
        known = self._known.get(name)
        if known is None:
            values = dict(solid.looks)
            front = as_light(colour)
            edge, side = front, front * _DARKER
            if values["sides"] == "in their own colours":
                edge, side = (as_light(parse_colour(values[f"{name}_colour"])) for name in ("edge", "side"))
            stuff, worn = self._stuff(solid, values), self._worn(solid)
            if worn >= 0 and values["worn"] == "on all sides":
                stuff = (worn, -1)
                if values["sides"] != "in their own colours":
                    edge, side = np.ones(3), np.full(3, _DARKER)
            assert (FRONT, EDGE, SIDE) == (0, 1, 2)
            begin = len(self._rows)
            in_front = (np.ones(3, np.float32), (worn, -1)) if worn >= 0 else (front, stuff)
            for light, pictures in (in_front, (edge, stuff), (side, stuff)):
                self._rows.append(_row(values, light, pictures))
            known = self._known[name] = np.arange(begin, begin + 3)
        return known

    def _worn(self, solid: Solid) -> int:
        """The number of the picture on the front; −1 without one."""
        if solid.picture is None or not _wears(solid):
            return -1
        media, width, _, _ = solid.picture
        return self._number(media, lambda: self._frame_of(media, 0, min(width, 2048)))

    def _stuff(self, solid: Solid, values: dict[str, Any]) -> tuple[int, int]:
        """The numbers of what a surface is worked like, for its colour and its roughness."""
        how = values["worked"]
        if how == "smooth" or _wears(solid):
            return -1, -1
        return tuple(self._number((how, part), lambda part=part: worked(how)[part]) for part in (0, 1))  # type: ignore[return-value, misc]

    def _number(self, name: object, picture: Callable[[], np.ndarray]) -> int:
        if name not in self._numbers:
            self._numbers[name] = self._textures.add(picture())
        return self._numbers[name]

    def painted(self, eye: Eye) -> Painted:
        solid, values = self._solid, dict(self._solid.looks)
        lights = usual(self._width) if solid.lights is None else solid.lights
        if solid.picture is not None and not _wears(solid):
            media, width, _, _ = solid.picture
            surrounding = around_of(self._frame_of(media, 0, min(width, 512)))
        else:
            surrounding = around(values["around"])
        surrounding = turned_around(surrounding, values["turned"], values["mirror"])
        texels, sheets = self._textures.packed()
        made = Painted(np.array(self._rows, np.float64), rows_of(lights), surrounding, texels, sheets)
        # What a light sees is a shadow.
        return made if eye.until == math.inf else made.shape_alone


def _row(values: dict[str, Any], light: np.ndarray, pictures: tuple[int, int]) -> list[float]:
    """A surface as the shader has it (see `space/shade.py`)."""
    own = light * values["own_light"] * 2
    return [*light, values["metal"], values["rough"], *own, 0.08 * values["shine"], *pictures, pictures[0], 0, 0]
