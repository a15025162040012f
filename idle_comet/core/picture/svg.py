"""Outlines read from SVG (SVG 1.1 paths and basic shapes) with their plain colours; text, pictures, scripts and effects
of a drawing are left out."""

from __future__ import annotations

import xml.etree.ElementTree as tree
from functools import lru_cache
from math import radians, sqrt
from typing import Any, Iterator, NamedTuple

import skia
import tinycss2
from fontTools.misc.transform import Identity, Transform
from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.pens.transformPen import TransformPen
from fontTools.svgLib.path import parse_path
from fontTools.svgLib.path.shapes import PathBuilder

from .svg_paint import SvgPaint, svg_rules

LARGEST, MOST_PARTS, LONGEST, DEEPEST = 2_000_000, 400, 100_000, 200
_LONGEST_LIST = 4000


class SvgError(ValueError):
    """What can't be read as a drawing; the message says why."""


class SvgPart(NamedTuple):
    """One shape of a drawing: what it is called there, and its outline as SVG path data in the drawing's units.

    `fill` and `line` are its colours, `#rrggbb` or None; `width` that of its line in the drawing's units, which has
    `sharp` corners or round ones."""

    name: str
    outline: str
    fill: str | None = "#000000"
    line: str | None = None
    width: float = 0.0
    opacity: float = 1.0
    sharp: bool = True


_READ: dict[str, tuple[SvgPart, ...]] = {}
"""Drawings that were read elsewhere."""


def was_read(text: str, parts: list[SvgPart]) -> None:
    """Note what another process has read in a drawing, so that this one need not."""
    if len(_READ) > 8:
        _READ.clear()
    _READ[text] = tuple(parts)


def read_svg(text: str) -> list[SvgPart]:
    """The shapes of a drawing in painting order, with all transforms done. Raises SvgError."""
    if len(text) > LARGEST:
        raise SvgError(f"The drawing is larger than {LARGEST // 1_000_000} MB; save a simpler one.")
    known = _READ.get(text)
    if known is not None:
        return list(known)
    try:
        # Entities that grow without end are refused by the parser itself (expat, from 2.4.1 on).
        root = tree.fromstring(text)
    except tree.ParseError as error:
        raise SvgError(f"This is no whole SVG: {error}.") from None
    if not root.tag.endswith("svg"):
        raise SvgError("This is no SVG; its outermost element is something else.")
    parts: list[SvgPart] = []
    _walk(root, Identity, parts, SvgPaint({}, svg_rules(root)).under(root))
    if not parts:
        raise SvgError(
            "The drawing has no shapes; text and pictures in it can't be used as outlines. Turn them into paths first."
        )
    return parts


def _walk(element: Any, matrix: Transform, parts: list[SvgPart], paint: SvgPaint, depth: int = 0) -> None:
    if depth > DEEPEST:
        raise SvgError(f"The drawing has more than {DEEPEST} groups within each other; ungroup it first.")
    for child in element:
        tag = child.tag.rpartition("}")[2] if isinstance(child.tag, str) else ""
        if tag in ("defs", "clipPath", "mask", "pattern", "symbol", "marker"):
            continue
        own = paint.under(child)
        if own.hidden:
            continue
        inner = matrix.transform(_matrix(child.get("transform", "")))
        if tag in ("g", "a", "svg", "switch"):
            _walk(child, inner, parts, own, depth + 1)
            continue
        builder = PathBuilder()
        try:
            builder.add_path_from_element(child)
            for path in builder.paths:
                pen = SVGPathPen(
                    None,
                    ntos=lambda value: f"{value:.4g}" if abs(value) < 1 else f"{value:.3f}".rstrip("0").rstrip("."),
                )
                parse_path(path, TransformPen(pen, inner))
                outline = pen.getCommands()
                if own.even_odd:
                    outline = _wound(outline)
                if outline and len(outline) <= LONGEST:
                    name = (
                        child.get("id")
                        or child.get("{http://www.inkscape.org/namespaces/inkscape}label")
                        or f"{tag} {len(parts) + 1}"
                    )
                    wide = own.width * sqrt(abs(inner[0] * inner[3] - inner[1] * inner[2]))
                    parts.append(SvgPart(name[:80], outline, own.fill, own.line, wide, own.opacity, own.sharp))
        except (ValueError, IndexError, AssertionError, NotImplementedError):
            # One shape that makes no sense does not spoil the rest.
            continue
        if len(parts) > MOST_PARTS:
            raise SvgError(f"The drawing has more than {MOST_PARTS} shapes; save a simpler one.")


def _matrix(written: str) -> Transform:
    """An SVG transform list."""
    made = Identity
    for name, numbers in _calls(written[:_LONGEST_LIST]):
        if name == "matrix" and len(numbers) == 6:
            made = made.transform(Transform(*numbers))
        elif name == "translate" and numbers:
            made = made.translate(numbers[0], numbers[1] if len(numbers) > 1 else 0)
        elif name == "scale" and numbers:
            made = made.scale(numbers[0], numbers[1] if len(numbers) > 1 else numbers[0])
        elif name == "rotate" and numbers:
            x, y = (numbers[1], numbers[2]) if len(numbers) > 2 else (0, 0)
            made = made.translate(x, y).rotate(radians(numbers[0])).translate(-x, -y)
        elif name in ("skewX", "skewY") and numbers:
            made = made.skew(*((radians(numbers[0]), 0) if name == "skewX" else (0, radians(numbers[0]))))
    return made


def _calls(written: str) -> Iterator[tuple[str, list[float]]]:
    """`name(number, …)` by name and numbers, as they stand in a list. A space may stand before the bracket."""
    name = None
    for token in tinycss2.parse_component_value_list(written, skip_comments=True):
        if token.type == "ident":
            name = token.value
        elif token.type == "function" or (token.type == "() block" and name is not None):
            inside = token.arguments if token.type == "function" else token.content
            numbers = [float(each.value) for each in inside if each.type in ("number", "dimension")]
            yield (token.name if token.type == "function" else str(name)), numbers
            name = None
        elif token.type != "whitespace":
            name = None


class _SkiaPen:
    """Takes an outline as a path of the graphics library."""

    def __init__(self) -> None:
        self.path = skia.Path()

    def moveTo(self, to: Any) -> None:
        self.path.moveTo(*to)

    def lineTo(self, to: Any) -> None:
        self.path.lineTo(*to)

    def curveTo(self, *points: Any) -> None:
        self.path.cubicTo(*(each for point in points for each in point))

    def qCurveTo(self, *points: Any) -> None:
        self.path.quadTo(*(each for point in points for each in point))

    def closePath(self) -> None:
        self.path.close()

    def endPath(self) -> None:
        pass


@lru_cache(maxsize=64)
def outline_path(outline: str) -> skia.Path:
    """SVG path data as a path; empty for what is none."""
    pen = _SkiaPen()
    try:
        parse_path(outline, pen)
    except (ValueError, IndexError, AssertionError, TypeError):
        return skia.Path()
    return pen.path


def _wound(outline: str) -> str:
    """An outline whose holes are those of the even-odd rule, so that they are holes by the winding rule, too."""
    path = outline_path(outline)
    even = skia.Path(path)
    even.setFillType(skia.PathFillType.kEvenOdd)
    return path_data(skia.AsWinding(even))


def path_data(path: skia.Path) -> str:
    """A path of lines, quadratics and cubics as SVG path data, to a thousandth."""
    letters = {
        skia.Path.kMove_Verb: "M",
        skia.Path.kLine_Verb: "L",
        skia.Path.kQuad_Verb: "Q",
        skia.Path.kCubic_Verb: "C",
        skia.Path.kClose_Verb: "Z",
    }
    made = []
    for verb, points in path:
        if verb not in letters:
            continue
        # Every piece but a beginning repeats the point before it.
        given = points if verb == skia.Path.kMove_Verb else points[1:] if verb != skia.Path.kClose_Verb else []
        made.append(letters[verb] + " ".join(f"{each.fX:.3f} {each.fY:.3f}" for each in given))
    return "".join(made)
