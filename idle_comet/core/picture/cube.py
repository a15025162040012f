"""Tables of colours in the `.cube` format: read, checked and done to a picture."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from .blend import deepened
from .kernel import kernel
from .patch import Patch

LARGEST = 129
"""Entries along each axis of a table of three."""


class CubeError(ValueError):
    """The text is no table that can be used; the words say why."""


@dataclass(frozen=True, eq=False)
class Cube:
    """A table of colours. `entries` is (n, n, n, 3) float32 by blue, green, red, or (n, 3) where each channel has a
    curve of its own; they stand evenly between the values `low` and `high` of each channel."""

    entries: np.ndarray
    low: tuple[float, float, float]
    high: tuple[float, float, float]

    @property
    def size(self) -> int:
        """Entries along each axis."""
        return int(self.entries.shape[0])


def read_cube(text: str) -> Cube:
    """A `.cube` text: LUT_3D_SIZE or LUT_1D_SIZE, DOMAIN_MIN and DOMAIN_MAX, then as many lines of three numbers, red
    changing fastest. Raises CubeError."""
    sizes: dict[str, int] = {}
    ends = {"DOMAIN_MIN": (0.0, 0.0, 0.0), "DOMAIN_MAX": (1.0, 1.0, 1.0)}
    rows: list[list[str]] = []
    for number, line in enumerate(text.replace("\ufeff", "").splitlines(), 1):
        words = line.split("#", 1)[0].split() if not line.lstrip().startswith("TITLE") else []
        if not words:
            continue
        if words[0] in ("LUT_3D_SIZE", "LUT_1D_SIZE"):
            sizes[words[0]] = _whole(words, number)
        elif words[0] in ends:
            first, second, third = _three(words[1:], number)
            ends[words[0]] = (first, second, third)
        elif words[0][0].isalpha() and words[0].lower() not in ("nan", "inf", "infinity"):
            if words[0] not in ("LUT_3D_INPUT_RANGE", "LUT_1D_INPUT_RANGE"):
                raise CubeError(f"line {number} begins with “{words[0][:40]}”, which no table has")
            begins, until = _two(words[1:], number)
            ends = {"DOMAIN_MIN": (begins,) * 3, "DOMAIN_MAX": (until,) * 3}
        else:
            rows.append(words)
    if len(sizes) != 1:
        raise CubeError("it says no size, or two of them (LUT_3D_SIZE or LUT_1D_SIZE)")
    ((kind, size),) = sizes.items()
    flat = kind == "LUT_1D_SIZE"
    most = 65536 if flat else LARGEST
    if not 2 <= size <= most:
        raise CubeError(f"its size is {size}; tables have from 2 to {most} entries along each axis")
    wanted = size if flat else size**3
    if len(rows) != wanted:
        raise CubeError(f"a table of size {size} has {wanted} entries; this one has {len(rows)}")
    try:
        entries = np.array(rows, np.float64).reshape(wanted, 3)
    except ValueError:
        raise CubeError("an entry is not three numbers") from None
    if not np.isfinite(entries).all():
        place = int(np.argmin(np.isfinite(entries).all(-1)))
        raise CubeError(f"entry {place + 1} is not finite ({' '.join(rows[place])[:60]})")
    low, high = ends["DOMAIN_MIN"], ends["DOMAIN_MAX"]
    if not all(a < b for a, b in zip(low, high)):
        raise CubeError("its domain ends before it begins")
    # What lies far outside would overflow later.
    entries = np.clip(entries, -64, 64).astype(np.float32)
    return Cube(entries if flat else entries.reshape(size, size, size, 3), low, high)


def _whole(words: list[str], number: int) -> int:
    if len(words) != 2 or not words[1].isdigit() or len(words[1]) > 9:
        raise CubeError(f"line {number} should end in one whole number")
    return int(words[1])


def _numbers(words: list[str], count: int, number: int) -> list[float]:
    try:
        found = [float(word) for word in words]
    except ValueError:
        found = []
    if len(found) != count or not np.isfinite(found).all():
        raise CubeError(f"line {number} should hold {count} numbers")
    return found


def _three(words: list[str], number: int) -> list[float]:
    return _numbers(words, 3, number)


def _two(words: list[str], number: int) -> list[float]:
    return _numbers(words, 2, number)


@kernel("void(float32[:,:,::1], float32[:,:,:,::1], float32[::1], float32[::1], float32)", fastmath=True)
def _in_space(pixels, table, low, by, share):
    last = np.int32(table.shape[0] - 1)
    top = np.float32(last)
    for y in range(pixels.shape[0]):
        for x in range(pixels.shape[1]):
            cover = pixels[y, x, 3]
            if cover < 1e-5:
                continue
            r = min(max((pixels[y, x, 0] / cover - low[0]) * by[0], np.float32(0)), top)
            g = min(max((pixels[y, x, 1] / cover - low[1]) * by[1], np.float32(0)), top)
            b = min(max((pixels[y, x, 2] / cover - low[2]) * by[2], np.float32(0)), top)
            i, j, k = min(np.int32(r), last - 1), min(np.int32(g), last - 1), min(np.int32(b), last - 1)
            r, g, b = r - np.float32(i), g - np.float32(j), b - np.float32(k)
            for c in range(3):
                first, end = table[k, j, i, c], table[k + 1, j + 1, i + 1, c]
                # Six tetrahedra about the grey diagonal: from each the two corners between.
                if r >= g:
                    if g >= b:
                        made = (
                            first * (1 - r)
                            + table[k, j, i + 1, c] * (r - g)
                            + table[k, j + 1, i + 1, c] * (g - b)
                            + end * b
                        )
                    elif r >= b:
                        made = (
                            first * (1 - r)
                            + table[k, j, i + 1, c] * (r - b)
                            + table[k + 1, j, i + 1, c] * (b - g)
                            + end * g
                        )
                    else:
                        made = (
                            first * (1 - b)
                            + table[k + 1, j, i, c] * (b - r)
                            + table[k + 1, j, i + 1, c] * (r - g)
                            + end * g
                        )
                elif b >= g:
                    made = (
                        first * (1 - b)
                        + table[k + 1, j, i, c] * (b - g)
                        + table[k + 1, j + 1, i, c] * (g - r)
                        + end * r
                    )
                elif b >= r:
                    made = (
                        first * (1 - g)
                        + table[k, j + 1, i, c] * (g - b)
                        + table[k + 1, j + 1, i, c] * (b - r)
                        + end * r
                    )
                else:
                    made = (
                        first * (1 - g)
                        + table[k, j + 1, i, c] * (g - r)
                        + table[k, j + 1, i + 1, c] * (r - b)
                        + end * b
                    )
                made = min(max(made, np.float32(0)), np.float32(1)) * cover
                pixels[y, x, c] += (made - pixels[y, x, c]) * share


@kernel("void(float32[:,:,::1], float32[:,::1], float32[::1], float32[::1], float32)", fastmath=True)
def _in_line(pixels, table, low, by, share):
    last = np.int32(table.shape[0] - 1)
    for y in range(pixels.shape[0]):
        for x in range(pixels.shape[1]):
            cover = pixels[y, x, 3]
            if cover < 1e-5:
                continue
            for c in range(3):
                at = min(max((pixels[y, x, c] / cover - low[c]) * by[c], np.float32(0)), np.float32(last))
                i = min(np.int32(at), last - 1)
                made = table[i, c] + (table[i + 1, c] - table[i, c]) * (at - np.float32(i))
                made = min(max(made, np.float32(0)), np.float32(1)) * cover
                pixels[y, x, c] += (made - pixels[y, x, c]) * share


def looked_up(patch: Patch, cube: Cube, share: float) -> Patch:
    """The patch with its encoded colours 0..1 looked up in a table, by a share.

    Between the entries of a table of three lies the tetrahedral interpolation (Sakamoto and Itooka, US patent
    4 275 413, 1981, lapsed): it keeps greys that the table keeps. Curves are straight between their entries.
    """
    if patch.rect.empty:
        return patch
    pixels = np.ascontiguousarray(deepened(patch))
    low = np.array(cube.low, np.float32)
    by = np.array([(cube.size - 1) / (high - low) for low, high in zip(cube.low, cube.high)], np.float32)
    work = _in_space if cube.entries.ndim == 4 else _in_line
    work(pixels, np.ascontiguousarray(cube.entries), low, by, np.float32(share))
    return replace(patch, pixels=pixels, colour=None)
