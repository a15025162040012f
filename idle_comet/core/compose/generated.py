"""Generated pictures: a pattern within the frame that its clip has."""

from __future__ import annotations

import numpy as np

from ..moment.scene import GeneratedNow
from ..patterns import PATTERNS, Ground
from ..picture import Matrix, Patch, Rect, deepened, paint_rectangle


def covers(content: GeneratedNow) -> bool:
    """Whether nothing is seen through a generated picture."""
    return content.pattern in PATTERNS and PATTERNS[content.pattern].covers


def generate(content: GeneratedNow, matrix: Matrix, window: Rect, frame: Rect) -> Patch:
    """The picture through a transform, as far as it lies in a window; it goes on past the `frame`, which is what can be
    seen in the end. Empty for a pattern this version does not know."""
    pattern = PATTERNS.get(content.pattern)
    outline = Rect(0, 0, content.width, content.height)
    cover = paint_rectangle(outline, matrix, window, (255, 255, 255), frame)
    if pattern is None or cover.rect.empty:
        return Patch.empty()
    ground = Ground(matrix, cover.rect, content.width, content.height, content.seconds, content.frame)
    pixels = pattern.paint(dict(content.values), ground)
    if cover.pixels.min() < 255:
        # Its own edge, antialiased.
        pixels = pixels * (deepened(cover)[..., 3:] / 255)
    return Patch(np.ascontiguousarray(pixels, np.float32), cover.x, cover.y, extends=cover.extends)
