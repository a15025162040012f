"""Painting type from its outlines, at any transform, without snapping to anything."""

from __future__ import annotations

from typing import Hashable, NamedTuple, Sequence

import numpy as np
import skia

from ..picture import (
    Matrix,
    Outlines,
    Patch,
    Rect,
    Streak,
    add_streaks,
    covered,
    over,
    parse_colour,
    skia_matrix,
    travelled,
)
from ..remember import BUDGET
from .faces import octave_of
from .layout import Glyph, Layout


class Inking(NamedTuple):
    """How outlines are inked while they are drawn on: the stretch [start, end] of each contour's length, 0..1,
    with a pen so many em wide, and how much of the fill is there, 0..1."""

    start: float
    end: float
    pen: float
    fill: float


class Smear(NamedTuple):
    """Where letters stand while a shutter is open: `looks` at even times from its opening to its closing, each a matrix
    (a … i) and an opacity; `count` moments are painted, of as many as are `wanted` for the way.

    Where the way `bends` it is a parabola through each three looks (their number is odd), otherwise it is straight
    between them, as past a jump.
    """

    looks: bytes
    """(m, 10) float64, packed: what is compared and named for every frame is best one value."""
    around: Rect
    """What their ink covers on the way."""
    count: int  # type: ignore[assignment]  # in place of the tuple's own
    wanted: int
    bends: bool = False

    @property
    def places(self) -> np.ndarray:
        """The looks, (m, 10)."""
        return np.frombuffer(self.looks).reshape(-1, 10)

    @property
    def streak(self) -> Streak:
        return Streak(self.places, self.count, self.bends)

    @property
    def only_travels(self) -> bool:
        """Whether nothing but its place changes."""
        looks = self.places
        flat = bool((looks[:, 6:9] == (0, 0, 1)).all())
        return flat and bool((looks[:, [0, 1, 2, 3, 9]] == looks[0, [0, 1, 2, 3, 9]]).all())

    def shifts(self) -> list[tuple[float, float]]:
        """Places of the moments, from the middle look on; of mere travel."""
        looks = self.places[:, 4:6]
        legs = len(looks) - 1
        places = looks - looks[legs // 2]
        at = (np.arange(self.count) + 0.5) / self.count * legs
        first = np.minimum(at.astype(int) // 2 * 2, legs - 2) if self.bends else np.minimum(at.astype(int), legs - 1)
        part = (at - first)[:, None]
        made = places[first] + (places[first + 1] - places[first]) * part
        if self.bends:
            curved = places[first + 2] - 2 * places[first + 1] + places[first]
            made = made + curved * part * (part - 1) / 2
        return [(float(x), float(y)) for x, y in made]


class Pose(NamedTuple):
    """Letters that stand together somewhere: `letters` None is all of them. `matrix` leads from em to px of the painted
    picture."""

    letters: tuple[int, ...] | None
    matrix: Matrix
    opacity: float = 1.0
    inking: Inking | None = None
    swaps: tuple[tuple[int, str], ...] = ()
    """Letters shown as another character, in their own place."""
    smear: Smear | None = None
    """While a shutter is open: the moments whose mean is painted, in place of `matrix` and `opacity`."""
    solid: Hashable = None
    """What its ink is made of where it is solid, for whoever paints that."""

    @property
    def name(self) -> tuple[object, ...]:
        """The pose as plain tuples, which are written in a tenth of the time."""
        smear = self.smear and (*self.smear._replace(around=(*self.smear.around,)),)  # type: ignore[arg-type]
        inking = self.inking and (*self.inking,)
        return (self.letters, (*self.matrix,), self.opacity, inking, self.swaps, smear, self.solid)


def paint_text(layout: Layout, poses: Sequence[Pose], window: Rect, colour: tuple[int, int, int]) -> Patch:
    """A layout's ink inside a window: coverage of one colour, or all colours where ranges have their own.

    Outlines are filled by their exact area (picture/fill.py): glyph runs of the graphics library snap to quarter
    pixels, and its paths are sampled on four lines a pixel; either is seen in a slow drift.
    """
    # One px of room: an outline's edge reaches into the next pixel.
    shown = [
        (pose, _bounds(layout, pose).meets(window))
        for pose in poses
        if pose.opacity > 0 and (pose.smear or pose.matrix.scale > 1e-9)
    ]
    shown = [(pose, bounds) for pose, bounds in shown if not bounds.empty]
    if not shown:
        return Patch.empty()
    box = Rect.around(bounds for _, bounds in shown).whole()
    height, width = box[3] - box[1], box[2] - box[0]
    # Edges of type that is wholly there bear being rounded; a fade does not.
    whole = all(_whole(pose) for pose, _ in shown)
    owns = _owns(layout, [pose for pose, _ in shown])
    if len(owns) == 1 and not layout.pictures:
        total = np.zeros((height, width), np.float32)
        for sort in _alike(shown):
            _add(total, box, layout, sort, owns[0])
        own = owns[0]
        return Patch(_coverage(total, whole), box[0], box[1], colour=parse_colour(own) if own else colour)
    pixels = np.zeros((height, width, 4), np.float32)
    for sort in _alike(shown):
        for own in owns:
            total = np.zeros((height, width), np.float32)
            _add(total, box, layout, sort, own)
            over(pixels, Patch(_coverage(total, whole), 0, 0, colour=parse_colour(own) if own else colour))
        if layout.pictures:
            _pictures(pixels, box, layout, sort)
    return Patch(pixels, box[0], box[1])


def _owns(layout: Layout, poses: Sequence[Pose]) -> list[str | None]:
    """The colours that letters of the poses have of their own; None is that of the text, and first."""
    if layout.colours and all(pose.letters is not None and not pose.swaps for pose in poses):
        letters = (letter for pose in poses for letter in pose.letters or ())
        found = {glyph.colour for letter in letters for glyph in layout.of_letter[letter]}
        if len(found) == 1:
            return list(found)
    return [None, *sorted(layout.colours)]


def _coverage(total: np.ndarray, rounded: bool) -> np.ndarray:
    """Shares of a px, cut at all of it, as code values."""
    cover = np.minimum(total, 1.0, out=total)
    cover *= np.float32(255)
    return (cover + np.float32(0.5)).astype(np.uint8) if rounded else cover


_Shown = Sequence[tuple[Pose, Rect]]


def _alike(shown: _Shown) -> list[_Shown]:
    """Poses that are wholly there are filled together, so that letters abut without a seam; one that fades is alone.
    Streaks add up one by one, at once."""
    whole = [each for each in shown if _whole(each[0])]
    streaks = [each for each in shown if each[0].smear]
    alone = [[each] for each in shown if not _whole(each[0]) and not each[0].smear]
    return [each for each in (whole, *alone, streaks) if each]


def _whole(pose: Pose) -> bool:
    """Whether all of its ink is there, in one place."""
    return pose.opacity >= 1 and pose.inking is None and not pose.smear


def _add(
    total: np.ndarray, box: tuple[int, int, int, int], layout: Layout, poses: _Shown, own: str | None = None
) -> None:
    """Add the coverage of the glyphs of one colour to a total; it may pass 1 where they overlap."""
    if poses[0][0].smear:
        _add_streaks(total, box, layout, poses, own)
        return
    opacity = poses[0][0].opacity
    x0, y0, x1, y1 = Rect.around(bounds for _, bounds in poses).whole()
    outlines: list[np.ndarray] = []
    matrices: list[Matrix] = []
    strokes = None
    for pose, bounds in poses:
        if pose.inking is None or pose.inking.fill > 0:
            own_outlines = _outlines(layout, pose, bounds, own)
            outlines += own_outlines
            matrices += [pose.matrix] * len(own_outlines)
        if pose.inking is not None:
            strokes = _strokes(
                [glyph for glyph in _glyphs(layout, pose, bounds) if _inked(glyph, own)],
                pose.inking,
                Matrix.shift(-x0, -y0) @ pose.matrix,
                x1 - x0,
                y1 - y0,
            )
    part = total[y0 - box[1] : y1 - box[1], x0 - box[0] : x1 - box[0]]
    if outlines:
        fill = poses[0][0].inking.fill if poses[0][0].inking else 1.0
        cover = covered(Outlines.of(outlines).moved(matrices, x0, y0), x1 - x0, y1 - y0)
        part += cover * np.float32(opacity * fill) if opacity * fill != 1 else cover
    if strokes is not None:
        part += strokes * np.float32(opacity)


_LONG = 24
"""Moments from which on mere travel is painted once and shifted."""


def _add_streaks(
    total: np.ndarray, box: tuple[int, int, int, int], layout: Layout, poses: _Shown, own: str | None
) -> None:
    """Add the mean coverage of poses over the moments of their smears."""
    outlines: list[np.ndarray] = []
    streaks: list[Streak] = []
    for pose, bounds in poses:
        smear = pose.smear
        assert smear is not None
        if smear.count > _LONG and smear.only_travels:
            _add_travel(total, box, layout, pose, smear, bounds, own)
            continue
        looks = smear.places
        largest = np.abs(looks[:, 0] * looks[:, 3] - looks[:, 1] * looks[:, 2]).argmax()
        for outline in _outlines(layout, pose._replace(matrix=Matrix(*looks[largest, :9])), bounds, own):
            outlines.append(outline)
            streaks.append(smear.streak)
    if outlines:
        add_streaks(Outlines.of(outlines), streaks, total, box[0], box[1])


def _add_travel(
    total: np.ndarray,
    box: tuple[int, int, int, int],
    layout: Layout,
    pose: Pose,
    smear: Smear,
    bounds: Rect,
    own: str | None,
) -> None:
    """Add the streak of a pose that only travels: it is painted once, and shifted."""
    *place, opacity = smear.places[(len(smear.places) - 1) // 2]
    middle = Matrix(*place)
    outlines = _outlines(layout, pose._replace(matrix=middle), bounds, own)
    if not outlines:
        return
    left, top, right, foot = _bounds(layout, pose._replace(matrix=middle, smear=None)).whole()
    cover = covered(Outlines.of(outlines).moved([middle] * len(outlines), left, top), right - left, foot - top)
    streak = travelled(Patch(cover, left, top, colour=(0, 0, 0)), smear.shifts(), Rect(*bounds.whole()))
    if not streak.rect.empty:
        x, y = streak.x - box[0], streak.y - box[1]
        total[y : y + streak.height, x : x + streak.width] += streak.pixels * np.float32(opacity)


def glyphs_of(layout: Layout, pose: Pose) -> list[Glyph]:
    """All glyphs of a pose, in sight or not."""
    glyphs = layout.glyphs if pose.letters is None else [g for each in pose.letters for g in layout.of_letter[each]]
    swaps = dict(pose.swaps)
    made = [_swapped(layout, each, swaps[each.letter]) if each.letter in swaps else each for each in glyphs]
    return [each for each in made if each is not None]


def _glyphs(layout: Layout, pose: Pose, bounds: Rect) -> list[Glyph]:
    """The pose's glyphs with ink in sight. Whole lines that are out of sight cost nothing."""
    if pose.letters is None:
        glyphs = [glyph for first, end in _near(layout, pose, bounds) for glyph in layout.glyphs[first:end]]
    else:
        glyphs = [glyph for letter in pose.letters for glyph in layout.of_letter[letter]]
    if pose.swaps:
        swaps = dict(pose.swaps)
        glyphs = [
            found
            for glyph in glyphs
            if (found := _swapped(layout, glyph, swaps[glyph.letter]) if glyph.letter in swaps else glyph)
        ]
    return _in_sight(glyphs, pose, bounds) if len(glyphs) > _WORTH_KEEPING else glyphs


def _near(layout: Layout, pose: Pose, bounds: Rect) -> list[tuple[int, int]]:
    """The lines with ink in sight, as glyphs [first, end)."""
    return [
        (first, end)
        for first, end, ink in layout.rows
        if not ink.empty and not ink.through(pose.matrix, 1.0).meets(bounds).empty
    ]


def _in_sight(glyphs: Sequence[Glyph], pose: Pose, bounds: Rect) -> list[Glyph]:
    return [glyph for glyph in glyphs if not glyph.ink.through(pose.matrix, 1.0).meets(bounds).empty]


_WORTH_KEEPING = 400
"""Glyphs; of longer lines only what is in sight is looked at."""


def _outlines(layout: Layout, pose: Pose, bounds: Rect, own: str | None) -> list[np.ndarray]:
    """The pieces (n, 4) of the pose's glyphs of one colour in the layout's own space, line by line where it is all of
    them."""
    if pose.letters is None and not pose.swaps:
        return [
            _outline(layout, pose, layout.glyphs[first:end], own, (first, end), bounds)
            for first, end in _near(layout, pose, bounds)
        ]
    if pose.letters is not None and len(pose.letters) == 1 and not pose.swaps:
        return [_outline(layout, pose, layout.of_letter[pose.letters[0]], own, pose.letters, bounds)]
    return [_outline(layout, pose, _glyphs(layout, pose, bounds), own, None if pose.swaps else pose.letters, bounds)]


def _outline(
    layout: Layout, pose: Pose, glyphs: Sequence[Glyph], own: str | None, name: Hashable, bounds: Rect
) -> np.ndarray:
    """The pieces of some glyphs, kept for the frames to come under their name, if they have one."""
    scale = pose.matrix.scale
    if len(glyphs) > _WORTH_KEEPING:
        glyphs, name = _in_sight(glyphs, pose, bounds), None
    if len(glyphs) == 1:
        key: tuple[object, ...] = (_outline, id(layout), own, name, octave_of(scale * glyphs[0].size))
    else:
        sizes = dict.fromkeys(glyph.size for glyph in glyphs)
        key = (_outline, id(layout), own, name, *[octave_of(scale * size) for size in sizes])
    known = BUDGET.find(key) if name is not None else None
    if known is not None and known[0] is layout:
        return known[1]
    made = [
        glyph.face.pieces(glyph.gid, scale * glyph.size) * glyph.size + (glyph.x, glyph.y, glyph.x, glyph.y)
        for glyph in glyphs
        if _inked(glyph, own)
    ]
    pieces = np.concatenate(made) if made else np.empty((0, 4))
    if name is not None:
        BUDGET.keep(key, (layout, pieces), pieces.nbytes + 400)
    return pieces


def _inked(glyph: Glyph, own: str | None) -> bool:
    return glyph.colour == own and not glyph.face.colourful


def _bounds(layout: Layout, pose: Pose) -> Rect:
    if pose.smear:
        return pose.smear.around.grown(1)
    if pose.letters is None:
        ink = layout.ink
    elif len(pose.letters) == 1:
        ink = layout.units["letter"][pose.letters[0]].ink
    else:
        units = layout.units["letter"]
        inks = [ink for ink in (units[letter].ink for letter in pose.letters) if not ink.empty]
        ink = inks[0] if len(inks) == 1 else Rect.around(inks)
    if ink.empty:
        return ink
    room = (0.6 if pose.swaps else 0.0) + (pose.inking.pen / 2 if pose.inking else 0.0)
    return (ink.grown(room) if room else ink).through(pose.matrix, 1.0)


def _strokes(glyphs: list[Glyph], inking: Inking, to: Matrix, width: int, height: int) -> np.ndarray | None:
    """Coverage of the drawn stretch of each contour, with a round pen.

    The pen's line gives way to the fill as that comes, so that at rest nothing of it is left.
    """
    if inking.end <= inking.start or inking.pen <= 0 or inking.fill >= 1:
        return None
    mask = np.zeros((height, width), np.uint8)
    canvas = skia.Surface.MakeRasterDirect(skia.ImageInfo.MakeA8(width, height), mask, width).getCanvas()
    paint = skia.Paint(
        AntiAlias=True,
        Style=skia.Paint.kStroke_Style,
        StrokeCap=skia.Paint.kRound_Cap,
        StrokeJoin=skia.Paint.kRound_Join,
    )
    for glyph in glyphs:
        path = glyph.face.glyph(glyph.gid)[0]
        if path is None:
            continue
        unit = glyph.size / glyph.face.units
        drawn, measure = skia.Path(), skia.PathMeasure(path, False)
        while True:
            length = measure.getLength()
            measure.getSegment(length * inking.start, length * inking.end, drawn, True)
            if not measure.nextContour():
                break
        paint.setStrokeWidth(inking.pen / unit)
        canvas.setMatrix(skia_matrix(to @ Matrix.shift(glyph.x, glyph.y) @ Matrix.grow(unit)))
        canvas.drawPath(drawn, paint)
    return mask.astype(np.float32) / np.float32(255) * np.float32(1 - inking.fill)


def _pictures(pixels: np.ndarray, box: tuple[int, int, int, int], layout: Layout, poses: _Shown) -> None:
    """Glyphs that are pictures in colours, drawn where they stand."""
    drawn = np.zeros(pixels.shape, np.uint8)
    info = skia.ImageInfo.Make(pixels.shape[1], pixels.shape[0], skia.kRGBA_8888_ColorType, skia.kPremul_AlphaType)
    canvas = skia.Surface.MakeRasterDirect(info, drawn, drawn.strides[0]).getCanvas()
    smooth = skia.SamplingOptions(skia.FilterMode.kLinear, skia.MipmapMode.kLinear)
    for pose, bounds in poses:
        for glyph in _glyphs(layout, pose, bounds):
            picture = glyph.face.picture(glyph.gid)
            if picture:
                to = (
                    Matrix.shift(-box[0], -box[1])
                    @ pose.matrix
                    @ Matrix.shift(glyph.x, glyph.y)
                    @ Matrix.grow(glyph.size)
                )
                canvas.setMatrix(skia_matrix(to))
                canvas.drawImageRect(
                    picture[0], skia.Rect.MakeLTRB(*picture[1]), smooth, skia.Paint(AntiAlias=True, Alphaf=pose.opacity)
                )
    over(pixels, Patch(drawn, 0, 0))


def _swapped(layout: Layout, glyph: Glyph, character: str) -> Glyph | None:
    """A glyph that stands in another's place, in the middle of its letter; None for the later glyphs of that letter."""
    unit = layout.units["letter"][glyph.letter]
    if glyph.cluster != unit.start:
        return None
    gid = glyph.face.hb_font.get_nominal_glyph(ord(character)) or 0
    if not gid:
        return glyph
    advance = glyph.face.hb_font.get_glyph_h_advance(gid) / glyph.face.units * glyph.size
    return glyph._replace(gid=gid, x=(unit.box.x0 + unit.box.x1 - advance) / 2, y=unit.baseline, advance=advance)
