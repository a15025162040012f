"""Which planes of a scene cross, or lie in another order than their middles do."""

from __future__ import annotations

from typing import Iterable, Sequence

from ..moment.scene import Join, Layer
from ..moment.standing import stand
from ..moment.whereabouts import whereabouts_of
from ..picture import Matrix, Nearness, Rect
from ..steps import KINDS, STAND, Stand
from .sight import Sight


def entangled(layers: Sequence[Layer | Join], sight: Sight) -> dict[int, tuple[int, dict[int, Nearness]]]:
    """Runs of neighbouring layers whose planes have to be laid over each other px by px: of the place of the first its
    last, and how near each of them is over the painted picture."""
    near: dict[int, Nearness] = {}
    boxes: dict[int, Rect] = {}
    for place, layer in enumerate(layers):
        found = _nearness(layer, sight) if isinstance(layer, Layer) and layer.blend == "normal" else None
        if found is not None and isinstance(layer, Layer):
            near[place] = found
            boxes[place] = whereabouts_of(layer, sight.width, sight.height).box.through(sight.view)
    runs: list[tuple[int, int]] = []
    for upper in sorted(near):
        for lower in range(upper - 1, -1, -1):
            # What is flat lies between them in any case.
            if lower not in near:
                break
            if not _in_order(near[lower], near[upper], boxes[lower].meets(boxes[upper]).meets(sight.window)):
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


def _in_order(lower: Nearness, upper: Nearness, area: Rect) -> bool:
    """Whether the upper plane is nearer all over an area."""
    if area.empty:
        return True
    a, b, c = (above - below for above, below in zip(upper, lower))
    return all(a * x + b * y + c >= 0 for x, y in area.corners())


def _nearness(layer: Layer, sight: Sight) -> Nearness | None:
    """How near a layer is over the painted picture; None for one that does not stand in space."""
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
    return STAND.nearness(step.values, standing.rest(step.leaving, step.pivot), sight.view @ later)
