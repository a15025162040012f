"""The plan of one layer: through which transforms it is painted, in which windows, and what is done to it."""

from __future__ import annotations

from typing import NamedTuple

from ..moment.scene import ContentNow, FootageNow, Join, Layer, Scene, StepNow, TextNow
from ..moment.standing import Standing, content_size, stand
from ..picture import Matrix, Rect, covered_by
from ..steps import KINDS, Rest, enlargement
from ..type import Inking, Pose, regions


class StepPlan(NamedTuple):
    """A pixel step, with the transform and the window it works in, and what it is done to at rest."""

    step: StepNow
    matrix: Matrix
    window: Rect
    rest: Rest
    only: Rect | None = None
    """The part of the step's own space that goes with the letters it is painted for; None is all of it."""

    @property
    def key(self) -> tuple:
        return (self.step.kind, tuple(self.step.values.items()), self.step.mix, self.matrix, self.rest, self.only)


class PiecePlan(NamedTuple):
    """Letters of a text that stand together, and the steps that are done to them alone."""

    pose: Pose
    window: Rect
    steps: tuple[StepPlan, ...]


class LayerPlan(NamedTuple):
    """One layer: paint the content, do the steps, blend with `opacity`.

    A text is painted by its `pieces`, anything else through `matrix`. `key` names the pixels: two layers with the
    same key have the same patch.
    """

    clip: str
    content: ContentNow
    matrix: Matrix
    pieces: tuple[PiecePlan, ...]
    window: Rect
    steps: tuple[StepPlan, ...]
    opacity: float
    key: tuple
    frame: Rect
    """What can be seen in the end; a picture that reaches its edges goes on past them."""


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


def _span(window: Rect) -> float:
    return max(window.x1 - window.x0, window.y1 - window.y0)


class _Walk(NamedTuple):
    """From the last step back: each step works in the space that its later placements define."""

    matrix: Matrix
    window: Rect
    opacity: float
    steps: tuple[StepPlan, ...] = ()
    inking: Inking | None = None

    def before(self, step: StepNow, rest: Rest, only: Rect | None = None) -> "_Walk | None":
        """The same, with one step more in front; None where nothing is left to see."""
        kind = KINDS[step.kind]
        steps, window = self.steps, self.window
        if step.mix > 0 and kind.changes_pixels(step.values):
            steps = (StepPlan(step, self.matrix, window, rest, only if kind.adds(step.values, rest) is not None else None), *steps)
            # However near to the eye, no more is asked for than a few frames beside the frame.
            window = window.grown(min(kind.margin(step.values, rest) * enlargement(self.matrix, rest), 3 * max(_span(self.window), 256)))
        placed = kind.place(step.values, rest)
        matrix = self.matrix if placed is None else self.matrix @ placed
        opacity = self.opacity * (1 - step.mix * (1 - kind.opacity(step.values)))
        if opacity <= 0 or enlargement(matrix, rest) < 1e-9:
            return None
        return _Walk(matrix, window, opacity, steps, kind.inking(step.values, rest) or self.inking)


def plan_layer(scene: Scene, layer: Layer, view: Matrix, seen: Rect, frame: Rect | None = None) -> LayerPlan | None:
    """The plan of one layer, or None when nothing of it lies in the part of the painted picture that is `seen`.

    `frame` is the picture's own frame, where more than that is painted.
    """
    frame = frame or seen
    standing = stand(layer.content, scene.width, scene.height)
    active = [step for step in layer.steps if step.mix > 0 or step.parts]
    split = max((index for index, step in enumerate(active) if _splits(step, standing)), default=-1)
    walk: _Walk | None = _Walk(view, seen, 1.0)
    for step in reversed(active[split + 1:]):
        walk = walk and walk.before(step, standing.rest(step.leaving, step.pivot))
    if walk is None:
        return None
    if split >= 0:
        return _plan_pieces(layer, standing, active[:split + 1], walk, seen, frame)
    matrix = walk.matrix @ standing.matrix
    adds = any(_adds(one) for one in walk.steps)
    if not adds and _bounds(layer.content, standing.ink, matrix, standing.matrix, walk.inking).meets(walk.window).empty:
        return None
    pieces = (PiecePlan(Pose(None, matrix, 1.0, walk.inking), walk.window, ()),) if isinstance(layer.content, TextNow) else ()
    key = (layer.content, matrix, walk.inking, seen, tuple(one.key for one in walk.steps))
    return LayerPlan(layer.clip, layer.content, matrix, pieces, walk.window, walk.steps, walk.opacity, key, frame)


def _adds(one: StepPlan) -> bool:
    added = KINDS[one.step.kind].adds(one.step.values, one.rest)
    return added is not None and not added.through(one.matrix).grown(1).meets(one.window).empty


def _splits(step: StepNow, standing: Standing) -> bool:
    """Whether the step does something else to some letters than to others."""
    if standing.layout is None or not standing.layout.units["letter"]:
        return False
    kind = KINDS[step.kind]
    if kind.letters(step.values, standing.rest(step.leaving)) is not None:
        return True
    if not step.parts:
        return False
    # At rest every unit is where it would be without the step: then all of the text is painted as one.
    for part in step.parts:
        rest = standing.rest_of(part.unit, part.index, step.leaving, step.pivot)
        placed = kind.place(part.values, rest)
        if kind.opacity(part.values) != 1 or kind.changes_pixels(part.values) or kind.inking(part.values, rest) or (
                placed is not None and placed != Matrix()):
            return True
    return False


def _plan_pieces(layer: Layer, standing: Standing, steps: list[StepNow], tail: _Walk, seen: Rect, frame: Rect) -> LayerPlan | None:
    """Letters that have the same values in every step are one piece."""
    layout = standing.layout
    letters = range(len(layout.units["letter"]))
    changed = [KINDS[step.kind].letters(step.values, standing.rest(step.leaving)) for step in steps]
    groups: dict[tuple, list[int]] = {}
    for letter in letters:
        signature = tuple((step.of_letter[letter] if step.parts else 0, made[letter].opacity if made else 1.0) for step, made in zip(steps, changed))
        groups.setdefault(signature, []).append(letter)
    pieces = []
    for signature, members in groups.items():
        walk: _Walk | None = _Walk(tail.matrix, tail.window, 1.0, inking=tail.inking)
        # A step before one that is passed on paints for all letters at once; what it adds is shared out among them.
        only: Rect | None = None
        for step, (number, seen_share) in zip(reversed(steps), reversed(signature)):
            if walk is None or seen_share <= 0:
                walk = None
                break
            if step.parts:
                part = step.parts[number]
                own = StepNow(step.kind, part.values, part.mix, step.leaving)
                walk = walk.before(own, standing.rest_of(part.unit, part.index, step.leaving, step.pivot))
                around = regions(layout, part.unit)[part.index].through(standing.matrix)
                only = around if only is None else only.meets(around)
            else:
                walk = walk.before(step, standing.rest(step.leaving, step.pivot), only)
            walk = walk and walk._replace(opacity=walk.opacity * seen_share)
        if walk is None:
            continue
        swaps = tuple((letter, made[letter].swap) for made in changed if made for letter in members if made[letter].swap)
        pose = Pose(frozenset(members), walk.matrix @ standing.matrix, walk.opacity, walk.inking, swaps)
        pieces.append(PiecePlan(pose, walk.window, walk.steps))
    common = tail.steps
    if pieces and all(piece.steps and piece.steps == pieces[0].steps for piece in pieces) and len(groups) == len(pieces):
        # Steps that are the same for all letters are done once, to all of them.
        common, window = (*pieces[0].steps, *common), pieces[0].window
        pieces = [piece._replace(steps=()) for piece in pieces]
    else:
        window = tail.window
    ink = layout.units["letter"]
    visible = [piece for piece in pieces if any(_adds(one) for one in piece.steps) or any(
        not ink[letter].ink.grown(0.6 if piece.pose.swaps else piece.pose.inking.pen if piece.pose.inking else 0).through(piece.pose.matrix).grown(1).meets(
            piece.window).empty for letter in piece.pose.letters)]
    if not visible and not any(_adds(one) for one in common):
        return None
    key = (layer.content, tuple((piece.pose, piece.window, tuple(one.key for one in piece.steps)) for piece in visible), seen, tuple(one.key for one in common))
    return LayerPlan(layer.clip, layer.content, tail.matrix @ standing.matrix, tuple(visible), window, common, tail.opacity, key, frame)


def _bounds(content: ContentNow, ink: Rect, matrix: Matrix, standing: Matrix, inking: Inking | None) -> Rect:
    """Painted bounds of the content; blur and such only spread what lies in the grown window."""
    if isinstance(content, TextNow) and ink.empty:
        return ink
    return ink.grown(inking.pen * standing.scale / 2 if inking else 0).through(matrix @ standing.inverse()).grown(1)


def hides_all_below(layer: LayerPlan) -> bool:
    if layer.opacity < 1 or isinstance(layer.content, TextNow):
        return False
    if not all(KINDS[one.step.kind].keeps_cover(one.step.values) for one in layer.steps):
        return False
    if isinstance(layer.content, FootageNow) and layer.content.alpha:
        return False
    # Edges are carried on past the frame, so that what covers it covers it after a blur too.
    return covered_by(Rect(0, 0, *content_size(layer.content)), layer.matrix, layer.frame)
