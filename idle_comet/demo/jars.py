"""A close shot: hands over the bench, honey running from a dipper into a jar with the light behind it."""

from __future__ import annotations

import math

import cv2
import numpy as np
import skia

from ..core.picture import over
from .finish import Finish
from .paintbox import canvas_on, colour, glow, ink, lay, noise, premultiplied, trimmed, wash
from .workshop import _between, _blob, _soft


class Jars:
    """Drawn for 1280×720 and scaled to size; same size and seed, same pixels."""

    def __init__(self, width: int = 1280, height: int = 720, seed: int = 23) -> None:
        self.width, self.height, self.unit = width, height, height / 720
        rng = np.random.default_rng(seed)
        self._ground = self._paint_ground(rng)
        self._lid = trimmed(self._paint_lid())
        self._finish = Finish(rng, width, height, vignette=0.5, grain=2.2)
        self._veil = glow(height, width, 0.46 * width, 0.30 * height, 0.55 * height, 1.8)[..., None] * np.array(
            [30, 17, 4], np.float32
        )

    def frame(self, seconds: float) -> np.ndarray:
        """(h, w, 4) uint8 opaque RGBA at a moment."""
        picture = self._ground.copy()
        surface, canvas = canvas_on(picture)
        canvas.scale(self.unit, self.unit)
        fill = 0.52 + 0.016 * seconds
        self._jar(canvas, 250, 640, 190, 330, 0.86, seconds, False)
        self._jar(canvas, 556, 668, 250, 420, fill, seconds, True)
        self._hands(canvas, seconds)
        del canvas, surface
        over(picture, self._lid)
        return self._finish(picture, seconds, self._veil)

    def _paint_ground(self, rng) -> np.ndarray:
        height, width, u = self.height, self.width, self.unit
        back = np.repeat(
            wash([(0, "#3a2a1c"), (0.5, "#7b5127"), (0.78, "#a06a2e"), (1, "#3a2717")], height)[:, None], width, 1
        )
        back = back * (0.8 + 0.4 * noise(rng, height, width, (0.5 * height, 0.3 * width), 3)[..., None])
        light = glow(height, width, 0.46 * width, 0.28 * height, 0.42 * height, 1.9)
        back = lay(back, np.broadcast_to(colour("#ffdf9e"), back.shape), light * 0.75)
        picture = premultiplied(np.clip(back, 0, 1).astype(np.float32), np.ones((height, width), np.float32))
        surface, canvas = canvas_on(picture)
        canvas.scale(u, u)
        for _ in range(26):
            x, y, r = rng.uniform(0, 1280), rng.uniform(20, 480), rng.uniform(14, 54)
            canvas.drawCircle(
                x, y, r, ink(("#ffca70", "#e79a3c", "#fff0c0")[int(rng.integers(3))], rng.uniform(0.05, 0.2))
            )
        del canvas, surface
        picture = cv2.GaussianBlur(picture, (0, 0), 5 * u, borderType=cv2.BORDER_REPLICATE)
        picture[..., 3] = 255
        surface, canvas = canvas_on(picture)
        canvas.scale(u, u)
        canvas.drawRect(skia.Rect(-5, 606, 1285, 725), _between("#8c6136", "#2a1b10", (0, 606, 0, 720)))
        canvas.drawRect(skia.Rect(-5, 604, 1285, 608), ink("#f0c07a", 0.7))
        for _ in range(80):
            y, x = 612 + 108 * rng.random() ** 1.4, rng.uniform(-100, 1250)
            canvas.drawLine(
                x,
                y,
                x + rng.uniform(90, 380),
                y + rng.uniform(-2, 2),
                ink("#1c1109", rng.uniform(0.08, 0.32), StrokeWidth=rng.uniform(0.8, 2)),
            )
        del canvas, surface
        return picture

    def _jar(self, canvas, x: float, foot: float, wide: float, tall: float, fill: float, t: float, open_: bool) -> None:
        """A jar of honey with the light behind: brightest in the middle, dark glass edges."""
        half, top = wide / 2, foot - tall
        canvas.drawOval(skia.Rect(x - half * 1.25, foot - 16, x + half * 1.35, foot + 26), _soft(12, "#120a04", 0.7))
        canvas.drawOval(skia.Rect(x - half * 0.7, foot + 4, x + half * 0.9, foot + 40), _soft(14, "#ffb340", 0.5))
        glass = skia.Path()
        glass.addRoundRect(skia.Rect(x - half, top, x + half, foot), wide * 0.13, wide * 0.13)
        canvas.drawPath(glass, ink("#f7dfae", 0.17))
        level = foot - 12 - (tall - 40) * fill
        canvas.save()
        canvas.clipPath(glass, doAntiAlias=True)
        honey = skia.Paint(
            AntiAlias=True,
            Shader=skia.GradientShader.MakeLinear(
                [skia.Point(x - half, 0), skia.Point(x + half, 0)],
                [0xFF5E2A06, 0xFFC9771A, 0xFFFFC24A, 0xFFD98A22, 0xFF572504],
                [0, 0.2, 0.46, 0.76, 1],
            ),
        )
        canvas.drawRect(skia.Rect(x - half, level, x + half, foot), honey)
        canvas.drawRect(
            skia.Rect(x - half, level, x + half, foot),
            skia.Paint(
                AntiAlias=True,
                Shader=skia.GradientShader.MakeLinear(
                    [skia.Point(0, level), skia.Point(0, foot)], [0x40FFF0B8, 0x00000000, 0x903A1502], [0, 0.4, 1]
                ),
            ),
        )
        canvas.drawOval(skia.Rect(x - half, level - 9, x + half, level + 9), ink("#ffdc86", 0.85))
        if open_:
            for ring in range(3):
                grown = (t * 0.8 + ring / 3) % 1
                canvas.drawOval(
                    skia.Rect(x - 60 * grown, level - 5 * grown, x + 60 * grown, level + 5 * grown),
                    ink("#fff4cc", 0.6 * (1 - grown), Style=skia.Paint.kStroke_Style, StrokeWidth=1.6),
                )
        for bubble in range(7):
            by = foot - 20 - ((bubble * 53 + t * (3 + bubble % 3)) % max(20.0, foot - level - 30))
            canvas.drawCircle(x + half * 0.75 * math.sin(bubble * 2.4), by, 1.6 + bubble % 3, ink("#fff0b8", 0.5))
        canvas.restore()
        canvas.drawRoundRect(
            skia.Rect(x - half * 0.86, top + 26, x - half * 0.74, foot - 30), 5, 5, ink("#fff8e4", 0.62)
        )
        canvas.drawRoundRect(
            skia.Rect(x + half * 0.80, top + 40, x + half * 0.85, foot - 60), 3, 3, ink("#fff8e4", 0.4)
        )
        canvas.drawPath(glass, ink("#2b1606", 0.55, Style=skia.Paint.kStroke_Style, StrokeWidth=3))
        if open_:
            canvas.drawOval(skia.Rect(x - half * 0.93, top - 12, x + half * 0.93, top + 14), ink("#fff1cf", 0.3))
            canvas.drawOval(
                skia.Rect(x - half * 0.93, top - 12, x + half * 0.93, top + 14),
                ink("#3a200c", 0.6, Style=skia.Paint.kStroke_Style, StrokeWidth=3),
            )
        else:
            canvas.drawRoundRect(
                skia.Rect(x - half * 0.94, top - 34, x + half * 0.94, top + 10),
                7,
                7,
                _between("#d9c19a", "#5c4327", (x - half, 0, x + half, 0)),
            )
            for groove in range(18):
                gx = x - half * 0.9 + groove * wide * 0.9 / 17
                canvas.drawLine(gx, top - 28, gx, top + 6, ink("#3a2815", 0.35, StrokeWidth=1.6))
        self._label(canvas, x, foot - tall * 0.36, wide * 0.64)

    def _label(self, canvas, x: float, y: float, wide: float) -> None:
        canvas.drawRoundRect(
            skia.Rect(x - wide / 2, y - wide * 0.36, x + wide / 2, y + wide * 0.36),
            4,
            4,
            _between("#f1e3c4", "#a98c60", (x - wide / 2, 0, x + wide / 2, 0)),
        )
        corners = [
            skia.Point(
                x + wide * 0.17 * math.cos(math.pi / 3 * k + math.pi / 6),
                y - wide * 0.05 + wide * 0.17 * math.sin(math.pi / 3 * k + math.pi / 6),
            )
            for k in range(6)
        ]
        canvas.drawPath(
            skia.Path.Polygon(corners, True),
            ink("#5d3d17", 0.9, Style=skia.Paint.kStroke_Style, StrokeWidth=wide * 0.035),
        )
        canvas.drawLine(
            x - wide * 0.3,
            y + wide * 0.23,
            x + wide * 0.3,
            y + wide * 0.23,
            ink("#5d3d17", 0.7, StrokeWidth=wide * 0.02),
        )

    def _hands(self, canvas, t: float) -> None:
        """One hand steadies the jar, the other turns the dipper above it."""
        lift = 5 * math.sin(0.9 * t)
        turn = 6 * math.sin(0.55 * t)
        # Honey: a thread that wavers a little and widens where it leaves the wood.
        thread = skia.Path()
        thread.moveTo(548, 176 + lift)
        thread.quadTo(552 + 4 * math.sin(2.1 * t), 300, 556, 446 - 7 * t)
        canvas.drawPath(
            thread, ink("#ffb638", 0.95, Style=skia.Paint.kStroke_Style, StrokeWidth=9, StrokeCap=skia.Paint.kRound_Cap)
        )
        canvas.drawPath(thread, ink("#fff0b4", 0.8, Style=skia.Paint.kStroke_Style, StrokeWidth=2.4))
        canvas.save()
        canvas.translate(548, 120 + lift)
        canvas.rotate(24 + turn)
        canvas.drawRoundRect(skia.Rect(-7, -330, 7, 10), 6, 6, _between("#caa06a", "#6e4722", (-8, 0, 8, 0)))
        for ring in range(6):
            half = 26 * math.sin(math.pi * (ring + 1.3) / 8) + 8
            canvas.drawRoundRect(
                skia.Rect(-half, -14 + ring * 13, half, -5 + ring * 13),
                5,
                5,
                _between("#d9a54e", "#74410f", (-half, 0, half, 0)),
            )
            canvas.drawRoundRect(
                skia.Rect(-half + 3, -6 + ring * 13, half - 3, -1 + ring * 13), 3, 3, ink("#ffb93c", 0.95)
            )
        canvas.restore()
        self._hand(canvas, 640, 22 + lift, 1.0, -16 + turn * 0.5)
        canvas.save()
        canvas.translate(0, 1.2 * math.sin(0.7 * t + 1))
        self._steadying(canvas)
        canvas.restore()

    def _hand(self, canvas, x: float, y: float, size: float, angle: float) -> None:
        """A right hand from above, thumb and fingers closed on a stick; the sleeve runs out of the frame."""
        canvas.save()
        canvas.translate(x, y)
        canvas.rotate(angle)
        canvas.scale(size, size)
        canvas.drawPath(
            _blob([(60, -66), (420, -190), (470, -60), (440, 60), (96, 58)]),
            _between("#7f8a76", "#3b4239", (60, -100, 200, 90)),
        )
        for rib in range(5):
            canvas.drawLine(80 + rib * 11, -70 + rib * -3, 104 + rib * 10, 56, ink("#20251f", 0.4, StrokeWidth=3))
        skin, shade = "#e0a47a", "#7f4a2e"
        canvas.drawPath(
            _blob([(-36, -34), (20, -66), (92, -58), (108, 0), (88, 54), (24, 62), (-24, 40)]),
            _between(skin, shade, (0, -60, 40, 74)),
        )
        for finger in range(4):
            y0 = -40 + finger * 25
            canvas.drawPath(
                _blob(
                    [
                        (30, y0 - 13),
                        (-34, y0 - 16),
                        (-84 + finger * 6, y0 + 2),
                        (-92 + finger * 8, y0 + 16),
                        (-74 + finger * 6, y0 + 22),
                        (-30, y0 + 12),
                        (30, y0 + 14),
                    ]
                ),
                _between(skin, shade, (0, y0 - 18, 0, y0 + 26)),
            )
            canvas.drawPath(
                _blob(
                    [
                        (-92 + finger * 8, y0 + 8),
                        (-80 + finger * 8, y0 + 2),
                        (-72 + finger * 8, y0 + 14),
                        (-84 + finger * 8, y0 + 19),
                    ]
                ),
                ink("#f6cfae", 0.75),
            )
        canvas.drawPath(
            _blob([(36, 22), (-8, 44), (-56, 46), (-78, 58), (-66, 74), (-20, 78), (40, 66)]),
            _between(skin, shade, (0, 30, 0, 84)),
        )
        canvas.drawPath(_blob([(-30, -40), (30, -62), (88, -56), (60, -46), (0, -40)]), _soft(6, "#ffe2ba", 0.6))
        canvas.restore()

    def _steadying(self, canvas) -> None:
        """The left hand round the jar: forearm from below right, fingers lying on the glass."""
        canvas.drawPath(
            _blob([(770, 560), (1040, 640), (1320, 680), (1320, 790), (820, 780), (726, 690)]),
            _between("#7f8a76", "#343a33", (780, 560, 760, 760)),
        )
        skin, shade = "#d99b70", "#6f3f27"
        canvas.drawPath(
            _blob([(690, 470), (760, 520), (812, 592), (806, 690), (742, 714), (690, 660), (664, 560)]),
            _between(skin, shade, (660, 480, 800, 720)),
        )
        for finger in range(4):
            y = 474 + finger * 47
            reach = 96 - abs(finger - 1) * 15
            canvas.drawPath(
                _blob(
                    [
                        (716, y - 18),
                        (660, y - 22),
                        (664 - reach, y - 14),
                        (654 - reach, y + 3),
                        (666 - reach, y + 18),
                        (664, y + 20),
                        (716, y + 22),
                    ]
                ),
                _between(skin, shade, (0, y - 24, 0, y + 28)),
            )
            canvas.drawPath(
                _blob([(656 - reach, y - 6), (672 - reach, y - 11), (678 - reach, y + 3), (664 - reach, y + 11)]),
                ink("#f3c6a2", 0.8),
            )
            canvas.drawLine(690, y + 21, 640, y + 21, ink("#4a2613", 0.5, StrokeWidth=2))

    def _paint_lid(self) -> np.ndarray:
        """A lid near the lens, far out of focus."""
        layer = np.zeros((self.height, self.width, 4), np.uint8)
        surface, canvas = canvas_on(layer)
        canvas.scale(self.unit, self.unit)
        canvas.drawOval(skia.Rect(-120, 610, 250, 800), ink("#b8935c"))
        canvas.drawOval(skia.Rect(-90, 622, 220, 760), ink("#6f4f2a"))
        del canvas, surface
        return cv2.GaussianBlur(layer, (0, 0), 13 * self.unit)
