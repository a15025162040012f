"""Laying patches over each other: a frame with its one rounding, or a picture over nothing."""

from __future__ import annotations

from typing import Sequence

import numpy as np

from ..picture import EVERYWHERE, Mode, Patch, Rect, area_of, blend, lay_into, round_into, set_down

_BAND = 40 << 10
"""Px done at a time: few enough to stay near the processor while all patches are laid over them."""

Laid = Sequence[tuple[Patch, Mode]]


def laid(patches: Laid, width: int, height: int, background: tuple[int, int, int]) -> np.ndarray:
    """(height, width, 4) uint8: patches on a colour, from the bottom up, rounded once.

    Where nothing but a picture that fills the frame is seen, its own pixels are taken as they are.
    """
    ground = _ground(patches[0], width, height) if patches else None
    if ground is None:
        frame = filled(width, height, background, np.uint8)
    else:
        frame, patches = ground, patches[1:]
    seen = [(patch, mode) for patch, mode in patches if patch.opacity > 0]
    if all(mode == "normal" for _, mode in seen):
        # One that nothing else lies on is laid and rounded at once.
        together = []
        rects = [patch.rect for patch, _ in seen]
        for each, own in zip(seen, rects):
            if all(other is own or _apart(own, other) for other in rects):
                lay_into(frame, each[0])
            else:
                together.append(each)
        seen = together
    whole = area_of([patch for patch, _ in seen], Rect(0, 0, width, height))
    if whole.empty:
        return frame
    left, first, right, last = whole.whole()
    high = max(1, _BAND // (right - left))
    for top in range(first, last, high):
        rows = whole.meets(Rect(0, top, width, top + high))
        here = [(patch, mode) for patch, mode in seen if not patch.rect.meets(rows).empty]
        area = area_of([patch for patch, _ in here], rows)
        if area.empty:
            continue
        x0, y0, x1, y1 = area.whole()
        deep = frame[y0:y1, x0:x1].astype(np.float32)
        for patch, mode in here:
            blend(deep, patch.seen_from(x0, y0), mode)
        round_into(frame, deep, x0, y0)
    return frame


def _apart(one: Rect, other: Rect) -> bool:
    return one.x1 <= other.x0 or other.x1 <= one.x0 or one.y1 <= other.y0 or other.y1 <= one.y0


def laid_clear(patches: Laid, width: int, height: int) -> np.ndarray:
    """(height, width, 4) uint8 premultiplied: patches over nothing, from the bottom up, rounded once."""
    frame = np.zeros((height, width, 4), np.uint8)
    round_into(frame, laid_over_nothing(patches, 0, 0, width, height), 0, 0)
    # Rounding each by itself may leave a colour brighter than its alpha.
    return np.minimum(frame, frame[..., 3:])


def filled(
    width: int, height: int, colour: tuple[int, int, int], kind: type[np.uint8] | type[np.float32]
) -> np.ndarray:
    """(height, width, 4) of one opaque colour, uint8 or float32."""
    pixels: np.ndarray = np.empty((height, width, 4), kind)
    # One row is filled px by px, the others are copies of it: that is ten times as fast.
    pixels[0] = (*colour, 255)
    pixels[1:] = pixels[0]
    return pixels


def _ground(lowest: tuple[Patch, Mode], width: int, height: int) -> np.ndarray | None:
    """A lowest patch that fills the frame, as the frame itself instead of blended into one; None if it does not."""
    patch = lowest[0]
    if not _as_it_is(lowest) or not _fills(patch, Rect(0, 0, width, height)):
        return None
    cut = patch.pixels[-patch.y : height - patch.y, -patch.x : width - patch.x]
    # Pixels just made are taken as they are; a view of a source that is kept must not be painted on.
    return cut if cut.shape == patch.pixels.shape and patch.pixels.base is None else cut.copy()


def laid_over_nothing(
    patches: Laid, x: int, y: int, width: int, height: int, background: tuple[int, int, int] | None = None
) -> np.ndarray:
    """(height, width, 4) float32: patches from the bottom up, seen from (x, y) on, over nothing or a colour."""
    lowest = patches[0][0] if patches and _as_it_is(patches[0]) else None
    fills = lowest is not None and _fills(lowest, Rect(x, y, x + width, y + height))
    pixels: np.ndarray
    if background is not None and not fills:
        pixels, lowest = filled(width, height, background, np.float32), None
    else:
        pixels = np.empty((height, width, 4), np.float32) if fills else np.zeros((height, width, 4), np.float32)
    if lowest is not None:
        set_down(pixels, lowest.pixels, lowest.x - x, lowest.y - y)
        patches = patches[1:]
    for patch, mode in patches:
        blend(pixels, patch.seen_from(x, y), mode)
    return pixels


def _as_it_is(lowest: tuple[Patch, Mode]) -> bool:
    """Whether a patch over nothing is its own pixels."""
    patch, mode = lowest
    return patch.pixels.dtype == np.uint8 and patch.colour is None and patch.opacity == 1 and mode == "normal"


def _fills(patch: Patch, area: Rect) -> bool:
    """Whether an opaque picture covers all of an area."""
    return patch.extends == EVERYWHERE and patch.rect.meets(area) == area
