"""Motion blur: how many moments of an exposed frame are painted, and which."""

from __future__ import annotations

import math

from ..moment.evaluate import evaluate_clip
from ..moment.scene import FootageNow, Layer, Scene, TextNow
from ..moment.standing import stand
from ..picture import Matrix, Rect
from ..steps import KINDS
from .layers import LayerPlan, SmearPlan, plan_layer

CEILINGS = {True: 96, False: 16}
"""The most pictures painted for one frame, as exported and in a light preview. Mere travel needs one picture only."""

_LEAST = {True: 8, False: 2}
"""Pictures painted at least where more changes than places: fades, blurs, windows. Half as many where nothing goes half a px."""

_SHORT = 6.0
"""Px of mere travel below which every moment is painted where it stands, four to a px."""

_LOOKS = {True: 9, False: 5}
"""Moments at which the exposure is looked at to tell how far things travel."""


def plan_smear(scene: Scene, layer: Layer, view: Matrix, width: int, height: int, exact: bool) -> LayerPlan | SmearPlan | None:
    """One sample for each px that the outermost corner travels; plain travel is one picture shifted."""
    seen = Rect(0, 0, width, height)
    still = layer._replace(exposure=None)
    looks = _LOOKS[exact]
    moments = [_moment(layer, (i + 0.5) / looks) for i in range(looks)]
    moments = [each for each in moments if each is not None]
    if not moments or all(_same(each, moments[0]) for each in moments):
        return plan_layer(scene, still, view, seen)
    corners = [_corners(scene, each, view) for each in moments]
    if any(len(each) != len(corners[0]) for each in corners):
        corners = [each[:4] for each in corners]
    travel = _way(corners)
    origin = corners[looks // 2][0] if len(corners) == looks else None
    shifts = [((i + 0.5) / looks, (quad[0][0] - origin[0], quad[0][1] - origin[1])) for i, quad in enumerate(corners)] if origin else []
    # Further than a few frames' breadth one picture with room for it all would be too large to paint.
    only_travels = bool(shifts) and travel < 3 * max(width, height) and _only_travels(moments, corners)
    # A sharp edge has the spread of the place between pixels at which it was painted; in a short streak that is seen.
    short = only_travels and exact and 0.5 <= travel < _SHORT and not isinstance(layer.content, FootageNow)
    if only_travels and not short:
        return _travelling(scene, layer, moments[looks // 2], view, seen, shifts, travel)
    grown = [_grown(scene, each, view) for each in moments]
    travel = max([travel, *(_way([each[step] for each in grown]) for step in grown[0] if all(step in each for each in grown))])
    wanted = max(_LEAST[exact] if travel >= 0.5 else _LEAST[exact] // 2, math.ceil(4 * travel if short else travel))
    count = min(wanted, CEILINGS[exact])
    if count == 1:
        return plan_layer(scene, moments[looks // 2], view, seen)
    samples = []
    for i in range(count):
        moment = _moment(layer, (i + 0.5) / count)
        planned = moment and plan_layer(scene, moment, view, seen)
        if planned:
            samples.append(planned)
    if not samples:
        return None
    # Samples in which nothing is seen still count: they are nothing for their part of the time.
    samples = [one._replace(opacity=one.opacity * len(samples) / count) for one in samples]
    return SmearPlan(layer.clip, tuple(samples), (), wanted, ("samples", *((one.key, one.opacity) for one in samples)))


def _way(corners: list[list[tuple[float, float]]]) -> float:
    """How far the corner that goes furthest travels from look to look."""
    legs = [max(math.dist(a, b) for a, b in zip(one, other)) for one, other in zip(corners, corners[1:])]
    # The outermost looks stand half a look inside the exposure's ends.
    return sum(legs) * len(corners) / max(1, len(legs))


def _moment(layer: Layer, share: float) -> Layer | None:
    exposure = layer.exposure
    at = exposure.opens + (exposure.closes - exposure.opens) * share
    return evaluate_clip(exposure.project, exposure.clip, at, exposure.frame)


def _same(one: Layer, other: Layer) -> bool:
    return one.content == other.content and one.steps == other.steps


def _places(step) -> bool:
    return KINDS[step.kind].group == "place"


def _corners(scene: Scene, layer: Layer, view: Matrix) -> list[tuple[float, float]]:
    """Corners of what is painted; of every unit, where units move on their own."""
    standing = stand(layer.content, scene.width, scene.height)
    rests = {}

    def corners(box: Rect, letter: int | None) -> list[tuple[float, float]]:
        matrix = view
        for step in reversed(layer.steps):
            number = step.of_letter[letter] if step.parts and letter is not None else None
            known = rests.get((id(step), number))
            if known is None:
                part = step.parts[number] if number is not None else step
                rest = standing.rest_of(part.unit, part.index, step.leaving, step.pivot) if number is not None else standing.rest(step.leaving, step.pivot)
                known = rests[id(step), number] = KINDS[step.kind].place(part.values, rest) or Matrix()
            matrix = matrix @ known
        return box.corners(matrix)

    if any(step.parts for step in layer.steps):
        letters = {tuple(step.of_letter[letter] for step in layer.steps if step.parts): letter for letter in range(len(standing.layout.units["letter"]))}
        units = standing.layout.units["letter"]
        return [corner for letter in letters.values() for corner in corners(units[letter].ink.through(standing.matrix), letter)]
    return corners(standing.ink if isinstance(layer.content, TextNow) and not standing.ink.empty else standing.box, None)


def _grown(scene: Scene, layer: Layer, view: Matrix) -> dict[int, list[tuple[float, float]]]:
    """Corners of what steps paint of their own, such as a backing that opens, by the step's place in the clip."""
    standing = stand(layer.content, scene.width, scene.height)
    found, matrix = {}, view
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


def _only_travels(moments: list[Layer], corners: list[list[tuple[float, float]]]) -> bool:
    """Whether all moments are one picture at different places."""
    first = moments[0]
    if any(step.parts for moment in moments for step in moment.steps):
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


def _travelling(scene: Scene, layer: Layer, middle: Layer, view: Matrix, seen: Rect, looks: list[tuple[float, tuple[float, float]]], travel: float) -> LayerPlan | SmearPlan | None:
    """One picture, with room for all that travels into the frame, and where it stands from moment to moment."""
    origin = _corners(scene, middle, view)[0]

    def stands(share: float) -> tuple[float, float]:
        moment = _moment(layer, share)
        corner = _corners(scene, moment, view)[0] if moment is not None else origin
        return corner[0] - origin[0], corner[1] - origin[1]

    way = _looked_closer([(0.0, stands(0.0)), *looks, (1.0, stands(1.0))], stands)
    room = max(max(abs(x), abs(y)) for _, (x, y) in way) + 4
    planned = plan_layer(scene, middle, view, seen.grown(math.ceil(room)), seen)
    if planned is None or travel < 0.05:
        return planned
    # Eight to a px: the mean of the moments is then as good as the mean over time.
    count = min(4096, max(16, 8 * math.ceil(travel)))
    shifts, leg = [], 0
    for i in range(count):
        share = (i + 0.5) / count
        while leg < len(way) - 2 and way[leg + 1][0] < share:
            leg += 1
        (t0, (x0, y0)), (t1, (x1, y1)) = way[leg], way[leg + 1]
        part = (share - t0) / (t1 - t0)
        shifts.append((x0 + (x1 - x0) * part, y0 + (y1 - y0) * part) if t1 - t0 > _FINEST else ((x0, y0) if part < 0.5 else (x1, y1)))
    key = ("travel", planned.key, tuple(shifts[::max(1, count // 64)]), seen)
    return SmearPlan(planned.clip, (planned._replace(opacity=1.0),), tuple(shifts), math.ceil(travel), key, planned.opacity)


def _looked_closer(way: list[tuple[float, tuple[float, float]]], stands) -> list[tuple[float, tuple[float, float]]]:
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
