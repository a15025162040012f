"""Snapping on the picture: to the frame's middle and to the title safe area."""

from __future__ import annotations

from ..picture import Rect
from ..project.model import Clip, Project
from .evaluate import evaluate_clip
from .placed import total_matrix
from .standing import TITLE_SAFE, stand


def box_on_picture(project: Project, clip: Clip, local: float) -> Rect | None:
    """Bounds of what a clip is aligned by (its ink, or its picture), in px of the project's frame."""
    layer = evaluate_clip(project, clip, local)
    if layer is None:
        return None
    standing = stand(layer.content, project.settings.width, project.settings.height)
    box = standing.box if standing.ink.empty else standing.ink
    return box.through(total_matrix(layer, standing))


def lines(length: int) -> tuple[float, float, float]:
    """Near safe edge, middle and far safe edge along one side of the frame."""
    return length * TITLE_SAFE, length / 2, length * (1 - TITLE_SAFE)


def _pull(low: float, high: float, length: int, reach: float) -> float:
    """The shift that brings a box's edge or middle onto the nearest line within reach, or 0."""
    near, middle, far = lines(length)
    shifts = (middle - (low + high) / 2, near - low, far - high)
    best = min(shifts, key=abs)
    return best if abs(best) <= reach else 0.0


def snap_offset(project: Project, clip: Clip, local: float, dx: float, dy: float, reach: float) -> tuple[float, float]:
    """How much further a clip moved by (dx, dy) is drawn, in px of the project's frame."""
    box = box_on_picture(project, clip, local)
    if box is None:
        return 0.0, 0.0
    settings = project.settings
    return (
        _pull(box.x0 + dx, box.x1 + dx, settings.width, reach),
        _pull(box.y0 + dy, box.y1 + dy, settings.height, reach),
    )


def met_lines(project: Project, clip: Clip, local: float) -> list[tuple[str, float]]:
    """The lines a clip stands on exactly: ("x" or "y", where)."""
    box = box_on_picture(project, clip, local)
    if box is None:
        return []
    found = []
    sides = (("x", box.x0, box.x1, project.settings.width), ("y", box.y0, box.y1, project.settings.height))
    for axis, low, high, length in sides:
        near, middle, far = lines(length)
        for where, at in ((middle, (low + high) / 2), (near, low), (far, high)):
            if abs(where - at) < 0.02:
                found.append((axis, where))
    return found
