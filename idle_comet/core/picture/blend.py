"""Blending patches into a frame (W3C compositing, source over)."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from .kernel import kernel
from .patch import Patch, Rect


@kernel("void(uint8[:,:,::1], uint8[:,:,::1], int64, int64, int64, int64, int64, int64, int32)")
def _over_rgba(frame, source, x, y, left, top, width, height, opacity):
    for row in range(height):
        into = frame[y + row, x:x + width]
        of = source[top + row, left:left + width]
        for column in range(width):
            alpha = np.int32(of[column, 3])
            keep = np.int32(65536) - (alpha * opacity + 127) // 255
            for channel in range(4):
                into[column, channel] = (of[column, channel] * opacity + into[column, channel] * keep + 32768) >> 16


@kernel("void(uint8[:,:,::1], uint8[:,::1], int64, int64, int64, int64, int64, int64, int32, int32, int32, int32)")
def _over_mask(frame, mask, x, y, left, top, width, height, opacity, red, green, blue):
    for row in range(height):
        into = frame[y + row, x:x + width]
        of = mask[top + row, left:left + width]
        for column in range(width):
            share = (np.int32(of[column]) * opacity + 127) // 255
            keep = np.int32(65536) - share
            into[column, 0] = (red * share + into[column, 0] * keep + 32768) >> 16
            into[column, 1] = (green * share + into[column, 1] * keep + 32768) >> 16
            into[column, 2] = (blue * share + into[column, 2] * keep + 32768) >> 16
            into[column, 3] = (255 * share + into[column, 3] * keep + 32768) >> 16


def over(frame: np.ndarray, patch: Patch) -> None:
    """Blend a patch over a premultiplied (h, w, 4) frame in place; what lies outside is cut.

    Out = S·o + D·(1 − Sa·o) per channel, computed in 1/65536 and rounded once.
    """
    height, width = frame.shape[:2]
    left, top = max(0, -patch.x), max(0, -patch.y)
    across = min(patch.width, width - patch.x) - left
    down = min(patch.height, height - patch.y) - top
    opacity = round(65536 * min(1.0, max(0.0, patch.opacity)))
    if across <= 0 or down <= 0 or opacity == 0:
        return
    place = (patch.x + left, patch.y + top, left, top, across, down, opacity)
    if patch.colour is not None:
        _over_mask(frame, patch.pixels, *place, *patch.colour)
    else:
        _over_rgba(frame, patch.pixels, *place)


def coloured(patch: Patch) -> np.ndarray:
    """The patch's pixels as (h, w, 4), whatever it holds; its opacity is left out."""
    out = np.zeros((patch.height, patch.width, 4), np.uint8)
    over(out, replace(patch, x=0, y=0, opacity=1.0))
    return out


def gathered(patches: list[Patch], window: Rect) -> Patch:
    """Patches one over the other as one patch, as far as they lie in the window."""
    area = Rect(0, 0, 0, 0)
    for patch in patches:
        area = area.joins(patch.rect.meets(window))
    if area.empty:
        return Patch.empty()
    x0, y0, x1, y1 = area.whole()
    out = np.zeros((y1 - y0, x1 - x0, 4), np.uint8)
    for patch in patches:
        over(out, replace(patch, x=patch.x - x0, y=patch.y - y0))
    colours = {patch.colour for patch in patches if not patch.rect.empty}
    if len(colours) == 1 and None not in colours:
        return Patch(np.ascontiguousarray(out[..., 3]), x0, y0, colour=colours.pop())
    return Patch(out, x0, y0)
