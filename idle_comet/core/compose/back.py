"""From a clip's last step back to its content: through which transform, in which window each step works."""

from __future__ import annotations

from typing import NamedTuple

from ..moment.scene import StepNow
from ..picture import Matrix, Rect
from ..steps import KINDS, Rest, Solid, StepKind, Values, enlargement
from ..type import Inking
from .deep import Body, Deep
from .graph import Board, MaskPlan, Picture, Shadow, Source, Stepped, StepPlan


class Back(NamedTuple):
    """What lies between a picture and what is seen of it: each step works in the space that its later placements
    define."""

    matrix: Matrix
    window: Rect
    exact: bool
    opacity: float = 1.0
    steps: tuple[StepPlan, ...] = ()
    inking: Inking | None = None
    spreads: bool = True
    deep: Deep | None = None
    """Where it stands in space, of a clip that may be solid."""
    solid: Solid | None = None
    around: tuple[Source | Board, ...] = ()
    """Of a clip that may be solid, what else may be between it and a light."""

    @property
    def body(self) -> Body | None:
        """What its ink is made of where it is solid."""
        return None if self.solid is None or self.deep is None else Body(self.solid, self.deep)

    def before(
        self,
        step: StepNow,
        rest: Rest,
        only: Rect | None = None,
        masks: tuple[MaskPlan, ...] = (),
        shadows: tuple[Shadow, ...] = (),
    ) -> "Back | None":
        """The same, with one step more in front; None where nothing is left to see."""
        kind = KINDS[step.kind]
        if self.deep is None and kind.only_places:
            return self.placed(kind, step.values, step.mix, rest)
        if self.deep is not None and kind.in_space:
            # A body is lit as it is painted.
            step = step._replace(values={**step.values, "lights": None})
        steps, window = self.steps, self.window
        if step.mix > 0 and kind.changes_pixels(step.values):
            only = only if kind.adds(step.values, rest) is not None else None
            steps = (StepPlan(step, self.matrix, window, rest, self.exact, only, masks, shadows), *steps)
            if self.spreads:
                # However near to the eye, no more is asked for than a few frames beside the frame.
                most = 3 * max(window.x1 - window.x0, window.y1 - window.y0, 256)
                window = window.grown(min(kind.reach(step.values, rest, self.matrix, window), most))
            left = kind.leaves(step.values, rest) if step.mix >= 1 and not masks else None
            if left is not None and self.matrix.flat:
                # What is taken away need not be painted; a px around it is cut as the edge has it. Where nothing is
                # left, later steps may still paint something of their own.
                seen = window.meets(left.through(self.matrix).grown(2))
                window = window if seen.empty else seen
        placed = kind.place(step.values, rest)
        matrix = self.matrix if placed is None else self.matrix @ placed
        if self.deep is not None and placed is not None and _gone(matrix, rest):
            # A plane that is seen from its very side is not there; a body is.
            step = step._replace(values=_beside(kind, step.values))
            placed = kind.place(step.values, rest)
            matrix = self.matrix if placed is None else self.matrix @ placed
        opacity = self.opacity * (1 - step.mix * (1 - kind.opacity(step.values)))
        if opacity <= 0 or _gone(matrix, rest):
            return None
        inking = kind.inking(step.values, rest) or self.inking
        deep = self.deep
        solid = None
        if deep is not None:
            deep = deep.before(kind, step.values, rest, placed, self.matrix)
            solid = self.solid or (kind.solid(step.values, rest) if step.mix > 0 else None)
        return Back(matrix, window, self.exact, opacity, steps, inking, self.spreads, deep, solid, self.around)

    def placed(self, kind: StepKind, values: Values, mix: float, rest: Rest) -> "Back | None":
        """What `before` says of a step that only places something flat: there is one for every letter that moves."""
        opacity = self.opacity * (1 - mix * (1 - kind.opacity(values)))
        if opacity <= 0:
            return None
        placed = kind.place(values, rest)
        matrix = self.matrix if placed is None else self.matrix @ placed
        if _gone(matrix, rest):
            return None
        return Back(matrix, self.window, self.exact, opacity, self.steps, self.inking, self.spreads, around=self.around)

    def over(self, picture: Picture) -> Picture:
        """The picture with the steps done to it."""
        for step in self.steps:
            picture = Stepped(picture, step)
        return picture


_BARELY = 0.003
"""Degrees that nobody sees."""


def _beside(kind: StepKind, values: Values) -> Values:
    """The same step, turned by next to nothing."""
    turns = [each.name for each in kind.parameters if each.unit == "°" and each.sort == "number"]
    return {**values, **{name: values[name] + _BARELY for name in turns}}


def _gone(matrix: Matrix, rest: Rest) -> bool:
    """Whether a picture is too small to be seen at all."""
    a, b, c, d, _, _, g, h, i = matrix
    if g == h == 0.0 and i == 1.0:
        return abs(a * d - b * c) < 1e-18
    return enlargement(matrix, rest) < 1e-9
