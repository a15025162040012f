"""Motion blur of words whose letters move on their own: each letter is painted with its own streak."""

from __future__ import annotations

import math
from typing import Callable, NamedTuple

import numpy as np

from ..moment.scene import Layer, TextNow
from ..moment.standing import Standing, stand
from ..picture import Rect
from ..steps import KINDS
from ..type import Pose, Smear
from .back import Back
from .graph import Seen, StepPlan
from .letters import AT_REST, Letters, Signature, splits, together
from .sight import Sight

_FEWEST, _FEW, _MOST = 2, 4, 16
"""Into how many legs of time an exposure is parted to follow its letters: at least for each frame that it lasts, at
least where a letter comes or goes meanwhile, and at most."""

_BETWEEN = 0.38
"""Share of an exposure of more than a frame at which it is told, besides its ends, whether letters stand still: what
sways may begin and end alike."""

_STRAIGHT = 0.15
"""Px by which a corner's way between two looks may be other than straight."""

_EVEN = 1 / 256
"""What a letter's opacity between two looks may be other than even."""

_TO_A_PX = 2
"""Moments painted for each px that a letter's outermost corner goes."""

_LEAST = 8
"""Moments painted at least of a letter that changes."""


_At = Callable[[float, frozenset[int] | None], Layer | None]


class Exposed(NamedTuple):
    """The words over their exposure; `seen` is None where nothing of them is in sight."""

    seen: Seen | None


class _Look(NamedTuple):
    """The words at one moment: what is done to each letter, and to all of them after that."""

    content: TextNow
    letters: Letters
    tail: Back
    by_letter: dict[int, Signature]

    @property
    def standing(self) -> Standing:
        return self.letters.standing

    def back_of(self, letter: int, bare: Back) -> Back | None:
        """What lies before a letter; `bare` is what all have in common, before what is done to each."""
        return self.letters.back_for(self.by_letter[letter], bare, {})

    def values(self, signature: Signature) -> list[object]:
        """The values of every step for some letters."""
        return [
            number if number == AT_REST else step.parts[number].values if step.parts else step.values
            for step, (number, _) in zip(self.letters.steps, signature)
        ]


class _Way(NamedTuple):
    """What lies before some letters at even times of the exposure; None where nothing of them is seen."""

    members: list[int]
    backs: list[Back | None]
    looks: np.ndarray = np.empty((0, 10))
    """Where they stand, (m, 10) (a … i of Matrix, and an opacity); where they are not there, as near as they come to
    it."""
    around: Rect = Rect(0, 0, 0, 0)
    """What their ink covers on the way."""
    travel: float = 0.0
    """Px that their outermost corner goes."""
    straight: bool = True
    """Whether their corners go straight from look to look, and they fade evenly, as far as is seen."""


def exposed_letters(layer: Layer, sight: Sight, at: _At, ceiling: int) -> Exposed | None:
    """The words with a streak for each letter; None where the shutter sees more change than letters and their places.

    `at` gives the clip at a share of the exposure, worked out for some of its letters.
    """
    opens, closes = (_look(at(share, None), sight, None) for share in (0.0, 1.0))
    if opens is None or closes is None or not _alike(opens, closes):
        return None
    lasts = layer.exposure.closes - layer.exposure.opens if layer.exposure is not None else 0.0
    between = _look(at(_BETWEEN, None), sight, None) if lasts > 1 else opens
    if between is None or not _alike(opens, between):
        return None
    bare = opens.tail._replace(opacity=1.0, steps=())
    groups: dict[tuple[Signature, Signature], list[int]] = {}
    for letter, signature in opens.by_letter.items():
        groups.setdefault((signature, closes.by_letter[letter]), []).append(letter)
    moving: dict[int, _Known] = {}
    found: list[_Way] = []
    complete = True
    gone: set[object] = set()
    for (first, last), members in groups.items():
        values = opens.letters.values_of(first), closes.letters.values_of(last)
        ends = (None, None) if values in gone else (opens.back_of(members[0], bare), closes.back_of(members[0], bare))
        still = ends[0] == ends[1] and opens.values(first) == closes.values(last)
        if still and between is not opens:
            still = between.values(between.by_letter[members[0]]) == opens.values(first)
        if still:
            if ends[0] is None:
                # Where they are not to be seen the place of letters does not matter: their values alone make it so.
                gone.add(values)
                complete = False
            else:
                found.append(_Way(members, [ends[0]]))
        elif not _can_be_followed(list(ends)):
            return None
        else:
            moving[members[0]] = _Known(members, {0.0: ends[0], 1.0: ends[1]})
    legs = _FEWEST
    while legs < min(_FEWEST * lasts, _MOST):
        legs *= 2
    ways = _followed(moving, opens, sight, bare, at, legs)
    if ways is None:
        return None
    for way in ways:
        if any(back is not None for back in way.backs):
            found.append(way)
        else:
            complete = False
    planned = together(opens.content, opens.standing, _poses(found, opens, ceiling), complete, opens.tail, sight)
    return Exposed(planned and Seen(opens.tail.over(planned[0]), planned[1], layer.blend, layer.clip))


def redrawn(first: Layer | None, last: Layer | None) -> bool:
    """Whether two moments of a clip show at a glance that letters can't be followed: they are drawn anew at every
    moment, since a step done to them one by one changes pixels, and at both in another way; or a step done to all of
    them after that does, such as a backing that grows."""
    if first is None or last is None or len(first.steps) != len(last.steps):
        return False
    one_by_one = max((number for number, step in enumerate(first.steps) if step.parts), default=-1)
    for number, (one, other) in enumerate(zip(first.steps, last.steps)):
        kind = KINDS[one.kind]
        if number > one_by_one and one.values != other.values:
            if all(each.mix > 0 and kind.changes_pixels(each.values) for each in (one, other)):
                return True
        for before, after in zip(one.parts, other.parts):
            there = kind.opacity(before.values) > 0 and kind.opacity(after.values) > 0
            changed = any(each.mix > 0 and kind.changes_pixels(each.values) for each in (before, after))
            if there and changed and before.values != after.values:
                return True
    return False


class _Known(NamedTuple):
    """What lies before some letters at the shares of the exposure that were looked at."""

    members: list[int]
    at: dict[float, Back | None]


def _followed(
    moving: dict[int, _Known], opens: _Look, sight: Sight, bare: Back, at: _At, legs: int
) -> list[_Way] | None:
    """The ways of letters that move, each at as many looks as it takes to follow it, over so many legs at least; None
    where they can't be."""
    found: list[_Way] = []
    while moving:
        shares = [number / legs for number in range(legs + 1)]
        letters = frozenset(letter for known in moving.values() for letter in known.members)
        for share in shares:
            if all(share in known.at for known in moving.values()):
                continue
            look = _look(at(share, letters), sight, letters)
            if look is None or not _alike(opens, look):
                return None
            for letter, known in moving.items():
                known.at[share] = look.back_of(letter, bare)
        ways = [_Way(known.members, [known.at[share] for share in shares]) for known in moving.values()]
        if not all(_can_be_followed(way.backs) for way in ways):
            return None
        measured = _measured(ways, opens.standing)
        done = [way for way in measured if legs >= _MOST or way.straight and (legs >= _FEW or None not in way.backs)]
        found += done
        for way in done:
            del moving[way.members[0]]
        legs *= 2
    return found


def _measured(ways: list[_Way], standing: Standing) -> list[_Way]:
    """The ways, all with as many looks, with how far and how straight their corners go."""
    units = standing.words.units["letter"]
    boxes = []
    for way in ways:
        box = Rect(0, 0, 0, 0)
        for letter in way.members:
            box = box.union(units[letter].ink)
        boxes.append([(x, y, 1.0) for x, y in box.corners()])
    looks = np.array([[_NOWHERE if back is None else back.matrix for back in way.backs] for way in ways])
    placed = _rows(looks) @ _rows(np.array(standing.matrix))
    seen = np.einsum("glij,gcj->glci", placed, np.array(boxes))
    corners = seen[..., :2] / np.maximum(seen[..., 2:], 1e-3)
    travel = np.nan_to_num(np.linalg.norm(np.diff(corners, axis=1), axis=-1)).max(-1).sum(-1)
    bend = np.linalg.norm(corners[:, 1:-1] - (corners[:, :-2] + corners[:, 2:]) / 2, axis=-1)
    # A bend of so much over two legs is a quarter of it within each; past where they are not seen there is none.
    straight = ~(bend > 4 * _STRAIGHT).any((1, 2))
    low, high = (side(corners, axis=(1, 2), initial=end, where=~np.isnan(corners)) for side, end in _ENDS)
    opacities = np.array([[0.0 if back is None else back.opacity for back in way.backs] for way in ways])
    straight &= _fades_evenly(opacities)
    stood = placed.reshape(*looks.shape)[..., _FROM_ROWS]
    seen_at = np.concatenate((stood, opacities[..., None]), -1)
    return [
        way._replace(looks=_filled(each), around=Rect(*first, *last), travel=far, straight=even)
        for way, each, first, last, far, even in zip(
            ways, seen_at, low.tolist(), high.tolist(), travel.tolist(), straight.tolist()
        )
    ]


def _fades_evenly(opacities: np.ndarray) -> np.ndarray:
    """Which of (g, m) opacities change evenly from look to look. One that jumps is taken as even: it is not told better
    by more looks."""
    legs = np.diff(opacities, axis=1)
    bends = np.abs(np.diff(legs, axis=1)) / 2 > 4 * _EVEN
    jumps = np.maximum(np.abs(legs[:, 1:]), np.abs(legs[:, :-1])) > 0.5
    return np.asarray(~(bends & ~jumps).any(1))


_NOWHERE = (math.nan,) * 9
_ENDS = ((np.min, math.inf), (np.max, -math.inf))
_FROM_ROWS = [0, 3, 1, 4, 2, 5, 6, 7, 8]
"""Where a … i of Matrix stand in the rows of a transform."""


def _rows(matrices: np.ndarray) -> np.ndarray:
    """(…, 3, 3) transforms of (…, 9) matrices."""
    return matrices[..., [0, 2, 4, 1, 3, 5, 6, 7, 8]].reshape(*matrices.shape[:-1], 3, 3)


def _filled(looks: np.ndarray) -> np.ndarray:
    """Looks at which nothing is there as the nearest one before them, or after."""
    there = ~np.isnan(looks[:, 0])
    if there.all() or not there.any():
        return looks
    nearest = np.maximum.accumulate(np.where(there, np.arange(len(looks)), there.argmax()))
    return np.concatenate((looks[nearest, :9], looks[:, 9:]), 1)


def _poses(found: list[_Way], look: _Look, ceiling: int) -> list[tuple[Pose, Back]]:
    """The letters' poses; those that stand still alike are one."""
    standing, swaps_of = look.standing, look.letters.swaps_of
    poses: list[tuple[Pose, Back]] = []
    still: dict[object, int] = {}
    for way in found:
        members = way.members
        middle = next(back for back in (way.backs[len(way.backs) // 2], *way.backs) if back is not None)
        smear = _smear(way, ceiling) if len(way.backs) > 1 else None
        name = (middle.matrix, middle.opacity, middle.inking)
        if not smear and not middle.steps and name in still:
            pose, back = poses[still[name]]
            members = sorted((*(pose.letters or ()), *members))
            poses[still[name]] = (pose._replace(letters=tuple(members), swaps=swaps_of(members)), back)
            continue
        if not smear and not middle.steps:
            still[name] = len(poses)
        matrix, opacity = middle.matrix @ standing.matrix, 1.0 if smear else middle.opacity
        poses.append((Pose(tuple(members), matrix, opacity, middle.inking, swaps_of(members), smear), middle))
    return poses


def _look(layer: Layer | None, sight: Sight, letters: frozenset[int] | None) -> _Look | None:
    if layer is None or not isinstance(layer.content, TextNow) or any(step.masks for step in layer.steps):
        return None
    standing = stand(layer.content, sight.width, sight.height)
    if not standing.words.units["letter"]:
        return None
    active = [step for step in layer.steps if step.mix > 0 or step.parts]
    split = max((index for index, step in enumerate(active) if step.parts), default=-1)
    split = max([split, *(index for index, step in enumerate(active) if splits(step, standing))])
    if split < 0:
        return None
    tail: Back | None = Back(sight.view, sight.window, sight.exact, spreads=sight.spreads)
    for step in reversed(active[split + 1 :]):
        tail = tail and tail.before(step, standing.rest(step.leaving, step.pivot))
    if tail is None:
        return None
    if not _keep_means(tail.steps):
        return None
    own = Letters(active[: split + 1], standing)
    by_letter = {letter: signature for signature, members in own.alike(letters).items() for letter in members}
    return _Look(layer.content, own, tail, by_letter)


def _keep_means(steps: tuple[StepPlan, ...]) -> bool:
    return all(KINDS[one.step.kind].keeps_means for one in steps)


def _alike(first: _Look, look: _Look) -> bool:
    """Whether the same words are set in the same way, and what is done to all of them at the end stands still."""
    return (
        look.standing.layout is first.standing.layout
        and look.standing.matrix == first.standing.matrix
        and look.tail.steps == first.tail.steps
        and look.tail.opacity == first.tail.opacity
        and look.tail.inking == first.tail.inking
    )


def _can_be_followed(way: list[Back | None]) -> bool:
    """Whether pixels of these letters are changed in no way that moves or changes."""
    there = [back for back in way if back is not None]
    if not there:
        return True
    first = there[0]
    still = first.steps == () or len(there) == len(way) and all(back.matrix == first.matrix for back in there)
    alike = all(back.inking == first.inking and back.steps == first.steps for back in there)
    return still and alike and _keep_means(first.steps)


def _smear(way: _Way, ceiling: int) -> Smear | None:
    """The moments at which some letters are painted, each with its opacity; none where they stand still."""
    there = [back for back in way.backs if back is not None]
    first = there[0]
    everywhere = len(there) == len(way.backs)
    if everywhere and all(back.matrix == first.matrix and back.opacity == first.opacity for back in there):
        return None
    wanted = max(_LEAST, math.ceil(_TO_A_PX * way.travel))
    return Smear(way.looks.tobytes(), way.around, min(wanted, _TO_A_PX * ceiling), wanted, everywhere and way.straight)
