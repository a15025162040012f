"""Plan: the graph of pictures of one frame. Nothing that can't be seen is planned."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Callable, Sequence

from ..moment.scene import GroupNow, Join, Layer, Scene, ShapeNow, TextNow, TreatmentNow
from ..picture import Matrix, Nearness, Rect
from ..steps import KINDS
from .covering import hides_all_below
from .depths import entangled
from .graph import Averaged, Blended, Crossed, Mixed, Picture, Seen, Shared, Source, Travelled
from .shutter import plan_exposed
from .sight import Sight


@dataclass(frozen=True, eq=False)
class Plan:
    """A frame to be painted at `width` × `height`."""

    width: int
    height: int
    picture: Blended

    @property
    def key(self) -> tuple[int, int, bytes]:
        """Names the frame's pixels."""
        return (self.width, self.height, self.picture.digest)

    @cached_property
    def samples(self) -> tuple[int, int]:
        """The most motion-blur samples any picture takes, and how many it would want; (0, 0) without motion blur."""
        found = []
        for each in self.picture.walk():
            if isinstance(each, Source):
                found += [(pose.smear.count, pose.smear.wanted) for pose in each.poses if pose.smear]
            elif isinstance(each, Travelled):
                found.append((each.wanted, each.wanted))
            elif isinstance(each, Averaged):
                found.append((len(each.samples), each.wanted))
        return max(found, key=lambda pair: (pair[1] - pair[0], pair[1]), default=(0, 0))


Begin = Callable[[Sequence[Seen]], None]
"""Is told of pictures that are wanted, so that they may be made while others are planned."""


def plan(scene: Scene, width: int, height: int, exact: bool = True, begin: Begin | None = None) -> Plan:
    """The plan for a scene at a size; lengths scale from the project's frame to the painted one. `begin` is told of the
    shots before what lies over them is planned."""
    view = Matrix.grow(width / scene.width, height / scene.height)
    return plan_view(scene, view, width, height, exact, begin)


def plan_view(scene: Scene, view: Matrix, width: int, height: int, exact: bool, begin: Begin | None = None) -> Plan:
    """The plan for any part of a scene; `view` leads from px of the project's frame to the painted picture."""
    frame = Rect(0, 0, width, height)
    sight = Sight(scene.width, scene.height, view, frame, frame, exact)
    return Plan(width, height, _Planner().over(scene.layers, sight, scene.background, begin))


class _Planner:
    """Plans scenes within scenes."""

    def scene(self, scene: Scene, sight: Sight) -> Blended:
        """Everything a group holds, from the bottom up, over nothing."""
        return self.over(scene.layers, sight, None)

    def below(self, sight: Sight) -> Picture:
        """Nothing: only a treatment stands on something."""
        return Blended((), sight.window)

    def clip(self, layer: Layer, sight: Sight) -> Seen | None:
        """One clip, with its motion blur if it has any and moves."""
        return plan_exposed(layer, sight, self)

    def over(
        self, layers: tuple[Layer | Join, ...], sight: Sight, background: str | None, begin: Begin | None = None
    ) -> Blended:
        """Layers from the bottom up. `begin` is told of the film's own only: a group may be planned at many moments,
        whose pictures must not be there all at once."""
        below: list[Seen] = []
        runs = entangled(layers, sight)
        done = -1
        for place, layer in enumerate(layers):
            if place <= done:
                continue
            if begin is not None and below and _leaves(layer):
                begin(below)
            if place in runs:
                done, near = runs[place]
                below += self._crossed(layers, near, sight)
                continue
            if isinstance(layer, Layer) and isinstance(layer.content, TreatmentNow):
                below = self._treated(layer, layers[:place], Blended(tuple(below), sight.window, background), sight)
                continue
            if isinstance(layer, Join) and _treats(layer):
                below = [
                    self._taken_over(layer, layers[:place], Blended(tuple(below), sight.window, background), sight)
                ]
                continue
            seen = self._joined(layer, sight) if isinstance(layer, Join) else self.clip(layer, sight)
            if seen is None:
                continue
            if hides_all_below(seen, sight.window):
                below.clear()
            below += _flat(seen, layer)
        return Blended(tuple(below), sight.window, background)

    def _crossed(self, layers: tuple[Layer | Join, ...], near: dict[int, Nearness], sight: Sight) -> list[Seen]:
        """Planes that cross, as one picture."""
        seen, told = [], []
        for place, each in near.items():
            layer = layers[place]
            found = self.clip(layer, sight) if isinstance(layer, Layer) else None
            if found is not None:
                seen.append(found)
                told.append(each)
        return [Seen(Crossed(tuple(seen), tuple(told), sight.window))] if len(seen) > 1 else seen

    def _treated(self, layer: Layer, layers: tuple[Layer | Join, ...], below: Blended, sight: Sight) -> list[Seen]:
        """All that lies below a treatment, with its steps done to it as far as the treatment is there."""
        own = sight._replace(spreads=below.background is None)
        seen = plan_exposed(layer, own, _Below(self, layers, below, sight))
        if seen is None or seen.picture is below:
            return list(below.children)
        if seen.mode != "normal":
            return [Seen(below), seen]
        return [Seen(seen.picture if seen.opacity >= 1 else Shared(below, seen.picture, seen.opacity))]

    def _taken_over(self, join: Join, layers: tuple[Layer | Join, ...], below: Blended, sight: Sight) -> Seen:
        """A treatment that comes or goes: all that lies below, on either side as that side has it."""

        def side(layer: Layer | None) -> Seen:
            if layer is None:
                return Seen(below)
            if isinstance(layer.content, TreatmentNow):
                children = self._treated(layer, layers, below, sight)
            else:
                seen = self.clip(layer, sight)
                children = [*below.children, *(_flat(seen, layer) if seen else ())]
            return Seen(Blended(tuple(children), below.window, below.background))

        return Seen(Mixed(join.transition, join.progress, side(join.before), side(join.after), sight.frame))

    def _joined(self, join: Join, sight: Sight) -> Seen | None:
        before, after = (each and self.clip(each, sight) for each in (join.before, join.after))
        if before is None and after is None and join.transition.kind != "dip":
            return None
        return Seen(Mixed(join.transition, join.progress, before, after, sight.frame))


def _leaves(layer: Layer | Join) -> bool:
    """Whether what lies below a layer is seen for sure, and where it is."""
    if isinstance(layer, Join):
        return False
    if isinstance(layer.content, TreatmentNow):
        return not any(KINDS[step.kind].places for step in layer.steps)
    return isinstance(layer.content, (TextNow, ShapeNow))


def _treats(join: Join) -> bool:
    """Whether a treatment is on either side of a transition."""
    return any(side is not None and isinstance(side.content, TreatmentNow) for side in (join.before, join.after))


class _Below:
    """What a treatment stands on. Where the treatment moves the picture, all of it is planned anew in its new place, as
    sharp as it is there."""

    def __init__(self, planner: _Planner, layers: tuple[Layer | Join, ...], known: Blended, sight: Sight) -> None:
        self._planner, self._layers, self._known, self._sight = planner, layers, known, sight
        self.scene, self.clip = planner.scene, planner.clip

    def below(self, sight: Sight) -> Picture:
        """The picture of everything below, from where it is asked for."""
        if sight.view == self._sight.view and sight.window == self._sight.window:
            return self._known
        return self._planner.over(self._layers, sight._replace(spreads=True), self._known.background)


def _flat(seen: Seen, layer: Layer | Join) -> tuple[Seen, ...]:
    """What a group holds, as far as it lies over what is below just as it would without the group."""
    inner = seen.picture
    if not isinstance(inner, Blended) or seen.opacity < 1 or seen.mode != "normal":
        return (seen,)
    if isinstance(layer, Layer) and isinstance(layer.content, GroupNow) and not layer.content.apart:
        return inner.children
    # Over is associative; blend modes within a group that has something of its own see the group only.
    return inner.children if all(each.mode == "normal" for each in inner.children) else (seen,)
