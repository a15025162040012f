"""Values that bring an edge of a clip, or of a mask, to a place on the picture."""

from __future__ import annotations

import math
from typing import Any, Callable, Mapping

from ..motion import Fixed, Outline, number
from ..motion.motors import Own
from ..motion.outlines import Curve, at, curves_of
from ..picture import Matrix
from ..project.address import mask_at, parameters_at, put, step_at
from ..project.model import Clip, Project
from .compiled import sample_of
from .evaluate import evaluate_clip
from .grips import space_of
from .looking import met_by
from .whereabouts import whereabouts_of

_APART = 256.0
"""Px between two values that are tried: places go nearly straight with values, so that a step far apart is exact."""


_EXTENT = ("x", "y", "width", "height", "turn", "grow", "outline")


_TRIES = 9
"""Steps of the secant at most: without perspective the first is exact."""


def _meeting(project: Project, clip: Clip, owner: str, name: str, own: Own) -> Callable[[float, float], float | None]:
    """A place is straight in its value unless seen in perspective: two tries and a secant find it, a few
    more where it bends."""
    axis = 1 if name.endswith("y") else 0
    kept: dict[float, Clip] = {}

    def edge(value: float, frame: float) -> float | None:
        tried = kept.get(value)
        if tried is None:
            tried = put(clip, owner, name, Fixed(value=value))
            if len(kept) < 2:
                kept[value] = tried
        return _edge(project, tried, owner, axis, own, frame)

    def value(frame: float, place: float) -> float | None:
        a, b = 0.0, _APART
        at_a, at_b = edge(a, frame), edge(b, frame)
        for _ in range(_TRIES):
            if at_a is None or at_b is None or abs(at_b - at_a) < 1e-9:
                return None
            found = a + (place - at_a) * (b - a) / (at_b - at_a)
            if not math.isfinite(found) or abs(found) > 1e6:
                return None
            reached = edge(found, frame)
            if reached is None or abs(reached - place) < 1e-4:
                return found
            a, at_a, b, at_b = b, at_b, found, reached
        return found

    return value


def _edge(project: Project, clip: Clip, owner: str, axis: int, own: Own, frame: float) -> float | None:
    """Where a side lies on the picture along an axis, px of the frame."""
    if "/" not in owner:
        layer = evaluate_clip(project, clip, frame)
        if layer is None:
            return None
        box = whereabouts_of(layer, project.settings.width, project.settings.height).box
        return _of((box.x0, box.x1) if axis == 0 else (box.y0, box.y1), own)
    space = space_of(project, clip, clip.steps.index(step_at(clip, owner)), frame)
    if space is None:
        return None
    mask = mask_at(clip, owner)
    values = {
        each.name: sample_of(project, clip, owner, each.name)(frame)
        for each in parameters_at(clip, owner)
        if each.name in _EXTENT
    }
    return _of(extent(mask.form, values, space[1], axis), own)


def _of(ends: tuple[float, float], own: Own) -> float:
    return {"first": ends[0], "middle": (ends[0] + ends[1]) / 2, "last": ends[1]}[own]


def extent(form: str, values: Mapping[str, Any], matrix: Matrix, axis: int) -> tuple[float, float]:
    """How far a mask reaches along an axis of the picture, without its feather: (low, high), px of the frame."""
    to = matrix @ Matrix.shift(number(values["x"]), number(values["y"])) @ Matrix.turn(number(values["turn"]))
    grow = number(values["grow"])
    if form == "outline":
        outline = values["outline"]
        assert isinstance(outline, Outline)
        points = [place for curve in curves_of(outline) for place in _reached(curve, to, axis)]
        wide = grow * to.scale
        return min(points) - wide, max(points) + wide
    a, b = max(0.0, number(values["width"]) / 2 + grow), max(0.0, number(values["height"]) / 2 + grow)
    if form == "ellipse" and to.flat:
        middle = to.map(0, 0)[axis]
        along, aside = (to.a, to.c) if axis == 0 else (to.b, to.d)
        reach = math.hypot(along * a, aside * b)
        return middle - reach, middle + reach
    turns = [math.tau * part / 360 for part in range(360)] if form == "ellipse" else []
    points_of = [(a * math.cos(turn), b * math.sin(turn)) for turn in turns] or [(-a, -b), (a, -b), (a, b), (-a, b)]
    places = [to.map(*point)[axis] for point in points_of]
    return min(places), max(places)


def _reached(curve: Curve, to: Matrix, axis: int) -> list[float]:
    """Places of a cubic along an axis, its furthest ones among them: its ends, and where its slope is nothing. In
    perspective, where that is no quadratic, very many."""
    if not to.flat:
        shares = [part / 256 for part in range(257)]
        return [to.map(*(at(curve, share, way) for way in (0, 1)))[axis] for share in shares]
    a, b, c, d = (to.map(*point)[axis] for point in curve)
    # B'(t) / 3 = (b − a)(1 − t)² + 2(c − b)t(1 − t) + (d − c)t²
    square, line, rest = d - 3 * c + 3 * b - a, 2 * (c - 2 * b + a), b - a
    root = line * line - 4 * square * rest
    if abs(square) < 1e-12:
        turns = [-rest / line] if abs(line) > 1e-12 else []
    else:
        turns = [(-line + sign * math.sqrt(root)) / (2 * square) for sign in (1, -1)] if root >= 0 else []
    mapped = tuple((place, 0.0) for place in (a, b, c, d))
    return [a, d, *(at(mapped, share, 0) for share in turns if 0 < share < 1)]  # type: ignore[arg-type]


met_by(_meeting)
