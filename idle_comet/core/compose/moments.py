"""Moments of one clip planned together: what is planned for one holds for the next, but for what steps paint."""

from __future__ import annotations

from typing import Iterable

from ..moment.scene import Layer, StepNow
from ..picture import Rect
from ..steps import KINDS
from .clip import plan_clip
from .graph import Averaged, Picture, Seen, Stepped, StepPlan
from .sight import Inside, Sight


def planned(moments: Iterable[Layer | None], sight: Sight, inside: Inside) -> list[Seen | None]:
    """The picture of a clip at each of its moments."""
    known: tuple[Layer, Seen] | None = None
    made: list[Seen | None] = []
    for moment in moments:
        seen = None
        if moment is not None:
            seen = (known and _again(*known, moment)) or plan_clip(moment, sight, inside)
            known = (moment, seen) if seen else None
        made.append(seen)
    return made


def _again(layer: Layer, seen: Seen, moment: Layer) -> Seen | None:
    """The picture of another moment, by that of one before; None where more may be different than what steps paint that
    are done last."""
    if layer.content != moment.content or len(layer.steps) != len(moment.steps):
        return None
    changed: dict[str, StepNow] = {}
    for one, other in zip(layer.steps, moment.steps):
        if one is not other and one != other:
            # All but the kind and the values.
            if one.kind != other.kind or one[2:] != other[2:] or not KINDS[one.kind].only_paints:
                return None
            changed[other.id] = other
    picture: Picture = seen.picture
    last: list[StepPlan] = []
    sought = set(changed)
    while sought and isinstance(picture, Stepped):
        last.append(picture.plan)
        sought.discard(picture.plan.step.id)
        picture = picture.child
    if sought:
        # It is done to some letters by themselves, or shared out by a mask.
        return None
    for plan in reversed(last):
        step = changed.get(plan.step.id)
        if step is not None:
            if not _planned_alike(plan, step):
                return None
            plan = StepPlan(step, plan.matrix, plan.window, plan.rest, plan.exact, plan.only, plan.masks, plan.shadows)
        picture = Stepped(picture, plan)
    return Seen(picture, seen.opacity, seen.mode, seen.clip)


def _planned_alike(plan: StepPlan, step: StepNow) -> bool:
    """Whether the plan of a step says the same with other values."""
    kind, before = KINDS[step.kind], plan.step.values
    adds = kind.adds(before, plan.rest) is None, kind.adds(step.values, plan.rest) is None
    return kind.changes_pixels(step.values) and adds[0] == adds[1]


def mean_of_moments(samples: list[Seen], count: int, window: Rect, wanted: int) -> Picture:
    """The mean of `count` moments, of which those are left out in which nothing is seen. Steps that all of them end
    with alike are done to their mean, once, where that makes no difference."""
    last: list[StepPlan] = []
    pictures = [one.picture for one in samples]
    whole = len(samples) == count and all(one.opacity == 1 for one in samples)
    while whole and all(isinstance(each, Stepped) for each in pictures):
        steps = [each.plan for each in pictures if isinstance(each, Stepped)]
        step = steps[0]
        if not KINDS[step.step.kind].keeps_means or step.masks or step.shadows:
            break
        if any(each != step for each in steps[1:]):
            break
        last.append(step)
        pictures = [each.child for each in pictures if isinstance(each, Stepped)]
    # Samples in which nothing is seen still count: they are nothing for their part of the time.
    share = len(samples) / count
    faded = tuple(Seen(picture, one.opacity * share) for picture, one in zip(pictures, samples))
    made: Picture = Averaged(faded, window, wanted)
    if last and all(each is pictures[0] or each.digest == pictures[0].digest for each in pictures):
        made = pictures[0]
    for step in reversed(last):
        made = Stepped(made, step)
    return made
