"""The picture of one clip at one moment: its content, the steps done to it, its masks."""

from __future__ import annotations

from typing import Sequence

from ..moment.scene import FootageNow, GroupNow, Layer, ModelNow, ShapeNow, StepNow, TextNow, TreatmentNow
from ..moment.standing import Standing, stand
from ..picture import Matrix, Rect
from ..steps import KINDS, STAND, Stand
from ..type import Inking, Pose
from .back import Back
from .deep import deep_in
from .graph import Blended, Board, MaskPlan, Picture, Seen, Shared, Source, Stepped
from .letters import adds, letters_of, splits
from .masks import around_edge
from .shadows import shadows_on
from .sight import Inside, Sight
from .wiped import corners_of, window_around


def plan_clip(layer: Layer, sight: Sight, inside: Inside) -> Seen | None:
    """The picture of one clip, or None when nothing of it lies in what is asked for."""
    standing = stand(layer.content, sight.width, sight.height)
    sight = sight._replace(moves=sight.moves or layer.moves)
    active = [step for step in layer.steps if step.mix > 0 or step.parts]
    deep = deep_in(sight.width, sight.height, sight.view) if may_be_solid(layer) else None
    around = () if deep is None else others_between(layer, sight, inside)
    back = Back(sight.view, sight.window, sight.exact, spreads=sight.spreads, deep=deep, around=around)
    planned = _chain(layer, standing, active, back, sight, inside)
    if planned is None:
        return None
    picture, opacity = planned
    return Seen(picture, opacity, layer.blend, layer.clip)


_Chained = tuple[Picture, float]


def _chain(
    layer: Layer, standing: Standing, steps: list[StepNow], back: Back | None, sight: Sight, inside: Inside
) -> _Chained | None:
    """The content with these steps done, and its opacity; what comes after them is in `back`."""
    split = max((index for index, step in enumerate(steps) if splits(step, standing)), default=-1)
    for place in range(len(steps) - 1, split, -1):
        step = steps[place]
        if back is None:
            return None
        masks = _masks(step, back.matrix, back.window, sight, inside)
        if _as_two_pictures(step._replace(parts=())):
            return _partly(layer, standing, steps, place, masks, back, sight, inside)
        rest = standing.rest(step.leaving, step.pivot)
        shadows = shadows_on(step, rest, back, sight, inside)
        back = back.before(step, rest, masks=masks, shadows=shadows)
    if back is None:
        return None
    if split < 0:
        return _content(layer, standing, back, sight, inside)
    masked = next((place for place in range(split, -1, -1) if _as_two_pictures(steps[place])), None)
    if masked is not None:
        masks = _masks(steps[masked], back.matrix, back.window, sight, inside)
        return _partly(layer, standing, steps, masked, masks, back, sight, inside, steps[masked + 1 : split + 1])
    assert isinstance(layer.content, TextNow)
    found = letters_of(
        layer.content,
        standing,
        steps[: split + 1],
        back,
        sight,
        {id(step): _masks(step, back.matrix, back.window, sight, inside) for step in steps if step.masks},
    )
    return found and (back.over(found[0]), found[1])


def may_be_solid(layer: Layer) -> bool:
    """Whether a clip has ink that a step makes solid, or is a body by itself."""
    if isinstance(layer.content, ModelNow):
        return True
    if not isinstance(layer.content, (TextNow, ShapeNow)):
        return False
    making = [step for step in layer.steps if KINDS[step.kind].makes_bodies]
    return any(step.mix > 0 and KINDS[step.kind].makes_body(step.values) or step.parts for step in making)


def _as_two_pictures(step: StepNow) -> bool:
    """Whether a step's masks choose between two pictures, not between what it makes of single px."""
    return bool(step.masks) and bool(step.parts or step.run or not KINDS[step.kind].changes_pixels(step.values))


def _partly(
    layer: Layer,
    standing: Standing,
    steps: list[StepNow],
    place: int,
    masks: tuple[MaskPlan, ...],
    back: Back,
    sight: Sight,
    inside: Inside,
    later: Sequence[StepNow] = (),
) -> _Chained | None:
    """A step, or a run of them up to this one, done only where its masks are: the picture without and the picture
    with. `later` are steps after it that have not been gone back over."""
    step = steps[place]
    begins = next((number for number, each in enumerate(steps[:place]) if each.id in step.run), place)
    lists = ([*steps[:begins], *later], [*steps[:place], step._replace(masks=(), run=frozenset()), *later])
    undone = back._replace(steps=())
    before, after = (
        Blended((Seen(*side),) if side else (), back.window)
        for side in (_chain(layer, standing, each, undone, sight, inside) for each in lists)
    )
    if not before.children and not after.children:
        return None
    return back.over(Shared(before, after, 1.0, masks)), 1.0


def _masks(step: StepNow, matrix: Matrix, window: Rect, sight: Sight, inside: Inside) -> tuple[MaskPlan, ...]:
    made = []
    for mask in step.masks:
        seen = None
        corners: tuple[tuple[float, float], ...] = ()
        if mask.layer is not None:
            # Another clip stands where it stands: what is done to this one does not move it.
            if mask.form == "wipe":
                corners = corners_of(mask.layer, sight)
                around = window_around(corners, sight)
            else:
                around = window.grown(around_edge(mask, matrix))
            seen = None if around.empty else inside.clip(mask.layer, sight._replace(window=around))
        picture = None if seen is None else Blended((seen,), around)
        made.append(MaskPlan(mask, matrix, picture, corners))
    return tuple(made)


def _content(layer: Layer, standing: Standing, back: Back, sight: Sight, inside: Inside) -> _Chained | None:
    content = layer.content
    matrix = back.matrix @ standing.matrix
    if isinstance(content, GroupNow):
        held = inside.scene(content.scene, sight._replace(view=back.matrix, window=back.window))
        return (back.over(held), back.opacity) if held.children or adds(back.steps) else None
    if isinstance(content, TreatmentNow):
        return back.over(inside.below(sight._replace(view=back.matrix, window=back.window))), back.opacity
    body = back.deep if isinstance(content, ModelNow) else back.body
    # A body reaches past its ink.
    if body is None and not adds(back.steps):
        if bounds_of(content, standing, matrix, back.inking).meets(back.window).empty:
            return None
    if isinstance(content, ModelNow):
        pose = Pose(None, matrix, solid=back.deep)
        source = Source(content, matrix, back.window, sight.frame, sight.exact, (pose,), around=back.around)
        return back.over(source), back.opacity
    poses = (Pose(None, matrix, 1.0, back.inking, solid=body),) if body or isinstance(content, TextNow) else ()
    source = Source(content, matrix, back.window, sight.frame, sight.exact, poses, sight.moves, back.around)
    return back.over(source), back.opacity


def others_between(layer: Layer, sight: Sight, inside: Inside) -> tuple[Source | Board, ...]:
    """What else may be between a body and a light."""
    found: list[Source | Board] = []
    for caster in (each for step in layer.steps for each in step.casters):
        alone = caster._replace(steps=tuple(step._replace(casters=()) for step in caster.steps), blend="normal")
        if not may_be_solid(caster):
            board = _board(alone, sight, inside)
            found += [board] if board is not None else []
            continue
        seen = inside.clip(alone, sight)
        picture = seen and seen.picture
        while isinstance(picture, Stepped):
            picture = picture.child
        if isinstance(picture, Source):
            found.append(picture)
    return tuple(found)


_BOARD = 512
"""Px of the longer side of what is looked at of a plane's picture, where only the shadow counts that it throws."""


def _board(layer: Layer, sight: Sight, inside: Inside) -> Board | None:
    """A clip that stands in space as it is before it is stood up, and where."""
    assert isinstance(STAND, Stand)
    place = next((n for n, each in enumerate(layer.steps) if each.kind == STAND.kind and each.mix > 0), None)
    if place is None or layer.steps[place].parts:
        return None
    step, standing = layer.steps[place], stand(layer.content, sight.width, sight.height)
    rest = standing.rest(step.leaving, step.pivot)
    scale = min(1.0, _BOARD / max(rest.box.x1 - rest.box.x0, rest.box.y1 - rest.box.y0, 1.0))
    window = rest.box.grown(1 / scale).through(Matrix.grow(scale))
    flat = layer._replace(steps=layer.steps[:place])
    seen = inside.clip(flat, sight._replace(view=Matrix.grow(scale), window=window, frame=window, exact=False))
    return None if seen is None or seen.opacity < 0.5 else Board(seen.picture, scale, STAND.plane(step.values, rest))


def bounds_of(
    content: TextNow | FootageNow | object, standing: Standing, matrix: Matrix, inking: Inking | None
) -> Rect:
    """Painted bounds of the content; blur and such only spread what lies in the grown window."""
    if isinstance(content, TextNow) and standing.ink.empty:
        return standing.ink
    return (
        standing.ink.grown(inking.pen * standing.matrix.scale / 2 if inking else 0)
        .through(matrix @ standing.matrix.inverse())
        .grown(1)
    )
