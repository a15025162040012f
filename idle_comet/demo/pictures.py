"""Still pictures of the demo: a photograph of the heath at dawn, and the emblem in its two pieces."""

from __future__ import annotations

import math

import cv2
import numpy as np
import skia

from .heath import Heath
from .paintbox import canvas_on, ink


def photograph() -> np.ndarray:
    """A print of the heath from years ago, larger than any frame: (1688, 3000, 4) uint8 opaque RGBA."""
    picture = Heath(2000, 1125, seed=41).frame(3.0)
    rgb = picture[..., :3].astype(np.float32)
    grey = rgb @ np.array([0.2126, 0.7152, 0.0722], np.float32)
    faded = grey[..., None] * np.array([1.06, 0.97, 0.82], np.float32) + np.array([20, 14, 6], np.float32)
    rgb = rgb * 0.30 + faded * 0.70
    rng = np.random.default_rng(5)
    scratches = np.zeros((1125, 2000, 4), np.uint8)
    surface, canvas = canvas_on(scratches)
    for _ in range(90):
        x, y, length = rng.uniform(0, 2000), rng.uniform(0, 1125), rng.uniform(4, 60)
        canvas.drawLine(
            x,
            y,
            x + rng.normal(0, 4),
            y + length,
            ink("#fff4dc", rng.uniform(0.05, 0.28), StrokeWidth=rng.uniform(0.6, 1.6)),
        )
    for _ in range(130):
        canvas.drawCircle(
            rng.uniform(0, 2000), rng.uniform(0, 1125), rng.uniform(0.6, 2.4), ink("#fff4dc", rng.uniform(0.1, 0.4))
        )
    del canvas, surface
    rgb += scratches[..., :3]
    picture[..., :3] = np.clip(rgb, 0, 255)
    return cv2.resize(picture, (3000, 1688), interpolation=cv2.INTER_CUBIC)


def _blank() -> np.ndarray:
    return np.zeros((800, 800, 4), np.uint8)


def hexagon() -> np.ndarray:
    """The emblem's cell: (800, 800, 4) uint8 premultiplied RGBA."""
    picture = _blank()
    surface, canvas = canvas_on(picture)
    corners = [
        skia.Point(430 + 260 * math.cos(math.pi / 3 * k), 430 + 260 * math.sin(math.pi / 3 * k)) for k in range(6)
    ]
    canvas.drawPath(
        skia.Path.Polygon(corners, True),
        ink("#e9b44c", 1, Style=skia.Paint.kStroke_Style, StrokeWidth=54, StrokeJoin=skia.Paint.kRound_Join),
    )
    del canvas, surface
    return picture


def stroke() -> np.ndarray:
    """The emblem's comet-like stroke: (800, 800, 4) uint8 premultiplied RGBA."""
    picture = _blank()
    surface, canvas = canvas_on(picture)
    tail = skia.Path()
    tail.moveTo(62, 330)
    tail.cubicTo(210, 336, 360, 280, 500, 150)
    tail.cubicTo(540, 112, 612, 118, 630, 168)
    tail.cubicTo(646, 214, 600, 256, 548, 252)
    tail.cubicTo(400, 330, 230, 368, 62, 330)
    tail.close()
    canvas.drawPath(tail, ink("#f6ead2"))
    del canvas, surface
    return picture
