"""Where a step is done: the share of its masks at every px."""

from __future__ import annotations

import math
from typing import Sequence

import numpy as np

from ..moment.scene import MaskNow
from ..motion.outlines import curves_of
from ..picture import Matrix, Patch, Rect, bezier_path, deepened, distance_outside, field, masked, paint_path
from .falling import fallen
from .graph import MaskPlan
from .wiped import wiped

_LUMA = np.array([0.2126, 0.7152, 0.0722], np.float32)
"""Rec. 709 weights of a picture's brightness."""


def within(patch: Patch, matrix: Matrix, part: Rect) -> Patch:
    """The part of a step's picture that goes with some letters; parts beside each other share no px and miss none."""
    if patch.rect.empty:
        return patch
    across, down = field(patch, matrix)
    return masked(
        patch, ((across >= part.x0) & (across < part.x1) & (down >= part.y0) & (down < part.y1)).astype(np.float32)
    )


def share_of(masks: Sequence[MaskPlan], area: Rect, pictures: Sequence[Patch | None]) -> np.ndarray:
    """(h, w) float32 0..1 over an area: what the masks let through, one joined to the other in their order.

    Two soft edges that meet are joined as independent shares: a·b, a + b − a·b, a·(1 − b). `pictures` are those of
    other clips."""
    x0, y0, x1, y1 = area.whole()
    shape = (y1 - y0, x1 - x0)
    # What is first added is added to nothing.
    share = np.full(shape, 0 if masks and masks[0].mask.joined == "add" else 1, np.float32)
    for plan, picture in zip(masks, pictures):
        mask = plan.mask
        if mask.form == "wipe":
            own = wiped(plan, picture, area)
        elif mask.form == "clip":
            own = _other(plan, picture, area)
        else:
            own = _form(plan, Patch(share, x0, y0, (0, 0, 0)))
        if mask.invert:
            own = 1 - own
        strength = np.float32(mask.values["strength"])
        if mask.joined == "add":
            share += strength * own * (1 - share)
        else:
            kept = own if mask.joined == "intersect" else 1 - own
            share *= 1 - strength + strength * kept
    return share


def around_edge(mask: MaskNow, matrix: Matrix) -> float:
    """How far beside an area another clip must be known for its mask, px of the painted picture."""
    values = mask.values
    if mask.by != "shape" or not (values["grow"] or values["feather"]):
        return 0.0
    return (abs(values["grow"]) + values["feather"]) * matrix.scale + 2


def _other(plan: MaskPlan, picture: Patch | None, area: Rect) -> np.ndarray:
    """How much another clip covers each px, or how bright it is there."""
    more = around_edge(plan.mask, plan.matrix)
    around = area.grown(math.ceil(more))
    x, y, right, below = around.whole()
    own = _seen(picture, plan.mask.by, (below - y, right - x), x, y)
    if not more:
        return own
    values, scale = plan.mask.values, plan.matrix.scale
    share = _softened(own * 255, values["feather"] * scale, values["grow"] * scale, values["outward"])
    margin = math.ceil(more)
    return share[margin : share.shape[0] - margin, margin : share.shape[1] - margin]


def _softened(cover: np.ndarray, feather: float, grow: float, outward: float) -> np.ndarray:
    """A shape's share by how far each px lies from its edge; lengths in px of the painted picture."""
    outside = np.where(cover >= 127.5, -distance_outside(255 - cover), distance_outside(cover))
    return fallen(outside - grow, feather, outward, 1.0)


def _seen(picture: Patch | None, by: str, shape: tuple[int, int], x: int, y: int) -> np.ndarray:
    share = np.zeros(shape, np.float32)
    if picture is None or picture.rect.empty:
        return share
    inside = picture.cut(Rect(x, y, x + shape[1], y + shape[0]))
    if inside.rect.empty:
        return share
    own = inside.alpha if by == "shape" else deepened(inside)[..., :3] @ _LUMA
    part = share[inside.y - y : inside.y - y + inside.height, inside.x - x : inside.x - x + inside.width]
    part += own * np.float32(inside.opacity / 255)
    return share


def _form(plan: MaskPlan, area: Patch) -> np.ndarray:
    """A form: 1 inside, falling to 0 over its feather."""
    values = plan.mask.values
    if plan.mask.form == "outline":
        return _outlined(plan, area)
    across, down = field(area, plan.matrix)
    turn = math.radians(values["turn"])
    cos, sin = np.float32(math.cos(turn)), np.float32(math.sin(turn))
    dx, dy = across - np.float32(values["x"]), down - np.float32(values["y"])
    x, y = np.abs(dx * cos + dy * sin), np.abs(dy * cos - dx * sin)
    grow = values["grow"]
    pixel = 1 / max(plan.matrix.scale_at(values["x"], values["y"]), 1e-6)
    half_x, half_y = max(values["width"] / 2 + grow, 1e-6), max(values["height"] / 2 + grow, 1e-6)
    if plan.mask.form == "ellipse":
        # To first order the way to an implicit curve is its value over its slope: f/|∇f| with f = (x/a)² + (y/b)² −
        # 1, halved at the edge.
        root = np.sqrt((x / half_x) ** 2 + (y / half_y) ** 2)
        slope = np.sqrt((x / half_x**2) ** 2 + (y / half_y**2) ** 2)
        outside = (root - 1) * root / np.maximum(slope, 1e-9)
        outside = np.where(root < 1e-6, -min(half_x, half_y), outside)
    elif values["radius"] <= 0:
        # Falling across and down each by itself leaves no line from the corners inwards; and sharp corners stay sharp.
        soft = (values["feather"], values["outward"], pixel)
        return fallen(x - half_x, *soft) * fallen(y - half_y, *soft)
    else:
        # Round corners grow along.
        radius = min(max(values["radius"] + grow, 0), half_x, half_y)
        qx, qy = x - (half_x - radius), y - (half_y - radius)
        outside = np.hypot(np.maximum(qx, 0), np.maximum(qy, 0)) + np.minimum(np.maximum(qx, qy), 0) - radius
    return fallen(outside, values["feather"], values["outward"], pixel)


def _outlined(plan: MaskPlan, area: Patch) -> np.ndarray:
    """An outline, by how far each px lies from its edge. It is painted with as much around as its feather reaches."""
    values, outline = plan.mask.values, plan.mask.values["outline"]
    matrix = plan.matrix @ Matrix.shift(values["x"], values["y"]) @ Matrix.turn(values["turn"])
    scale = max(plan.matrix.scale_at(values["x"], values["y"]), 1e-6)
    feather, grow = values["feather"] * scale, values["grow"] * scale
    around = area.rect.grown(math.ceil(feather + abs(grow)) + 1)
    x0, y0, x1, y1 = around.whole()
    cover = np.zeros((y1 - y0, x1 - x0), np.float32)
    painted = paint_path(bezier_path(curves_of(outline)), matrix, around, (0, 0, 0))
    if not painted.rect.empty:
        left, top = painted.x - x0, painted.y - y0
        cover[top : top + painted.height, left : left + painted.width] = painted.alpha
    share = _softened(cover, feather, grow, values["outward"])
    return share[area.y - y0 :, area.x - x0 :][: area.height, : area.width]
