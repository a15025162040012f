"""How a surface looks: what it sends back of the lights and of its surroundings.

A surface has a colour, is more or less metal and more or less rough. What it scatters follows Lambert's cosine; what
it mirrors is the microfacet model of Trowbridge and Reitz (GGX) with Smith's shadowing and Schlick's Fresnel, as glTF
2.0 (appendix B) has it. A light of strength 1 makes a white surface that faces it exactly white. Everything is light,
not code values.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from ..picture import kernel

# Numbers are handed over one by one and whole arrays as they are: for every row of an array that is handed over, the
# compiler counts who holds it, which takes longer than most of what is worked out here.


class Painted(NamedTuple):
    """All that surfaces are shaded by, as arrays of numbers.

    `surfaces` (n, 14): colour (3), metal, roughness, what it shines with by itself (3), how much it mirrors head-on
    where it is no metal, and the numbers of its textures, −1 for none: colour, metal and roughness, shine; then whether
    its colour is seen as it is, unlit.

    `lights` (n, 16), see `lights.py`. `around` (levels, h, w, 3): the surroundings, sharp to blurred. `texels` and
    `sheets` (n, 3): all textures one after the other, each as a pyramid; of every sheet where it begins, how wide and
    how high it is; a texture's number is that of its first sheet, and its smaller ones follow down to 1 × 1.

    `maps` (n, side, side) say how near the nearest is that each light sees (see `nearness_of`), and `views` (n, 14)
    through what: its place, its right, its down and its ahead (3 each), how large it sees what is 1 px away, and how
    wide the light is. A light that sees things 0 px large throws no shadow; where there are no maps, none does."""

    surfaces: np.ndarray
    lights: np.ndarray
    around: np.ndarray
    texels: np.ndarray
    sheets: np.ndarray
    maps: np.ndarray = np.zeros((0, 1, 1), np.float32)
    views: np.ndarray = np.zeros((0, 14))

    @property
    def shape_alone(self) -> Painted:
        """The same surfaces in one plain colour each: where only what they cover counts, nothing is shaded."""
        plain = self.surfaces.copy()
        plain[:, 9], plain[:, 12] = -1, 1
        return self._replace(surfaces=plain, maps=self.maps[:0], views=self.views[:0])


_FOUR, _THREE = "UniTuple(float64, 4)", "UniTuple(float64, 3)"


@kernel(f"{_FOUR}(uint8[::1], int64[:,::1], int64, float64, float64)")
def _texel(texels, sheets, sheet, u, v):
    """Between four texels; the picture goes on as it begins. Code values 0..1 and coverage."""
    begin, width, height = sheets[sheet, 0], sheets[sheet, 1], sheets[sheet, 2]
    x, y = (u - math.floor(u)) * width - 0.5, (v - math.floor(v)) * height - 0.5
    x0, y0 = int(math.floor(x)), int(math.floor(y))
    fx, fy = x - x0, y - y0
    x1, y1 = (x0 + 1) % width, (y0 + 1) % height
    x0, y0 = x0 % width, y0 % height
    a, b = begin + 4 * (y0 * width + x0), begin + 4 * (y0 * width + x1)
    c, d = begin + 4 * (y1 * width + x0), begin + 4 * (y1 * width + x1)
    wa, wb, wc, wd = (1 - fx) * (1 - fy) / 255, fx * (1 - fy) / 255, (1 - fx) * fy / 255, fx * fy / 255
    return (
        wa * texels[a] + wb * texels[b] + wc * texels[c] + wd * texels[d],
        wa * texels[a + 1] + wb * texels[b + 1] + wc * texels[c + 1] + wd * texels[d + 1],
        wa * texels[a + 2] + wb * texels[b + 2] + wc * texels[c + 2] + wd * texels[d + 2],
        wa * texels[a + 3] + wb * texels[b + 3] + wc * texels[c + 3] + wd * texels[d + 3],
    )


@kernel(f"{_FOUR}(uint8[::1], int64[:,::1], int64, float64, float64, float64)")
def _textured(texels, sheets, first, u, v, part):
    """A texture where a px shows `part` of it: between its two sheets whose texels are about as large."""
    many = part * sheets[first, 1] * sheets[first, 2]
    level = 0.5 * math.log2(max(many, 1.0))
    last = first
    while sheets[last, 1] > 1 or sheets[last, 2] > 1:
        last += 1
    level = min(level, float(last - first))
    below = int(level)
    r, g, b, a = _texel(texels, sheets, first + below, u, v)
    share = level - below
    if share > 1e-6 and first + below < last:
        r1, g1, b1, a1 = _texel(texels, sheets, first + below + 1, u, v)
        r, g, b, a = r + share * (r1 - r), g + share * (g1 - g), b + share * (b1 - b), a + share * (a1 - a)
    return r, g, b, a


@kernel(f"{_THREE}(float32[:,:,:,::1], float64, float64, float64, float64)")
def surrounding(around, x, y, z, rough):
    """What lies in a direction, blurred as a surface so rough has it."""
    levels, height, width = around.shape[0], around.shape[1], around.shape[2]
    u = (math.atan2(x, z) / (2 * math.pi) + 0.5) * width - 0.5
    v = math.acos(min(1.0, max(-1.0, -y))) / math.pi * height - 0.5
    level = rough * (levels - 1)
    first = min(int(level), levels - 1)
    share = level - first
    x0, y0 = int(math.floor(u)), int(math.floor(v))
    fx, fy = u - x0, v - y0
    x1, y1 = (x0 + 1) % width, min(height - 1, y0 + 1)
    x0, y0 = x0 % width, max(0, y0)
    r = g = b = 0.0
    for n in range(2):
        k, much = min(first + n, levels - 1), share if n else 1 - share
        wa, wb = much * (1 - fx) * (1 - fy), much * fx * (1 - fy)
        wc, wd = much * (1 - fx) * fy, much * fx * fy
        r += (
            wa * around[k, y0, x0, 0]
            + wb * around[k, y0, x1, 0]
            + wc * around[k, y1, x0, 0]
            + wd * around[k, y1, x1, 0]
        )
        g += (
            wa * around[k, y0, x0, 1]
            + wb * around[k, y0, x1, 1]
            + wc * around[k, y1, x0, 1]
            + wd * around[k, y1, x1, 1]
        )
        b += (
            wa * around[k, y0, x0, 2]
            + wb * around[k, y0, x1, 2]
            + wc * around[k, y1, x0, 2]
            + wd * around[k, y1, x1, 2]
        )
    return r, g, b


@kernel(f"{_FOUR}(float64[:,::1], int64, float64, float64, float64)")
def reached(lights, n, x, y, z):
    """How much of a light comes to a place, and the way to it (x, y, z): its colour aside, and whatever may lie
    between."""
    if lights[n, 0] == 0:
        return 1.0, 0.0, 0.0, 0.0
    dx, dy, dz = lights[n, 1] - x, lights[n, 2] - y, lights[n, 3] - z
    far = math.sqrt(dx * dx + dy * dy + dz * dz)
    if far < 1e-9:
        return 0.0, 0.0, 0.0, 0.0
    dx, dy, dz = dx / far, dy / far, dz / far
    much = 1.0
    if lights[n, 10] > 0:
        # As light does: by the square of the distance; never more than from a tenth of where it has its strength.
        much = (lights[n, 10] / max(far, 0.1 * lights[n, 10])) ** 2
    if lights[n, 0] == 2:
        cos = -(dx * lights[n, 4] + dy * lights[n, 5] + dz * lights[n, 6])
        inner, outer = lights[n, 11], lights[n, 12]
        t = min(1.0, max(0.0, (cos - outer) / max(inner - outer, 1e-9)))
        much *= t * t * (3 - 2 * t)
    return much, dx, dy, dz


def _spiral(count: int) -> np.ndarray:
    """(count, 2) places spread evenly over a disc of 1, each turned on from the last by the golden angle (H. Vogel, "A
    better way to construct the sunflower head", 1979)."""
    turns, far = np.arange(count) * np.pi * (3 - np.sqrt(5)), np.sqrt((np.arange(count) + 0.5) / count)
    return np.column_stack([far * np.cos(turns), far * np.sin(turns)])


_LOOKED_FOR, _LOOKED_AT = _spiral(16), _spiral(24)
"""Where in a light's picture what is in the way is looked for, and where the shadow's edge is."""


@kernel("float64(float32[:,:,::1], int64, float64, float64, float64)")
def _behind(maps, n, u, v, near):
    """How much of four px of a light's picture around a place is nearer."""
    x, y = int(math.floor(u - 0.5)), int(math.floor(v - 0.5))
    if x < 0 or y < 0 or x + 1 >= maps.shape[2] or y + 1 >= maps.shape[1]:
        return 0.0
    fx, fy = u - 0.5 - x, v - 0.5 - y
    share = 0.0
    if maps[n, y, x] > near:
        share += (1 - fx) * (1 - fy)
    if maps[n, y, x + 1] > near:
        share += fx * (1 - fy)
    if maps[n, y + 1, x] > near:
        share += (1 - fx) * fy
    if maps[n, y + 1, x + 1] > near:
        share += fx * fy
    return share


@kernel("float64(float32[:,:,::1], float64[:,::1], int64, float64, float64, float64, float64, float64, float64)")
def blocked(maps, views, n, x, y, z, nx, ny, nz):
    """How much of a light is kept from a place by what lies between, 0..1.

    A wide light is kept off in part: its edge is as wide as the light is seen past what is in the way, which is looked
    for first (R. Fernando, "Percentage-Closer Soft Shadows", 2005)."""
    focal, wide = views[n, 12], views[n, 13]
    x, y, z = x - views[n, 0], y - views[n, 1], z - views[n, 2]
    far = views[n, 9] * x + views[n, 10] * y + views[n, 11] * z
    if far <= 1e-6:
        return 0.0
    # A little before itself, so that no surface is in its own way: by up to two px of the light's picture, the more it
    # lies across them.
    facing = (nx * x + ny * y + nz * z) / math.sqrt(x * x + y * y + z * z)
    own = far / focal * (0.5 + 1.5 * math.sqrt(max(0.0, 1 - facing * facing)))
    x, y, z = x + nx * own, y + ny * own, z + nz * own
    far = views[n, 9] * x + views[n, 10] * y + views[n, 11] * z
    if far <= 1e-6:
        return 0.0
    side = maps.shape[1]
    u = focal * (views[n, 3] * x + views[n, 4] * y + views[n, 5] * z) / far + side / 2
    v = focal * (views[n, 6] * x + views[n, 7] * y + views[n, 8] * z) / far + side / 2
    near = (1 + own / far) / far
    reach = max(1.5, focal * wide / 2 / far)
    found, total = 0, 0.0
    for k in range(_LOOKED_FOR.shape[0]):
        a, b = int(u + reach * _LOOKED_FOR[k, 0]), int(v + reach * _LOOKED_FOR[k, 1])
        if 0 <= a < side and 0 <= b < side and maps[n, b, a] > near:
            found += 1
            total += maps[n, b, a]
    if found == 0:
        return 0.0
    between = found / total
    reach = max(0.7, focal * wide / 2 * (far - between) / (between * far))
    share = 0.0
    for k in range(_LOOKED_AT.shape[0]):
        share += _behind(maps, n, u + reach * _LOOKED_AT[k, 0], v + reach * _LOOKED_AT[k, 1], near)
    return share / _LOOKED_AT.shape[0]


@kernel(
    "void(float64[:,::1], float64[::1], int64[::1], int64, float64[::1], float64[:,::1], float64[:,::1],"
    " float32[:,:,:,::1], uint8[::1], int64[:,::1], float32[:,:,::1], float64[:,::1], float64[:,::1])"
)
def shaded(points, parts, which, count, eye, surfaces, lights, around, texels, sheets, maps, views, out):
    """The light that comes to the eye from `count` points: `points` (n, 8) are their place, their normal and their
    place on the texture, `parts` how much of the texture is seen in a px, `which` their surface; `out` (n, 3)."""
    for p in range(count):
        s = which[p]
        r, g, b, metal, rough = surfaces[s, 0], surfaces[s, 1], surfaces[s, 2], surfaces[s, 3], surfaces[s, 4]
        sr, sg, sb, head_on = surfaces[s, 5], surfaces[s, 6], surfaces[s, 7], surfaces[s, 8]
        if surfaces[s, 9] >= 0:
            tr, tg, tb, _ = _textured(texels, sheets, int(surfaces[s, 9]), points[p, 6], points[p, 7], parts[p])
            r, g, b = r * tr**2.4, g * tg**2.4, b * tb**2.4
        if surfaces[s, 12] > 0:
            out[p, 0], out[p, 1], out[p, 2] = r + sr, g + sg, b + sb
            continue
        if surfaces[s, 10] >= 0:
            _, tg, tb, _ = _textured(texels, sheets, int(surfaces[s, 10]), points[p, 6], points[p, 7], parts[p])
            rough, metal = rough * tg, metal * tb
        if surfaces[s, 11] >= 0:
            tr, tg, tb, _ = _textured(texels, sheets, int(surfaces[s, 11]), points[p, 6], points[p, 7], parts[p])
            sr, sg, sb = sr * tr**2.4, sg * tg**2.4, sb * tb**2.4
        x, y, z, nx, ny, nz = points[p, 0], points[p, 1], points[p, 2], points[p, 3], points[p, 4], points[p, 5]
        long = 1.0 / max(math.sqrt(nx * nx + ny * ny + nz * nz), 1e-12)
        nx, ny, nz = nx * long, ny * long, nz * long
        vx, vy, vz = eye[0] - x, eye[1] - y, eye[2] - z
        long = 1.0 / max(math.sqrt(vx * vx + vy * vy + vz * vz), 1e-12)
        vx, vy, vz = vx * long, vy * long, vz * long
        nv = nx * vx + ny * vy + nz * vz
        if nv < 0:
            # The back of a surface that is open, or the rim of a rounded one.
            if nv < -0.2:
                nx, ny, nz = -nx, -ny, -nz
            nv = abs(nv)
        nv = max(nv, 1e-3)
        rough = min(1.0, max(0.03, rough))
        alpha = rough * rough
        matt = 1 - metal
        f0r, f0g, f0b = head_on * matt + r * metal, head_on * matt + g * metal, head_on * matt + b * metal
        lr = lg = lb = 0.0
        for n in range(lights.shape[0]):
            much, wx, wy, wz = reached(lights, n, x, y, z)
            if much <= 0:
                continue
            cr, cg, cb = lights[n, 7] * much, lights[n, 8] * much, lights[n, 9] * much
            if lights[n, 0] == 0:
                lr += matt * r * cr
                lg += matt * g * cg
                lb += matt * b * cb
                continue
            nl = nx * wx + ny * wy + nz * wz
            if nl <= 0:
                continue
            if maps.shape[0] > 0 and views[n, 12] > 0:
                much = 1 - blocked(maps, views, n, x, y, z, nx, ny, nz)
                if much <= 0:
                    continue
                cr, cg, cb = cr * much, cg * much, cb * much
            hx, hy, hz = vx + wx, vy + wy, vz + wz
            long = 1.0 / max(math.sqrt(hx * hx + hy * hy + hz * hz), 1e-12)
            hx, hy, hz = hx * long, hy * long, hz * long
            nh = max(0.0, nx * hx + ny * hy + nz * hz)
            vh = max(0.0, vx * hx + vy * hy + vz * hz)
            a2 = alpha * alpha
            d = a2 / (nh * nh * (a2 - 1) + 1) ** 2
            shadowed = 0.5 / (nl * math.sqrt(nv * nv * (1 - a2) + a2) + nv * math.sqrt(nl * nl * (1 - a2) + a2))
            # A light's strength is what comes back from white: π times what a microfacet is measured by, which ends
            # the π.
            mirrored = min(d * shadowed, 1e4)
            fresnel = (1 - vh) ** 5
            fr, fg, fb = f0r + (1 - f0r) * fresnel, f0g + (1 - f0g) * fresnel, f0b + (1 - f0b) * fresnel
            lr += cr * nl * ((1 - fr) * matt * r + fr * mirrored)
            lg += cg * nl * ((1 - fg) * matt * g + fg * mirrored)
            lb += cb * nl * ((1 - fb) * matt * b + fb * mirrored)
        if around.shape[0]:
            ar, ag, ab = surrounding(around, 2 * nv * nx - vx, 2 * nv * ny - vy, 2 * nv * nz - vz, rough)
            # How much a rough surface mirrors in all, fitted by B. Karis ("Physically Based Shading on Mobile", 2014).
            c0, c1, c2, c3 = 1 - rough, 0.0425 - 0.0275 * rough, 1.04 - 0.572 * rough, 0.022 * rough - 0.04
            a004 = min(c0 * c0, math.exp(-9.28 * math.log(2) * nv)) * c0 + c1
            by, plus = -1.04 * a004 + c2, 1.04 * a004 + c3
            lr += ar * (f0r * by + plus)
            lg += ag * (f0g * by + plus)
            lb += ab * (f0b * by + plus)
        out[p, 0], out[p, 1], out[p, 2] = lr + sr, lg + sg, lb + sb
