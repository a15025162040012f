"""Light: encoded values to amounts of light and back, by the display gamma of ITU-R BT.1886 (2.4, black at 0)."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from .blend import deepened
from .kernel import kernel
from .patch import Patch

GAMMA = 2.4

_LEAST = 1e-5
"""Coverage, a share or a code value, below which there is no colour to be told: a division would make one up."""

_FINE = 4096
"""Entries of a table over 0..1; between two of them a straight line is right to a fiftieth of a code value."""


@lru_cache(maxsize=1)
def _tables() -> tuple[np.ndarray, np.ndarray]:
    """From encoded to light over even steps of the encoded value, and back over even steps of the light's root."""
    steps = np.linspace(0, 1, _FINE + 2)
    return (steps**GAMMA).astype(np.float32), (steps ** (2 / GAMMA)).astype(np.float32)


@kernel("void(float32[:,:,::1], float32[:,:,::1], float32[::1])", fastmath=True)
def _to_light(pixels, out, table):
    fine = np.float32(table.shape[0] - 1)
    for y in range(pixels.shape[0]):
        row, into = pixels[y], out[y]
        for x in range(pixels.shape[1]):
            cover = row[x, 3]
            if cover < _LEAST:
                into[x, 0] = into[x, 1] = into[x, 2] = into[x, 3] = np.float32(0)
                continue
            for c in range(3):
                at = min(max(row[x, c] / cover, np.float32(0)), np.float32(1)) * fine
                i = min(max(np.int32(at), np.int32(0)), np.int32(table.shape[0] - 2))
                part = at - np.float32(i)
                into[x, c] = (table[i] + (table[i + 1] - table[i]) * part) * cover * np.float32(1 / 255)
            into[x, 3] = cover * np.float32(1 / 255)


@kernel("float32(float32, float32[::1])", fastmath=True)
def encoded(light, table):
    """One amount of light, 0..1 (more is cut), as an encoded value 0..1."""
    at = np.sqrt(min(max(light, np.float32(0)), np.float32(1))) * np.float32(table.shape[0] - 1)
    i = min(max(np.int32(at), np.int32(0)), np.int32(table.shape[0] - 2))
    return table[i] + (table[i + 1] - table[i]) * (at - np.float32(i))


def to_light(pixels: np.ndarray) -> np.ndarray:
    """(h, w, 4) float32 premultiplied code values to light times coverage, and coverage, both 0..1."""
    out = np.empty_like(pixels)
    _to_light(pixels, out, _tables()[0])
    return out


@kernel("void(uint8[:,:,::1], float32[:,:,::1], float32[::1], float32[::1])", fastmath=True)
def _bytes_to_light(pixels, out, told, table):
    fine = np.float32(table.shape[0] - 1)
    for y in range(pixels.shape[0]):
        row, into = pixels[y], out[y]
        for x in range(pixels.shape[1]):
            cover = row[x, 3]
            if cover == 255:
                into[x, 0], into[x, 1], into[x, 2] = told[row[x, 0]], told[row[x, 1]], told[row[x, 2]]
                into[x, 3] = np.float32(1)
            elif cover == 0:
                into[x, 0] = into[x, 1] = into[x, 2] = into[x, 3] = np.float32(0)
            else:
                share, to = np.float32(cover) * np.float32(1 / 255), fine / np.float32(cover)
                for c in range(3):
                    at = min(np.float32(row[x, c]) * to, fine)
                    i = min(np.int32(at), np.int32(table.shape[0] - 2))
                    into[x, c] = (table[i] + (table[i + 1] - table[i]) * (at - np.float32(i))) * share
                into[x, 3] = share


@lru_cache(maxsize=1)
def _told() -> np.ndarray:
    """The light of every 8-bit value."""
    return ((np.arange(256) / 255) ** GAMMA).astype(np.float32)


def light_of(patch: Patch) -> np.ndarray:
    """(h, w, 4) float32 light times coverage, and coverage, of a patch's own pixels (its opacity left aside)."""
    if patch.pixels.dtype != np.uint8:
        return to_light(np.ascontiguousarray(deepened(patch)))
    if patch.colour is not None:
        cover = patch.pixels.astype(np.float32) * np.float32(1 / 255)
        return cover[..., None] * np.append(as_light(patch.colour), np.float32(1))
    out = np.empty(patch.pixels.shape, np.float32)
    _bytes_to_light(np.ascontiguousarray(patch.pixels), out, _told(), _tables()[0])
    return out


def encoding() -> np.ndarray:
    """The table that `encoded` reads, for loops that mix light themselves."""
    return _tables()[1]


@kernel("void(float32[:,:,::1], float32, float32, float32[:,:,::1], float32[::1])", fastmath=True)
def _bright(light, threshold, soft, out, table):
    for y in range(light.shape[0]):
        for x in range(light.shape[1]):
            cover = light[y, x, 3]
            whole = np.float32(0.2126) * light[y, x, 0] + np.float32(0.7152) * light[y, x, 1]
            whole += np.float32(0.0722) * light[y, x, 2]
            seen = np.float32(1)
            if threshold > 0:
                seen = encoded(whole / cover, table) if cover > _LEAST else np.float32(0)
            part = min(max((seen - threshold) / soft, np.float32(0)), np.float32(1))
            part = part * part * (np.float32(3) - np.float32(2) * part)
            for c in range(3):
                out[y, x, c] = light[y, x, c] * part
            out[y, x, 3] = whole * part


def bright(light: np.ndarray, threshold: float, soft: float) -> np.ndarray:
    """(h, w, 4) float32: what of the light is bright enough, and its luminance.

    None of it below the threshold, all of it `soft` above, by a smooth step; both are encoded luminances 0..1.
    """
    out = np.empty_like(light)
    _bright(light, threshold, soft, out, encoding())
    return out


@kernel("void(float32[:,:,::1], float32[:,:,::1], float32[::1], int64, float32, boolean)", fastmath=True)
def _shine(light, glow, table, where, kept, screened):
    fine, last = np.float32(table.shape[0] - 1), np.int32(table.shape[0] - 2)
    for y in range(light.shape[0]):
        for x in range(light.shape[1]):
            cover = light[y, x, 3]
            inside = cover * kept
            by = np.float32(1) / cover if cover > _LEAST else np.float32(0)
            outside = np.float32(0) if where == 2 else np.float32(1) - inside
            most = np.float32(0)
            for c in range(3):
                g = glow[y, x, c]
                own = light[y, x, c] * by
                added = np.float32(0) if where == 1 else g
                lit = own + added - own * added if screened else own + added
                at = np.sqrt(min(max(lit, np.float32(0)), np.float32(1))) * fine
                i = min(max(np.int32(at), np.int32(0)), last)
                shown = (table[i] + (table[i + 1] - table[i]) * (at - np.float32(i))) * inside
                if outside > 0:
                    at = np.sqrt(min(max(g, np.float32(0)), np.float32(1))) * fine
                    i = min(max(np.int32(at), np.int32(0)), last)
                    around = table[i] + (table[i + 1] - table[i]) * (at - np.float32(i))
                    most = max(most, around)
                    shown += around * outside
                light[y, x, c] = np.float32(255) * shown
            # Light over nothing covers as much as it is bright.
            light[y, x, 3] = np.float32(255) * (inside + most * outside)


def shone(light: np.ndarray, glow: np.ndarray, lights: str, screened: bool) -> np.ndarray:
    """(h, w, 4) float32 premultiplied code values of light and a glow together; `light` is written over.

    `lights` is "all around", "outside only", "inside only", or "alone" for the glow by itself.
    """
    where = {"outside only": 1, "inside only": 2}.get(lights, 0)
    _shine(light, glow, encoding(), where, 0.0 if lights == "alone" else 1.0, screened)
    return light


@kernel("void(float32[:,:,::1], float32[:,:,::1], float32[::1])", fastmath=True)
def _screened(light, more, table):
    for y in range(light.shape[0]):
        for x in range(light.shape[1]):
            cover = light[y, x, 3]
            for c in range(3):
                own = light[y, x, c] / cover if cover > _LEAST else np.float32(0)
                g = min(more[y, x, c], np.float32(1))
                light[y, x, c] = np.float32(255) * cover * encoded(own + g - own * g, table)
            light[y, x, 3] = np.float32(255) * cover


def screened(light: np.ndarray, more: np.ndarray) -> np.ndarray:
    """(h, w, 4) float32 premultiplied code values of light with (h, w, 3) more light screened over what is there;
    `light` is written over."""
    _screened(light, np.ascontiguousarray(more, np.float32), encoding())
    return light


def as_light(colour: tuple[int, int, int]) -> np.ndarray:
    """(3,) float32 light of a colour of 8-bit code values."""
    return ((np.asarray(colour, np.float64) / 255) ** GAMMA).astype(np.float32)
