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


class Painted(NamedTuple):
    """All that surfaces are shaded by, as arrays of numbers.

    `surfaces` (n, 14): colour (3), metal, roughness, what it shines with by itself (3), how much it mirrors head-on
    where it is no metal, and the numbers of its textures, −1 for none: colour, metal and roughness, shine; then whether
    its colour is seen as it is, unlit.

    `lights` (n, 16), see `lights.py`. `around` (levels, h, w, 3): the surroundings, sharp to blurred. `texels` and
    `sheets` (n, 3): all textures one after the other, each as a pyramid; of every sheet where it begins, how wide and
    how high it is; a texture's number is that of its first sheet, and its smaller ones follow down to 1 × 1."""

    surfaces: np.ndarray
    lights: np.ndarray
    around: np.ndarray
    texels: np.ndarray
    sheets: np.ndarray

    @property
    def shape_alone(self) -> Painted:
        """The same surfaces in one plain colour each: where only what they cover counts, nothing is shaded."""
        plain = self.surfaces.copy()
        plain[:, 9], plain[:, 12] = -1, 1
        return self._replace(surfaces=plain)


@kernel("void(uint8[::1], int64[:,::1], int64, float64, float64, float64[::1])")
def _texel(texels, sheets, sheet, u, v, found):
    """Between four texels; the picture goes on as it begins. Code values 0..1 and coverage."""
    begin, width, height = sheets[sheet, 0], sheets[sheet, 1], sheets[sheet, 2]
    x, y = (u - math.floor(u)) * width - 0.5, (v - math.floor(v)) * height - 0.5
    x0, y0 = int(math.floor(x)), int(math.floor(y))
    fx, fy = x - x0, y - y0
    x1, y1 = (x0 + 1) % width, (y0 + 1) % height
    x0, y0 = x0 % width, y0 % height
    for n in range(4):
        a, b = texels[begin + 4 * (y0 * width + x0) + n], texels[begin + 4 * (y0 * width + x1) + n]
        c, d = texels[begin + 4 * (y1 * width + x0) + n], texels[begin + 4 * (y1 * width + x1) + n]
        above, below = a + fx * (float(b) - a), c + fx * (float(d) - c)
        found[n] = (above + fy * (below - above)) / 255.0


@kernel("void(uint8[::1], int64[:,::1], int64, float64, float64, float64, float64[::1])")
def _textured(texels, sheets, first, u, v, part, found):
    """A texture where a px shows `part` of it: between its two sheets whose texels are about as large."""
    many = part * sheets[first, 1] * sheets[first, 2]
    level = 0.5 * math.log2(max(many, 1.0))
    last = first
    while sheets[last, 1] > 1 or sheets[last, 2] > 1:
        last += 1
    level = min(level, float(last - first))
    below = int(level)
    _texel(texels, sheets, first + below, u, v, found)
    share = level - below
    if share > 1e-6 and first + below < last:
        coarse = np.empty(4)
        _texel(texels, sheets, first + below + 1, u, v, coarse)
        for n in range(4):
            found[n] += share * (coarse[n] - found[n])


@kernel("void(float32[:,:,:,::1], float64, float64, float64, float64, float64[::1])")
def surrounding(around, x, y, z, rough, found):
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
    second = min(first + 1, levels - 1)
    for n in range(3):
        a = around[first, y0, x0, n] * (1 - fx) + around[first, y0, x1, n] * fx
        b = around[first, y1, x0, n] * (1 - fx) + around[first, y1, x1, n] * fx
        c = around[second, y0, x0, n] * (1 - fx) + around[second, y0, x1, n] * fx
        d = around[second, y1, x0, n] * (1 - fx) + around[second, y1, x1, n] * fx
        sharp, soft = a + fy * (b - a), c + fy * (d - c)
        found[n] = sharp + share * (soft - sharp)


@kernel("float64(float64[::1], float64, float64, float64, float64[::1])")
def reached(light, x, y, z, way):
    """How much of a light comes to a place, and the way to it (x, y, z): its colour aside, and whatever may lie
    between."""
    if light[0] == 0:
        way[0] = way[1] = way[2] = 0.0
        return 1.0
    dx, dy, dz = light[1] - x, light[2] - y, light[3] - z
    far = math.sqrt(dx * dx + dy * dy + dz * dz)
    if far < 1e-9:
        way[0] = way[1] = way[2] = 0.0
        return 0.0
    way[0], way[1], way[2] = dx / far, dy / far, dz / far
    much = 1.0
    if light[10] > 0:
        # As light does: by the square of the distance; never more than from a tenth of where it has its strength.
        much = (light[10] / max(far, 0.1 * light[10])) ** 2
    if light[0] == 2:
        cos = -(way[0] * light[4] + way[1] * light[5] + way[2] * light[6])
        inner, outer = light[11], light[12]
        t = min(1.0, max(0.0, (cos - outer) / max(inner - outer, 1e-9)))
        much *= t * t * (3 - 2 * t)
    return much


@kernel(
    "void(float64[::1], float64, int64, float64[::1], float64[:,::1], float64[:,::1], float32[:,:,:,::1], uint8[::1],"
    " int64[:,::1], float64[::1])"
)
def shaded(point, part, surface, eye, surfaces, lights, around, texels, sheets, out):
    """The light that comes from a point (place, normal, place on its texture) to the eye."""
    of = surfaces[surface]
    r, g, b, metal, rough = of[0], of[1], of[2], of[3], of[4]
    sr, sg, sb, head_on = of[5], of[6], of[7], of[8]
    texel = np.empty(4)
    if of[9] >= 0:
        _textured(texels, sheets, int(of[9]), point[6], point[7], part, texel)
        r, g, b = r * texel[0] ** 2.4, g * texel[1] ** 2.4, b * texel[2] ** 2.4
    if of[12] > 0:
        out[0], out[1], out[2] = r + sr, g + sg, b + sb
        return
    if of[10] >= 0:
        _textured(texels, sheets, int(of[10]), point[6], point[7], part, texel)
        rough, metal = rough * texel[1], metal * texel[2]
    if of[11] >= 0:
        _textured(texels, sheets, int(of[11]), point[6], point[7], part, texel)
        sr, sg, sb = sr * texel[0] ** 2.4, sg * texel[1] ** 2.4, sb * texel[2] ** 2.4
    nx, ny, nz = point[3], point[4], point[5]
    long = 1.0 / max(math.sqrt(nx * nx + ny * ny + nz * nz), 1e-12)
    nx, ny, nz = nx * long, ny * long, nz * long
    vx, vy, vz = eye[0] - point[0], eye[1] - point[1], eye[2] - point[2]
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
    f0r, f0g, f0b = (head_on * matt + r * metal, head_on * matt + g * metal, head_on * matt + b * metal)
    way, found = np.empty(3), np.empty(3)
    lr = lg = lb = 0.0
    for n in range(lights.shape[0]):
        much = reached(lights[n], point[0], point[1], point[2], way)
        if much <= 0:
            continue
        cr, cg, cb = lights[n, 7] * much, lights[n, 8] * much, lights[n, 9] * much
        if lights[n, 0] == 0:
            lr += matt * r * cr
            lg += matt * g * cg
            lb += matt * b * cb
            continue
        nl = nx * way[0] + ny * way[1] + nz * way[2]
        if nl <= 0:
            continue
        hx, hy, hz = vx + way[0], vy + way[1], vz + way[2]
        long = 1.0 / max(math.sqrt(hx * hx + hy * hy + hz * hz), 1e-12)
        hx, hy, hz = hx * long, hy * long, hz * long
        nh = max(0.0, nx * hx + ny * hy + nz * hz)
        vh = max(0.0, vx * hx + vy * hy + vz * hz)
        a2 = alpha * alpha
        d = a2 / (nh * nh * (a2 - 1) + 1) ** 2
        shadowed = 0.5 / (nl * math.sqrt(nv * nv * (1 - a2) + a2) + nv * math.sqrt(nl * nl * (1 - a2) + a2))
        # A light's strength is what comes back from white: π times what a microfacet is measured by, which ends the π.
        mirrored = min(d * shadowed, 1e4)
        fresnel = (1 - vh) ** 5
        fr, fg, fb = f0r + (1 - f0r) * fresnel, f0g + (1 - f0g) * fresnel, f0b + (1 - f0b) * fresnel
        lr += cr * nl * ((1 - fr) * matt * r + fr * mirrored)
        lg += cg * nl * ((1 - fg) * matt * g + fg * mirrored)
        lb += cb * nl * ((1 - fb) * matt * b + fb * mirrored)
    if around.shape[0]:
        rx, ry, rz = 2 * nv * nx - vx, 2 * nv * ny - vy, 2 * nv * nz - vz
        surrounding(around, rx, ry, rz, rough, found)
        # How much a rough surface mirrors in all, fitted by B. Karis ("Physically Based Shading on Mobile", 2014).
        c0, c1, c2, c3 = 1 - rough, 0.0425 - 0.0275 * rough, 1.04 - 0.572 * rough, 0.022 * rough - 0.04
        a004 = min(c0 * c0, 2 ** (-9.28 * nv)) * c0 + c1
        by, plus = -1.04 * a004 + c2, 1.04 * a004 + c3
        lr += found[0] * (f0r * by + plus)
        lg += found[1] * (f0g * by + plus)
        lb += found[2] * (f0b * by + plus)
    out[0], out[1], out[2] = lr + sr, lg + sg, lb + sb
