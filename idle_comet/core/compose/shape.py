"""Shapes painted: the fill, in one colour or a run of two, and the line over it."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import skia

from ..moment.scene import ShapeNow
from ..moment.shaped import line_of, middle, path_of
from ..picture import Matrix, Patch, Rect, field_of, gathered, paint_path, parse_colour
from ..steps import axis_across


def paint_shape(shape: ShapeNow, matrix: Matrix, window: Rect) -> Patch:
    """The shape through a transform, as far as it lies in a window."""
    values, path = dict(shape.values), path_of(shape)
    made: list[Patch] = []
    if values["filled"] > 0 and values["form"] != "line":
        fill = paint_path(path, matrix, window, parse_colour(values["colour"]))
        if values["shading"] != "plain" and not fill.rect.empty:
            fill = _shaded(fill, values, shape, path, matrix)
        made.append(fill.faded(values["filled"]))
    if values["stroke"] > 0 and values["drawn"] > 0:
        made.append(paint_path(line_of(shape), matrix, window, parse_colour(values["line_colour"])))
    made = [each for each in made if not each.rect.empty]
    if not made:
        return Patch.empty()
    return made[0] if len(made) == 1 else gathered(made, window)


def _shaded(fill: Patch, values: dict[str, Any], shape: ShapeNow, path: skia.Path, matrix: Matrix) -> Patch:
    """The fill in a run of two colours, from one side of the shape to the other or from its middle outwards, mixed on
    their encoded values."""
    own = path.computeTightBounds()
    box = Rect(own.left(), own.top(), own.right(), own.bottom())
    across, down = field_of(fill.rect, matrix)
    if values["shading"] == "straight":
        (x0, y0), (x1, y1) = axis_across(box, values["angle"])
        long = max(1e-6, math.hypot(x1 - x0, y1 - y0))
        place = ((across - x0) * (x1 - x0) + (down - y0) * (y1 - y0)) / long**2
    else:
        x, y = middle(shape)
        far = max(1e-6, math.hypot(box.x1 - box.x0, box.y1 - box.y0) / 2)
        place = np.hypot(across - x, down - y) / far
    place = np.clip(place, 0, 1)[..., None]
    first, second = (np.array(parse_colour(values[name]), np.float32) for name in ("colour", "second"))
    cover = fill.alpha[..., None]
    pixels = np.concatenate([(first + (second - first) * place) * (cover / 255), cover], -1)
    return Patch(pixels.astype(np.float32), fill.x, fill.y)
