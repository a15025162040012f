"""What of a clip's steps has a place on the picture and can be taken hold of there: masks, middles of a light."""

from __future__ import annotations

import math
from typing import Mapping

from ..modelled import Model
from ..motion.values import Value
from ..picture import Matrix
from ..project.address import mask_owner
from ..project.model import Clip, Project
from ..steps import KINDS
from .evaluate import evaluate_clip
from .placed import Point, total_matrix
from .standing import Standing, stand


class Grip(Model):
    """One thing to take hold of, in px of the project's frame.

    `owner` is the step, or the mask of a step; `names` the values that say where it is: one point, or two numbers.
    A px across and a px down of its own space are seen as `across` and `down`. `edge` is the outline of a mask, and
    `sides` the middles of its right and its lower side.
    """

    owner: str
    names: list[str]
    at: Point
    across: Point
    down: Point
    edge: list[Point] = []
    sides: list[Point] = []


def grips_of(project: Project, clip: Clip, local: float, values: Mapping[str, Value]) -> list[Grip]:
    """The grips of a clip at a time from its head; `values` are its values then, by place ("step.name")."""
    found = []
    for number, step in enumerate(clip.steps):
        kind = KINDS.get(step.kind)
        if kind is None or not step.on:
            continue
        points = [each.name for each in kind.parameters if each.sort == "point" and not kind.by_hand]
        forms = [mask for mask in step.masks if mask.form in ("ellipse", "rectangle")]
        if not points and not forms:
            continue
        # What the steps after it do moves its space.
        rest = clip.model_copy(update={"steps": clip.steps[number + 1 :]})
        layer = evaluate_clip(project, rest, local)
        if layer is None:
            continue
        standing = stand(layer.content, project.settings.width, project.settings.height)
        matrix = total_matrix(layer, standing)
        found += [_point(step.id, name, values[f"{step.id}.{name}"], standing, matrix) for name in points]
        for mask in forms:
            owner = mask_owner(step.id, mask.id)
            found.append(_form(owner, mask.form, {n: float(values[f"{owner}.{n}"]) for n in _FORM}, matrix))  # type: ignore[arg-type]
    return found


_FORM = ("x", "y", "width", "height", "turn")


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


def _form(owner: str, form: str, values: Mapping[str, float], matrix: Matrix) -> Grip:
    half_x, half_y = values["width"] / 2, values["height"] / 2
    to = matrix @ Matrix.shift(values["x"], values["y"]) @ Matrix.turn(values["turn"])
    if form == "ellipse":
        turns = [2 * math.pi * part / 64 for part in range(64)]
        edge = [(half_x * math.cos(turn), half_y * math.sin(turn)) for turn in turns]
    else:
        edge = [(-half_x, -half_y), (half_x, -half_y), (half_x, half_y), (-half_x, half_y)]
    grip = _grip(owner, ["x", "y"], values["x"], values["y"], matrix)
    return grip.model_copy(
        update={"edge": [to.map(*corner) for corner in edge], "sides": [to.map(half_x, 0), to.map(0, half_y)]}
    )
