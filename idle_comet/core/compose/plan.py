"""Plan: which patches are needed, where, through which transforms; nothing hidden is planned."""

from __future__ import annotations

from typing import NamedTuple

from ..picture import Matrix, Rect
from ..steps import KINDS
from .scene import ContentNow, FootageNow, Join, Layer, Scene, StepNow, TextNow
from .standing import content_size, stand


class StepPlan(NamedTuple):
    """A pixel step, with the transform and the window it works in."""

    step: StepNow
    matrix: Matrix
    window: Rect


class LayerPlan(NamedTuple):
    """One layer: paint the content through `matrix`, do the steps, blend with `opacity`.

    `key` names the pixels: two layers with the same key have the same patch.
    """

    clip: str
    content: ContentNow
    matrix: Matrix
    window: Rect
    steps: tuple[StepPlan, ...]
    opacity: float
    key: tuple


class SmearPlan(NamedTuple):
    """A layer while the shutter is open: the mean of `samples`, or one picture at `shifts` (px) where it only travels.

    `wanted` is how many samples the distance asks for; fewer are taken where a ceiling holds.
    """

    clip: str
    samples: tuple[LayerPlan, ...]
    shifts: tuple[tuple[float, float], ...]
    wanted: int
    key: tuple
    opacity: float = 1.0


class JoinPlan(NamedTuple):
    """A transition: both sides over nothing, then mixed."""

    join: Join
    before: "LayerPlan | SmearPlan | None"
    after: "LayerPlan | SmearPlan | None"
    key: tuple
    opacity: float = 1.0


class Plan(NamedTuple):
    """A frame to be painted at `width` × `height`; `exact` asks for the export's own sampling."""

    width: int
    height: int
    background: str
    layers: tuple[LayerPlan | SmearPlan | JoinPlan, ...]
    exact: bool

    @property
    def key(self) -> tuple:
        layers = tuple((layer.key, layer.opacity) for layer in self.layers)
        return (self.width, self.height, self.background, self.exact, layers)

    @property
    def samples(self) -> tuple[int, int]:
        """The most motion-blur samples any layer takes, and how many it would want; (0, 0) without motion blur."""
        smears = [each for layer in self.layers for each in
                  ((layer.before, layer.after) if isinstance(layer, JoinPlan) else (layer,)) if isinstance(each, SmearPlan)]
        worst = max(smears, key=lambda each: each.wanted - len(each.samples), default=None)
        if worst is None:
            return 0, 0
        return (worst.wanted, worst.wanted) if worst.shifts else (len(worst.samples), worst.wanted)


def plan(scene: Scene, width: int, height: int, exact: bool = True) -> Plan:
    """The plan for a scene at a size; lengths scale from the project's frame to the painted one."""
    view = Matrix.grow(width / scene.width, height / scene.height)
    return plan_view(scene, view, width, height, exact)


def plan_view(scene: Scene, view: Matrix, width: int, height: int, exact: bool) -> Plan:
    """The plan for any part of a scene; `view` leads from px of the project's frame to the painted picture."""
    layers: list[LayerPlan | SmearPlan | JoinPlan] = []
    for layer in scene.layers:
        planned = _plan_join(scene, layer, view, width, height, exact) if isinstance(layer, Join) else plan_exposed(
            scene, layer, view, width, height, exact)
        if planned is None:
            continue
        if isinstance(planned, LayerPlan) and _hides_all_below(planned):
            layers.clear()
        layers.append(planned)
    return Plan(width, height, scene.background, tuple(layers), exact)


def _plan_join(scene: Scene, join: Join, view: Matrix, width: int, height: int, exact: bool) -> JoinPlan | None:
    before, after = (each and plan_exposed(scene, each, view, width, height, exact) for each in (join.before, join.after))
    if before is None and after is None and join.transition.kind != "dip":
        return None
    key = (join.transition.model_dump_json(), join.progress, *(each and (each.key, each.opacity) for each in (before, after)))
    return JoinPlan(join, before, after, key)


def plan_exposed(scene: Scene, layer: Layer, view: Matrix, width: int, height: int, exact: bool) -> LayerPlan | SmearPlan | None:
    """The plan of a layer with its motion blur, if it has any and moves."""
    if layer.exposure is None:
        return plan_layer(scene, layer, view, Rect(0, 0, width, height))
    from .smear import plan_smear

    return plan_smear(scene, layer, view, width, height, exact)


def plan_layer(scene: Scene, layer: Layer, view: Matrix, seen: Rect) -> LayerPlan | None:
    """The plan of one layer, or None when nothing of it lies in the part of the painted picture that is `seen`."""
    standing = stand(layer.content, scene.width, scene.height)
    # From the last step back: each step works in the space its later placements define.
    matrix = view
    window, opacity = seen, 1.0
    steps: list[StepPlan] = []
    for step in reversed(layer.steps):
        kind = KINDS[step.kind]
        placed = kind.place(step.values, standing.anchor)
        if placed is not None:
            matrix = matrix @ placed
        opacity *= 1 - step.mix * (1 - kind.opacity(step.values))
        if matrix.scale < 1e-9 or opacity <= 0:
            return None
        if step.mix > 0 and kind.changes_pixels(step.values):
            steps.append(StepPlan(step, matrix, window))
            window = window.grown(kind.margin(step.values) * matrix.scale)
    steps.reverse()
    matrix = matrix @ standing.matrix
    if _bounds(layer.content, standing.ink, matrix, standing.matrix).meets(window).empty:
        return None
    chain = tuple((one.step.kind, tuple(one.step.values.items()), one.step.mix, one.matrix) for one in steps)
    key = (layer.content, matrix, seen, chain)
    return LayerPlan(layer.clip, layer.content, matrix, window, tuple(steps), opacity, key)


def _bounds(content: ContentNow, ink: Rect, matrix: Matrix, standing: Matrix) -> Rect:
    """Painted bounds of the content; blur and such only spread what lies in the grown window."""
    if isinstance(content, TextNow) and ink.empty:
        return ink
    return ink.through(matrix @ standing.inverse()).grown(1)


def _hides_all_below(layer: LayerPlan) -> bool:
    if layer.opacity < 1 or isinstance(layer.content, TextNow) or any(one.step.mix < 1 for one in layer.steps):
        return False
    if isinstance(layer.content, FootageNow) and layer.content.alpha:
        return False
    outline = Rect(0, 0, *content_size(layer.content))
    back = layer.matrix.inverse()
    return all(
        outline.x0 <= x + 1e-6 and x - 1e-6 <= outline.x1 and outline.y0 <= y + 1e-6 and y - 1e-6 <= outline.y1
        for x, y in layer.window.corners(back)
    )
