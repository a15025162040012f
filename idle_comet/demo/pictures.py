"""Still pictures of the demo: six photographs, upright and lying, larger and smaller than the frame, and the emblem in
its two pieces."""

from __future__ import annotations

import math

import cv2
import numpy as np
import skia

from .heath import Heath
from .jars import Jars
from .paintbox import canvas_on, ink
from .workshop import Workshop


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


def portrait() -> np.ndarray:
    """Ottoline, upright: (1440, 1080, 4) uint8 opaque RGBA."""
    return _cut(Workshop(2560, 1440, seed=17).frame(2.0), 0.50, 1080)


def jars_upright() -> np.ndarray:
    """Jars with the light behind, upright: (1350, 1000, 4) uint8 opaque RGBA."""
    return _cut(Jars(2400, 1350, seed=6).frame(4.0), 0.42, 1000)


def wide() -> np.ndarray:
    """The heath from end to end, wider than the frame: (900, 2200, 4) uint8 opaque RGBA."""
    picture = Heath(2200, 1238, seed=12).frame(6.0)
    return np.ascontiguousarray(picture[240:1140])


def hives_upright() -> np.ndarray:
    """Hives at the edge of the heath, upright: (1280, 860, 4) uint8 opaque RGBA."""
    return _cut(Heath(2276, 1280, seed=29).frame(1.0), 0.2, 860)


def small_card() -> np.ndarray:
    """A card of the bench, smaller than any frame: (600, 800, 4) uint8 opaque RGBA, with its white border."""
    picture = np.full((600, 800, 4), 244, np.uint8)
    picture[..., 3] = 255
    whole = _cut(Workshop(960, 540, seed=3).frame(5.0), 0.48, 720)
    picture[30:570, 40:760] = whole
    return picture


def _cut(picture: np.ndarray, middle: float, width: int) -> np.ndarray:
    """A part of a picture, of its whole height, about a share of its width."""
    left = min(max(0, round(picture.shape[1] * middle - width / 2)), picture.shape[1] - width)
    return np.ascontiguousarray(picture[:, left : left + width])


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
