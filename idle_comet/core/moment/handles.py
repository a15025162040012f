"""Where a clip's parts stand on the picture: for pointing at them, dragging and typing."""

from __future__ import annotations

from typing import Collection

from ..modelled import Model
from ..motion.values import Value
from ..picture import Matrix, Rect
from ..project.model import Clip, Project
from ..project.timeline import live_clips, own_frame
from ..steps import BY_HAND
from .course import clip_properties, sampled_properties
from .evaluate import evaluate_clip
from .grips import Grip, grips_of
from .placed import Point, around_matrix, total_matrix
from .scene import GroupNow, Join, Layer, TextNow, TreatmentNow
from .snapping import met_lines
from .standing import layout_of, stand


class Caret(Model):
    """A place between characters: index in the text, and the two ends of its stroke."""

    index: int
    top: Point
    foot: Point


class Handles(Model):
    """One clip on the picture at one frame, in px of the project's frame.

    `place` holds its placement's values there, `meets` the lines it stands on exactly, `values` every
    property at this frame by its place ("step.name").
    """

    clip: str
    corners: list[Point]
    ink: list[Point]
    anchor: Point
    pivot: Point
    place: dict[str, float]
    path: Point
    meets: list[tuple[str, float]]
    carets: list[Caret]
    values: dict[str, Value]
    across: Point = (1.0, 0.0)
    """A px across and a px down of the timeline it lies on, as they are seen: within a group that is placed they are
    others than the film's."""
    down: Point = (0.0, 1.0)
    grips: list[Grip] = []
    """What of its steps can be taken hold of on the picture."""


def handles_of(project: Project, clip_id: str, frame: float) -> Handles | None:
    """Outline, ink and carets of a clip; None when it is not on screen at this frame of the film."""
    clip = project.clips[clip_id]
    frame = own_frame(project, clip, frame)
    if not clip.head <= frame < clip.head + clip.length:
        return None
    layer = evaluate_clip(project, clip, frame - clip.head)
    if layer is None:
        return None
    standing = stand(layer.content, project.settings.width, project.settings.height)
    around = around_matrix(project, clip, frame - clip.head)
    matrix = around @ total_matrix(layer, standing)
    values = _values(project, clip, frame - clip.head)
    # As set, not as far as its mix does it: this is what a drag starts from.
    placed = next((step.id for step in reversed(clip.steps) if step.kind == BY_HAND.kind and step.on), None)
    place = (
        {
            name.partition(".")[2]: value
            for name, value in values.items()
            if name.startswith(f"{placed}.") and name != f"{placed}.mix"
        }
        if placed
        else {}
    )
    path = place.pop("path", None)
    numbers = {name: value for name, value in place.items() if isinstance(value, (int, float))}
    pivot = (standing.anchor[0] + numbers.get("pivot_x", 0), standing.anchor[1] + numbers.get("pivot_y", 0))
    return Handles(
        clip=clip.id,
        pivot=matrix.map(*pivot),
        place=numbers,
        path=path if isinstance(path, tuple) else (0.0, 0.0),
        # Lines of a group that is placed are no lines of the film.
        meets=met_lines(project, clip, frame - clip.head) if around == Matrix() else [],
        across=_way(around, (1, 0)),
        down=_way(around, (0, 1)),
        corners=standing.box.corners(matrix),
        ink=standing.ink.corners(matrix),
        anchor=matrix.map(*standing.anchor),
        carets=_carets(layer, matrix @ standing.matrix),
        values=values,
        grips=grips_of(project, clip, frame - clip.head, values),
    )


def _way(matrix: Matrix, to: Point) -> Point:
    (x, y), (from_x, from_y) = matrix.map(*to), matrix.map(0, 0)
    return x - from_x, y - from_y


def _values(project: Project, clip: Clip, local: float) -> dict[str, Value]:
    samples = sampled_properties(project, clip)
    return {
        f"{step}.{parameter.name}": parameter.clamp(samples[step, parameter.name](local))
        for step, parameter, _ in clip_properties(clip)
    }


def _carets(layer: Layer, matrix: Matrix) -> list[Caret]:
    if not isinstance(layer.content, TextNow):
        return []
    layout = layout_of(layer.content)
    carets = []
    for line in layout.lines:
        top, foot = line.baseline - line.ascent, line.baseline + line.descent
        for offset, x in enumerate(line.carets):
            carets.append(Caret(index=line.start + offset, top=matrix.map(x, top), foot=matrix.map(x, foot)))
    return carets


def clip_at(
    project: Project, frame: float, x: float, y: float, opened: Collection[str] = (), within: str | None = None
) -> str | None:
    """The topmost clip whose box holds a point of the frame: of a group, the box of something it holds; of one that is
    `opened`, what it holds there itself. A treatment lies over everything and is never meant."""
    for clip in reversed(live_clips(project, frame, within)):
        layer = evaluate_clip(project, clip, frame - clip.head)
        if layer is None or not _holds(layer, x, y, project.settings.width, project.settings.height):
            continue
        if clip.id not in opened or clip.content.kind != "group":
            return clip.id
        inside = clip.content.start + (frame - clip.head) * clip.content.speed
        standing = stand(layer.content, project.settings.width, project.settings.height)
        back = total_matrix(layer, standing).inverse()
        return clip_at(project, inside, *back.map(x, y), opened, clip.id) or clip.id
    return None


def _holds(layer: Layer | Join, x: float, y: float, width: int, height: int) -> bool:
    if isinstance(layer, Join):
        return any(side is not None and _holds(side, x, y, width, height) for side in (layer.before, layer.after))
    if isinstance(layer.content, TreatmentNow):
        return False
    standing = stand(layer.content, width, height)
    matrix = total_matrix(layer, standing)
    if matrix.scale < 1e-9:
        return False
    px, py = matrix.inverse().map(x, y)
    if isinstance(layer.content, GroupNow):
        return any(_holds(each, px, py, width, height) for each in layer.content.scene.layers)
    box: Rect = standing.box
    return box.x0 <= px <= box.x1 and box.y0 <= py <= box.y1
