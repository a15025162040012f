"""Which planes of a scene cross, or lie in another order than their middles do."""

from __future__ import annotations

import math
from typing import Iterable, Sequence

from ..moment.scene import Join, Layer, ModelNow
from ..moment.standing import stand
from ..moment.whereabouts import whereabouts_of
from ..picture import Matrix, Nearness, Rect
from ..steps import KINDS, STAND, Stand
from .clip import may_be_solid
from .sight import Sight


def entangled(layers: Sequence[Layer | Join], sight: Sight) -> dict[int, tuple[int, dict[int, Nearness]]]:
    """Runs of neighbouring layers whose planes have to be laid over each other px by px: of the place of the first its
    last, and how near each of them is over the painted picture."""
    near: dict[int, Nearness] = {}
    ends: dict[int, tuple[Nearness, ...]] = {}
    boxes: dict[int, Rect] = {}
    for place, layer in enumerate(layers):
        found = _nearness(layer, sight) if isinstance(layer, Layer) and layer.blend == "normal" else None
        if found is not None and isinstance(layer, Layer):
            near[place], ends[place], reach = found
            boxes[place] = whereabouts_of(layer, sight.width, sight.height).box.grown(reach).through(sight.view)
    runs: list[tuple[int, int]] = []
    for upper in sorted(near):
        for lower in range(upper - 1, -1, -1):
            # What is flat lies between them in any case.
            if lower not in near:
                break
            if not _in_order(ends[lower], ends[upper], boxes[lower].meets(boxes[upper]).meets(sight.window)):
                runs.append((lower, upper))
    found_runs: dict[int, tuple[int, dict[int, Nearness]]] = {}
    for first, last in _merged(runs):
        found_runs[first] = (last, {place: near[place] for place in range(first, last + 1)})
    return found_runs


def _merged(runs: Iterable[tuple[int, int]]) -> list[tuple[int, int]]:
    made: list[tuple[int, int]] = []
    for first, last in sorted(runs):
        if made and first <= made[-1][1]:
            made[-1] = (made[-1][0], max(made[-1][1], last))
        else:
            made.append((first, last))
    return made


def _in_order(lower: Sequence[Nearness], upper: Sequence[Nearness], area: Rect) -> bool:
    """Whether all planes of the upper are nearer all over an area."""
    if area.empty:
        return True
    return all(
        (above[0] - below[0]) * x + (above[1] - below[1]) * y + above[2] - below[2] >= 0
        for below in lower
        for above in upper
        for x, y in area.corners()
    )


def _nearness(layer: Layer, sight: Sight) -> tuple[Nearness, tuple[Nearness, ...], float] | None:
    """How near a layer's plane is over the painted picture, the planes between which all of it lies, and by how many px
    of the frame it may reach beyond its plane's ink; None for one that does not stand in space."""
    place = next((n for n, each in enumerate(layer.steps) if each.kind == STAND.kind and each.mix > 0), None)
    if place is None or layer.steps[place].parts:
        return None
    assert isinstance(STAND, Stand)
    standing = stand(layer.content, sight.width, sight.height)
    later = Matrix()
    for step in layer.steps[place + 1 :]:
        placed = None if step.parts else KINDS[step.kind].place(step.values, standing.rest(step.leaving, step.pivot))
        later = later if placed is None else placed @ later
    step = layer.steps[place]
    rest, view = standing.rest(step.leaving, step.pivot), sight.view @ later
    own = STAND.nearness(step.values, rest, view)
    if own is None or not may_be_solid(layer):
        return None if own is None else (own, (own,), 0.0)
    before, behind = _thick(layer, place, standing.ink)
    away, ends = STAND.body(step.values, rest)[2], []
    for by in (-before, behind):
        moved = {name: step.values[name] + by * way for name, way in zip("xyz", away)}
        ends.append(STAND.nearness({**step.values, **moved}, rest, view))
    # A body that reaches behind the camera may lie before and behind anything.
    known = [each for each in ends if each is not None]
    nowhere = (0.0, 0.0, 0.0) if len(known) < len(ends) else None
    return own, (own, *known, *([nowhere] if nowhere else [])), before + behind


def _thick(layer: Layer, place: int, ink: Rect) -> tuple[float, float]:
    """How far a body reaches before its plane and behind it, in its own px."""
    if isinstance(layer.content, ModelNow):
        return (dict(layer.content.values)["size"] * math.sqrt(3) / 2,) * 2
    steps = [each for each in layer.steps[:place] if each.mix > 0 or each.parts]
    turned = any(KINDS[each.kind].turns_in_depth for each in steps)
    most = max(ink.x1 - ink.x0, ink.y1 - ink.y0) if turned else 0.0
    depth = max(
        (
            values.get("depth", 0.0)
            for each in layer.steps
            if KINDS[each.kind].makes_bodies
            for values in (each.values, *(part.values for part in each.parts))
        ),
        default=0.0,
    )
    return most, most + depth
