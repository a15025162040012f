"""Motion blur: how many moments of an exposed frame are painted, and which."""

from __future__ import annotations

import math
from typing import Callable

from ..moment.evaluate import evaluate_clip
from ..moment.lights import cast_by
from ..moment.scene import FootageNow, Layer, StepNow, TextNow
from ..moment.standing import stand
from ..picture import Matrix, Rect
from ..steps import KINDS
from .clip import may_be_solid, plan_clip
from .exposed_letters import exposed_letters, redrawn
from .graph import Seen, Travelled
from .in_between import in_between
from .moments import mean_of_moments, planned
from .sight import Inside, Sight

CEILINGS = {True: 96, False: 16}
"""The most pictures painted for one frame, as exported and in a light preview. Mere travel needs one picture only."""

_LEAST = {True: 8, False: 2}
"""Pictures painted at least where more changes than places: fades, blurs, windows."""

_BARELY = {True: 0.5, False: 1.5}
"""Half as many are painted where nothing goes so many px: in a light preview half of what lies between two."""

_FINE = {True: 1.0, False: 1 / 3}
"""Pictures painted for each px that the outermost corner travels."""

_SHORT = 6.0
"""Px of mere travel below which every moment is painted where it stands, four to a px."""

_LOOKS = {True: 9, False: 2}
"""Moments at which the exposure is looked at to tell how far things travel; where as many are painted, it is these."""

Point = tuple[float, float]


def plan_exposed(layer: Layer, sight: Sight, inside: Inside) -> Seen | None:
    """The picture of a clip, with its motion blur if it has any and moves.

    One sample for each px that the outermost corner travels, or for every other in a light preview; plain travel is one
    picture shifted.
    """
    if layer.exposure is None:
        return plan_clip(layer, sight, inside)
    known: dict[float, Layer | None] = {}

    def at(share: float, letters: frozenset[int] | None = None) -> Layer | None:
        """A moment of the exposure; what was worked out for all letters serves for some of them."""
        if share in known:
            return known[share]
        found = moment_of(layer, share, letters)
        if letters is None:
            known[share] = found
        return found

    looks, solid = _LOOKS[sight.exact], may_be_solid(layer)
    cascades = isinstance(layer.content, TextNow) and not solid and any(step.parts for step in layer.steps)
    # What a light picture is looked at for tells whether letters can be followed, too.
    if cascades and not redrawn(*((at(1 / 4), at(3 / 4)) if not sight.exact else (at(0.0), at(1.0)))):
        letters = exposed_letters(layer, sight, at, CEILINGS[sight.exact])
        if letters is not None:
            return letters.seen
    moments = [each for each in (at((i + 0.5) / looks) for i in range(looks)) if each is not None]
    if not moments or all(_same(each, moments[0]) for each in moments):
        return plan_clip(layer._replace(exposure=None), sight, inside)
    corners = [_corners(sight, each) for each in moments]
    if any(len(each) != len(corners[0]) for each in corners):
        corners = [each[:4] for each in corners]
    travel = _way(corners)
    origin = corners[looks // 2][0] if len(corners) == looks else None
    shifts = (
        [((i + 0.5) / looks, (quad[0][0] - origin[0], quad[0][1] - origin[1])) for i, quad in enumerate(corners)]
        if origin
        else []
    )
    # Further than a few frames' breadth one picture with room for it all would be too large to paint.
    only_travels = bool(shifts) and not solid and travel < 3 * sight.span and _only_travels(moments, corners)
    # A sharp edge has the spread of the place between pixels at which it was painted; in a short streak that is seen.
    short = only_travels and sight.exact and 0.5 <= travel < _SHORT and not isinstance(layer.content, FootageNow)
    if only_travels and not short:
        return _travelling(layer, moments[looks // 2], sight, inside, shifts, travel)
    grown = [_grown(sight, each) for each in moments]
    travel = max(
        [travel, *(_way([each[step] for each in grown]) for step in grown[0] if all(step in each for each in grown))]
    )
    least = _LEAST[sight.exact] if travel >= _BARELY[sight.exact] else _LEAST[sight.exact] // 2
    wanted = max(least, math.ceil(4 * travel if short else _FINE[sight.exact] * travel))
    count = min(wanted, CEILINGS[sight.exact])
    if count == 1:
        return plan_clip(at(0.5) or moments[looks // 2], sight, inside)
    shares = [(i + 0.5) / count for i in range(count)]
    between = None
    if not sight.exact and count > 2 and len(moments) == 2 and (middle := at(0.5)) is not None:
        between = in_between(moments[0], middle, moments[1])
    painted = [between(2 * share - 0.5) for share in shares] if between else [at(share) for share in shares]
    samples = [one for one in planned(painted, sight, inside) if one]
    if not samples:
        return None
    return Seen(mean_of_moments(samples, count, sight.window, wanted), 1.0, layer.blend, layer.clip)


def moment_of(layer: Layer, share: float, letters: frozenset[int] | None = None) -> Layer | None:
    """The clip at a moment of its exposure, 0 as the shutter opens to 1 as it closes; of its words only some
    letters."""
    exposure = layer.exposure
    if exposure is None:
        return layer
    at = exposure.opens + (exposure.closes - exposure.opens) * share
    if at == exposure.frame:
        return layer._replace(exposure=None)
    moment = evaluate_clip(exposure.project, exposure.clip, at, exposure.frame, letters)
    return moment and cast_by(moment, layer)


def _way(corners: list[list[Point]]) -> float:
    """How far the corner that goes furthest travels from look to look."""
    legs = [max(math.dist(a, b) for a, b in zip(one, other)) for one, other in zip(corners, corners[1:])]
    # The outermost looks stand half a look inside the exposure's ends.
    return sum(legs) * len(corners) / max(1, len(legs))


def _same(one: Layer, other: Layer) -> bool:
    return one.content == other.content and one.steps == other.steps


def _places(step: StepNow) -> bool:
    return KINDS[step.kind].group == "place"


def _corners(sight: Sight, layer: Layer) -> list[Point]:
    """Corners of what is painted; of every unit, where units move on their own."""
    standing = stand(layer.content, sight.width, sight.height)
    rests: dict[tuple[int, int | None], Matrix] = {}

    def corners(box: Rect, letter: int | None) -> list[Point]:
        matrix = sight.view
        for step in reversed(layer.steps):
            number = step.of_letter[letter] if step.parts and letter is not None else None
            known = rests.get((id(step), number))
            if known is None:
                part = step.parts[number] if number is not None else step
                rest = (
                    standing.rest_of(part.unit, part.index, step.leaving, step.pivot)
                    if number is not None
                    else standing.rest(step.leaving, step.pivot)
                )
                known = rests[id(step), number] = KINDS[step.kind].place(part.values, rest) or Matrix()
            matrix = matrix @ known
        return box.corners(matrix)

    if any(step.parts for step in layer.steps):
        units = standing.words.units["letter"]
        letters = {
            tuple(step.of_letter[letter] for step in layer.steps if step.parts): letter for letter in range(len(units))
        }
        return [
            corner
            for letter in letters.values()
            for corner in corners(units[letter].ink.through(standing.matrix), letter)
        ]
    return corners(
        standing.ink if isinstance(layer.content, TextNow) and not standing.ink.empty else standing.box, None
    )


def _grown(sight: Sight, layer: Layer) -> dict[int, list[Point]]:
    """Corners of what steps paint of their own, such as a backing that opens, by the step's place in the clip."""
    standing = stand(layer.content, sight.width, sight.height)
    found, matrix = {}, sight.view
    for number in range(len(layer.steps) - 1, -1, -1):
        step = layer.steps[number]
        if step.parts:
            continue
        rest = standing.rest(step.leaving, step.pivot)
        added = KINDS[step.kind].adds(step.values, rest)
        if added is not None:
            found[number] = added.corners(matrix)
        matrix = matrix @ (KINDS[step.kind].place(step.values, rest) or Matrix())
    return found


def _only_travels(moments: list[Layer], corners: list[list[Point]]) -> bool:
    """Whether all moments are one picture at different places."""
    first = moments[0]
    if any(step.parts or step.masks for moment in moments for step in moment.steps):
        return False
    for moment, quad in zip(moments[1:], corners[1:]):
        dx, dy = quad[0][0] - corners[0][0][0], quad[0][1] - corners[0][0][1]
        if any(abs(b[0] - a[0] - dx) > 1e-6 or abs(b[1] - a[1] - dy) > 1e-6 for a, b in zip(corners[0], quad)):
            return False
        if moment.content != first.content or len(moment.steps) != len(first.steps):
            return False
        for a, b in zip(first.steps, moment.steps):
            if a.kind != b.kind or a.mix != b.mix:
                return False
            if not _places(a) and a.values != b.values:
                return False
            if _places(a) and KINDS[a.kind].opacity(a.values) != KINDS[b.kind].opacity(b.values):
                return False
    return True


_STRAIGHT = 0.1
"""Px by which the way between two looks may be other than straight."""
_FINEST = 1 / 2048
"""Share of the exposure below which a leg is not looked at again: what is still far apart there is a jump."""


def _travelling(
    layer: Layer, middle: Layer, sight: Sight, inside: Inside, looks: list[tuple[float, Point]], travel: float
) -> Seen | None:
    """One picture, with room for all that travels into the frame, and where it stands from moment to moment."""
    origin = _corners(sight, middle)[0]

    def stands(share: float) -> Point:
        moment = moment_of(layer, share)
        corner = _corners(sight, moment)[0] if moment is not None else origin
        return corner[0] - origin[0], corner[1] - origin[1]

    way = _looked_closer([(0.0, stands(0.0)), *looks, (1.0, stands(1.0))], stands)
    room = max(max(abs(x), abs(y)) for _, (x, y) in way) + 4
    travels = plan_clip(middle, sight._replace(window=sight.window.grown(math.ceil(room))), inside)
    if travels is None or travel < 0.05:
        return travels
    # Eight to a px: the mean of the moments is then as good as the mean over time.
    count = min(4096, max(16, 8 * math.ceil(travel)))
    shifts, leg = [], 0
    for i in range(count):
        share = (i + 0.5) / count
        while leg < len(way) - 2 and way[leg + 1][0] < share:
            leg += 1
        (t0, (x0, y0)), (t1, (x1, y1)) = way[leg], way[leg + 1]
        part = (share - t0) / (t1 - t0)
        shifts.append(
            (x0 + (x1 - x0) * part, y0 + (y1 - y0) * part)
            if t1 - t0 > _FINEST
            else ((x0, y0) if part < 0.5 else (x1, y1))
        )
    return Seen(
        Travelled(travels.picture, tuple(shifts), sight.window, math.ceil(travel)),
        travels.opacity,
        travels.mode,
        travels.clip,
    )


def _looked_closer(way: list[tuple[float, Point]], stands: Callable[[float], Point]) -> list[tuple[float, Point]]:
    """The way with looks in between wherever it is not straight, down to a jump itself."""
    made = [way[0]]
    open_legs = list(zip(way, way[1:]))[::-1]
    while open_legs and len(made) < 2000:
        (t0, a), (t1, b) = open_legs.pop()
        middle = (t0 + t1) / 2
        if t1 - t0 > _FINEST and math.dist(a, b) > _STRAIGHT:
            at = stands(middle)
            if math.dist(at, ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)) > _STRAIGHT:
                open_legs += [((middle, at), (t1, b)), ((t0, a), (middle, at))]
                continue
        made.append((t1, b))
    return made
