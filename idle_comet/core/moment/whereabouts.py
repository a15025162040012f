"""Where a clip stands on the picture: its corners, its edges, its anchor, in px of the project's frame."""

from __future__ import annotations

from typing import NamedTuple

from ..motion.motors import Side
from ..picture import Matrix, Rect
from ..project.model import Clip, Project
from .evaluate import look_at
from .looking import found_by
from .placed import Point, total_matrix
from .scene import Layer
from .standing import Standing, stand


class Whereabouts(NamedTuple):
    """`quad` are the corners of what the clip is measured by (its ink, or its picture), clockwise from the upper left
    as it rests; `box` is their bounds; `anchor` the point it turns about. Steps that are passed on from unit to unit
    have no place for the whole and are left out."""

    quad: tuple[Point, Point, Point, Point]
    box: Rect
    anchor: Point
    matrix: Matrix
    standing: Standing

    def at(self, side: Side) -> float:
        """Where one edge, the middle or the anchor lies along its axis."""
        box = self.box
        return {
            "left": box.x0,
            "right": box.x1,
            "top": box.y0,
            "bottom": box.y1,
            "middle-x": (box.x0 + box.x1) / 2,
            "middle-y": (box.y0 + box.y1) / 2,
            "anchor-x": self.anchor[0],
            "anchor-y": self.anchor[1],
        }[side]


def whereabouts_of(layer: Layer, width: int, height: int) -> Whereabouts:
    """Where a clip at one moment stands in a frame of this size."""
    standing = stand(layer.content, width, height)
    matrix = total_matrix(layer, standing)
    measured = standing.box if standing.ink.empty else standing.ink
    first, second, third, fourth = measured.corners(matrix)
    return Whereabouts(
        (first, second, third, fourth), measured.through(matrix), matrix.map(*standing.anchor), matrix, standing
    )


def _where(project: Project, clip: Clip, other: str, frame: float, side: Side) -> float | None:
    layer = look_at(project, clip, other, frame, float(frame // 1), placing=True)
    return None if layer is None else whereabouts_of(layer, project.settings.width, project.settings.height).at(side)


found_by(_where)
