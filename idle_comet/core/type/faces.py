"""The typefaces that ship with the product, and the editor's own, opened for shaping and for painting."""

from __future__ import annotations

import json
import math
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

import numpy as np
import skia
import uharfbuzz as hb

_SHIPPED = Path(__file__).parent / "faces"
_SYSTEM = Path("/usr/share/fonts")

STAND_IN = "archivo"

Axes = tuple[tuple[str, float], ...]
Point = tuple[float, float]
Bounds = tuple[float, float, float, float]
"""Left, top, right, bottom."""


@dataclass(frozen=True, slots=True)
class Family:
    """A typeface as an editor chooses it.

    `weights` are the steps on offer; with `any_weight` everything between the first and the last is there too.
    `widths` are the narrowest and widest it can be set, in % (both 100 where there is no choice).
    """

    id: str
    name: str
    character: str
    weights: tuple[int, ...]
    any_weight: bool
    widths: tuple[float, float]
    files: tuple[Path, ...]
    """The first has the letters its measures are taken from; each further one what those before it lack."""
    own: bool = False


_NAMED = (
    ("archivo", "Archivo", "quiet sans, narrow to wide"),
    ("bricolage-grotesque", "Bricolage Grotesque", "lively display sans"),
    ("nunito", "Nunito", "round, friendly sans"),
    ("unbounded", "Unbounded", "wide display"),
    ("sofia-sans-extra-condensed", "Sofia Sans Extra Condensed", "condensed"),
    ("anton", "Anton", "heavy poster"),
    ("fraunces", "Fraunces", "warm serif"),
    ("playfair-display", "Playfair Display", "high contrast serif"),
    ("bitter", "Bitter", "slab"),
    ("courier-prime", "Courier Prime", "typewriter"),
    ("martian-mono", "Martian Mono", "wide fixed width"),
    ("caveat", "Caveat", "hand"),
    ("grenze-gotisch", "Grenze Gotisch", "blackletter"),
    ("noto-sans", "Noto Sans", "plain sans for many scripts"),
)

_FALLBACK = {
    "Arab": "noto-sans-arabic",
    "Hebr": "noto-sans-hebrew",
    "Deva": "noto-sans-devanagari",
    "Beng": "noto-sans-bengali",
    "Taml": "noto-sans-tamil",
    "Thai": "noto-sans-thai",
    "Geor": "noto-sans-georgian",
    "Armn": "noto-sans-armenian",
}
"""Script → shipped family, for what a chosen typeface lacks; Greek, Cyrillic and the rest of Latin are in Noto Sans."""

_CJK = {"Hani": 2, "Bopo": 3, "Hira": 0, "Kana": 0, "Hang": 1}
"""Script → number of the face in the Debian collection (Japanese, Korean, Simplified Chinese, Traditional Chinese)."""

CJK_FILES = {
    400: _SYSTEM / "opentype/noto/NotoSansCJK-Regular.ttc",
    700: _SYSTEM / "opentype/noto/NotoSansCJK-Bold.ttc",
}
EMOJI_FILE = _SYSTEM / "truetype/noto/NotoColorEmoji.ttf"

_OPTICAL = 72
"""Optical size titles are set at, pt, where a face has that axis."""


class _PiecesPen:
    """Takes a glyph's outline, y up in font units, as straight pieces in em with y down."""

    def __init__(self, units: int, px: float) -> None:
        self.pieces: list[tuple[float, float, float, float]] = []
        self._unit, self._px = 1 / units, px
        self._at = self._start = (0.0, 0.0)

    def _to(self, point: Point) -> tuple[float, float]:
        return point[0] * self._unit, -point[1] * self._unit

    def _line(self, to: tuple[float, float]) -> None:
        self.pieces.append((*self._at, *to))
        self._at = to

    def _count(self, bend: float) -> int:
        """Pieces for a curve whose second difference is `bend` em: the chord's error is bend/(8 n²)."""
        return max(1, math.ceil(math.sqrt(bend * self._px * 40 / 8)))

    def moveTo(self, to: Point) -> None:
        self._at = self._start = self._to(to)

    def lineTo(self, to: Point) -> None:
        self._line(self._to(to))

    def qCurveTo(self, by: Point, to: Point) -> None:
        (ax, ay), (bx, by_), (cx, cy) = self._at, self._to(by), self._to(to)
        count = self._count(2 * math.hypot(ax - 2 * bx + cx, ay - 2 * by_ + cy))
        for i in range(1, count + 1):
            t, u = i / count, 1 - i / count
            self._line((u * u * ax + 2 * u * t * bx + t * t * cx, u * u * ay + 2 * u * t * by_ + t * t * cy))

    def curveTo(self, by: Point, then: Point, to: Point) -> None:
        (ax, ay), (bx, by_), (cx, cy), (dx, dy) = self._at, self._to(by), self._to(then), self._to(to)
        bend = 6 * max(math.hypot(ax - 2 * bx + cx, ay - 2 * by_ + cy), math.hypot(bx - 2 * cx + dx, by_ - 2 * cy + dy))
        count = self._count(bend)
        for i in range(1, count + 1):
            t, u = i / count, 1 - i / count
            self._line(
                (
                    u**3 * ax + 3 * u * u * t * bx + 3 * u * t * t * cx + t**3 * dx,
                    u**3 * ay + 3 * u * u * t * by_ + 3 * u * t * t * cy + t**3 * dy,
                )
            )

    def closePath(self) -> None:
        if self._at != self._start:
            self._line(self._start)

    endPath = closePath


def octave_of(px: float) -> int:
    """The power of two up to which one set of pieces serves: twice the size needs only 1.4 times as many."""
    return max(4, math.ceil(math.log2(max(px, 1.0))))


@lru_cache(maxsize=96)
def _file(path: Path, index: int) -> hb.Face:
    """A font file, read once for all places of its axes."""
    return hb.Face(path.read_bytes(), index)


class Face:
    """One file at one place of its axes. Distances are in em (1 = the type size)."""

    def __init__(self, path: Path, index: int, axes: Axes) -> None:
        self.hb_face = _file(path, index)
        self.hb_font = hb.Font(self.hb_face)
        self.units = self.hb_face.upem
        if axes:
            self.hb_font.set_variations(dict(axes))
        extents = self.hb_font.get_font_extents("ltr")
        self.ascent = extents.ascender / self.units
        self.descent = -extents.descender / self.units
        self._paths: dict[int, tuple[skia.Path | None, Bounds | None]] = {}
        self._pieces: dict[tuple[int, int], np.ndarray] = {}
        self._pictures: dict[int, tuple[skia.Image, Bounds] | None] = {}
        self.colourful = path == EMOJI_FILE

    def has(self, characters: list[int]) -> bool:
        """Whether there is a glyph for each."""
        return all(self.hb_font.get_nominal_glyph(each) for each in characters)

    def glyph(self, gid: int) -> tuple[skia.Path | None, Bounds | None]:
        """Outline in font units with y down, and its exact ink bounds in em (None if it has no ink)."""
        known = self._paths.get(gid)
        if known is None:
            # Drawn by the shaper itself, so that outlines and advances are of one place of the axes.
            pen = _PathPen()
            self.hb_font.draw_glyph_with_pen(gid, pen)
            path = pen.path
            if path.isEmpty():
                known = (None, None)
            else:
                ink = path.computeTightBounds()
                known = (path, tuple(edge / self.units for edge in (ink.left(), ink.top(), ink.right(), ink.bottom())))
            self._paths[gid] = known
        return known

    def pieces(self, gid: int, px: float) -> np.ndarray:
        """The outline as straight pieces (n, 4) in em, y down; at `px` an em none is further than 1/40 px from the
        curve."""
        octave = octave_of(px)
        known = self._pieces.get((gid, octave))
        if known is None:
            pen = _PiecesPen(self.units, 2.0**octave)
            self.hb_font.draw_glyph_with_pen(gid, pen)
            known = self._pieces[gid, octave] = np.array(pen.pieces, np.float64).reshape(-1, 4)
        return known

    def picture(self, gid: int) -> tuple[skia.Image, Bounds] | None:
        """A glyph that is a picture in colours, and where it stands in em."""
        if not self.colourful:
            return None
        if gid not in self._pictures:
            blob = self.hb_font.get_glyph_color_png(gid)
            extents = self.hb_font.get_glyph_extents(gid)
            image = (
                skia.Image.MakeFromEncoded(skia.Data.MakeWithCopy(bytes(blob.data)))
                if blob is not None and len(blob.data)
                else None
            )
            if image is None or extents is None:
                self._pictures[gid] = None
            else:
                unit = 1 / self.units
                top, left = -extents.y_bearing * unit, extents.x_bearing * unit
                self._pictures[gid] = (image, (left, top, left + extents.width * unit, top - extents.height * unit))
        return self._pictures[gid]


class _PathPen:
    """Takes a glyph's outline, y up, as a path with y down."""

    def __init__(self) -> None:
        self.path = skia.Path()

    def moveTo(self, to: Point) -> None:
        self.path.moveTo(to[0], -to[1])

    def lineTo(self, to: Point) -> None:
        self.path.lineTo(to[0], -to[1])

    def qCurveTo(self, by: Point, to: Point) -> None:
        self.path.quadTo(by[0], -by[1], to[0], -to[1])

    def curveTo(self, by: Point, then: Point, to: Point) -> None:
        self.path.cubicTo(by[0], -by[1], then[0], -then[1], to[0], -to[1])

    def closePath(self) -> None:
        self.path.close()

    def endPath(self) -> None:
        pass


def _axes_of(path: Path) -> dict[str, tuple[float, float]]:
    face = hb.Face(path.read_bytes())
    return {axis.tag: (axis.min_value, axis.max_value) for axis in face.axis_infos} if face.has_var_data else {}


def family_from(folder: Path, id: str, name: str, character: str, own: bool = False) -> Family:
    """A family as its folder has it: files named by weight, or variable ones named by the script they have."""
    files = sorted(folder.glob("*.ttf"), key=lambda file: (file.stem != "latin", file.stem != "latin-ext", file.stem))
    axes = _axes_of(files[0])
    if "wght" in axes:
        low, high = axes["wght"]
        weights = tuple(weight for weight in range(100, 1000, 100) if low <= weight <= high)
    elif all(file.stem.isdigit() for file in files):
        weights = tuple(sorted(int(file.stem) for file in files))
    else:
        weights = (400,)
    return Family(id, name, character, weights, "wght" in axes, axes.get("wdth", (100, 100)), tuple(files), own)


@lru_cache(maxsize=1)
def shipped() -> dict[str, Family]:
    return {id: family_from(_SHIPPED / id, id, name, character) for id, name, character in _NAMED}


class OwnFaces:
    """The editor's own typefaces: one folder each, with the font as `400.ttf` and its name in `about.json`."""

    def __init__(self) -> None:
        self.folder: Path | None = None
        self._known: dict[str, Family] = {}

    def families(self) -> dict[str, Family]:
        folders = sorted(self.folder.iterdir()) if self.folder and self.folder.is_dir() else []
        return {folder.name: family for folder in folders if (family := self.find(folder.name))}

    def find(self, id: str) -> Family | None:
        """One of them; files never change once they are there, so what was found stays."""
        if id not in self._known and self.folder and id.startswith("own-"):
            about = self.folder / id / "about.json"
            if about.is_file():
                told = json.loads(about.read_text())
                self._known[id] = family_from(about.parent, id, told["name"], "your own", own=True)
        return self._known.get(id)


OWN = OwnFaces()


def families() -> dict[str, Family]:
    """All there are to choose from, by id."""
    return {**shipped(), **OWN.families()}


def family_of(id: str) -> Family | None:
    return shipped().get(id) or OWN.find(id)


@lru_cache(maxsize=160)
def _open(path: Path, index: int, axes: Axes) -> Face:
    return Face(path, index, axes)


@lru_cache(maxsize=256)
def _axes_at(path: Path, weight: float, width: float) -> Axes:
    asked = {"wght": weight, "wdth": width, "opsz": _OPTICAL}
    return tuple(
        (tag, min(high, max(low, asked[tag]))) for tag, (low, high) in sorted(_axes_of(path).items()) if tag in asked
    )


def _face(path: Path, weight: float, width: float) -> Face:
    return _open(path, 0, _axes_at(path, weight, width))


def _of_family(family: Family, weight: float, width: float) -> tuple[Face, ...]:
    if family.any_weight or not all(file.stem.isdigit() for file in family.files):
        return tuple(_face(file, weight, width) for file in family.files)
    nearest = min(family.weights, key=lambda each: (abs(each - weight), -each))
    return (_open(next(file for file in family.files if int(file.stem) == nearest), 0, ()),)


def face_for(family: str, weight: float, width: float = 100) -> tuple[Face, bool]:
    """The face nearest to what is asked, and whether the family itself is there."""
    known = family_of(family)
    return _of_family(known or shipped()[STAND_IN], weight, width)[0], known is not None


def faces_of(family: str, weight: float, width: float) -> tuple[Face, ...]:
    """The family's files at a place of its axes; empty where it is not there."""
    known = family_of(family)
    return _of_family(known, weight, width) if known else ()


@lru_cache(maxsize=1024)
def _fallback(weight: float, script: str, emoji: bool) -> tuple[Face, ...]:
    """What is asked for glyphs a chosen typeface lacks, in order."""
    chain: list[Face] = []
    if emoji and EMOJI_FILE.is_file():
        chain.append(_open(EMOJI_FILE, 0, ()))
    if script in _FALLBACK:
        chain += [_face(file, weight, 100) for file in sorted((_SHIPPED / _FALLBACK[script]).glob("*.ttf"))]
    chain += _of_family(shipped()["noto-sans"], weight, 100)
    if script in _CJK or script == "Zyyy":
        path = CJK_FILES[700 if weight >= 550 else 400]
        if path.is_file():
            chain.append(_open(path, _CJK.get(script, 2), ()))
    if not emoji and EMOJI_FILE.is_file():
        chain.append(_open(EMOJI_FILE, 0, ()))
    return tuple(chain)


def chain_for(family: str, weight: float, width: float, script: str, emoji: bool) -> tuple[Face, ...]:
    """Faces in the order in which they are asked for a glyph; the typeface chosen first, but for emoji."""
    own = _of_family(family_of(family) or shipped()[STAND_IN], weight, width)
    behind = _fallback(weight, script, emoji)
    return (*behind[:1], *own, *behind[1:]) if emoji and behind and behind[0].colourful else (*own, *behind)
