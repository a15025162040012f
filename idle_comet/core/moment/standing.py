"""Where content stands in the frame before any step moves it."""

from __future__ import annotations

from functools import lru_cache
from typing import Callable, NamedTuple

from ..picture import Matrix, Rect
from ..project.model import Styled
from ..remember import Remembered
from ..steps import Rest
from ..type import Block, Layout, Range, Setting, lay_out
from .scene import ContentNow, FootageNow, GeneratedNow, GroupNow, ModelNow, PlainNow, ShapeNow, TextNow, TreatmentNow
from .shaped import bounds, middle

TITLE_SAFE = 0.05
"""Share of the frame kept clear on each side for titles (ITU-R BT.1848, 16:9: 90 %)."""


class Standing(NamedTuple):
    """`matrix` leads from the content's units (em, or source px) to px of the project's frame, which is width ×
    height."""

    matrix: Matrix
    ink: Rect
    box: Rect
    anchor: tuple[float, float]
    width: float
    height: float
    layout: Layout | None = None
    cell: Rect | None = None
    """What is to be seen of a group or of a transparent picture, where that is less than its box."""

    @property
    def words(self) -> Layout:
        """The layout of a text; nothing else has one."""
        if self.layout is None:
            raise TypeError("only a text has words")
        return self.layout

    def rest(self, leaving: bool = False, pivot: str = "own") -> Rest:
        """All of the content, as steps know it."""
        anchor = self.anchor
        if self.layout and pivot != "own" and self.layout.units["all"]:
            anchor = self.matrix.map(*self.layout.units["all"][0].pivot(pivot))
        return Rest(
            anchor,
            self.box,
            self.cell or self.box,
            self.ink,
            self.width,
            self.height,
            leaving,
            0,
            1,
            self.layout,
            self.matrix,
        )

    def rest_of(self, unit: str, index: int, leaving: bool, pivot: str) -> Rest:
        """One unit of a text, as steps know it."""
        return self.rests()(unit, index, leaving, pivot)

    def rests(self) -> Callable[[str, int, bool, str], Rest]:
        """Finds units of a text at rest, many in a row: (unit, index, leaving, pivot) to its rest."""
        kept = _RESTS.find(self.words)
        if kept is None or kept[0] != self[:6]:
            kept = _RESTS.keep(self.words, (self[:6], {}))
        found = kept[1]

        def rest_of(unit: str, index: int, leaving: bool, pivot: str) -> Rest:
            known = found.get((unit, index, leaving, pivot))
            if known is None:
                known = found[unit, index, leaving, pivot] = self._rest_of(unit, index, leaving, pivot)
            return known

        return rest_of

    def _rest_of(self, unit: str, index: int, leaving: bool, pivot: str) -> Rest:
        units = self.words.units[unit]
        one = units[index]
        anchor = (
            self.matrix.map(*one.pivot("centre" if pivot == "own" else pivot))
            if unit != "all"
            else self.rest(leaving, pivot).anchor
        )
        box, cell, ink = (each.through(self.matrix) for each in (one.box, one.cell, one.ink))
        return Rest(
            anchor, box, cell, ink, self.width, self.height, leaving, index, len(units), self.layout, self.matrix
        )


_RESTS: Remembered[Layout, tuple[tuple[object, ...], dict[tuple[str, int, bool, str], Rest]]] = Remembered()
"""Units at rest, as long as a layout stands where it does."""


def _settings(text: TextNow) -> tuple[Setting, tuple[Range, ...]]:
    # Half a unit of weight can't be seen; a typeface is opened anew for each.
    base = Setting(
        text.typeface,
        round(text.weight * 2) / 2,
        round(text.width * 2) / 2,
        1.0,
        text.tracking,
        None,
        0.0,
        text.case,
        text.kerning,
        text.features,
    )
    return base, tuple(Range(each.start, each.end, _styled(base, each)) for each in text.ranges)


def _styled(base: Setting, each: Styled) -> Setting:
    asked = {
        name: getattr(each, name)
        for name in ("typeface", "weight", "width", "size", "tracking", "colour", "shift", "case")
    }
    return base._replace(**{name: value for name, value in asked.items() if value is not None})


# As few as are kept of where texts stand.
@lru_cache(maxsize=12)
def layout_of(text: TextNow) -> Layout:
    base, ranges = _settings(text)
    wraps = text.box > 0 and text.box_does != "fit" and text.size > 0
    block = Block(text.leading, text.align, text.box / text.size if wraps else None, text.box_does == "justify")
    return lay_out(text.text, base, block, ranges)


def size_of(text: TextNow, layout: Layout) -> float:
    """Px of the frame for one em: as set, or so that the widest line fills the box (size′ = size × available /
    width)."""
    if text.box > 0 and text.box_does == "fit":
        widest = max((line.width for line in layout.lines), default=0.0)
        if widest > 0:
            return text.box / widest
    return text.size


def stand(content: ContentNow, width: int, height: int) -> Standing:
    """Standing of a content in a frame of this size, in px of the project's frame."""
    if isinstance(content, TextNow):
        return _stand_text(content, width, height)
    if isinstance(content, PlainNow):
        frame = Rect(0, 0, width, height)
        return Standing(Matrix.grow(width, height), frame, frame, (width / 2, height / 2), width, height)
    if isinstance(content, ShapeNow):
        box = bounds(content)
        return Standing(Matrix(), box, box, middle(content), width, height)
    if isinstance(content, ModelNow):
        half_x, half_y = (dict(content.values)["size"] * each / 2000 for each in content.own)
        x, y = width / 2, height / 2
        box = Rect(x - half_x, y - half_y, x + half_x, y + half_y)
        return Standing(Matrix(), box, box, (x, y), width, height)
    if isinstance(content, (GeneratedNow, GroupNow, TreatmentNow)):
        # All are as large as the frame, in its own px.
        frame = Rect(0, 0, width, height)
        cell = content.ink if isinstance(content, GroupNow) else None
        return Standing(Matrix(), frame, frame, (width / 2, height / 2), width, height, None, cell)
    return _stand_picture(content, width, height)


def content_size(content: FootageNow | PlainNow | GeneratedNow) -> tuple[int, int]:
    """Size of a content in its own units: source px, or 1 × 1 for a colour."""
    return (1, 1) if isinstance(content, PlainNow) else (content.width, content.height)


def _along(place: str, low: float, high: float, frame: float) -> float:
    """How far to shift a box [low, high] so that it stands at its place along one side of the frame."""
    safe = frame * TITLE_SAFE
    if place in ("left", "top"):
        return safe - low
    if place in ("right", "bottom"):
        return frame - safe - high
    return (frame - low - high) / 2


# A few only: each holds its layout, which is long for a long text. They are what one frame asks for again and again.
@lru_cache(maxsize=12)
def _stand_text(text: TextNow, width: int, height: int) -> Standing:
    layout = layout_of(text)
    box = layout.ink if text.measured_by == "ink" and not layout.ink.empty else layout.type_box
    grow = Matrix.grow(size_of(text, layout))
    sized = box.through(grow)
    shift = Matrix.shift(
        _along(text.stand_x, sized.x0, sized.x1, width), _along(text.stand_y, sized.y0, sized.y1, height)
    )
    matrix = shift @ grow
    ink, outer = layout.ink.through(matrix), layout.type_box.union(layout.ink).through(matrix)
    stood = box.through(matrix)
    return Standing(matrix, ink, outer, ((stood.x0 + stood.x1) / 2, (stood.y0 + stood.y1) / 2), width, height, layout)


def _stand_picture(footage: FootageNow, width: int, height: int) -> Standing:
    ratios = (width / footage.width, height / footage.height)
    scale = {"fill": max(ratios), "fit": min(ratios), "own": 1.0}[footage.fit]
    matrix = Matrix.shift((width - scale * footage.width) / 2, (height - scale * footage.height) / 2) @ Matrix.grow(
        scale
    )
    box = Rect(0, 0, footage.width, footage.height).through(matrix)
    ink = box if footage.ink is None else Rect(*footage.ink).through(matrix)
    return Standing(matrix, ink, box, (width / 2, height / 2), width, height, None, None if ink == box else ink)
