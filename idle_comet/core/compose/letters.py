"""Words of which some letters are done something else to than others: letters that are alike are painted together."""

from __future__ import annotations

from dataclasses import replace
from typing import Iterable, Iterator

from ..moment.scene import PartNow, StepNow, TextNow
from ..moment.standing import Standing
from ..picture import Matrix, Rect
from ..steps import KINDS, Rest, StepKind
from ..type import Inking, Pose, regions
from .back import Back
from .deep import Body
from .graph import Blended, MaskPlan, Picture, Seen, Source, StepPlan
from .sight import Sight


def splits(step: StepNow, standing: Standing) -> bool:
    """Whether the step does something else to some letters than to others."""
    if standing.layout is None or not standing.layout.units["letter"]:
        return False
    kind = KINDS[step.kind]
    if kind.changes_letters and kind.letters(step.values, standing.rest(step.leaving)) is not None:
        return True
    # At rest every unit is where it would be without the step: then all of the text is painted as one.
    rest_of = standing.rests()
    return any(
        not rests and _changes(kind, part, rest_of(part.unit, part.index, step.leaving, step.pivot))
        for part, rests in zip(step.parts, _resting(step))
    )


def _resting(step: StepNow) -> Iterator[bool]:
    """Of each of its parts, whether a step leaves it as it is. Parts that have arrived share their values."""
    rests = KINDS[step.kind].rests
    known: dict[int, bool] = {}
    for part in step.parts:
        still = known.get(id(part.values))
        if still is None:
            still = known[id(part.values)] = rests(part.values)
        yield still


def _told_apart(step: StepNow, shared: bool) -> list[int]:
    """Of each of its parts the number it goes by: those that are hidden alike by that of the first, wherever they
    stand, and those at rest by none, unless something is `shared` out among them."""
    kind = KINDS[step.kind]
    known: dict[tuple[int, float], int] = {}
    told = []
    for number, (values, mix, _, _) in enumerate(step.parts):
        key = id(values), mix
        goes_by = known.get(key)
        if goes_by is None:
            hidden = mix >= 1 and kind.vanishes(values)
            goes_by = AT_REST if not shared and kind.rests(values) else number if hidden else _BY_ITSELF
            known[key] = goes_by
        told.append(number if goes_by == _BY_ITSELF else goes_by)
    return told


def _changes(kind: StepKind, part: PartNow, rest: Rest) -> bool:
    """Whether a step changes anything of one unit."""
    values = part.values
    if kind.opacity(values) != 1:
        return True
    if not kind.only_places and (
        kind.changes_pixels(values) or kind.inking(values, rest) or kind.solid(values, rest) is not None
    ):
        return True
    placed = kind.place(values, rest)
    return placed is not None and placed != Matrix()


Signature = tuple[tuple[int, float], ...]
"""What is done to a letter: for each step the number of its part, and how much of it the step shows."""

AT_REST, _BY_ITSELF = -2, -3
"""In place of the number of a part that changes nothing; of one that goes by its own."""


class Letters:
    """The letters of words at one moment: what steps that are passed on, or done to single letters, do to each."""

    def __init__(self, steps: list[StepNow], standing: Standing) -> None:
        self.steps, self.standing = steps, standing
        self._rest_of = standing.rests()
        self._kinds = [KINDS[step.kind] for step in steps]
        # What a step without parts is done to is all of the words.
        self._rests = [None if step.parts else standing.rest(step.leaving, step.pivot) for step in steps]
        self._changed = [
            kind.letters(step.values, standing.rest(step.leaving)) if kind.changes_letters else None
            for kind, step in zip(self._kinds, steps)
        ]
        self._swaps = [made for made in self._changed if made]

    def alike(self, letters: Iterable[int] | None = None) -> dict[Signature, list[int]]:
        """Letters by what is done to them: for each step the number of their part, and how much of them it shows."""
        # What an earlier step adds is shared out among letters, those at rest too.
        told = range(len(self.standing.words.units["letter"])) if letters is None else list(letters)
        done: list[list[tuple[int, float]]] = []
        shared = False
        for kind, step, changed in zip(self._kinds, self.steps, self._changed):
            if step.parts:
                own = [(number, 1.0) for number in _told_apart(step, shared)]
                # A letter that was not worked out belongs to no part.
                own.append((-1, 1.0))
                of_letter = step.of_letter
                each_letter = [own[of_letter[letter]] for letter in told]
            else:
                each_letter = [(0, 1.0)] * len(told)
            shared = shared or kind.paints_its_own
            if changed:
                each_letter = [(number, changed[letter].opacity) for (number, _), letter in zip(each_letter, told)]
            done.append(each_letter)
        found: dict[Signature, list[int]] = {}
        for letter, signature in zip(told, zip(*done) if done else [()] * len(told)):
            members = found.get(signature)
            if members is None:
                found[signature] = [letter]
            else:
                members.append(letter)
        return found

    def values_of(self, signature: Signature) -> tuple[tuple[int, float], ...]:
        """Names the values of every step for some letters. Units that wait or have gone share one object."""
        return tuple(
            [
                (number if number < 0 or not step.parts else id(step.parts[number].values), share)
                for step, (number, share) in zip(self.steps, signature)
            ]
        )

    def back_for(self, signature: Signature, back: Back | None, masks: dict[int, tuple[MaskPlan, ...]]) -> Back | None:
        """What lies between some letters that are alike and what is seen of them."""
        passed: list[PartNow] = []
        for place in range(len(self.steps) - 1, -1, -1):
            step, kind, (number, share) = self.steps[place], self._kinds[place], signature[place]
            if back is None or share <= 0:
                return None
            whole = self._rests[place]
            if whole is not None:
                # A step before one that is passed on paints for all letters at once; what it adds is shared out.
                back = back.before(step, whole, self._shared_out(passed), masks.get(id(step), ()))
            elif number != AT_REST:
                part = step.parts[number]
                values, mix, unit, index = part
                rest = self._rest_of(unit, index, step.leaving, step.pivot)
                if kind.only_places and back.deep is None:
                    back = back.placed(kind, values, mix, rest)
                else:
                    own = StepNow(step.kind, values, mix, step.leaving)
                    back = back.before(own, rest, None, masks.get(id(step), ()))
                passed.append(part)
            if back is not None and share != 1:
                back = back._replace(opacity=back.opacity * share)
        return back

    def _shared_out(self, parts: list[PartNow]) -> Rect | None:
        """Where what is painted for all letters belongs to some of them; None for everywhere."""
        only: Rect | None = None
        for part in parts:
            around = regions(self.standing.words, part.unit)[part.index].through(self.standing.matrix)
            only = around if only is None else only.meets(around)
        return only

    def swaps_of(self, members: list[int]) -> tuple[tuple[int, str], ...]:
        """Letters among these that are shown as another character."""
        if not self._swaps:
            return ()
        return tuple([(letter, swap) for made in self._swaps for letter in members if (swap := made[letter].swap)])


def in_sight(standing: Standing, pose: Pose, window: Rect) -> bool:
    """Whether any ink of a pose lies in a window."""
    if pose.solid is not None:
        # A body reaches past its ink.
        return True
    units = standing.words.units["letter"]
    letters = range(len(units)) if pose.letters is None else pose.letters
    room = 0.6 if pose.swaps else pose.inking.pen if pose.inking else 0.0
    return any(not units[letter].ink.grown(room).through(pose.matrix, 1.0).meets(window).empty for letter in letters)


def letters_of(
    content: TextNow,
    standing: Standing,
    steps: list[StepNow],
    tail: Back,
    sight: Sight,
    masks: dict[int, tuple[MaskPlan, ...]],
) -> tuple[Picture, float] | None:
    """The words with these steps done, and the opacity of all of them; the steps in `tail` are left to do."""
    letters = Letters(steps, standing)
    bare = tail._replace(opacity=1.0, steps=())
    # Letters that come to stand alike are one pose, such as all that have arrived.
    stands: list[tuple[Back, list[int]]] = []
    bare_ones: dict[tuple[Matrix, float, Inking | None, Body | None], list[int]] = {}
    complete = True
    gone: set[tuple[tuple[int, float], ...]] = set()
    for signature, members in letters.alike().items():
        known_gone = bool(gone) and letters.values_of(signature) in gone
        back = None if known_gone else letters.back_for(signature, bare, masks)
        if back is None:
            # Where they are not to be seen the place of letters does not matter: their values alone make it so.
            gone.add(letters.values_of(signature))
            complete = False
        elif back.steps:
            stands.append((back, members))
        else:
            alike_ones = bare_ones.setdefault((back.matrix, back.opacity, back.inking, back.body), members)
            if alike_ones is members:
                stands.append((back, members))
            else:
                alike_ones.extend(members)
    found = []
    for back, members in stands:
        matrix, swaps = back.matrix @ standing.matrix, letters.swaps_of(members)
        pose = Pose(tuple(sorted(members)), matrix, back.opacity, back.inking, swaps, None, back.body)
        found.append((pose, back))
    return together(content, standing, found, complete, tail, sight)


def together(
    content: TextNow, standing: Standing, found: list[tuple[Pose, Back]], complete: bool, tail: Back, sight: Sight
) -> tuple[Picture, float] | None:
    """Poses of all letters as one picture. Steps that are the same for all letters are done once, to all of them."""
    common: tuple[StepPlan, ...] = ()
    window = tail.window
    if found and complete and found[0][1].steps and all(back.steps == found[0][1].steps for _, back in found):
        common, window = found[0][1].steps, found[0][1].window
        found = [(pose, back._replace(steps=())) for pose, back in found]
    stepped = any(back.steps for _, back in found)
    if stepped:
        visible = [(pose, back) for pose, back in found if adds(back.steps) or in_sight(standing, pose, back.window)]
    else:
        # Whoever paints them looks at each; here it is enough that there is one.
        visible = found if any(in_sight(standing, pose, back.window) for pose, back in found) else []
    if not visible and not adds((*common, *tail.steps)):
        return None
    picture: Picture
    if stepped:
        below: list[Seen] = []
        ink: list[Seen] = []
        for pose, back in visible:
            lower, own = _parted(back) if len(visible) > 1 else ([], back)
            source = _source(content, (pose,), back.window, sight, tail)
            below.extend(Seen(each.over(source), mix) for each, mix in lower)
            ink.append(Seen(own.over(source)))
        picture = Blended((*below, *ink), window)
    else:
        picture = _source(content, tuple(pose for pose, _ in visible), window, sight, tail)
    return tail._replace(steps=common).over(picture), tail.opacity


def _parted(back: Back) -> tuple[list[tuple[Back, float]], Back]:
    """What shadows and light paint below ink, from the bottom up, each with its mix, and what is left: so that those of
    one letter lie below the ink of all others."""
    below: list[tuple[Back, float]] = []
    while back.steps:
        *before, last = back.steps
        parted = None if last.masks else KINDS[last.step.kind].parted(last.step.values)
        if parted is None:
            break
        under, left = parted
        alone = replace(last, step=last.step._replace(values=under, mix=1.0))
        below.append((back._replace(steps=(*before, alone)), last.step.mix))
        if left is not None:
            return below, back._replace(steps=(*before, replace(last, step=last.step._replace(values=left))))
        back = back._replace(steps=tuple(before))
    return below, back


def _source(content: TextNow, poses: tuple[Pose, ...], window: Rect, sight: Sight, tail: Back) -> Source:
    return Source(content, Matrix(), window, sight.frame, sight.exact, poses, around=tail.around)


def adds(steps: tuple[StepPlan, ...]) -> bool:
    """Whether a step paints something of its own in its window."""
    for one in steps:
        added = KINDS[one.step.kind].adds(one.step.values, one.rest)
        if added is not None and not added.through(one.matrix, 1.0).meets(one.window).empty:
            return True
    return False
