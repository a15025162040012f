"""Outlines made solid: a front, sides, a back, and edges that are cut away between front and sides.

The front lies where the outline does, at z = 0, and the solid reaches away from the viewer. Its edge never passes the
outline: a cut edge takes away from the front. How far the front is drawn in at each height of the edge is worked out
by GEOS (parallel curves with mitred corners), and so are the triangles between neighbouring curves (a constrained
Delaunay triangulation, which adds no corners of its own). So all triangles meet edge to edge, and the solid is closed.
"""

from __future__ import annotations

import math
from typing import Callable, Literal, NamedTuple, get_args

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon

from .mesh import Mesh, smoothed

Bevel = Literal["none", "flat", "round", "hollow", "stepped"]
BEVELS: tuple[Bevel, ...] = get_args(Bevel)

FRONT, EDGE, SIDE = 0, 1, 2
"""Numbers of the surfaces."""

_ROUND = 6
"""Facets of a round edge: 15° each, lit as one."""

_FLATS = 8
"""Facets of a flat edge where parts of the outline are too thin for all of it: there its ridge is stepped."""


class Cut(NamedTuple):
    """An edge: its form, how far it draws the front in, and how far down the sides it reaches."""

    form: Bevel = "none"
    wide: float = 0.0
    deep: float = 0.0


_FORMS: dict[str, Callable[[float], float]] = {
    "flat": lambda t: t,
    "round": lambda t: math.sqrt(max(0.0, 1 - (1 - t) ** 2)),
    "hollow": lambda t: 1 - math.sqrt(max(0.0, 1 - t * t)),
}
"""How high an edge stands, 0 at the sides to 1 at the front, a share t of the way in."""


def _levels(cut: Cut, facets: int) -> list[tuple[float, float]]:
    """From the sides to the front: how far in, and how high, as shares."""
    if cut.form == "stepped":
        return [(0.0, 0.0), (0.0, 0.5), (0.5, 0.5), (0.5, 1.0), (1.0, 1.0)]
    if cut.form == "flat":
        return [(n / facets, n / facets) for n in range(facets + 1)]
    turns = [math.pi / 2 * n / _ROUND for n in range(_ROUND + 1)]
    ways = [1 - math.cos(turn) if cut.form == "round" else math.sin(turn) for turn in turns]
    return [(way, _FORMS[cut.form](way)) for way in ways]


def region_of(pieces: np.ndarray) -> MultiPolygon:
    """What closed outlines, as straight pieces (n, 4), enclose by their winding, however they cross themselves and each
    other: where they go round more often one way than the other."""
    pieces = pieces[(pieces[:, :2] != pieces[:, 2:]).any(1)]
    if not len(pieces):
        return MultiPolygon()
    crossed = shapely.union_all(shapely.linestrings(pieces.reshape(-1, 2, 2)))
    faces = shapely.get_parts(shapely.polygonize(shapely.get_parts(crossed)))
    inside = [face for face in faces if _winding(pieces, shapely.get_coordinates(face.representative_point())[0])]
    return _parts(shapely.union_all(inside))


def _winding(pieces: np.ndarray, at: np.ndarray) -> int:
    """How often outlines go round a point: their pieces that cross the line to the right of it, by their way."""
    x0, y0, x1, y1 = pieces.T
    crosses = (y0 <= at[1]) != (y1 <= at[1])
    x0, y0, x1, y1 = x0[crosses], y0[crosses], x1[crosses], y1[crosses]
    right = x0 + (at[1] - y0) / (y1 - y0) * (x1 - x0) > at[0]
    return int(np.sign(y1 - y0)[right].sum())


def _area(ring: np.ndarray) -> float:
    x, y = ring.T
    return float(np.dot(x, np.roll(y, -1)) - np.dot(np.roll(x, -1), y)) / 2


def _parts(found: shapely.Geometry) -> MultiPolygon:
    """Its polygons, without what has no inside."""
    parts = [part for part in shapely.get_parts(found) if isinstance(part, Polygon) and part.area > 0]
    return MultiPolygon(parts)


def _drawn_in(region: MultiPolygon, by: float) -> MultiPolygon:
    return _parts(shapely.buffer(region, -by, join_style="mitre", mitre_limit=4))


def extruded(region: MultiPolygon, depth: float, cut: Cut = Cut(), fine: float = 0.05) -> Mesh:
    """A region as a solid, `depth` deep; `fine` is how far outlines may be off.

    The surfaces are FRONT, EDGE and SIDE; the back belongs to the sides. Without any inside it is empty.
    """
    # Where parts of it touch in a point, they come apart.
    outline = _drawn_in(shapely.simplify(region, fine), fine / 100)
    if outline.is_empty:
        return Mesh(np.empty((0, 3)), np.empty((0, 3), int), np.empty(0, int), np.empty((0, 3, 3)), np.empty((0, 3, 2)))
    deep = min(max(cut.deep, 0.0), depth)
    has_edge = cut.form != "none" and cut.wide > fine / 2
    made = _Made()
    top = deep if has_edge else 0.0
    if has_edge:
        levels = [(cut.wide * way, top * (1 - high)) for way, high in _levels(cut, _facets(outline, cut))]
    else:
        levels = [(0.0, 0.0)]
    curves = {0.0: outline}
    for way, _ in levels:
        if way not in curves:
            curves[way] = _drawn_in(outline, way)
    for (way, z), (next_way, next_z) in zip(levels, levels[1:]):
        if way == next_way:
            made.walls(curves[way], next_z, z, EDGE)
        else:
            made.between(curves[way], z, curves[next_way], next_z, EDGE)
    made.plane(curves[levels[-1][0]], levels[-1][1], FRONT, seen_from_behind=False)
    made.walls(outline, top, depth, SIDE)
    made.plane(outline, depth, SIDE, seen_from_behind=True)
    return made.mesh()


def _facets(outline: MultiPolygon, cut: Cut) -> int:
    """One, unless drawing in makes parts vanish or fall apart."""
    if cut.form != "flat":
        return 1
    inner = _drawn_in(outline, cut.wide)
    back = shapely.buffer(inner, cut.wide, join_style="mitre", mitre_limit=4)
    return 1 if abs(back.area - outline.area) < 0.01 * outline.area else _FLATS


class _Made:
    """Triangles as they are made. A spot is known by its exact place."""

    def __init__(self) -> None:
        self._corners: list[np.ndarray] = []
        self._surfaces: list[np.ndarray] = []

    def _add(self, corners: np.ndarray, surface: int) -> None:
        if len(corners):
            self._corners.append(corners)
            self._surfaces.append(np.full(len(corners), surface))

    def walls(self, region: MultiPolygon, top: float, foot: float, surface: int) -> None:
        """Upright between two heights, along the outlines of a region."""
        if foot - top <= 0:
            return
        for part in region.geoms:
            for number, ring in enumerate((part.exterior, *part.interiors)):
                points = shapely.get_coordinates(ring)[:-1]
                if (_area(points) > 0) != (number == 0):
                    points = points[::-1]
                after = np.roll(points, -1, 0)
                a, b = _at(points, top), _at(after, top)
                c, d = _at(points, foot), _at(after, foot)
                self._add(np.stack([a, c, b], 1), surface)
                self._add(np.stack([b, c, d], 1), surface)

    def plane(self, region: MultiPolygon, z: float, surface: int, seen_from_behind: bool) -> None:
        """A region at one height."""
        triangles = _triangles(region)
        if seen_from_behind:
            triangles = triangles[:, ::-1]
        self._add(np.dstack([triangles, np.full(triangles.shape[:2], z)]), surface)

    def between(self, outer: MultiPolygon, z: float, inner: MultiPolygon, inner_z: float, surface: int) -> None:
        """What lies between a region and the same drawn in, sloping from one height to the other."""
        triangles = _triangles(_parts(shapely.difference(outer, inner)) if not inner.is_empty else outer)
        known = {tuple(each) for each in shapely.get_coordinates(inner).tolist()}
        heights = [[inner_z if tuple(point) in known else z for point in triangle] for triangle in triangles.tolist()]
        self._add(np.dstack([triangles, np.array(heights).reshape(-1, 3)]), surface)

    def mesh(self) -> Mesh:
        corners = np.concatenate(self._corners)
        surfaces = np.concatenate(self._surfaces)
        spots, faces = np.unique(corners.reshape(-1, 3), axis=0, return_inverse=True)
        # Made clockwise on the screen; from outside they turn the other way.
        faces = np.ascontiguousarray(faces.reshape(-1, 3)[:, ::-1])
        low, high = spots[:, :2].min(0), spots[:, :2].max(0)
        places = (spots[faces][..., :2] - low) / np.maximum(high - low, 1e-9)
        return Mesh(spots, faces, surfaces, smoothed(spots, faces, surfaces), places)


def _at(points: np.ndarray, z: float) -> np.ndarray:
    return np.column_stack([points, np.full(len(points), z)])


def _triangles(region: MultiPolygon) -> np.ndarray:
    """(n, 3, 2): triangles that fill a region, clockwise on the screen."""
    found = shapely.constrained_delaunay_triangles(region)
    corners = shapely.get_coordinates(found).reshape(-1, 4, 2)[:, :3]
    (ax, ay), (bx, by), (cx, cy) = (corners[:, n].T for n in range(3))
    turned = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay) < 0
    corners[turned] = corners[turned][:, ::-1]
    return np.ascontiguousarray(corners)
