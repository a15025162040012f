"""Blending patches into deep pixels (W3C compositing, source over), and gathering patches into one."""

from __future__ import annotations

from dataclasses import replace
from typing import Sequence

import numpy as np

from .kernel import kernel
from .patch import EVERYWHERE, NOWHERE, Patch, Rect, Sides, place_of

_PLACE = "int64, int64, int64, int64, int64, int64, float32"


# Rows are told as one run of numbers each, in steps that can't be below 0: so many px are done at a time, which is
# faster than to leave out those that need not be done.


@kernel(
    f"void(float32[:,:,::1], uint8[:,:,::1], {_PLACE})",
    f"void(float32[:,:,::1], float32[:,:,::1], {_PLACE})",
    fastmath=True,
)
def _over_rgba(into, source, x, y, left, top, width, height, opacity):
    whole, by = np.float32(255), np.float32(1 / 255)
    one, two, three, four = np.uint64(1), np.uint64(2), np.uint64(3), np.uint64(4)
    for row in range(height):
        to, of = into[y + row, x : x + width].reshape(-1), source[top + row, left : left + width].reshape(-1)
        for column in range(np.uint64(width)):
            at = column * four
            red, green, blue, alpha = (
                of[at] * opacity,
                of[at + one] * opacity,
                of[at + two] * opacity,
                of[at + three] * opacity,
            )
            # What covers all leaves nothing, to the last bit.
            keep = (whole - alpha) * by
            to[at], to[at + one] = red + to[at] * keep, green + to[at + one] * keep
            to[at + two], to[at + three] = blue + to[at + two] * keep, alpha + to[at + three] * keep


@kernel(
    f"void(float32[:,:,::1], uint8[:,::1], {_PLACE}, float32, float32, float32)",
    f"void(float32[:,:,::1], float32[:,::1], {_PLACE}, float32, float32, float32)",
    fastmath=True,
)
def _over_cover(into, cover, x, y, left, top, width, height, opacity, red, green, blue):
    whole, by = np.float32(255), np.float32(1 / 255)
    one, two, three, four = np.uint64(1), np.uint64(2), np.uint64(3), np.uint64(4)
    for row in range(height):
        to, of = into[y + row, x : x + width].reshape(-1), cover[top + row, left : left + width]
        for column in range(np.uint64(width)):
            at = column * four
            alpha = of[column] * opacity
            share, keep = alpha * by, (whole - alpha) * by
            to[at], to[at + one] = red * share + to[at] * keep, green * share + to[at + one] * keep
            to[at + two], to[at + three] = blue * share + to[at + two] * keep, alpha + to[at + three] * keep


@kernel(f"void(float32[:,:,::1], uint8[:,:,::1], {_PLACE})", f"void(float32[:,:,::1], float32[:,:,::1], {_PLACE})")
def _set_rgba(into, source, x, y, left, top, width, height, opacity):
    for row in range(height):
        to, of = into[y + row, x : x + width].reshape(-1), source[top + row, left : left + width].reshape(-1)
        for at in range(len(to)):
            to[at] = of[at] * opacity


@kernel(
    f"void(float32[:,:,::1], uint8[:,::1], {_PLACE}, float32, float32, float32)",
    f"void(float32[:,:,::1], float32[:,::1], {_PLACE}, float32, float32, float32)",
    fastmath=True,
)
def _set_cover(into, cover, x, y, left, top, width, height, opacity, red, green, blue):
    by, four = np.float32(1 / 255), np.uint64(4)
    for row in range(height):
        to, of = into[y + row, x : x + width].reshape(-1), cover[top + row, left : left + width]
        for column in range(np.uint64(width)):
            at, alpha = column * four, of[column] * opacity
            share = alpha * by
            to[at], to[at + np.uint64(1)], to[at + np.uint64(2)] = red * share, green * share, blue * share
            to[at + np.uint64(3)] = alpha


@kernel(f"void(float32[:,::1], uint8[:,::1], {_PLACE})", f"void(float32[:,::1], float32[:,::1], {_PLACE})")
def _over_alone(into, cover, x, y, left, top, width, height, opacity):
    part = opacity / np.float32(255)
    for row in range(height):
        to = into[y + row, x : x + width]
        of = cover[top + row, left : left + width]
        for column in range(width):
            to[column] = of[column] * opacity + to[column] * (np.float32(1) - of[column] * part)


def over(into: np.ndarray, patch: Patch) -> None:
    """Blend a patch over premultiplied (h, w, 4) code values in place; what lies outside is cut.

    Out = S·o + D·(1 − Sa·o) per channel; a uint8 picture is rounded to the nearest, a float32 one not at all.
    """
    place = place_of(patch, into.shape[1], into.shape[0])
    opacity = min(1.0, max(0.0, patch.opacity))
    if place is None or opacity == 0:
        return
    if into.dtype == np.uint8:
        x, y, _, _, across, down = place
        part = into[y : y + down, x : x + across]
        deep = part.astype(np.float32)
        over(deep, patch.seen_from(x, y))
        part[:] = np.clip(np.rint(deep), 0, 255)
        return
    if patch.colour is not None:
        _over_cover(into, patch.pixels, *place, opacity, *patch.colour)
    else:
        _over_rgba(into, patch.pixels, *place, opacity)


def deepened(patch: Patch) -> np.ndarray:
    """The patch's pixels as new (h, w, 4) float32 code values, premultiplied, whatever it holds; its opacity is left
    out."""
    if patch.colour is None and patch.pixels.ndim == 3:
        return patch.pixels.astype(np.float32)
    out = np.empty((patch.height, patch.width, 4), np.float32)
    _set(out, replace(patch, x=0, y=0, opacity=1.0))
    return out


def one_colour(patches: Sequence[Patch]) -> tuple[int, int, int] | None:
    """The colour of patches that are all coverage of one and the same."""
    colours = {patch.colour for patch in patches if not patch.rect.empty}
    return next(iter(colours)) if len(colours) == 1 else None


def area_of(patches: Sequence[Patch], window: Rect) -> Rect:
    """Bounds of patches as far as they lie in a window."""
    area = Rect(0, 0, 0, 0)
    for patch in patches:
        area = area.union(patch.rect.meets(window))
    return area


def gathered(patches: Sequence[Patch], window: Rect) -> Patch:
    """Patches one over the other as one patch, as far as they lie in the window."""
    patches = [patch for patch in patches if patch.pixels.size and patch.opacity > 0]
    area = area_of(patches, window)
    if area.empty:
        return Patch.empty()
    if len(patches) == 1 and area == patches[0].rect:
        return patches[0]
    x0, y0, x1, y1 = area.whole()
    colour = one_colour(patches)
    if colour is not None:
        cover = np.zeros((y1 - y0, x1 - x0), np.float32)
        for patch in patches:
            place = place_of(patch.seen_from(x0, y0), x1 - x0, y1 - y0)
            if place is not None and patch.opacity > 0:
                _over_alone(cover, patch.pixels, *place, min(1.0, patch.opacity))
        return Patch(cover, x0, y0, colour=colour)
    out: np.ndarray = np.empty((y1 - y0, x1 - x0, 4), np.float32)
    rows = max(1, _BAND // (x1 - x0))
    for top in range(0, y1 - y0, rows):
        # A few rows stay near the processor until all patches are laid over them.
        band = out[top : top + rows]
        for number, patch in enumerate(patches):
            lies = patch.seen_from(x0, y0 + top)
            if number == 0:
                _set(band, lies)
            else:
                over(band, lies)
    return Patch(out, x0, y0, extends=going_on(patches, area))


_BAND = 40 << 10
"""Px done at a time."""


def _set(out: np.ndarray, patch: Patch) -> None:
    """Make (h, w, 4) float32 what a patch over nothing is."""
    place = place_of(patch, out.shape[1], out.shape[0])
    if place is None or place[4:] != (out.shape[1], out.shape[0]):
        out[:] = 0
    if place is not None:
        opacity = min(1.0, max(0.0, patch.opacity))
        if patch.colour is not None:
            _set_cover(out, patch.pixels, *place, opacity, *patch.colour)
        else:
            _set_rgba(out, patch.pixels, *place, opacity)


def going_on(patches: Sequence[Patch], area: Rect) -> Sides:
    """At which sides patches over each other go on past an area: where one that covers it does."""
    whole = [
        patch
        for patch in patches
        if patch.opacity >= 1 and patch.extends.everywhere and patch.rect.union(area) == patch.rect
    ]
    return EVERYWHERE if whole else NOWHERE


@kernel("void(float32[:,:,::1], uint8[:,:,::1], int64, int64, int64, int64, int64, int64)")
def _deepen(into, source, x, y, left, top, width, height):
    for row in range(height):
        to, of = into[y + row, x : x + width], source[top + row, left : left + width]
        for column in range(width):
            for channel in range(4):
                to[column, channel] = of[column, channel]


def set_down(into: np.ndarray, pixels: np.ndarray, x: int, y: int) -> None:
    """Put (h, w, 4) uint8 pixels in the place of what is in (H, W, 4) float32; what lies outside is cut."""
    place = place_of(Patch(pixels, x, y), into.shape[1], into.shape[0])
    if place is not None:
        _deepen(into, pixels, *place)
