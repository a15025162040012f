"""Motion blur of words whose letters move on their own: each letter is painted with its own streak."""

from __future__ import annotations

import math
from typing import Callable, NamedTuple

from ..moment.scene import Layer, StepNow, TextNow
from ..moment.standing import Standing, stand
from ..picture import Matrix, Rect
from ..steps import KINDS
from ..type import Pose, Smear
from .back import Back
from .graph import Seen, StepPlan
from .letters import AT_REST, Signature, alike, back_for, splits, swaps_of, together
from .sight import Sight

_FEWEST, _MOST = 4, 16
"""Into how many legs of time an exposure is parted to follow its letters, at least and at most."""

_STRAIGHT = 0.15
"""Px by which a corner's way between two looks may be other than straight."""

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
    standing: Standing
    steps: list[StepNow]
    tail: Back
    groups: dict[Signature, list[int]]

    @property
    def bare(self) -> Back:
        """What all letters have in common, before what is done to each."""
        return self.tail._replace(opacity=1.0, steps=())

    def values(self, signature: Signature) -> list[object]:
        """The values of every step for some letters."""
        return [
            number if number == AT_REST else step.parts[number].values if step.parts else step.values
            for step, (number, _) in zip(self.steps, signature)
        ]


def exposed_letters(layer: Layer, sight: Sight, at: _At, ceiling: int) -> Exposed | None:
    """The words with a streak for each letter; None where the shutter sees more change than letters and their places.

    `at` gives the clip at a share of the exposure, worked out for some of its letters.
    """
    opens, closes = (_look(at(share, None), sight, None) for share in (0.0, 1.0))
    if opens is None or closes is None or not _alike([opens, closes]):
        return None
    ends = [_by_letter(look) for look in (opens, closes)]
    groups: dict[tuple[Signature, Signature], list[int]] = {}
    for letter in ends[0]:
        groups.setdefault((ends[0][letter], ends[1][letter]), []).append(letter)
    moving, found, complete = [], [], True
    for signature, members in groups.items():
        way = [back_for(one, look.steps, look.standing, look.bare, {}) for one, look in zip(signature, (opens, closes))]
        if way[0] == way[1] and opens.values(signature[0]) == closes.values(signature[1]):
            complete = complete and way[0] is not None
            if way[0] is not None:
                found.append((members, way[:1]))
        else:
            moving.append(members)
    ways = _followed(moving, opens, closes, sight, at)
    if ways is None:
        return None
    for members, way in ways:
        if any(back is not None for back in way):
            found.append((members, way))
        else:
            complete = False
    planned = together(opens.content, opens.standing, _poses(found, opens, ceiling), complete, opens.tail, sight)
    return Exposed(planned and Seen(opens.tail.over(planned[0]), planned[1], layer.blend, layer.clip))


_Ways = list[tuple[list[int], list[Back | None]]]


def _followed(moving: list[list[int]], opens: "_Look", closes: "_Look", sight: Sight, at: _At) -> _Ways | None:
    """What lies before letters that move, at as many looks as it takes to follow them; None where they can't be."""
    if not moving:
        return []
    letters = frozenset(letter for members in moving for letter in members)
    known: dict[float, _Look | None] = {0.0: opens, 1.0: closes}
    legs = _FEWEST
    while True:
        for number in range(1, legs):
            if number / legs not in known:
                known[number / legs] = _look(at(number / legs, letters), sight, letters)
        looks = [look for number in range(legs + 1) if (look := known[number / legs]) is not None]
        if len(looks) <= legs or not _alike(looks):
            return None
        ways = []
        by_letter = [_by_letter(look) for look in looks]
        for members in moving:
            way = _way([each[members[0]] for each in by_letter], looks)
            if way is None:
                return None
            ways.append((members, way))
        if legs >= _MOST or all(_straight(opens.standing, members, way) for members, way in ways):
            return ways
        legs *= 2


def _poses(found: _Ways, look: "_Look", ceiling: int) -> list[tuple[Pose, Back]]:
    """The letters' poses; those that stand still alike are one."""
    standing = look.standing
    poses: list[tuple[Pose, Back]] = []
    still: dict[object, int] = {}
    for members, way in found:
        middle = next(back for back in (way[len(way) // 2], *way) if back is not None)
        smear = _smear(standing, members, way, ceiling) if len(way) > 1 else None
        name = (middle.matrix, middle.opacity, middle.inking)
        if not smear and not middle.steps and name in still:
            pose, back = poses[still[name]]
            members = sorted((*(pose.letters or ()), *members))
            poses[still[name]] = (
                pose._replace(letters=tuple(members), swaps=swaps_of(look.steps, standing, members)),
                back,
            )
            continue
        if not smear and not middle.steps:
            still[name] = len(poses)
        pose = Pose(
            tuple(members),
            middle.matrix @ standing.matrix,
            1.0 if smear else middle.opacity,
            middle.inking,
            swaps_of(look.steps, standing, members),
            smear,
        )
        poses.append((pose, middle))
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
    steps = active[: split + 1]
    return _Look(layer.content, standing, steps, tail, alike(steps, standing, letters))


def _keep_means(steps: tuple[StepPlan, ...]) -> bool:
    return all(KINDS[one.step.kind].keeps_means for one in steps)


def _alike(looks: list[_Look]) -> bool:
    """Whether the same words are set in the same way, and what is done to all of them at the end stands still."""
    first = looks[0]
    return all(
        look.standing.layout is first.standing.layout
        and look.standing.matrix == first.standing.matrix
        and look.tail.steps == first.tail.steps
        and look.tail.opacity == first.tail.opacity
        and look.tail.inking == first.tail.inking
        for look in looks
    )


def _by_letter(look: _Look) -> dict[int, Signature]:
    return {letter: signature for signature, members in look.groups.items() for letter in members}


def _way(signatures: list[Signature], looks: list[_Look]) -> list[Back | None] | None:
    """What lies before some letters at each look; None where their pixels are changed in a way that moves or
    changes."""
    way = [back_for(signature, look.steps, look.standing, look.bare, {}) for signature, look in zip(signatures, looks)]
    there = [back for back in way if back is not None]
    if not there:
        return way
    first = there[0]
    still = first.steps == () or len(there) == len(way) and all(back.matrix == first.matrix for back in there)
    if (
        any(back.inking != first.inking or back.steps != first.steps for back in there)
        or not still
        or not _keep_means(first.steps)
    ):
        return None
    return way


def _corners(standing: Standing, members: list[int], matrix: Matrix) -> list[tuple[float, float]]:
    box = Rect(0, 0, 0, 0)
    for letter in members:
        box = box.union(standing.words.units["letter"][letter].ink)
    return box.corners(matrix @ standing.matrix)


def _straight(standing: Standing, members: list[int], way: list[Back | None]) -> bool:
    """Whether the corners go straight from look to look, as far as is seen."""
    for before, middle, after in zip(way, way[1:], way[2:]):
        if before is None or middle is None or after is None:
            continue
        if before.matrix == middle.matrix == after.matrix:
            continue
        corners = (_corners(standing, members, each.matrix) for each in (before, middle, after))
        # A bend of so much over two legs is a quarter of it within each.
        if any(math.dist(b, ((a[0] + c[0]) / 2, (a[1] + c[1]) / 2)) > 4 * _STRAIGHT for a, b, c in zip(*corners)):
            return False
    return True


def _smear(standing: Standing, members: list[int], way: list[Back | None], ceiling: int) -> Smear | None:
    """The moments at which some letters are painted, each with its opacity; none where they stand still."""
    there = [back for back in way if back is not None]
    first = there[0]
    if len(there) == len(way) and all(back.matrix == first.matrix and back.opacity == first.opacity for back in there):
        return None
    travel = 0.0
    for one, other in zip(there, there[1:]):
        if one.matrix != other.matrix:
            travel += max(
                math.dist(a, b)
                for a, b in zip(_corners(standing, members, one.matrix), _corners(standing, members, other.matrix))
            )
    wanted = max(_LEAST, math.ceil(_TO_A_PX * travel))
    count = min(wanted, _TO_A_PX * ceiling)
    looks = []
    for place, back in enumerate(way):
        # Where they are not there they are as near as they come to it, and nothing is seen.
        nearest = (
            back
            or min(
                ((far, each) for far, each in enumerate(way) if each is not None), key=lambda each: abs(each[0] - place)
            )[1]
        )
        looks.append((nearest.matrix @ standing.matrix, back.opacity if back else 0.0))
    return Smear(tuple(looks), count, wanted, len(there) == len(way) and _straight(standing, members, way))
