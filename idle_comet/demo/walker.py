"""A beekeeper walks home over the heath: locked off, for a point to be followed on her hat, past a birch."""

from __future__ import annotations

import math

import numpy as np
import skia

from .heath import Heath
from .paintbox import canvas_on, ink

_PACE = 74.0
"""Px a second at a height of 720."""

_STRIDE = 1.02
"""Seconds for two steps."""

BAND = (9.0, -207.0)
"""The clasp of the hat's band, from the foot of the figure, at a height of 720."""


class Walker(Heath):
    """The heath with a figure crossing it; 200 frames at 25 a second. Drawn for 1280×720 and scaled to size."""

    def __init__(self, width: int = 1280, height: int = 720, seed: int = 19) -> None:
        super().__init__(width, height, seed)
        self._bark = np.random.default_rng(seed + 1).uniform(0, 1, (46, 4))

    def foot(self, seconds: float) -> tuple[float, float, float]:
        """Where the figure stands (x, y), in px at a height of 720, and how far its head is bent, in degrees."""
        turn = 2 * math.pi * seconds / _STRIDE
        x = 196 + _PACE * seconds + 2.4 * math.sin(2 * turn)
        y = 604 - 14 * math.sin(0.32 * seconds) - 3.2 * abs(math.sin(turn))
        return x, y, 1.6 * math.sin(turn + 0.6)

    def clasp(self, seconds: float) -> tuple[float, float]:
        """Where the clasp of the hat's band is, in px of the frame."""
        x, y, bent = self.foot(seconds)
        cos, sin = math.cos(math.radians(bent)), math.sin(math.radians(bent))
        # The head is bent about the neck.
        dx, dy = BAND[0], BAND[1] + 166
        return (x + cos * dx - sin * dy) * self.unit, (y - 166 + sin * dx + cos * dy) * self.unit

    def _draw_front(self, picture: np.ndarray, seconds: float) -> None:
        surface, canvas = canvas_on(picture)
        canvas.scale(self.unit, self.unit)
        self._draw_figure(canvas, seconds)
        self._draw_birch(canvas)
        del canvas, surface
        super()._draw_front(picture, seconds)

    def _draw_figure(self, canvas: skia.Canvas, seconds: float) -> None:
        x, y, bent = self.foot(seconds)
        turn = 2 * math.pi * seconds / _STRIDE
        canvas.save()
        canvas.translate(x, y)
        shadow = ink("#0c0a09", 0.5, MaskFilter=skia.MaskFilter.MakeBlur(skia.kNormal_BlurStyle, 5))
        canvas.drawOval(skia.Rect(-78, -3, 18, 9), shadow)
        for side, tone in ((math.pi, "#1d1b1e"), (0.0, "#2b282a")):
            _leg(canvas, turn + side, tone)
        _arm(canvas, turn, "#3c2f28", None)
        swing = 3 * math.sin(turn)
        coat = _shape(
            (-10, -167), (-22, -160), (-20, -128), (-16, -108), (-24, -74), (-28 + swing, -53), (-27 + swing, -51),
            (0, -48), (23 + swing, -51), (25 + swing, -54), (19, -78), (14, -108), (19, -130), (19, -158), (8, -167)
        )  # fmt: skip
        canvas.drawPath(coat, _lit("#37403d", "#a3845f", -24, 26))
        canvas.save()
        canvas.clipPath(coat, doAntiAlias=True)
        for place, deep in ((-15, 0.35), (-5, 0.5), (8, 0.3)):
            fold = _shape((place, -104), (place - 3 + swing, -40), (place + 3 + swing, -40), (place + 2, -104))
            canvas.drawPath(fold, ink("#1a2122", deep))
        canvas.drawRect(skia.Rect(-24, -111, 23, -104), ink("#5f4630"))
        canvas.drawRect(skia.Rect(4, -111, 9, -104), ink("#c9a25c"))
        canvas.drawPath(_shape((-14, -166), (-2, -156), (6, -160), (12, -166), (6, -152), (-8, -150)), ink("#d9cdb0"))
        canvas.restore()
        _arm(canvas, turn + math.pi, "#4b3a30", "#e2a445")
        canvas.translate(0, -166)
        canvas.rotate(bent)
        canvas.drawPath(_shape((-7, 4), (-6, -10), (8, -10), (8, 4)), ink("#8a5f48"))
        face = _shape((-13, -12), (-12, -31), (2, -37), (14, -29), (17, -20), (13, -9), (2, -4))
        canvas.drawPath(face, _lit("#7a513d", "#eab58a", -12, 18))
        canvas.drawOval(skia.Rect(9, -24, 12, -21), ink("#241813"))
        canvas.drawPath(_shape((-14, -8), (-18, -22), (-12, -36), (-4, -33), (-8, -12)), ink("#4a3d35"))
        crown = _shape((-17, -33), (-15, -53), (-1, -59), (14, -54), (18, -34))
        canvas.drawPath(crown, _lit("#8b7a58", "#f0d49a", -16, 20))
        canvas.drawPath(_shape((-17, -33), (-17, -42), (0, -45), (17, -43), (18, -34)), ink("#4a2330"))
        brim = _shape((-36, -29), (-20, -37), (4, -38), (30, -34), (39, -28), (10, -30), (-14, -28))
        canvas.drawPath(brim, _lit("#7b6b4c", "#f4dcaa", -34, 40))
        canvas.drawRect(skia.Rect(6, -44, 12, -38), ink("#f3e6c4"))
        canvas.drawRect(skia.Rect(8, -42, 10, -40), ink("#4a2330"))
        canvas.restore()

    def _draw_birch(self, canvas: skia.Canvas) -> None:
        """A trunk close by, behind which she is for some frames."""
        trunk = skia.Path.Polygon([skia.Point(x, y) for x, y in ((548, -10), (588, -10), (598, 730), (540, 730))], True)
        canvas.drawPath(trunk, _lit("#4c453f", "#d8c6a8", 540, 600))
        canvas.save()
        canvas.clipPath(trunk, doAntiAlias=True)
        for place, down, wide, dark in self._bark:
            x, y, deep = 540 + 58 * place, 740 * down, 1 + 2.4 * dark
            across = 4 + 16 * wide
            canvas.drawOval(skia.Rect(x - across, y - deep, x + across, y + deep), ink("#241f1b", 0.3 + 0.5 * dark))
        canvas.restore()


def _lit(shade: str, light: str, left: float, right: float) -> skia.Paint:
    """A paint that goes from shade to the low sun on the right."""
    tones = [0xFF000000 | int(text[1:], 16) for text in (shade, shade, light)]
    ends = [skia.Point(left, 0), skia.Point(right, 0)]
    return skia.Paint(AntiAlias=True, Shader=skia.GradientShader.MakeLinear(ends, tones, [0, 0.6, 1]))


def _shape(*points: tuple[float, float]) -> skia.Path:
    """A smooth closed outline: through the middles of its sides, bent towards its corners."""
    path = skia.Path()
    middles = [((ax + bx) / 2, (ay + by) / 2) for (ax, ay), (bx, by) in zip(points, (*points[1:], points[0]))]
    path.moveTo(*middles[-1])
    for corner, middle in zip(points, middles):
        path.quadTo(*corner, *middle)
    path.close()
    return path


def _leg(canvas: skia.Canvas, turn: float, tone: str) -> None:
    """One leg at its place in the stride: hip, knee, foot."""
    swing, lift = math.sin(turn), max(0.0, math.cos(turn))
    knee = (15 * swing + 7 * lift, -31 - 5 * lift)
    foot = (27 * swing, -2 - 11 * lift)
    stroke = dict(Style=skia.Paint.kStroke_Style, StrokeCap=skia.Paint.kRound_Cap, StrokeJoin=skia.Paint.kRound_Join)
    path = skia.Path()
    path.moveTo(0, -64)
    path.quadTo(*knee, *foot)
    canvas.drawPath(path, ink(tone, 1, StrokeWidth=15, **stroke))
    canvas.drawRoundRect(skia.Rect(foot[0] - 8, foot[1] - 5, foot[0] + 15, foot[1] + 4), 4, 4, ink("#120f0e"))


def _arm(canvas: skia.Canvas, turn: float, tone: str, lantern: str | None) -> None:
    """One arm, with a lantern in its hand or none."""
    swing = math.sin(turn) * (0.5 if lantern else 1.0)
    elbow, hand = (-3 + 9 * swing, -118), (7 + 21 * swing, -90)
    stroke = dict(Style=skia.Paint.kStroke_Style, StrokeCap=skia.Paint.kRound_Cap, StrokeJoin=skia.Paint.kRound_Join)
    path = skia.Path()
    path.moveTo(-2, -150)
    path.lineTo(*elbow)
    path.lineTo(*hand)
    canvas.drawPath(path, ink(tone, 1, StrokeWidth=11, **stroke))
    if lantern:
        x, y = hand
        glow = ink(lantern, 0.45, MaskFilter=skia.MaskFilter.MakeBlur(skia.kNormal_BlurStyle, 12))
        canvas.drawOval(skia.Rect(x - 17, y + 4, x + 17, y + 42), glow)
        canvas.drawLine(x, y, x, y + 9, ink("#1a1512", 1, StrokeWidth=2))
        canvas.drawRoundRect(skia.Rect(x - 8, y + 9, x + 8, y + 33), 3, 3, ink("#2a211b"))
        canvas.drawRoundRect(skia.Rect(x - 5, y + 13, x + 5, y + 29), 2, 2, ink("#ffe2a0"))
