"""Ottoline Brask on a stool in the workshop: locked off, alive only in breath, blink and a tilt of the head."""

from __future__ import annotations

import math

import cv2
import numpy as np
import skia

from ..core.picture import over
from .finish import Finish
from .paintbox import canvas_on, colour, glow, ink, lay, noise, premultiplied, smooth, trimmed, wash


def _between(a: str, b: str, vertical: tuple[float, float, float, float]) -> skia.Paint:
    """A paint that runs from one colour to another along a line."""
    x0, y0, x1, y1 = vertical
    tones = [0xFF000000 | int(text[1:], 16) for text in (a, b)]
    return skia.Paint(
        AntiAlias=True, Shader=skia.GradientShader.MakeLinear([skia.Point(x0, y0), skia.Point(x1, y1)], tones)
    )


def _blob(points: list[tuple[float, float]]) -> skia.Path:
    """A smooth closed outline through points (Catmull-Rom)."""
    path, count = skia.Path(), len(points)
    path.moveTo(*points[0])
    for i in range(count):
        p0, p1, p2, p3 = (points[(i + k - 1) % count] for k in range(4))
        path.cubicTo(
            p1[0] + (p2[0] - p0[0]) / 6,
            p1[1] + (p2[1] - p0[1]) / 6,
            p2[0] - (p3[0] - p1[0]) / 6,
            p2[1] - (p3[1] - p1[1]) / 6,
            p2[0],
            p2[1],
        )
    path.close()
    return path


def _soft(radius: float, text: str, alpha: float) -> skia.Paint:
    return ink(text, alpha, MaskFilter=skia.MaskFilter.MakeBlur(skia.kNormal_BlurStyle, radius))


class Workshop:
    """The interview. Drawn for 1280×720 and scaled to size; same size and seed, same pixels."""

    def __init__(self, width: int = 1920, height: int = 1080, seed: int = 11) -> None:
        self.width, self.height, self.unit = width, height, height / 720
        rng = np.random.default_rng(seed)
        self._room = self._paint_room(rng)
        self._bench = trimmed(self._paint_bench(rng))
        self._motes = [
            (rng.uniform(0, 700), rng.uniform(0, 720), rng.uniform(4, 16), rng.uniform(0, 9), rng.uniform(0.8, 2.2))
            for _ in range(46)
        ]
        self._finish = Finish(rng, width, height, vignette=0.42, grain=2.2)
        self._veil = glow(height, width, 0.10 * width, 0.26 * height, 0.5 * height, 1.9)[..., None] * np.array(
            [34, 25, 12], np.float32
        )

    def frame(self, seconds: float) -> np.ndarray:
        """(h, w, 4) uint8 opaque RGBA at a moment."""
        picture = self._room.copy()
        surface, canvas = canvas_on(picture)
        canvas.scale(self.unit, self.unit)
        self._draw_figure(canvas, seconds)
        self._draw_motes(canvas, seconds)
        del canvas, surface
        over(picture, self._bench)
        return self._finish(picture, seconds, self._veil)

    def _paint_room(self, rng) -> np.ndarray:
        """A limewashed wall, a window to the left, shelves of jars far out of focus."""
        height, width = self.height, self.width
        wall = np.repeat(wash([(0, "#4a443d"), (0.55, "#5a5046"), (1, "#35302b")], height)[:, None], width, 1)
        wall = wall * (0.88 + 0.24 * noise(rng, height, width, (0.22 * height, 0.2 * width), 5)[..., None])
        light = glow(height, width, 0.06 * width, 0.24 * height, 0.62 * height, 1.8)
        wall = lay(wall, np.broadcast_to(colour("#d8c29a"), wall.shape), light * 0.55)
        picture = premultiplied(np.clip(wall, 0, 1).astype(np.float32), np.ones((height, width), np.float32))
        surface, canvas = canvas_on(picture)
        canvas.scale(self.unit, self.unit)
        # The window: panes of evening, a deep frame.
        canvas.drawRect(skia.Rect(-20, 40, 236, 430), ink("#2e2720"))
        for column in range(2):
            for row in range(3):
                x, y = -14 + column * 124, 48 + row * 127
                canvas.drawRect(skia.Rect(x, y, x + 116, y + 119), _between("#fff0cf", "#e3b67c", (0, 40, 0, 430)))
        canvas.drawRect(skia.Rect(-20, 430, 262, 446), ink("#8a7355"))
        for shelf, y in enumerate((196, 338)):
            canvas.drawRect(skia.Rect(800, y, 1290, y + 13), ink("#6b5136"))
            canvas.drawRect(skia.Rect(800, y + 13, 1290, y + 32), ink("#1c1712", 0.5))
            x = 816.0
            while x < 1270:
                wide, tall = rng.uniform(36, 54), rng.uniform(58, 92)
                tone = ("#b06a1c", "#c98a2c", "#8a4d18", "#d8a548")[int(rng.integers(4))]
                canvas.drawRoundRect(
                    skia.Rect(x, y - tall, x + wide, y), 6, 6, _between(tone, "#3c2410", (x, 0, x + wide * 1.5, 0))
                )
                canvas.drawRect(skia.Rect(x + 3, y - tall - 9, x + wide - 3, y - tall + 2), ink("#a69274"))
                canvas.drawRect(skia.Rect(x + 4, y - tall + 8, x + 9, y - 8), ink("#ffe3ac", 0.4))
                x += wide + rng.uniform(5, 26)
        del canvas, surface
        soft = cv2.GaussianBlur(picture, (0, 0), 8.5 * self.unit, borderType=cv2.BORDER_REPLICATE)
        soft[..., 3] = 255
        return soft

    def _paint_bench(self, rng) -> np.ndarray:
        """The bench in front, a smoker and a jar on it, a little soft."""
        layer = np.zeros((self.height, self.width, 4), np.uint8)
        surface, canvas = canvas_on(layer)
        canvas.scale(self.unit, self.unit)
        canvas.drawRect(skia.Rect(-10, 640, 1300, 740), _between("#7a5c3c", "#33261a", (0, 640, 0, 720)))
        for _ in range(60):
            y, x = rng.uniform(646, 720), rng.uniform(-50, 1200)
            canvas.drawLine(
                x,
                y,
                x + rng.uniform(80, 320),
                y + rng.uniform(-1.5, 1.5),
                ink("#1d140c", rng.uniform(0.08, 0.3), StrokeWidth=1.2),
            )
        canvas.drawRect(skia.Rect(-10, 638, 1300, 643), ink("#c7a36f", 0.8))
        canvas.drawOval(skia.Rect(976, 652, 1204, 690), _soft(9, "#120d08", 0.6))
        canvas.drawRoundRect(
            skia.Rect(1010, 522, 1122, 668), 12, 12, _between("#f0b64e", "#7a3f12", (1010, 0, 1130, 0))
        )
        canvas.drawRoundRect(skia.Rect(1010, 522, 1122, 560), 10, 10, ink("#fff0cc", 0.28))
        canvas.drawRect(skia.Rect(1016, 502, 1116, 528), _between("#c9b08a", "#6a5336", (1016, 0, 1116, 0)))
        canvas.drawRect(skia.Rect(1020, 536, 1030, 650), ink("#fff3d6", 0.6))
        del canvas, surface
        return cv2.GaussianBlur(layer, (0, 0), 1.7 * self.unit)

    def _draw_figure(self, canvas, t: float) -> None:
        breath = math.sin(2 * math.pi * t / 3.9)
        sway = 1.6 * math.sin(0.62 * t) + 0.8 * math.sin(1.37 * t + 1)
        rise = -1.9 * breath
        canvas.save()
        canvas.translate(694 + sway * 0.4, 0)
        canvas.drawOval(skia.Rect(-210, 300, 330, 800), _soft(46, "#0d0a07", 0.5))
        # Shoulders and a woollen jumper, under a canvas apron.
        wide = 1 + 0.006 * breath
        canvas.save()
        canvas.translate(0, rise)
        canvas.scale(wide, 1)
        jumper = _blob(
            [
                (-72, 372),
                (-150, 398),
                (-196, 470),
                (-214, 600),
                (-226, 760),
                (226, 760),
                (210, 596),
                (190, 470),
                (146, 398),
                (70, 372),
                (0, 392),
            ]
        )
        canvas.drawPath(jumper, _between("#7f8a76", "#343a33", (-200, 400, 220, 520)))
        canvas.save()
        canvas.clipPath(jumper, doAntiAlias=True)
        ribs = skia.Path()
        for rib in range(34):
            x = -232 + rib * 14
            ribs.moveTo(x, 380)
            ribs.lineTo(x * 1.08, 760)
        canvas.drawPath(ribs, ink("#1e231d", 0.16, Style=skia.Paint.kStroke_Style, StrokeWidth=2.2))
        canvas.drawPath(
            _blob([(-240, 380), (-150, 392), (-158, 520), (-176, 760), (-260, 760)]), _soft(22, "#ffe3b0", 0.32)
        )
        canvas.drawPath(_blob([(110, 400), (240, 440), (260, 760), (120, 760), (150, 560)]), _soft(26, "#0d100c", 0.55))
        canvas.restore()
        apron = _blob(
            [(-86, 470), (-96, 520), (-128, 620), (-138, 760), (138, 760), (126, 620), (96, 520), (86, 470), (0, 462)]
        )
        canvas.drawPath(apron, _between("#b09a76", "#5a4a36", (-130, 480, 150, 560)))
        for side in (-1, 1):
            strap = skia.Path()
            strap.moveTo(side * 78, 474)
            strap.quadTo(side * 78, 420, side * 52, 380)
            canvas.drawPath(
                strap, ink("#8d7858" if side < 0 else "#65543d", 1, Style=skia.Paint.kStroke_Style, StrokeWidth=15)
            )
        canvas.drawRoundRect(skia.Rect(-44, 566, 46, 640), 4, 4, ink("#3a2e20", 0.35))
        canvas.drawLine(-44, 568, 46, 568, ink("#d9c49c", 0.5, StrokeWidth=2))
        canvas.restore()
        # Neck and collar stay between body and head.
        canvas.save()
        canvas.translate(sway * 0.25, rise * 0.8)
        canvas.drawPath(
            _blob([(-40, 300), (-46, 372), (-64, 398), (0, 424), (62, 398), (44, 372), (40, 300)]),
            _between("#c98f69", "#74462f", (-46, 0, 50, 40)),
        )
        canvas.drawPath(
            _blob([(-38, 318), (0, 358), (40, 318), (40, 348), (0, 384), (-38, 350)]), _soft(9, "#4a2819", 0.6)
        )
        canvas.drawPath(
            _blob([(-78, 386), (-40, 372), (0, 412), (40, 372), (78, 386), (44, 424), (0, 440), (-44, 424)]),
            _between("#8d9884", "#3d443b", (-80, 0, 80, 0)),
        )
        canvas.restore()
        self._draw_head(canvas, t, sway, rise)
        canvas.restore()

    def _draw_head(self, canvas, t: float, sway: float, rise: float) -> None:
        canvas.save()
        canvas.translate(sway * 0.9, rise * 0.7)
        canvas.rotate(1.1 * math.sin(0.62 * t) + 0.5 * math.sin(1.9 * t + 2), 0, 340)
        # A loose bun and the hair behind.
        hair, hair_dark = "#b9b2a6", "#5d574f"
        canvas.drawOval(skia.Rect(-34, 84, 58, 160), _between(hair, hair_dark, (-40, 90, 60, 150)))
        canvas.drawPath(
            _blob(
                [(-88, 232), (-84, 160), (-40, 122), (16, 116), (70, 134), (94, 190), (92, 262), (76, 300), (-76, 296)]
            ),
            _between(hair, hair_dark, (-90, 150, 96, 220)),
        )
        face = _blob(
            [
                (-72, 200),
                (-76, 256),
                (-64, 306),
                (-34, 346),
                (0, 358),
                (32, 348),
                (60, 308),
                (72, 256),
                (70, 200),
                (40, 158),
                (-38, 158),
            ]
        )
        canvas.drawPath(face, _between("#e9b68d", "#8c5639", (-74, 230, 84, 266)))
        canvas.save()
        canvas.clipPath(face, doAntiAlias=True)
        canvas.drawPath(
            _blob([(20, 150), (90, 160), (96, 360), (18, 372), (44, 300), (52, 230)]), _soft(15, "#5c321f", 0.5)
        )
        canvas.drawOval(skia.Rect(-66, 258, -14, 306), _soft(13, "#e2825d", 0.36))
        canvas.drawOval(skia.Rect(20, 260, 62, 304), _soft(13, "#b5573a", 0.34))
        canvas.drawOval(skia.Rect(-78, 180, -40, 320), _soft(13, "#fff0cf", 0.5))
        canvas.restore()
        # Fringe, swept to one side.
        canvas.drawPath(
            _blob(
                [
                    (-84, 226),
                    (-82, 168),
                    (-38, 124),
                    (30, 122),
                    (82, 152),
                    (88, 222),
                    (70, 190),
                    (34, 166),
                    (-10, 172),
                    (-52, 186),
                    (-72, 210),
                ]
            ),
            _between("#d2cbbd", "#6a635a", (-86, 130, 92, 200)),
        )
        for strand in range(9):
            path = skia.Path()
            path.moveTo(-76 + strand * 17, 172 - 26 * math.sin(strand / 8 * math.pi))
            path.quadTo(-50 + strand * 12, 130, 10 + strand * 5, 122)
            canvas.drawPath(path, ink("#4d483f", 0.35, Style=skia.Paint.kStroke_Style, StrokeWidth=1.6))
        self._draw_features(canvas, t)
        canvas.restore()

    def _draw_features(self, canvas, t: float) -> None:
        phase = t % 3.4
        closed = max(0.0, 1 - abs(phase - 1.2) / 0.09)
        look = 1.6 * math.sin(0.5 * t + 1)
        line = dict(Style=skia.Paint.kStroke_Style, StrokeCap=skia.Paint.kRound_Cap)
        for x in (-33, 33):
            open_by = 7.5 * (1 - closed)
            if open_by > 1:
                eye = _blob([(x - 15, 242), (x, 242 - open_by), (x + 15, 243), (x, 242 + open_by * 0.7)])
                canvas.drawPath(eye, ink("#efe3d2"))
                canvas.save()
                canvas.clipPath(eye, doAntiAlias=True)
                canvas.drawCircle(x + look, 241, 6.8, ink("#4f5d4c"))
                canvas.drawCircle(x + look, 241, 3.2, ink("#15120f"))
                canvas.drawCircle(x + look - 2.4, 238.6, 1.5, ink("#ffffff"))
                canvas.restore()
            lid = skia.Path()
            lid.moveTo(x - 16, 242)
            lid.quadTo(x, 242 - open_by * 2 + 4 * closed, x + 16, 243)
            canvas.drawPath(lid, ink("#3d2318", 0.95, StrokeWidth=2.6, **line))
            brow = skia.Path()
            brow.moveTo(x - 20, 222 + (2 if x < 0 else -1))
            brow.quadTo(x, 213, x + 20, 222 + (-1 if x < 0 else 2))
            canvas.drawPath(brow, ink("#8b8175", 0.95, StrokeWidth=5.5, **line))
            crease = skia.Path()
            out = -1 if x < 0 else 1
            crease.moveTo(x + out * 20, 246)
            crease.quadTo(x + out * 25, 250, x + out * 28, 257)
            canvas.drawPath(crease, ink("#7c4730", 0.5, StrokeWidth=1.6, **line))
        nose = skia.Path()
        nose.moveTo(3, 238)
        nose.quadTo(13, 272, 14, 284)
        nose.quadTo(8, 294, -9, 288)
        canvas.drawPath(nose, ink("#7c4529", 0.8, StrokeWidth=3, **line))
        canvas.drawOval(skia.Rect(-8, 262, 6, 288), _soft(4, "#ffe2c0", 0.5))
        speaks = 1.2 + 1.1 * max(0.0, math.sin(5.3 * t) * math.sin(0.9 * t))
        mouth = _blob([(-21, 314), (-6, 311), (0, 313), (6, 311), (21, 314), (0, 316 + speaks * 3)])
        canvas.drawPath(mouth, ink("#94462f"))
        smile = skia.Path()
        smile.moveTo(-25, 312)
        smile.quadTo(0, 320, 25, 312)
        canvas.drawPath(smile, ink("#5b2618", 0.9, StrokeWidth=2.2, **line))
        for side in (-1, 1):
            fold = skia.Path()
            fold.moveTo(side * 18, 288)
            fold.quadTo(side * 33, 300, side * 33, 318)
            canvas.drawPath(fold, ink("#7c4529", 0.42, StrokeWidth=2, **line))

    def _draw_motes(self, canvas, t: float) -> None:
        """Dust in the window's light."""
        for x, y, pace, phase, size in self._motes:
            px = x + 26 * math.sin(0.21 * t * pace / 8 + phase)
            py = (y - pace * t) % 720
            shine = 0.42 * (0.5 + 0.5 * math.sin(0.9 * t + phase)) * float(smooth(640, 120, np.float32(px)))
            if shine > 0.02:
                canvas.drawCircle(px, py, size, ink("#ffeec4", shine))
