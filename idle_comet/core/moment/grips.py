"""What of a clip's steps has a place on the picture and can be taken hold of there: masks, middles of a light."""

from __future__ import annotations

import math
from typing import Mapping

from ..contents import choices_of, parameters_of
from ..modelled import Model
from ..motion import Corner, Outline
from ..motion.values import Value
from ..motion.values import number as as_number
from ..patterns import PATTERNS
from ..picture import Matrix
from ..project.address import CONTENT, mask_owner
from ..project.mask import OF_ANOTHER
from ..project.model import Clip, Project
from ..steps import CELL, KINDS, Axis, Choice, StepKind
from .evaluate import evaluate_clip
from .placed import Point, around_matrix, total_matrix
from .standing import Standing, stand


class Bend(Model):
    """A corner of a drawn outline, and where its curve comes in from and goes out to, in px of the project's frame."""

    at: Point
    into: Point
    out: Point


class Along(Model):
    """A line along which colours run, in px of the project's frame, and the values that it shows.

    `turn` turns it, `reach` says how long it is, `places` say where on it something lies, 0..1, each beside its point.
    """

    start: Point
    end: Point
    turn: str | None
    reach: str | None
    places: list[tuple[str, Point]]


class Grip(Model):
    """One thing to take hold of, in px of the project's frame.

    `owner` is the step, or the mask of a step; `names` the values that say where it is: one point, or two numbers.
    A px across and a px down of its own space are seen as `across` and `down`. `edge` is the outline of a mask,
    `sides` the middles of its right and its lower side, `bends` the corners of one that is drawn.
    """

    owner: str
    names: list[str]
    at: Point
    across: Point
    down: Point
    edge: list[Point] = []
    sides: list[Point] = []
    from_corner: bool = False
    """Whether it is sized from its upper left corner, and not to both sides of its middle."""
    bends: list[Bend] = []
    along: Along | None = None
    turned: list[Point] = []
    """Of a drawn outline: a px across and a px down of its own, turned space."""


def grips_of(project: Project, clip: Clip, local: float, values: Mapping[str, Value]) -> list[Grip]:
    """The grips of a clip at a time from its head; `values` are its values then, by place ("step.name")."""
    around = around_matrix(project, clip, local)
    found = _of_content(project, clip, local, values, around)
    for number, step in enumerate(clip.steps):
        kind = KINDS.get(step.kind)
        if kind is None or not step.on:
            continue
        points = [
            each.name
            for each in kind.parameters
            if each.sort == "point" and not kind.by_hand and each.counts(step.choices, kind.choices)
        ]
        forms = [mask for mask in step.masks if mask.form not in OF_ANOTHER]
        runs = type(kind).axis is not StepKind.axis
        if not points and not forms and not runs and kind is not CELL:
            continue
        space = space_of(project, clip, number, local)
        if space is None:
            continue
        standing, matrix = space[0], around @ space[1]
        found += [_point(step.id, name, values[f"{step.id}.{name}"], standing, matrix) for name in points]
        if kind is CELL:
            place = {name: as_number(values[f"{step.id}.{name}"]) for name in (*_PLACE, "turn")}
            found.append(_cell(step.id, place, matrix))
        if runs:
            axis = kind.axis(_own(step.id, values, step.choices, kind.choices), standing.rest())
            found += _along(step.id, axis, values, matrix)
        for mask in forms:
            owner = mask_owner(step.id, mask.id)
            own = {name.removeprefix(f"{owner}."): value for name, value in values.items() if name.startswith(owner)}
            found.append(_form(owner, mask.form, own, matrix))
    return found


def _of_content(project: Project, clip: Clip, local: float, values: Mapping[str, Value], around: Matrix) -> list[Grip]:
    """What a generated picture or a shape has to take hold of."""
    content = clip.content
    if content.kind == "shape":
        space = space_of(project, clip, -1, local)
        own = _own(CONTENT, values, content.choices, choices_of(content))
        return [] if space is None else [_shape(own, around @ space[1], space[0])]
    pattern = PATTERNS.get(content.pattern) if content.kind == "generated" else None
    space = space_of(project, clip, -1, local) if pattern is not None else None
    if pattern is None or space is None or content.kind != "generated":
        return []
    standing, matrix = space[0], around @ space[1]
    points = [
        each.name
        for each in parameters_of(content)
        if each.sort == "point" and each.counts(content.choices, pattern.choices)
    ]
    axis = pattern.axis(_own(CONTENT, values, content.choices, pattern.choices), standing.box)
    return [
        *(_point(CONTENT, name, values[f"{CONTENT}.{name}"], standing, matrix) for name in points),
        *_along(CONTENT, axis, values, matrix),
    ]


def _own(
    owner: str, values: Mapping[str, Value], choices: Mapping[str, str], offered: tuple[Choice, ...]
) -> dict[str, Value]:
    """The values of one owner by their own names, its choices among them."""
    own = {name.removeprefix(f"{owner}."): value for name, value in values.items() if name.startswith(f"{owner}.")}
    return own | {each.name: each.clamp(choices.get(each.name)) for each in offered}


def _along(owner: str, axis: Axis | None, values: Mapping[str, Value], matrix: Matrix) -> list[Grip]:
    if axis is None:
        return []
    (x0, y0), (x1, y1) = axis.start, axis.end
    shares = [(name, as_number(values[f"{owner}.{name}"])) for name in axis.places]
    line = Along(
        start=matrix.map(x0, y0),
        end=matrix.map(x1, y1),
        turn=axis.turn,
        reach=axis.reach,
        places=[(name, matrix.map(x0 + (x1 - x0) * part, y0 + (y1 - y0) * part)) for name, part in shares],
    )
    names = [each for each in (axis.turn, axis.reach, *axis.places) if each is not None]
    return [_grip(owner, names, x0, y0, matrix).model_copy(update={"along": line})]


def _point(owner: str, name: str, value: Value, standing: Standing, matrix: Matrix) -> Grip:
    box = standing.box
    x, y = value if isinstance(value, tuple) else (0.0, 0.0)
    return _grip(owner, [name], (box.x0 + box.x1) / 2 + float(x), (box.y0 + box.y1) / 2 + float(y), matrix)


def _grip(owner: str, names: list[str], x: float, y: float, matrix: Matrix) -> Grip:
    at, right, below = matrix.map(x, y), matrix.map(x + 1, y), matrix.map(x, y + 1)
    return Grip(
        owner=owner,
        names=names,
        at=at,
        across=(right[0] - at[0], right[1] - at[1]),
        down=(below[0] - at[0], below[1] - at[1]),
    )


def space_of(project: Project, clip: Clip, number: int, local: float) -> tuple[Standing, Matrix] | None:
    """How the content stands, and the way from a step's own space to the frame of the timeline the clip lies on, at a
    time from the clip's head: what the steps after it do moves it. None while the clip is not there."""
    later = clip.model_copy(update={"steps": clip.steps[number + 1 :]})
    layer = evaluate_clip(project, later, local, whole=clip)
    if layer is None:
        return None
    standing = stand(layer.content, project.settings.width, project.settings.height)
    return standing, total_matrix(layer, standing)


def _bend(corner: Corner, to: Matrix) -> Bend:
    (x, y), (in_x, in_y), (out_x, out_y) = corner.at, corner.into, corner.out
    return Bend(at=to.map(x, y), into=to.map(x + in_x, y + in_y), out=to.map(x + out_x, y + out_y))


_PLACE = ("x", "y", "width", "height")


def _cell(owner: str, place: Mapping[str, float], matrix: Matrix) -> Grip:
    """A cell of the frame, wherever its picture is on the way into it."""
    x0, y0 = place["x"], place["y"]
    x1, y1 = x0 + place["width"], y0 + place["height"]
    x, y = (x0 + x1) / 2, (y0 + y1) / 2
    corners = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
    to = matrix @ Matrix.turn(place["turn"]).about(x, y)
    return _grip(owner, ["x", "y"], x, y, matrix).model_copy(
        update={
            "edge": [to.map(*corner) for corner in corners],
            "sides": [to.map(x1, y), to.map(x, y1)],
            "from_corner": True,
        }
    )


def _shape(values: Mapping[str, Value], matrix: Matrix, standing: Standing) -> Grip:
    """A shape, whose places count from the middle of the frame. A line has a length alone."""
    form = str(values["form"])
    kept = values if form == "outline" else {name: value for name, value in values.items() if name != "outline"}
    line = form == "line"
    if line:
        kept = {**kept, "height": max(1.0, as_number(values["stroke"]))}
    grip = _form(CONTENT, form, kept, matrix @ Matrix.shift(standing.width / 2, standing.height / 2))
    return grip.model_copy(update={"sides": grip.sides[:1]}) if line else grip


def _form(owner: str, form: str, values: Mapping[str, Value], matrix: Matrix) -> Grip:
    x, y, turn = (as_number(values[name]) for name in ("x", "y", "turn"))
    grip = _grip(owner, ["x", "y"], x, y, matrix)
    to = matrix @ Matrix.shift(x, y) @ Matrix.turn(turn)
    outline = values.get("outline")
    if isinstance(outline, Outline):
        ends = [to.map(0, 0), to.map(1, 0), to.map(0, 1)]
        turned = [(end[0] - ends[0][0], end[1] - ends[0][1]) for end in ends[1:]]
        bends = [_bend(each, to) for each in outline.corners]
        return grip.model_copy(update={"bends": bends, "turned": turned})
    half_x, half_y = as_number(values["width"]) / 2, as_number(values["height"]) / 2
    if form == "ellipse":
        turns = [2 * math.pi * part / 64 for part in range(64)]
        edge = [(half_x * math.cos(turn), half_y * math.sin(turn)) for turn in turns]
    else:
        edge = [(-half_x, -half_y), (half_x, -half_y), (half_x, half_y), (-half_x, half_y)]
    return grip.model_copy(
        update={"edge": [to.map(*corner) for corner in edge], "sides": [to.map(half_x, 0), to.map(0, half_y)]}
    )
