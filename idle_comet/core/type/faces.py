"""The typefaces that ship with the product, opened for shaping and for painting."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

import skia
import uharfbuzz as hb

_FOLDER = Path(__file__).parent / "faces"


@dataclass(frozen=True, slots=True)
class Family:
    """A typeface as an editor chooses it."""

    id: str
    name: str
    character: str
    weights: tuple[int, ...]


def _family(id: str, name: str, character: str) -> Family:
    weights = tuple(sorted(int(file.stem) for file in (_FOLDER / id).glob("*.ttf")))
    return Family(id, name, character, weights)


FAMILIES: dict[str, Family] = {
    family.id: family
    for family in (
        _family("archivo", "Archivo", "quiet sans"),
        _family("fraunces", "Fraunces", "warm serif"),
        _family("courier-prime", "Courier Prime", "typewriter"),
    )
}


class Face:
    """One weight of a family. Distances are in em (1 = the type size)."""

    def __init__(self, path: Path) -> None:
        data = path.read_bytes()
        self.hb_face = hb.Face(data)
        self.hb_font = hb.Font(self.hb_face)
        self.units = self.hb_face.upem
        extents = self.hb_font.get_font_extents("ltr")
        self.ascent = extents.ascender / self.units
        self.descent = -extents.descender / self.units
        self.typeface = skia.Typeface.MakeFromData(skia.Data.MakeWithCopy(data))
        # At a size of one unit an em, paths come out in the font's own units, unhinted.
        self._font = skia.Font(self.typeface, self.units)
        self._font.setHinting(skia.FontHinting.kNone)
        self._font.setSubpixel(True)
        self._paths: dict[int, tuple[skia.Path | None, tuple[float, float, float, float] | None]] = {}

    def glyph(self, gid: int) -> tuple[skia.Path | None, tuple[float, float, float, float] | None]:
        """Outline in font units with y down, and its exact ink bounds in em (None if it has no ink)."""
        known = self._paths.get(gid)
        if known is None:
            path = self._font.getPath(gid)
            if path is None or path.isEmpty():
                known = (None, None)
            else:
                ink = path.computeTightBounds()
                known = (path, tuple(edge / self.units for edge in (ink.left(), ink.top(), ink.right(), ink.bottom())))
            self._paths[gid] = known
        return known


@lru_cache(maxsize=None)
def _open(family: str, weight: int) -> Face:
    return Face(_FOLDER / family / f"{weight}.ttf")


def face_for(family: str, weight: int) -> tuple[Face, bool]:
    """The face nearest to what is asked, and whether the family itself is there."""
    known = FAMILIES.get(family)
    stand_in = known or FAMILIES["archivo"]
    nearest = min(stand_in.weights, key=lambda each: (abs(each - weight), -each))
    return _open(stand_in.id, nearest), known is not None
