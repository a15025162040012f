"""Where placements put the whole of a layer, and which part of a picture the frame shows."""

from __future__ import annotations

from ..picture import Matrix
from ..project.model import Clip, Project
from ..project.timeline import groups_around
from ..steps import BY_HAND, KINDS
from .evaluate import evaluate_clip
from .scene import Layer
from .standing import Standing, stand

Point = tuple[float, float]


def total_matrix(layer: Layer, standing: Standing) -> Matrix:
    """All placements of a layer together, those that are passed on from unit to unit left out: they have no place for
    the whole."""
    matrix = Matrix()
    for step in layer.steps:
        if step.passed_on:
            continue
        placed = KINDS[step.kind].place(step.values, standing.rest(step.leaving, step.pivot))
        if placed is not None:
            matrix = placed @ matrix
    return matrix


def around_matrix(project: Project, clip: Clip, local: float) -> Matrix:
    """The way from the timeline a clip lies on to the picture of the film, at a time from the clip's head: how the
    groups around it are placed. One that stands still holds its first moment."""
    matrix, at = Matrix(), clip.head + local
    for group in groups_around(project, clip):
        content = group.content
        if content.kind != "group":
            break
        inside = (at - content.start) / content.speed if content.speed else 0.0
        layer = evaluate_clip(project, group, inside, placing=True)
        if layer is None:
            break
        matrix = total_matrix(layer, stand(layer.content, project.settings.width, project.settings.height)) @ matrix
        at = group.head + inside
    return matrix


def framings(project: Project, clip: Clip) -> list[list[Point]]:
    """The frame's corners on the picture at the clip's first frame and at its last, where a placement moves it.

    Corners are shares of the picture's width and height, from its upper left, clockwise; outside 0..1 lies past its
    edge. Empty for what stands still, for words and for plain colours."""
    if clip.content.kind not in ("footage", "still") or not any(
        prop.state != "fixed"
        for step in clip.steps
        if step.on and (step.kind == BY_HAND.kind or step.kind in KINDS and KINDS[step.kind].camera)
        for name, prop in step.values.items()
        if name != "opacity"
    ):
        return []
    found = []
    width, height = project.settings.width, project.settings.height
    for local in (0, clip.length - 1):
        layer = evaluate_clip(project, clip, local, placing=True)
        if layer is None:
            return []
        standing = stand(layer.content, width, height)
        matrix = total_matrix(layer, standing)
        if matrix.scale < 1e-6:
            return []
        back, box = matrix.inverse(), standing.box
        corners = [back.map(x, y) for x, y in ((0, 0), (width, 0), (width, height), (0, height))]
        found.append([((x - box.x0) / (box.x1 - box.x0), (y - box.y0) / (box.y1 - box.y0)) for x, y in corners])
    return found
