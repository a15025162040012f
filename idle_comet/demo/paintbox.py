"""What the demo's illustrations are painted with: noise, washes, light, soft edges."""

from __future__ import annotations

import cv2
import numpy as np
import skia

from ..core.picture import Patch


def colour(text: str) -> np.ndarray:
    """`#rrggbb` as three floats 0..1."""
    return np.array([int(text[i : i + 2], 16) for i in (1, 3, 5)], np.float32) / 255


def noise(
    rng: np.random.Generator, height: int, width: int, cell: tuple[float, float], octaves: int = 5, fall: float = 0.5
) -> np.ndarray:
    """Cloud-like noise 0..1 of (height, width); `cell` is the largest feature's height and width in px."""
    total, weight = np.zeros((height, width), np.float32), 0.0
    for octave in range(octaves):
        rows = max(2, int(height / cell[0] * 2**octave) + 3)
        columns = max(2, int(width / cell[1] * 2**octave) + 3)
        grid = rng.random((rows, columns), np.float32)
        total += cv2.resize(grid, (width, height), interpolation=cv2.INTER_CUBIC) * fall**octave
        weight += fall**octave
    total /= weight
    low, high = np.quantile(total, (0.002, 0.998))
    return np.clip((total - low) / (high - low), 0, 1)


def smooth(low: float, high: float, values: np.ndarray) -> np.ndarray:
    """0 below `low`, 1 above `high`, 3u² − 2u³ between."""
    u = np.clip((values - low) / (high - low), 0, 1)
    return u * u * (3 - 2 * u)


def wash(stops: list[tuple[float, str]], count: int) -> np.ndarray:
    """(count, 3) colours through stops (place 0..1, colour)."""
    places = np.linspace(0, 1, count)
    known = [place for place, _ in stops]
    colours = np.array([colour(text) for _, text in stops])
    return np.stack([np.interp(places, known, colours[:, channel]) for channel in range(3)], 1).astype(np.float32)


def ridge(rng: np.random.Generator, width: int, base: float, swell: float, cells: float, rough: float) -> np.ndarray:
    """Heights (y per column) of a hill line: slow swells with a little roughness."""
    slow = noise(rng, 4, width, (4, width / cells), 3, 0.45)[1]
    fine = noise(rng, 4, width, (4, width / (cells * 14)), 4, 0.6)[1]
    return base - swell * (slow - 0.5) * 2 - rough * (fine - 0.5) * 2


def below(line: np.ndarray, height: int) -> np.ndarray:
    """Coverage 0..1 of everything under a line, antialiased."""
    rows = np.arange(height, dtype=np.float32)[:, None] + 0.5
    return np.clip(rows - line[None, :] + 0.5, 0, 1)


def glow(height: int, width: int, x: float, y: float, radius: float, power: float = 2.0) -> np.ndarray:
    """Light falling off from a point, 1 at its centre."""
    rows, columns = np.mgrid[0:height, 0:width].astype(np.float32)
    distance = np.sqrt((columns - x) ** 2 + (rows - y) ** 2) / radius
    return 1 / (1 + distance**power)


def lay(under: np.ndarray, over: np.ndarray, coverage: np.ndarray) -> np.ndarray:
    """`over` on `under` (float pictures) by a coverage of (h, w)."""
    return under + (over - under) * coverage[..., None]


def premultiplied(picture: np.ndarray, coverage: np.ndarray) -> np.ndarray:
    """Float colour and coverage as (h, w, 4) uint8 premultiplied."""
    full = np.dstack([picture * coverage[..., None], coverage])
    return np.ascontiguousarray(np.clip(full * 255 + 0.5, 0, 255).astype(np.uint8))


def canvas_on(pixels: np.ndarray) -> tuple[skia.Surface, skia.Canvas]:
    """A canvas that draws into premultiplied (h, w, 4) uint8 pixels."""
    height, width = pixels.shape[:2]
    info = skia.ImageInfo.Make(width, height, skia.ColorType.kRGBA_8888_ColorType, skia.AlphaType.kPremul_AlphaType)
    surface = skia.Surface.MakeRasterDirect(info, pixels, width * 4)
    return surface, surface.getCanvas()


def ink(text: str, alpha: float = 1.0, **more) -> skia.Paint:
    """An antialiased paint of a colour."""
    red, green, blue = colour(text)
    return skia.Paint(Color4f=skia.Color4f(float(red), float(green), float(blue), alpha), AntiAlias=True, **more)


def trimmed(picture: np.ndarray) -> Patch:
    """A layer of (h, w, 4) without the rows above and below in which nothing is painted."""
    rows = np.flatnonzero(picture[..., 3].any(axis=1))
    top, foot = (int(rows[0]), int(rows[-1]) + 1) if len(rows) else (0, 1)
    return Patch(np.ascontiguousarray(picture[top:foot]), 0, top)


def scrolled(layer: Patch, x: float, width: int) -> Patch:
    """A window of a wide layer from x on, to the sub-pixel."""
    picture = layer.pixels
    affine = np.array([[1, 0, -x], [0, 1, 0]], np.float64)
    seen = cv2.warpAffine(
        picture, affine, (width, picture.shape[0]), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT
    )
    return Patch(seen, 0, layer.y)
