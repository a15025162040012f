"""Plan: which patches are needed, where, through which transforms; nothing hidden is planned."""

from __future__ import annotations

from typing import NamedTuple

from ..moment.scene import Join, Layer, Scene
from ..picture import Matrix, Rect
from .layers import JoinPlan, LayerPlan, SmearPlan, hides_all_below, plan_layer
from .smear import plan_smear


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
        if isinstance(planned, LayerPlan) and hides_all_below(planned):
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
    return plan_smear(scene, layer, view, width, height, exact)
