"""Out of focus: every point becomes the lens's own opening, as large as the thin lens has it.

Each px gives its light to all px its disc covers, by the area it covers of each; so what is out of focus spreads past
its own edge, and a bright point becomes a disc. Discs are laid down as the beginnings and the ends of their rows, and
summed along the rows afterwards: a disc of a radius of r px costs about 8 r steps, not 3 r².
"""

from __future__ import annotations

import math
from dataclasses import replace
from functools import lru_cache
from typing import NamedTuple

import cv2
import numpy as np

from .kernel import kernel
from .light import code_of, light_of
from .patch import NOWHERE, Patch, Rect

_FINE = 128
"""Radii told to a px."""

_WIDEST = 8
"""Px of the largest radius that is laid down px by px. What is larger is done where a px is twice, four times … as
large."""

_NARROW = 7
"""Px of radius from which on what is laid down px by px begins to give way to the next size."""


class Opening(NamedTuple):
    """The shape of a lens's opening: round, or a polygon of `blades` sides whose corners lie on the circle, as far as
    `roundness` (0..1) leaves them straight; turned by degrees."""

    blades: int = 0
    roundness: float = 0.0
    turn: float = 0.0


class Discs(NamedTuple):
    """How large a point of a plane is seen: px of diameter at each px (x, y) of a painted picture, `first` + x ·
    `across` + y · `down`, no more than `most`. Below 0 the point lies nearer than what is sharp, and its disc stands on
    its head. What is white is spread as if it was `highlights` times as bright."""

    first: float
    across: float
    down: float
    most: float
    opening: Opening = Opening()
    highlights: float = 1.0

    def at(self, x: float, y: float) -> float:
        """Px of diameter, without its sign."""
        return min(self.most, abs(self.first + x * self.across + y * self.down))

    def narrowest(self, area: Rect) -> float:
        """The smallest diameter in an area."""
        ends = [self.first + x * self.across + y * self.down for x, y in area.corners()]
        return 0.0 if min(ends) < 0 < max(ends) else min(self.most, *(abs(each) for each in ends))

    def widest(self, area: Rect) -> float:
        """The largest diameter in an area."""
        return max(self.at(x, y) for x, y in area.corners())


def reach_of(diameter: float) -> int:
    """How far a disc carries light, in px: its radius, and what is blurred of a large one by its larger px."""
    size = 1
    while size * _WIDEST < diameter / 2:
        size *= 2
    return math.ceil(diameter / 2) + 2 * size


_BLURRED = 4.0
"""Px: in a light picture larger discs are laid down in half as many px."""


def _halved(patch: Patch) -> Patch:
    """A patch in half as many px along each side, which begin at even ones."""
    (left, top), (right, foot) = (patch.x % 2, patch.y % 2), ((patch.x + patch.width) % 2, (patch.y + patch.height) % 2)
    pixels = patch.pixels
    if left or top or right or foot:
        how = cv2.BORDER_REPLICATE if any(patch.extends) else cv2.BORDER_CONSTANT
        pixels = cv2.copyMakeBorder(pixels, top, foot, left, right, how)
    small = cv2.resize(pixels, (pixels.shape[1] // 2, pixels.shape[0] // 2), interpolation=cv2.INTER_AREA)
    return replace(patch, pixels=small, x=(patch.x - left) // 2, y=(patch.y - top) // 2)


def defocused(patch: Patch, discs: Discs, window: Rect, lightly: bool = False) -> Patch:
    """A patch with the light of every px spread over its disc, as far as it lies in the window; `lightly` with less
    care where nothing of it is sharp.

    Where a picture goes on past its border, so does its light."""
    if patch.rect.empty or discs.widest(patch.rect) < 1:
        return patch
    if lightly and discs.narrowest(patch.rect) > _BLURRED:
        fewer = Discs(discs.first / 2, discs.across, discs.down, discs.most / 2, discs.opening, discs.highlights)
        around = Rect(*(each / 2 for each in window)).grown(1)
        few = defocused(_halved(patch), fewer, around)
        if few.rect.empty:
            return few
        pixels = cv2.resize(few.pixels, (2 * few.width, 2 * few.height), interpolation=cv2.INTER_LINEAR)
        return replace(few, pixels=pixels, x=2 * few.x, y=2 * few.y).cut(window)
    reach = reach_of(discs.widest(patch.rect))
    sides = patch.extends
    room = [reach if side else 0 for side in sides]
    light = light_of(patch)
    if any(room):
        light = cv2.copyMakeBorder(light, room[1], room[3], room[0], room[2], cv2.BORDER_REPLICATE)
    x, y = patch.x - room[0], patch.y - room[1]
    if discs.highlights > 1:
        _outshine(light, discs.highlights, *_numbers(discs, x, y))
    out = _spread_over(light, discs, x, y, reach)
    if discs.highlights > 1:
        _cover_with_light(out)
    made = Patch(out, x - reach, y - reach, opacity=patch.opacity)
    # At a side where the picture goes on, what was added to it is of no use any more.
    kept = Rect(*(edge if side else far for edge, side, far in zip(patch.rect, sides, made.rect)))
    cut = made.cut(kept.meets(window))
    if cut.rect.empty:
        return cut
    return replace(cut, pixels=code_of(cut.pixels), extends=sides if any(sides) else NOWHERE)


_DIM = 0.5
"""Light, white being 1, up to which nothing is a highlight."""


@kernel("void(float32[:,:,::1], float64, float64, float64, float64, float64)")
def _outshine(light, times, first, across, down, most):
    """What is white, and less so what is nearly white, as many times brighter as it is out of focus: from a disc of 1
    px to one of 2 px."""
    for y in range(light.shape[0]):
        row = light[y]
        for x in range(light.shape[1]):
            luma = np.float32(0.2126) * row[x, 0] + np.float32(0.7152) * row[x, 1] + np.float32(0.0722) * row[x, 2]
            part = (luma / max(row[x, 3], np.float32(1e-5)) - _DIM) / (1 - _DIM)
            blurred = min(most, abs(first + x * across + y * down)) - 1
            if part <= 0 or blurred <= 0:
                continue
            part = min(part, 1.0)
            by = np.float32(1 + (times - 1) * part * part * min(blurred, 1.0))
            row[x, 0], row[x, 1], row[x, 2] = row[x, 0] * by, row[x, 1] * by, row[x, 2] * by


@kernel("void(float32[:,:,::1])")
def _cover_with_light(light):
    """No px more light than it covers: what shines brighter than white covers more, as far as there is more."""
    for y in range(light.shape[0]):
        row = light[y]
        for x in range(light.shape[1]):
            row[x, 3] = max(row[x, 3], min(max(row[x, 0], row[x, 1], row[x, 2]), np.float32(1)))


def _spread_over(light: np.ndarray, discs: Discs, x: int, y: int, reach: int) -> np.ndarray:
    """(h + 2·reach, w + 2·reach, 4) float32: light spread over its discs; (x, y) is its first px of the picture."""
    height, width = light.shape[:2]
    out = np.zeros((height + 2 * reach, width + 2 * reach, 4), np.float32)
    area = Rect(x, y, x + width, y + height)
    ends = [discs.first + a * discs.across + b * discs.down for a, b in area.corners()]
    most = min(discs.most, max(abs(each) for each in ends)) / 2
    least = 0.0 if min(ends) < 0 < max(ends) else min(discs.most, min(abs(each) for each in ends)) / 2
    for level in range(12):
        size = 2**level
        low, high = (_NARROW * size / 2 if level else 0.0), (_WIDEST * size if level else float(_WIDEST))
        if least > high:
            continue
        if most < low:
            break
        part = light if least >= _WIDEST * size / 2 * bool(level) and most <= _NARROW * size else None
        if part is None:
            part = np.empty_like(light)
            _shared_out(light, part, *_numbers(discs, x, y), float(level), level == 0)
        _add_level(out, part, discs, x, y, reach, size)
    return out


def _numbers(discs: Discs, x: int, y: int, size: int = 1) -> tuple[float, float, float, float]:
    """Diameters in px of a size, counted in such px whose first begins at (x, y)."""
    first = discs.first + x * discs.across + y * discs.down
    return first / size, discs.across, discs.down, discs.most / size


def _add_level(out: np.ndarray, part: np.ndarray, discs: Discs, x: int, y: int, reach: int, size: int) -> None:
    if size == 1:
        _lay(part, out, reach, _numbers(discs, x, y), discs.opening)
        return
    # Blocks begin at multiples of their size of the whole picture, so that parts of one have the same.
    high, wide = part.shape[:2]
    left, top = x % size, y % size
    padded = cv2.copyMakeBorder(part, top, -(top + high) % size, left, -(left + wide) % size, cv2.BORDER_CONSTANT)
    few = cv2.resize(padded, (padded.shape[1] // size, padded.shape[0] // size), interpolation=cv2.INTER_AREA)
    around = math.ceil(reach / size) + 2
    spread = np.zeros((few.shape[0] + 2 * around, few.shape[1] + 2 * around, 4), np.float32)
    # The means of blocks and the straight lines between them widen a disc: half of that is taken off, which leaves its
    # middle width and its spread about equally right.
    widened = 2 * ((size * size - 1) / 12 + size * size / 6)
    first, across, down, most = _numbers(discs, x - left, y - top, size)
    _lay(few, spread, around, (first, across, down, most), discs.opening, widened / size**2)
    large = cv2.resize(spread, (spread.shape[1] * size, spread.shape[0] * size), interpolation=cv2.INTER_LINEAR)
    ox, oy = around * size + left - reach, around * size + top - reach
    out += large[oy : oy + out.shape[0], ox : ox + out.shape[1]]


def _lay(
    light: np.ndarray,
    out: np.ndarray,
    around: int,
    numbers: tuple[float, float, float, float],
    opening: Opening,
    narrower: float = 0.0,
) -> None:
    begins, places, shares = _both_ways(opening)
    # As far as the largest disc of this size reaches.
    most = min(_WIDEST, numbers[3] / 2, max(abs(_at(numbers, light, *end)) for end in _ENDS) / 2)
    reach = min(around, math.ceil(most + 0.5) + 1)
    _spread(np.ascontiguousarray(light), out, around, *numbers, narrower, begins, places, shares, reach)


_ENDS = ((0, 0), (1, 0), (0, 1), (1, 1))


def _at(numbers: tuple[float, float, float, float], light: np.ndarray, right: int, foot: int) -> float:
    """The diameter at a corner."""
    return numbers[0] + numbers[1] * light.shape[1] * right + numbers[2] * light.shape[0] * foot


@lru_cache(maxsize=16)
def _both_ways(opening: Opening) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """The rows of an opening as it is, and after them those of it on its head, as they are written down: where those of
    each radius begin; of each row its place down, and the px its beginning and its end lie in, across; and what is
    written there and in the px after it, for its beginning and for its end."""
    (begins, rows), (more, turned) = _rows_of(opening), _rows_of(opening._replace(turn=opening.turn + 180))
    row, left, right, share = np.concatenate([rows, turned]).T
    begin, end = np.floor(left + 0.5), np.floor(right + 0.5)
    inside, beyond = left + 0.5 - begin, right + 0.5 - end
    shares = np.stack([1 - inside, inside, beyond - 1, -beyond], 1) * share[:, None]
    return (
        np.concatenate([begins, more[1:] + len(rows)]),
        np.ascontiguousarray(np.stack([row, begin, end], 1).astype(np.int64)),
        np.ascontiguousarray(shares),
    )


_RADII = (_WIDEST + 1) * _FINE
"""Told radii of a shape."""


def _rows_of(opening: Opening) -> tuple[np.ndarray, np.ndarray]:
    """The rows of px that an opening covers at every told radius: (n + 1,) where those of each begin, and (m, 4) of
    them: which row from the middle, where it begins and ends across, both in px from the middle of one, and how much of
    each px between it gets.

    A disc that hardly leaves its px would not be seen to spread at all; so each is made as large as it must be for its
    light to be spread, down, as widely as that of a true one."""
    left, right, top, foot = _outline(opening)
    down = np.linspace(top, foot, 4097)
    sides = [np.interp(down, *side) for side in (left, right)]
    # Up to a height: how much lies left and right of the middle.
    summed = [np.append(0, np.cumsum((side[1:] + side[:-1]) / 2) * (down[1] - down[0])) for side in sides]
    chord = sides[1] - sides[0]
    spread = float((chord * down**2).sum() / chord.sum())

    def rows_at(radius: float) -> np.ndarray:
        numbers = np.arange(math.floor(top * radius + 0.5), math.ceil(foot * radius - 0.5) + 1)
        first, last = (np.clip((numbers + by) / radius, top, foot) for by in (-0.5, 0.5))
        high = np.maximum(last - first, 1e-12)
        a, b = ((np.interp(last, down, each) - np.interp(first, down, each)) / high * radius for each in summed)
        share = high / ((b - a) * high).sum()
        return np.stack([numbers.astype(np.float64), a, b, share], 1)

    tried = np.append(np.linspace(0.45, 1.5, 800), np.linspace(1.5, _RADII / _FINE + 1, 800)[1:])
    widths = [float((rows[:, 0] ** 2 * (rows[:, 2] - rows[:, 1]) * rows[:, 3]).sum()) for rows in map(rows_at, tried)]
    begins, rows = [0], []
    for radius in np.interp(spread * (np.arange(_RADII) / _FINE) ** 2, widths, tried):
        rows.append(rows_at(float(radius)))
        begins.append(begins[-1] + len(rows[-1]))
    return np.array(begins, np.int64), np.concatenate(rows)


def _outline(opening: Opening) -> tuple[tuple[np.ndarray, np.ndarray], tuple[np.ndarray, np.ndarray], float, float]:
    """Left and right of an opening with a radius of 1, each as (places down, places across), its top and its foot."""
    angles = np.linspace(0, 2 * math.pi, 1441)[:-1]
    far = np.ones_like(angles)
    if opening.blades >= 3:
        part = 2 * math.pi / opening.blades
        straight = math.cos(part / 2) / np.cos((angles - math.radians(opening.turn)) % part - part / 2)
        far = straight + (1 - straight) * opening.roundness
    x, y = far * np.cos(angles), far * np.sin(angles)
    highest, lowest = int(np.argmin(y)), int(np.argmax(y))
    # From the lowest point to the highest on the one side, and back on the other.
    one = np.arange(lowest, highest + 1) if highest > lowest else np.arange(lowest, highest + 1 + len(y))
    other = np.arange(highest, lowest + 1) if lowest > highest else np.arange(highest, lowest + 1 + len(y))
    left, right = ((y[side % len(y)], x[side % len(x)]) for side in (one[::-1], other))
    return left, right, float(y.min()), float(y.max())


@kernel("void(float32[:,:,::1], float32[:,:,::1], float64, float64, float64, float64, float64, boolean)")
def _shared_out(light, out, first, across, down, most, level, lowest):
    """What of the light is laid down at a size of px: all of it in the middle of its radii, less towards the next."""
    size = 2.0**level
    width = (_WIDEST - _NARROW) * size
    for y in range(light.shape[0]):
        for x in range(light.shape[1]):
            radius = min(most, abs(first + across * (x + 0.5) + down * (y + 0.5))) / 2
            share = min(max((_WIDEST * size - radius) / width, 0.0), 1.0)
            if not lowest:
                share -= min(max((_WIDEST * size - 2 * radius) / width, 0.0), 1.0)
            for channel in range(4):
                out[y, x, channel] = light[y, x, channel] * np.float32(share)


@kernel("void(float64[::1], float32[:,:,::1], int64, int64, int64)")
def _summed(sums, out, row, reach, around):
    """A row of beginnings and ends, which start `reach` before the first px and two more, added up into a row of px."""
    total = np.zeros(4, np.float64)
    to = out[row, around - reach :].reshape(-1)
    begin = np.uint64(8)
    for i in range(np.uint64(0), np.uint64(sums.shape[0]) - np.uint64(16), np.uint64(4)):
        for c in range(np.uint64(4)):
            total[c] += sums[begin + i + c]
            to[i + c] += np.float32(total[c])
    sums[:] = 0


@kernel("void(float64[::1], float32[::1], int64, float64)", fastmath=True)
def _add(into, row, begin, share):
    place = into[begin : begin + row.shape[0]]
    for i in range(row.shape[0]):
        place[i] += row[i] * share


_LAY = "float64, float64, float64, float64, float64, int64[::1], int64[:,::1], float64[:,::1], int64"


@kernel(f"void(float32[:,:,::1], float32[:,:,::1], int64, {_LAY})", fastmath=True)
def _spread(light, out, around, first, across, down, most, narrower, begins, places, shares, reach):
    """Adds to `out`, which is larger by `around` on every side, the light of every px over its disc. `narrower` is
    taken off the square of every radius; no disc reaches further than `reach` px."""
    height, width = light.shape[0], light.shape[1]
    told = (begins.shape[0] - 1) // 2
    ring, room = 2 * reach + 1, reach + 2
    sums = np.zeros((ring, 4 * (width + 2 * room)), np.float64)
    alike = across == 0 and down == 0
    for y in range(height + 2 * reach):
        if y < height and alike:
            row = light[y].reshape(4 * width)
            radius = math.sqrt(max(min(most, abs(first)) ** 2 / 4 - narrower, 0.0))
            at = min(int(radius * _FINE + 0.5), told - 1) + (told if first < 0 else 0)
            for n in range(begins[at], begins[at + 1]):
                into = sums[(y + places[n, 0] + ring) % ring]
                begin, end = 4 * (room + places[n, 1]), 4 * (room + places[n, 2])
                _add(into, row, begin, shares[n, 0])
                _add(into, row, begin + 4, shares[n, 1])
                _add(into, row, end, shares[n, 2])
                _add(into, row, end + 4, shares[n, 3])
        elif y < height:
            row = light[y].reshape(4 * width)
            for x in range(width):
                r, g, b, a = row[4 * x], row[4 * x + 1], row[4 * x + 2], row[4 * x + 3]
                if a == 0 and r == 0 and g == 0 and b == 0:
                    continue
                signed = first + across * (x + 0.5) + down * (y + 0.5)
                radius = math.sqrt(max(min(most, abs(signed)) ** 2 / 4 - narrower, 0.0))
                at = min(int(radius * _FINE + 0.5), told - 1) + (told if signed < 0 else 0)
                for n in range(begins[at], begins[at + 1]):
                    into = sums[(y + places[n, 0] + ring) % ring]
                    for end in range(2):
                        i, near, far = 4 * (room + x + places[n, 1 + end]), shares[n, 2 * end], shares[n, 2 * end + 1]
                        into[i] += r * near
                        into[i + 1] += g * near
                        into[i + 2] += b * near
                        into[i + 3] += a * near
                        into[i + 4] += r * far
                        into[i + 5] += g * far
                        into[i + 6] += b * far
                        into[i + 7] += a * far
        # The row that no later one reaches is done.
        done = y - reach
        _summed(sums[(done + ring) % ring], out, done + around, reach, around)
