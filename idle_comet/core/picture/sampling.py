"""A picture through any plane transform: where it is turned or seen in perspective, it is first brought to the
sharpness and the density it will be seen at, axis by axis, and then placed."""

from __future__ import annotations

import math

import numpy as np

from ..remember import Budget
from .bilinear import bilinear
from .kernel import kernel
from .matrix import Matrix
from .planes import Planes
from .resample import resampled
from .softening import sharpened_for, softened
from .taps import EVEN

_DENSE = {True: 1.5, False: 1.0}
"""Px a seen px, of the picture that is placed: between denser px a straight line is near enough to the filter."""

_THINNEST = 1.3
"""Px a seen px with which a picture that is softened at its own size may be placed."""

_STEP = math.sqrt(2)
"""In perspective the picture is placed from copies each so many times smaller, mixed by how far away each px is."""

_MOST_LEVELS = 8

_AS_FLAT = {True: 1.05, False: 1.5}
"""How many times larger the nearest px may be than the furthest for a picture to be placed from one copy, as sharp as
its middle: a camera that turns by a few degrees makes no more of a perspective. A light picture is looked at for a
moment only."""

_HALVED_BELOW = 0.3
"""A scale below which a picture is first made half as large, as often as it takes. Down to it a filter of the half has
passed all that the smaller picture shows, so that nothing is seen to change there."""


def sampled(
    picture: np.ndarray,
    matrix: Matrix,
    width: int,
    height: int,
    opaque: bool,
    exact: bool,
    kept: Budget | None = None,
    at: tuple[int, int] = (0, 0),
    moves: bool = False,
) -> np.ndarray:
    """(height, width, 4) uint8 of a (h, w, 4) uint8 premultiplied picture; `matrix` leads from its px to px of the
    result.

    Past its edges the picture's outermost px go on. One that `moves` is as sharp at every place and size it passes.
    `at` is the px of the frame the result begins at."""
    picture, matrix = _halved(picture, matrix, opaque, kept, _largest_scale(picture, matrix, width, height))
    if matrix.flat and matrix.b == matrix.c == 0 and abs(matrix.a) > 1e-9 and abs(matrix.d) > 1e-9:
        low = _lowest(matrix, moves)
        return resampled(picture, width, height, (matrix.a, matrix.d), (matrix.e, matrix.f), opaque, exact, low, at)
    if matrix.flat:
        across, down = math.hypot(matrix.a, matrix.b), math.hypot(matrix.c, matrix.d)
        return bilinear(*_prepared(picture, matrix, (across, down), opaque, exact, moves, width, height), width, height)
    return _in_perspective(picture, matrix, width, height, opaque, exact, moves, kept)


def sampled_planes(
    planes: Planes, matrix: Matrix, width: int, height: int, exact: bool, at: tuple[int, int], moves: bool
) -> np.ndarray | None:
    """(height, width, 4) uint8 of an opaque frame whose planes are sampled one by one, which is a third of the work.
    None where it is seen in a perspective that is plain to see, where the frame is much larger than it is seen, and for
    sides that are not even."""
    if width % 2 or height % 2:
        return None
    if not matrix.flat or matrix.b or matrix.c:
        return _turned_planes(planes, matrix, width, height, exact, moves)
    if min(matrix.a, matrix.d) < _HALVED_BELOW:
        return None
    low = _lowest(matrix, moves)
    luma = resampled(planes.luma, width, height, (matrix.a, matrix.d), (matrix.e, matrix.f), True, exact, low, at)
    # A column of chroma lies on the middle of an even column of luma, in the frame as in the result; a row between two.
    begin = (0.5 * matrix.e + 0.25 * (1 - matrix.a), 0.5 * matrix.f)
    blue, red = (
        resampled(plane, width // 2, height // 2, (matrix.a, matrix.d), begin, True, exact, low, at)
        for plane in (planes.blue, planes.red)
    )
    return Planes(luma, blue, red, planes.matrix, planes.full_range).rgba()


_CHROMA = Matrix.shift(-0.5, 0) @ Matrix.grow(2)
"""From px of a plane of chroma to px of luma: its columns lie on even ones, its rows between two."""


def _turned_planes(
    planes: Planes, matrix: Matrix, width: int, height: int, exact: bool, moves: bool
) -> np.ndarray | None:
    """The same for a frame that is turned, or seen in next to no perspective."""
    scale = (math.hypot(matrix.a, matrix.b), math.hypot(matrix.c, matrix.d))
    if not matrix.flat:
        near = _scale_map(matrix, np.array([0.0, width, 0.0, width]), np.array([0.0, 0.0, height, height]))
        if near.max() > _AS_FLAT[exact] * near.min():
            return None
        scale = (math.sqrt(near.max() * near.min()),) * 2
    if min(scale) < _HALVED_BELOW:
        return None
    chroma = _CHROMA.inverse() @ matrix @ _CHROMA
    sides = ((planes.luma, matrix, width, height), *((each, chroma, width // 2, height // 2) for each in planes[1:3]))
    made = [
        bilinear(*_prepared(plane, way, scale, True, exact, moves, wide, high), wide, high)
        for plane, way, wide, high in sides
    ]
    return Planes(made[0], made[1], made[2], planes.matrix, planes.full_range).rgba()


def _lowest(matrix: Matrix, moves: bool) -> tuple[float, float]:
    """How many source px of each axis a seen px covers at least."""
    even = EVEN if moves else 1.0
    return even * max(1.0, 1 / abs(matrix.a)), even * max(1.0, 1 / abs(matrix.d))


def _largest_scale(picture: np.ndarray, matrix: Matrix, width: int, height: int) -> float:
    """The largest enlargement of either axis in what is seen."""
    if matrix.flat:
        return max(math.hypot(matrix.a, matrix.b), math.hypot(matrix.c, matrix.d))
    scales = _scale_map(matrix, np.array([0.0, width, 0.0, width]), np.array([0.0, 0.0, height, height]))
    return float(scales.max())


def _halved(
    picture: np.ndarray, matrix: Matrix, opaque: bool, kept: Budget | None, scale: float
) -> tuple[np.ndarray, Matrix]:
    """The picture halved as often as its scale asks for, and the way from it to the result."""
    whole, level = picture, 0
    while scale < _HALVED_BELOW and min(picture.shape[:2]) >= 8:
        level += 1
        scale *= 2
        high, wide = picture.shape[:2]
        key = ("halved", id(whole), level)
        known = kept.find(key) if kept is not None else None
        # The same identity may be another picture's by now.
        half = known[1] if known is not None and known[0] is whole else None
        if half is None:
            half = resampled(picture, -(-wide // 2), -(-high // 2), (0.5, 0.5), (0.0, 0.0), opaque, True)
            if kept is not None:
                kept.keep(key, (whole, half), half.nbytes + 200)
        matrix = matrix @ Matrix.grow(2)
        picture = half
    return picture, matrix


def _prepared(
    picture: np.ndarray,
    matrix: Matrix,
    scale: tuple[float, float],
    opaque: bool,
    exact: bool,
    moves: bool,
    width: int,
    height: int,
) -> tuple[np.ndarray, Matrix]:
    """The part of a picture that a result of this size shows, as sharp as it is seen at these scales of its axes and
    somewhat denser, and the way from it to the result."""
    density = [min(_DENSE[exact], max(1e-3, 1.5 * each)) for each in scale]
    low = [(EVEN if moves else 1.0) * max(1.0, 1 / max(each, 1e-6)) for each in scale]
    if density == [1.0, 1.0] and low == [1.0, 1.0]:
        return picture, matrix
    if all(_THINNEST <= 1 / max(each, 1e-6) <= 1.5 for each in scale):
        # At its own size it is nearly as dense, and is softened for a fourth of the work.
        sharper = [sharpened_for(1 / each, 1.5) for each in scale]
        whole = [picture.shape[1], picture.shape[0]]
        (left, top), (right, foot) = _shown_part(matrix, (1.0, 1.0), whole, width, height, _SOFTENED)
        part = slice(top, foot), slice(left, right)
        made = softened(picture, (low[0], low[1]), exact, (sharper[0], sharper[1]), part)
        return made, matrix @ Matrix.shift(left, top)
    sides = picture.shape[1], picture.shape[0]
    size = [max(1, round(length * by)) for length, by in zip(sides, density)]
    own = (size[0] / sides[0], size[1] / sides[1])
    # Whole px of the denser picture, so that from frame to frame the same ones are reckoned.
    first, last = _shown_part(matrix, own, size, width, height)
    made = resampled(
        picture,
        last[0] - first[0],
        last[1] - first[1],
        own,
        (float(-first[0]), float(-first[1])),
        opaque,
        exact,
        (low[0], low[1]),
    )
    return made, matrix @ Matrix.grow(1 / own[0], 1 / own[1]) @ Matrix.shift(*first)


_ROOM, _SOFTENED = 3, 10
"""Px of the denser picture kept around what is seen of it, and of one that is softened: as far as its filter
reaches."""


def _shown_part(
    matrix: Matrix, own: tuple[float, float], size: list[int], width: int, height: int, room: int = _ROOM
) -> tuple[tuple[int, int], tuple[int, int]]:
    """The first px across and down of a picture scaled by `own` that a result shows, and those past its last; all of
    them where the horizon may lie in it."""
    back = matrix.inverse()
    corners = [(x, y) for x in (0, width) for y in (0, height)]
    if any(back.w_at(x, y) * back.w_at(0, 0) <= 0 for x, y in corners):
        return (0, 0), (size[0], size[1])
    seen = [back.map(x, y) for x, y in corners]
    first, last = [], []
    for axis in range(2):
        places = [point[axis] * own[axis] for point in seen]
        begin = min(max(0, math.floor(min(places)) - room), size[axis] - 1)
        first.append(begin)
        last.append(min(size[axis], max(begin + 1, math.ceil(max(places)) + room)))
    return (first[0], first[1]), (last[0], last[1])


def _scale_map(matrix: Matrix, x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """How many times larger the plane is seen at points of the result: √|det of the Jacobian| there, kept within
    reason."""
    back = matrix.inverse()
    w = np.maximum(np.abs(back.g * x + back.h * y + back.i), 1e-9)
    det = abs(
        back.a * (back.d * back.i - back.f * back.h)
        - back.c * (back.b * back.i - back.f * back.g)
        + back.e * (back.b * back.h - back.d * back.g)
    )
    return np.clip(np.sqrt(w**3 / max(det, 1e-18)), 1e-4, 1e4)


def _in_perspective(
    picture: np.ndarray,
    matrix: Matrix,
    width: int,
    height: int,
    opaque: bool,
    exact: bool,
    moves: bool,
    kept: Budget | None = None,
) -> np.ndarray:
    """In a light picture the copies are of sizes that do not change as the camera moves, and are kept."""

    def placed(scale: float) -> np.ndarray:
        if exact or kept is None:
            way = _prepared(picture, matrix, (scale, scale), opaque, exact, moves, width, height)
        else:
            way = _kept_copy(picture, matrix, scale, opaque, moves, kept)
        return bilinear(*way, width, height)

    y, x = np.mgrid[0:height, 0:width].astype(np.float32) + np.float32(0.5)
    scales = _scale_map(matrix, x, y)
    # What is enlarged needs no copy of its own.
    nearest, furthest = float(scales.max()), float(scales.min())
    if nearest <= _AS_FLAT[exact] * furthest:
        return placed(math.sqrt(nearest * furthest))
    most, least = min(1.0, nearest), min(1.0, furthest)
    if not exact:
        most = _stepped(most)
    place = np.clip(np.log(most / np.minimum(scales, most)) / math.log(_STEP), 0, _MOST_LEVELS - 1).astype(np.float32)
    levels = min(_MOST_LEVELS, 1 + math.ceil(math.log(most / least) / math.log(_STEP) - 1e-6))
    if levels == 1:
        return placed(most)
    total = np.zeros((height, width, 4), np.float32)
    for level in range(levels):
        if np.abs(place - level).min() >= 1:
            continue
        _add_level(total, placed(most / _STEP**level), place, float(level))
    return np.clip(total + np.float32(0.5), 0, 255).astype(np.uint8)


def _stepped(scale: float) -> float:
    """The next of the sizes that copies are kept at, 1 or less, that is no smaller."""
    return float(_STEP ** min(0, math.ceil(math.log(scale) / math.log(_STEP) - 1e-9)))


def _kept_copy(
    picture: np.ndarray, matrix: Matrix, scale: float, opaque: bool, moves: bool, kept: Budget
) -> tuple[np.ndarray, Matrix]:
    """The whole picture as sharp as it is seen at the next of the kept sizes, and the way from it to the result."""
    scale = _stepped(min(1.0, scale))
    low = (EVEN if moves else 1.0) / scale
    if low <= 1:
        return picture, matrix
    high, wide = picture.shape[:2]
    size = [max(1, round(length * min(1.0, 1.5 * scale))) for length in (wide, high)]
    own = (size[0] / wide, size[1] / high)
    key = ("in perspective", id(picture), *size, low)
    known = kept.find(key)
    # The same identity may be another picture's by now.
    made = known[1] if known is not None and known[0] is picture else None
    if made is None:
        made = resampled(picture, size[0], size[1], own, (0.0, 0.0), opaque, False, (low, low))
        kept.keep(key, (picture, made), made.nbytes + 200)
    return made, matrix @ Matrix.grow(1 / own[0], 1 / own[1])


@kernel("void(float32[:,:,::1], uint8[:,:,::1], float32[:,::1], float32)")
def _add_level(total, made, place, level):
    """A copy, as far as it is as sharp as each px asks for."""
    for y in range(place.shape[0]):
        into, of, asked = total[y], made[y], place[y]
        for x in range(place.shape[1]):
            share = np.float32(1) - abs(asked[x] - level)
            if share > 0:
                for c in range(4):
                    into[x, c] += of[x, c] * share
