"""Painting a transition: two pictures become one."""

from __future__ import annotations

import cv2
import numpy as np

from ..picture import Patch, mix_pictures, parse_colour, reached
from .graph import Mixed


def joined(join: Mixed, before: np.ndarray, after: np.ndarray) -> Patch:
    """Both sides, (h, w, 4) float32 premultiplied over nothing, at the transition's progress. `before` is written
    over."""
    transition, progress = join.transition, join.progress
    height, width = before.shape[:2]
    if transition.kind == "dissolve":
        pixels = mix_pictures(before, after, float(progress))
    elif transition.kind == "dip":
        pixels = _dip(join, before, after)
    elif transition.kind == "slide":
        pixels = _slide(join, before, after)
    else:
        pixels = mix_pictures(
            before, after, reached(transition.kind, transition.towards, progress, transition.softness, width, height)
        )
    return Patch(pixels, 0, 0)


def _dip(join: Mixed, before: np.ndarray, after: np.ndarray) -> np.ndarray:
    """To the colour and out of it; at a free end from it or to it only."""
    flat = np.empty_like(before)
    flat[:] = (*parse_colour(join.transition.colour), 255)
    if join.before is None:
        return mix_pictures(flat, after, float(join.progress))
    if join.after is None:
        return mix_pictures(before, flat, float(join.progress))
    if join.progress < 0.5:
        return mix_pictures(before, flat, 2 * float(join.progress))
    return mix_pictures(flat, after, 2 * float(join.progress) - 1)


def _slide(join: Mixed, before: np.ndarray, after: np.ndarray) -> np.ndarray:
    """The new picture slides in over the old one; at a free end the old one slides out. Its leading edge may be
    soft."""
    height, width = before.shape[:2]
    across = join.transition.towards in ("left", "right")
    length = width if across else height
    sign = 1 if join.transition.towards in ("right", "down") else -1
    leaving = join.after is None
    way = join.progress if leaving else join.progress - 1
    moved, other = (before, after) if leaving else (after, before)
    shift = sign * way * length
    affine = np.array([[1, 0, shift if across else 0], [0, 1, 0 if across else shift]])
    picture = cv2.warpAffine(
        moved, affine, (width, height), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT, borderValue=(0, 0, 0, 0)
    )
    if leaving:
        return picture
    place = (np.arange(length, dtype=np.float32) + np.float32(0.5)) / np.float32(length)
    place = place if sign > 0 else 1 - place
    soft = max(join.transition.softness, 1.0 / length)
    # Covered behind the leading edge; soft on its inner side, so that nothing of it lies past the frame at either end.
    cover = np.clip((np.float32(join.progress) - place) / np.float32(soft), 0, 1)
    if join.progress >= 1:
        cover[:] = 1
    share = np.broadcast_to(cover if across else cover[:, None], (height, width))
    return mix_pictures(np.ascontiguousarray(other), picture, np.ascontiguousarray(share))
