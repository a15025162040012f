"""The heath at evening: drifting clouds, hives in the heather, grass in the wind, bees going home."""

from __future__ import annotations

import math
from dataclasses import dataclass

import cv2
import numpy as np
import skia

from ..core.picture import Patch, over
from .finish import Finish
from .paintbox import (
    below,
    canvas_on,
    colour,
    glow,
    ink,
    lay,
    noise,
    premultiplied,
    ridge,
    scrolled,
    smooth,
    trimmed,
    wash,
)


@dataclass(frozen=True, slots=True)
class _Blade:
    x: float
    foot: float
    height: float
    lean: float
    width: float
    phase: float
    paint: skia.Paint


@dataclass(frozen=True, slots=True)
class _Bee:
    x: float
    y: float
    reach: float
    pace: float
    phase: float
    size: float


class Heath:
    """A wide shot. `frame(t)` paints the moment t seconds in; same size and seed, same pixels."""

    def __init__(self, width: int = 1280, height: int = 720, seed: int = 7) -> None:
        self.width, self.height = width, height
        self.unit = height / 720
        self.sun = (0.872 * width, 0.548 * height)
        rng = np.random.default_rng(seed)
        self._light = glow(height, width, *self.sun, 0.42 * height, 1.7)
        self._sky = self._paint_sky()
        self._clouds = [
            trimmed(self._paint_clouds(rng, 0.02, 0.40, (0.10, 0.62), 0.50, 0.80)),
            trimmed(self._paint_clouds(rng, 0.20, 0.56, (0.050, 0.40), 0.53, 0.78)),
        ]
        self._far = trimmed(self._paint_far(rng))
        self._mist = trimmed(self._paint_mist(rng))
        self._near = trimmed(self._paint_near(rng))
        self._back_grass = self._plant(rng, 520, 0.80, 0.93, (16, 40), ("#2d2a22", "#3b3527", "#57492f", "#6d5a38"))
        self._front_grass = self._plant(rng, 150, 0.97, 1.05, (70, 150), ("#15130f", "#1b1813", "#221d15"))
        self._bees = [
            _Bee(
                rng.uniform(0.12, 0.62) * width,
                rng.uniform(0.58, 0.76) * height,
                rng.uniform(30, 120) * self.unit,
                rng.uniform(0.5, 1.3),
                rng.uniform(0, 9),
                rng.uniform(1.5, 3.0) * self.unit,
            )
            for _ in range(22)
        ]
        self._finish = Finish(rng, width, height)
        self._veil = self._light[..., None] * np.array([26, 15, 5], np.float32)

    def frame(self, seconds: float) -> np.ndarray:
        """(h, w, 4) uint8 opaque RGBA."""
        u, picture = self.unit, self._sky.astype(np.float32)
        for clouds, pace in zip(self._clouds, (7.0, 15.0)):
            over(picture, scrolled(clouds, pace * u * seconds, self.width))
        over(picture, self._far)
        over(picture, scrolled(self._mist, 10 * u * seconds + 30, self.width))
        over(picture, self._near)
        picture = cv2.convertScaleAbs(picture)
        surface, canvas = canvas_on(picture)
        self._draw_grass(canvas, self._back_grass, seconds, 1.0)
        self._draw_bees(canvas, seconds)
        del canvas, surface
        self._draw_front(picture, seconds)
        return self._finish(picture, seconds, self._veil, 0.94)

    def _paint_sky(self) -> np.ndarray:
        tones = wash(
            [
                (0, "#243149"),
                (0.22, "#424d68"),
                (0.40, "#74677a"),
                (0.52, "#ab7d72"),
                (0.60, "#d8a577"),
                (1, "#dba877"),
            ],
            self.height,
        )
        sky = np.repeat(tones[:, None], self.width, 1)
        sky = sky + self._light[..., None] * (colour("#ffdb9b") - sky) * 0.85
        disc = glow(self.height, self.width, *self.sun, 0.052 * self.height, 14)
        return premultiplied(
            lay(sky, np.broadcast_to(colour("#fff3d2"), sky.shape), disc), np.ones(disc.shape, np.float32)
        )

    def _paint_clouds(self, rng, top: float, foot: float, cell, low: float, high: float) -> np.ndarray:
        """A wide strip of cloud, cool above and lit from below."""
        height, width = self.height, int(self.width * 1.3)
        body = noise(rng, height, width, (cell[0] * height, cell[1] * self.width), 6, 0.55)
        rows = np.linspace(0, 1, height, dtype=np.float32)[:, None]
        band = smooth(top - 0.12, top + 0.08, rows) * (1 - smooth(foot - 0.14, foot + 0.04, rows))
        coverage = smooth(low, high, body * (0.55 + 0.45 * band) + 0.10 * band - 0.02) * band
        shift = int(0.022 * height)
        under = np.clip((body - np.roll(body, -shift, 0)) * 4.5 + 0.35, 0, 1)
        under *= np.clip(0.35 + rows * 1.3, 0, 1)
        shade = lay(
            np.broadcast_to(colour("#454c68"), (height, width, 3)),
            np.broadcast_to(colour("#eab488"), (height, width, 3)),
            under,
        )
        return premultiplied(shade.astype(np.float32), coverage * 0.86)

    def _paint_far(self, rng) -> np.ndarray:
        """Three ridges, each further into the haze, with pines on the second."""
        height, width, u = self.height, self.width, self.unit
        picture = np.zeros((height, width, 3), np.float32)
        coverage = np.zeros((height, width), np.float32)
        layers = [
            ("#9c7570", 0.560, 0.020, 2.2, 1.5),
            ("#77606a", 0.600, 0.034, 2.6, 2.2),
            ("#544a55", 0.650, 0.040, 1.9, 2.6),
        ]
        for number, (tone, base, swell, cells, rough) in enumerate(layers):
            line = ridge(rng, width, base * height, swell * height, cells, rough * u)
            mask = below(line, height)
            pines = self._pines(rng, line, number) if number else np.zeros_like(mask)
            depth = np.clip((np.arange(height)[:, None] - line[None, :]) / (0.14 * height), 0, 1).astype(np.float32)
            ground = colour(tone) * (1.06 - 0.30 * depth[..., None])
            ground = ground * (0.90 + 0.20 * noise(rng, height, width, (9 * u, 60 * u), 4)[..., None])
            # Low sun rakes over the ridge tops.
            rim = np.exp(-depth * 26) * self._light * (1.1 - 0.2 * number)
            ground = ground + rim[..., None] * colour("#ffca8a") * 0.75
            ground = lay(ground, np.broadcast_to(colour("#e9b98f"), ground.shape), self._light * (0.42 - 0.11 * number))
            trees = lay(
                np.broadcast_to(colour(tone) * 0.62, ground.shape),
                np.broadcast_to(colour("#e2a985"), ground.shape),
                self._light * 0.55,
            )
            for part, shape in ((trees, pines), (ground, mask)):
                picture = picture * (1 - shape[..., None]) + np.clip(part, 0, 1) * shape[..., None]
                coverage = coverage + (1 - coverage) * shape
        full = np.dstack([picture, coverage])
        return np.ascontiguousarray(np.clip(full * 255 + 0.5, 0, 255).astype(np.uint8))

    def _pines(self, rng, line: np.ndarray, number: int) -> np.ndarray:
        """A copse standing on a ridge."""
        mask = np.zeros((self.height, self.width, 4), np.uint8)
        surface, canvas = canvas_on(mask)
        paint = ink("#ffffff")
        for centre, spread, count in (
            ((0.16, 0.075, 16), (0.90, 0.08, 20)) if number == 1 else ((0.03, 0.05, 9), (0.43, 0.028, 6))
        ):
            for place in rng.normal(centre, spread / 2, count):
                x = float(np.clip(place, 0, 0.999)) * self.width
                foot = float(line[int(x)]) + 3 * self.unit
                tall = rng.uniform(13, 31) * self.unit * (1 + 0.45 * (number - 1))
                wide = tall * rng.uniform(0.16, 0.26)
                for tier in range(5):
                    low = foot - tall * (0.12 + 0.16 * tier)
                    half = wide * (1 - tier / 5.6) * rng.uniform(0.8, 1.15)
                    tip = low - tall * 0.30
                    canvas.drawPath(
                        skia.Path.Polygon(
                            [
                                skia.Point(x - half, low),
                                skia.Point(x + rng.uniform(-1, 1), tip),
                                skia.Point(x + half, low),
                            ],
                            True,
                        ),
                        paint,
                    )
                canvas.drawRect(skia.Rect(x - tall * 0.025, foot - tall * 0.2, x + tall * 0.025, foot), paint)
        del canvas, surface
        return mask[..., 3].astype(np.float32) / 255

    def _paint_mist(self, rng) -> np.ndarray:
        height, width = self.height, int(self.width * 1.3)
        rows = np.linspace(0, 1, height, dtype=np.float32)[:, None]
        band = np.exp(-(((rows - 0.672) / 0.030) ** 2)) + 0.6 * np.exp(-(((rows - 0.615) / 0.018) ** 2))
        wisps = noise(rng, height, width, (0.05 * height, 0.55 * self.width), 5, 0.5)
        return premultiplied(
            np.broadcast_to(colour("#f0c9a4"), (height, width, 3)),
            (band * smooth(0.30, 0.85, wisps) * 0.62).astype(np.float32),
        )

    def _paint_near(self, rng) -> np.ndarray:
        """The near slope: heather, a worn path, three hives with the sun behind them."""
        height, width, u = self.height, self.width, self.unit
        columns = np.linspace(0, 1, width, dtype=np.float32)
        line = ridge(rng, width, 0.735 * height, 0.016 * height, 1.6, 2.5 * u)
        line += (0.030 * height * np.cos((columns - 0.15) * 4.2)).astype(np.float32)
        mask = below(line, height)
        depth = np.clip((np.arange(height)[:, None] - line[None, :]) / (0.27 * height), 0, 1).astype(np.float32)
        ground = lay(
            np.broadcast_to(colour("#5b4a47"), (height, width, 3)),
            np.broadcast_to(colour("#211c19"), (height, width, 3)),
            smooth(0.0, 0.9, depth),
        )
        patches = smooth(0.50, 0.72, noise(rng, height, width, (26 * u, 150 * u), 5, 0.6))
        ground = lay(ground, ground * 0.5 + colour("#6e3f57") * (0.62 - 0.42 * depth[..., None]), patches * 0.85)
        speck = noise(rng, height, width, (3.2 * u, 7 * u), 3, 0.8)
        ground = ground * (0.74 + 0.52 * speck[..., None])
        bloom = smooth(0.80, 0.95, speck) * patches * (1 - 0.5 * depth)
        ground = lay(ground, np.broadcast_to(colour("#b9788f"), ground.shape), bloom * 0.55)
        path_x = 0.60 + 0.10 * depth + 0.07 * np.sin(depth * 5.0)
        path = np.exp(-(((columns[None, :] - path_x) / (0.008 + 0.075 * depth)) ** 2)) * smooth(0, 0.1, depth)
        ground = lay(ground, ground * 0.5 + colour("#a98660") * 0.42, path * 0.62)
        rim = np.exp(-depth * 30) * (0.25 + self._light)
        ground = ground + rim[..., None] * colour("#ffc98c") * 0.55
        ground += (self._light * (1 - depth) * 0.16)[..., None] * colour("#ffcf9a")
        near = premultiplied(np.clip(ground, 0, 1), mask)
        surface, canvas = canvas_on(near)
        for place, foot, size in ((0.165, 0.842, 0.80), (0.262, 0.826, 0.70), (0.078, 0.868, 0.94)):
            self._draw_hive(canvas, rng, place * width, foot * height, size * 92 * u)
        del canvas, surface
        return near

    def _draw_hive(self, canvas, rng, x: float, foot: float, size: float) -> None:
        """Two boxes of weathered boards under a lid; the sun is far to the right, behind."""
        half, lift = size * 0.50, size * 0.52
        shadow = ink("#0c0a09", 0.55, MaskFilter=skia.MaskFilter.MakeBlur(skia.kNormal_BlurStyle, size * 0.09))
        canvas.drawPath(
            skia.Path.Polygon(
                [
                    skia.Point(x - half, foot),
                    skia.Point(x + half, foot),
                    skia.Point(x - half * 0.2, foot + size * 0.30),
                    skia.Point(x - half * 2.8, foot + size * 0.28),
                ],
                True,
            ),
            shadow,
        )
        for leg in (-0.40, 0.34):
            canvas.drawRect(
                skia.Rect(x + leg * size, foot - size * 0.10, x + (leg + 0.07) * size, foot + size * 0.05),
                ink("#1d1814"),
            )
        for box in range(2):
            low = foot - size * 0.06 - box * lift
            canvas.drawRect(skia.Rect(x - half, low - lift * 0.96, x + half, low), ink("#8b7458" if box else "#7d6850"))
            for board in range(4):
                y = low - lift * (0.08 + 0.23 * board)
                canvas.drawLine(x - half, y, x + half, y, ink("#3a2f25", 0.55, StrokeWidth=max(1.0, size * 0.012)))
                for _ in range(6):
                    start = rng.uniform(-0.9, 0.5) * half
                    rise = rng.uniform(0.02, 0.2) * lift
                    canvas.drawLine(
                        x + start,
                        y - rise,
                        x + start + rng.uniform(0.1, 0.5) * half,
                        y - rise,
                        ink("#b79b78", 0.22, StrokeWidth=max(0.7, size * 0.008)),
                    )
            # Shade on the left, raked light on the right edge.
            shade = skia.GradientShader.MakeLinear(
                [skia.Point(x - half, 0), skia.Point(x + half, 0)], [0xB0140F0C, 0x30140F0C, 0x60FFC383], [0, 0.72, 1]
            )
            canvas.drawRect(
                skia.Rect(x - half, low - lift * 0.96, x + half, low), skia.Paint(Shader=shade, AntiAlias=True)
            )
        canvas.drawRect(
            skia.Rect(x - half * 0.34, foot - size * 0.155, x + half * 0.34, foot - size * 0.095), ink("#0f0c0a")
        )
        canvas.drawRect(
            skia.Rect(x - half * 0.46, foot - size * 0.085, x + half * 0.46, foot - size * 0.06), ink("#a58a66")
        )
        top = foot - size * 0.06 - 2 * lift
        canvas.drawRect(
            skia.Rect(x - half * 1.13, top - size * 0.075, x + half * 1.13, top + size * 0.035), ink("#4a4038")
        )
        canvas.drawRect(
            skia.Rect(x - half * 1.13, top - size * 0.095, x + half * 1.13, top - size * 0.065), ink("#e3b98a", 0.85)
        )

    def _plant(self, rng, count: int, top: float, foot: float, tall, tones) -> list[_Blade]:
        blades = []
        for _ in range(count):
            share = rng.random()
            blades.append(
                _Blade(
                    x=rng.uniform(-0.02, 1.02) * self.width,
                    foot=(top + (foot - top) * share) * self.height,
                    height=rng.uniform(*tall) * self.unit * (0.6 + 0.6 * share),
                    lean=rng.normal(0, 0.22),
                    width=rng.uniform(1.0, 2.3) * self.unit * (0.5 + tall[1] / 90),
                    phase=rng.uniform(0, 6.28),
                    paint=ink(tones[int(rng.integers(len(tones)))], 0.92),
                )
            )
        return sorted(blades, key=lambda blade: blade.foot)

    def _wind(self, x: float, seconds: float, phase: float) -> float:
        """Gusts roll from left to right; each blade trembles on its own."""
        gust = math.sin(1.1 * seconds - 5.5 * x / self.width) + 0.5 * math.sin(2.3 * seconds - 11 * x / self.width + 1)
        return 0.13 + 0.11 * gust + 0.035 * math.sin(5.1 * seconds + phase)

    def _draw_grass(self, canvas, blades: list[_Blade], seconds: float, sway: float) -> None:
        for blade in blades:
            bend = blade.lean + sway * self._wind(blade.x, seconds, blade.phase)
            tip_x, tip_y = blade.x + bend * blade.height * 1.3, blade.foot - blade.height * (1 - 0.28 * bend * bend)
            mid_x, mid_y = blade.x + bend * blade.height * 0.30, blade.foot - blade.height * 0.62
            path = skia.Path()
            path.moveTo(blade.x - blade.width, blade.foot)
            path.quadTo(mid_x - blade.width * 0.4, mid_y, tip_x, tip_y)
            path.quadTo(mid_x + blade.width * 0.8, mid_y, blade.x + blade.width, blade.foot)
            path.close()
            canvas.drawPath(path, blade.paint)

    def _draw_bees(self, canvas, seconds: float) -> None:
        body, wing = ink("#2a1d10", 0.95), ink("#ffe9c4", 0.55)
        for bee in self._bees:
            t = seconds * bee.pace + bee.phase
            x = bee.x + bee.reach * (math.sin(1.3 * t) + 0.45 * math.sin(3.1 * t + 1) + 0.15 * math.sin(9.2 * t))
            y = bee.y + bee.reach * 0.42 * (math.sin(1.7 * t + 2) + 0.4 * math.sin(4.3 * t) + 0.2 * math.sin(11 * t))
            flap = bee.size * (0.7 + 0.5 * abs(math.sin(41 * t)))
            canvas.drawOval(skia.Rect(x - bee.size * 0.9, y - flap * 1.5, x + bee.size * 0.4, y), wing)
            canvas.drawOval(skia.Rect(x - bee.size, y - bee.size * 0.55, x + bee.size, y + bee.size * 0.55), body)

    def _draw_front(self, picture: np.ndarray, seconds: float) -> None:
        """Grass close to the lens; it is out of focus, so half of its px tell all of it."""
        top = int(self.height * 0.72) // 2
        strip = np.zeros(((self.height + 1) // 2 - top, (self.width + 1) // 2, 4), np.uint8)
        surface, canvas = canvas_on(strip)
        canvas.translate(0, -top)
        canvas.scale(0.5, 0.5)
        self._draw_grass(canvas, self._front_grass, seconds, 1.25)
        del canvas, surface
        soft = cv2.GaussianBlur(strip, (0, 0), 1.6 * self.unit)
        grass = cv2.resize(soft, None, fx=2, fy=2, interpolation=cv2.INTER_LINEAR)
        over(picture, Patch(grass[: self.height - 2 * top, : self.width], 0, 2 * top))
