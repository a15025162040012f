"""A mask that another clip wipes: what that clip has gone past along a way, up to its outline."""

from __future__ import annotations

import math

import cv2
import numpy as np

from ..moment.scene import Layer, TextNow
from ..moment.whereabouts import whereabouts_of
from ..picture import Matrix, Patch, Rect, field_of
from .falling import fallen
from .graph import MaskPlan
from .sight import Sight

_AROUND = 32
"""Px of the frame beside a clip's corners within which its outline is looked for."""

_WITHIN = (-0.375, -0.125, 0.125, 0.375)
"""Lines within a px at which the edge is asked for."""


def corners_of(layer: Layer, sight: Sight) -> tuple[tuple[float, float], ...]:
    """The corners of what a clip is measured by, px of the painted picture."""
    return tuple(sight.view.map(*point) for point in whereabouts_of(layer, sight.width, sight.height).quad)


def window_around(corners: tuple[tuple[float, float], ...], sight: Sight) -> Rect:
    """The part of the painted picture in which a clip's outline lies, no further than a frame beside the frame."""
    x, y = zip(*corners)
    seen = sight.frame.grown(sight.span)
    return Rect(min(x), min(y), max(x), max(y)).grown(_AROUND * sight.view.scale).meets(seen)


def wiped(plan: MaskPlan, picture: Patch | None, area: Rect) -> np.ndarray:
    """(h, w) float32 0..1 over an area: 1 where the other clip has gone past along the way; all while it is not there.

    On each line along the way the edge lies between the clip's first ink and its last, by the share `edge`; words count
    with what lies between their letters. Beside the clip the edge goes straight on, and of a clip without ink it is
    that of its corners. Before the edge the share falls over the feather."""
    x0, y0, x1, y1 = area.whole()
    layer, values, scale = plan.mask.layer, plan.mask.values, plan.matrix.scale
    if layer is None or area.empty:
        return np.ones((y1 - y0, x1 - x0), np.float32)
    turn = values["way"]
    edges = None if picture is None else _edges(picture, turn, isinstance(layer.content, TextNow))
    lines, first, last = edges or _of_corners(plan.corners, turn)
    edge = first + (last - first) * values["edge"] + values["offset"] * scale
    # A px of the area lies at `along` on the line `aside`.
    along, aside = field_of(Rect(x0, y0, x1, y1), Matrix.turn(turn))
    # Along an axis of the picture a line is a row or a column of it.
    if aside[0, 0] == aside[0, -1]:
        aside = aside[:, :1]
    elif aside[0, 0] == aside[-1, 0]:
        aside = aside[:1]
    soft = (values["feather"] * scale, values["outward"], 1.0)
    # Where the outline lies nearly along the way, a px holds it from one side to the other: several lines of it count.
    shares = [fallen((along - np.interp(aside + by, lines, edge)).astype(np.float32), *soft) for by in _WITHIN]
    return np.asarray(np.mean(shares, axis=0), np.float32)


_Edges = tuple[np.ndarray, np.ndarray, np.ndarray]


def _of_corners(corners: tuple[tuple[float, float], ...], turn: float) -> _Edges:
    along, aside = np.array([Matrix.turn(-turn).map(*corner) for corner in corners]).T
    return aside[:1], along.min(keepdims=True), along.max(keepdims=True)


def _edges(picture: Patch, turn: float, closed: bool) -> _Edges | None:
    """The lines along a way on which a picture has ink, px apart, and the places along it at which its ink begins and
    ends there, px; None where there is none."""
    if picture.rect.empty:
        return None
    cover = np.asarray(picture.alpha, np.float32)
    most = float(cover.max())
    if most <= 0:
        return None
    cover = cover / most
    corners = picture.rect.corners(Matrix.turn(-turn))
    u0, v0 = (math.floor(min(each[way] for each in corners) + 1e-6) for way in (0, 1))
    wide, high = (math.ceil(max(each[way] for each in corners) - 1e-6) - low for way, low in ((0, u0), (1, v0)))
    # From a px of the lines to one of the picture; both by their middles.
    to = Matrix.shift(-picture.x - 0.5, -picture.y - 0.5) @ Matrix.turn(turn) @ Matrix.shift(u0 + 0.5, v0 + 0.5)
    rows = cv2.warpAffine(
        cover,
        np.array([[to.a, to.c, to.e], [to.b, to.d, to.f]]),
        (wide, high),
        flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
    )
    inked = rows >= 0.5
    there = np.flatnonzero(inked.any(1))
    if not len(there):
        return None
    rows, inked = np.pad(rows[there], ((0, 0), (1, 1))), np.pad(inked[there], ((0, 0), (1, 1)))
    number = np.arange(len(there))
    begins, ends = inked.argmax(1), inked.shape[1] - 1 - inked[:, ::-1].argmax(1)
    # A px that is covered in part ends where its cover does, and so does the one beyond it.
    first = u0 + begins - rows[number, begins] - rows[number, begins - 1]
    last = u0 + ends - 1 + rows[number, ends] + rows[number, ends + 1]
    lines = v0 + there + 0.5
    if closed:
        first, last = -_hull(lines, -first), _hull(lines, last)
    return lines, first, last


def _hull(lines: np.ndarray, places: np.ndarray) -> np.ndarray:
    """The lowest curve without dents that lies nowhere under some places (the upper hull, by Andrew's chain)."""
    kept: list[int] = []
    for number in range(len(lines)):
        while len(kept) > 1:
            a, b = kept[-2], kept[-1]
            rise = (places[b] - places[a]) * (lines[number] - lines[a])
            if rise > (places[number] - places[a]) * (lines[b] - lines[a]):
                break
            kept.pop()
        kept.append(number)
    return np.interp(lines, lines[kept], places[kept])
