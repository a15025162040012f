"""Building an emblem from pieces: one uncovers another, answers its motion, leaves and returns by another way."""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..moment.evaluate import evaluate_clip
from ..moment.hits import MotionHit, motion_hits
from ..moment.whereabouts import whereabouts_of
from ..motion import Fixed, Property
from ..project.mask import Mask
from ..project.model import Clip, Frames, Frozen, Id, Project, Step
from ..project.timeline import timeline_of
from ..steps import KINDS
from .arranging import laid_above
from .base import EditError, clip_of, rule, with_clip
from .by_hits import pulsed
from .clips import trimmed_to
from .cutting import SplitClips, split_clips
from .lanes import with_clips
from .looks import check_looks
from .steps import AddStep, add_step
from .values import property_of, with_property

Edge = Literal["middle", "trailing", "leading"]


class Uncover(Frozen):
    """A clip uncovers another as it travels: of that, only what the mover has gone past is seen, up to the mover's own
    outline or, along its way, the middle of it. The mover is laid above it, and it begins no sooner than the mover.

    The two lie on one timeline. `offset` px further on than that edge, in the direction of travel, is uncovered. What
    was uncovered stays so when the mover goes back, unless it is not `held`."""

    kind: Literal["uncover"] = "uncover"
    clip: Id
    by: Id
    edge: Edge = "middle"
    offset: Annotated[float, Field(ge=-20000, le=20000, allow_inf_nan=False)] = 0
    held: bool = True


class AnswerMotion(Frozen):
    """A clip answers moments of another one's motion: its glow, its brightness or its size rises to a peak within
    `rise` frames at each of them, and falls back within `fall`. It gets the step that does so where it has none."""

    kind: Literal["answer_motion"] = "answer_motion"
    clip: Id
    to: Id
    by: Literal["glow", "light", "size"] = "glow"
    moments: Annotated[tuple[MotionHit, ...], Field(min_length=1, max_length=4)] = ("landed",)
    peak: Annotated[float, Field(ge=-20, le=50, allow_inf_nan=False)] | None = None
    rise: Annotated[int, Field(ge=0, le=250)] = 2
    fall: Annotated[int, Field(ge=1, le=2500)] = 14


class LeaveAndReturn(Frozen):
    """A clip is gone from one frame of its timeline to another, and comes back by a ready-made motion of its own. What
    comes back is called `seed`-b-1; what it did before, it has done."""

    kind: Literal["leave_and_return"] = "leave_and_return"
    clip: Id
    leaves: Frames
    returns: Frames
    step: Annotated[str, Field(max_length=60)] = "placement"
    ready: Annotated[str, Field(max_length=60)] = "drop-settle"
    seed: Annotated[Id, Field(max_length=50)]


@rule(Uncover)
def uncover(project: Project, edit: Uncover) -> tuple[Project, str]:
    clip, mover = clip_of(project, edit.clip), clip_of(project, edit.by)
    if clip is mover:
        raise EditError("A clip can't uncover itself; nothing was changed. Take another in hand with it.")
    for each in (clip, mover):
        if each.content.kind in ("sound", "treatment"):
            raise EditError(f"“{each.name}” has no picture of its own; nothing was changed.")
    if timeline_of(project, clip) != timeline_of(project, mover):
        raise EditError(f"“{mover.name}” lies on another timeline than “{clip.name}”; nothing was changed.")
    check_looks(project, clip, mover.id, "mask")
    if min(clip.end, mover.end) - max(clip.head, mover.head) < 2:
        raise EditError(f"“{mover.name}” and “{clip.name}” are not there at the same time; nothing was changed.")
    way = _travel(project, mover)
    if clip.head < mover.head:
        clip = trimmed_to(project, clip, mover.head, clip.end - mover.head)
    project = laid_above(with_clip(project, clip), mover.id, clip.id)
    clip = project.clips[clip.id]
    steps = [step for step in clip.steps if step.id != _UNCOVERED]
    if len(steps) >= 100:
        raise EditError(f"“{clip.name}” already has 100 steps; nothing was changed.")
    edge = {"trailing": 0.0, "middle": 0.5, "leading": 1.0}[edit.edge]
    values: dict[str, Property] = {
        "way": Fixed(value=way),
        "edge": Fixed(value=edge),
        "offset": Fixed(value=edit.offset),
    }
    mask = Mask(id="edge", form="wipe", clip=mover.id, held=edit.held, values=values)
    # Last of all, so that the edge lies where it is seen.
    step = Step(id=_UNCOVERED, kind="mask", masks=(mask,))
    return with_clip(project, clip.model_copy(update={"steps": (*steps, step)})), f"{mover.name} uncovers {clip.name}"


_UNCOVERED = "uncovered"


def _travel(project: Project, mover: Clip) -> float:
    """The way a clip travels, in degrees: 0 to the right, 90 down; from where it first is to where it goes furthest
    from there. Raises EditError for one that stands still."""
    width, height = project.settings.width, project.settings.height
    places = []
    for frame in np.linspace(0, mover.length - 1, min(mover.length, 200)):
        layer = evaluate_clip(project, mover, float(frame))
        if layer is not None:
            box = whereabouts_of(layer, width, height).box
            places.append(((box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2))
    first = places[0] if places else (0.0, 0.0)
    far = max(places, key=lambda place: math.dist(place, first), default=first)
    ways = (far[0] - first[0], far[1] - first[1])
    if math.hypot(*ways) < 2:
        raise EditError(
            f"“{mover.name}” stands still, and uncovers nothing; nothing was changed. Let it travel first, for example "
            "by a slide."
        )
    # A hundredth of a degree is less than a px of any frame.
    return round(math.degrees(math.atan2(ways[1], ways[0])), 2)


_ANSWERS = {
    "glow": ("glow", "gain", 0.0, 1.8),
    "light": ("colour_grade", "brightness", 0.0, 0.3),
    "size": ("placement", "scale", 1.0, 1.08),
}
"""What answers: the step, its value, where that rests and what it rises to."""


@rule(AnswerMotion)
def answer_motion(project: Project, edit: AnswerMotion) -> tuple[Project, str]:
    clip, mover = clip_of(project, edit.clip), clip_of(project, edit.to)
    if clip.content.kind == "sound":
        raise EditError(f"“{clip.name}” is heard, not seen; nothing was changed.")
    if timeline_of(project, clip) != timeline_of(project, mover):
        raise EditError(f"“{mover.name}” lies on another timeline than “{clip.name}”; nothing was changed.")
    found = motion_hits(project, mover)
    frames = sorted(round(found[each] + mover.head - clip.head) for each in edit.moments if each in found)
    frames = [frame for frame in frames if 0 <= frame < clip.length]
    if not frames:
        wanted = " or ".join(edit.moments)
        raise EditError(
            f"“{mover.name}” has no moment “{wanted}” while “{clip.name}” is there; nothing was changed. "
            "It needs an arrival or a departure that moves."
        )
    kind, name, rests, rises = _ANSWERS[edit.by]
    step = next((each for each in reversed(clip.steps) if each.kind == kind and each.units is None), None)
    if step is None:
        if len(clip.steps) >= 100:
            raise EditError(f"“{clip.name}” already has 100 steps; nothing was changed.")
        taken = {each.id for each in clip.steps}
        id = next(id for n in range(200) if (id := f"answer-{n}" if n else "answer") not in taken)
        step = Step(id=id, kind=kind, values={name: Fixed(value=rests)})
        last = clip.steps[-1:] if clip.steps and clip.steps[-1].kind == "placement" and kind != "placement" else ()
        clip = clip.model_copy(update={"steps": (*clip.steps[: len(clip.steps) - len(last)], step, *last)})
    peak = rises if edit.peak is None else edit.peak
    prop = property_of(clip, step.id, name)
    made = pulsed(clip, prop, frames, peak, edit.rise, edit.fall)
    return with_clip(project, with_property(clip, step.id, name, made)), f"{clip.name} answers {mover.name}"


@rule(LeaveAndReturn)
def leave_and_return(project: Project, edit: LeaveAndReturn) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    if not clip.head < edit.leaves < edit.returns < clip.end - 1:
        raise EditError(
            f"“{clip.name}” is there from frame {clip.head} to {clip.end - 1}; it can leave and return only in "
            "between, one after the other. Nothing was changed."
        )
    kind = KINDS.get(edit.step)
    ready = next((each for each in kind.ready if each.name == edit.ready), None) if kind else None
    if ready is None:
        raise EditError(f"There is no ready-made motion “{edit.ready}” of “{edit.step}”; nothing was changed.")
    project, _ = split_clips(project, SplitClips(clips=(clip.id,), frame=edit.leaves, seed=f"{edit.seed}-a"))
    away = f"{edit.seed}-a-1"
    project, _ = split_clips(project, SplitClips(clips=(away,), frame=edit.returns, seed=f"{edit.seed}-b"))
    back = project.clips[f"{edit.seed}-b-1"]
    # The motion is made for a clip that begins here, and told from where this one began.
    span = max(1, min(back.length // 2, round(0.6 * float(project.settings.rate.fraction))))
    fresh = back.model_copy(update={"skipped": 0, "arrival": span, "departure": 0, "steps": ()})
    taken = {each.id for each in back.steps}
    id = next(id for n in range(200) if (id := f"returns-{n}" if n else "returns") not in taken)
    order = AddStep(clip=back.id, at=0, step=Step(id=id, kind=edit.step), ready=edit.ready)
    comes = add_step(with_clip(project, fresh), order)[0].clips[back.id].steps[0]
    values = {name: _arriving(prop, back.skipped) for name, prop in comes.values.items()}
    # Its arrival is the way back, as far as that has keys.
    keys = [key.at for prop in values.values() if prop.state == "moving" for key in prop.keys]
    arrival = round(max(keys, default=float(back.skipped + span)))
    steps = (*back.steps, comes.model_copy(update={"values": values}))
    made = back.model_copy(update={"steps": steps, "arrival": arrival})
    return with_clips(project, [made], [away]), f"{clip.name} leaves and returns"


def _arriving(prop: Property, skipped: int) -> Property:
    """Of a ready-made motion only the way in, its keys told from so many frames before."""
    if prop.state != "moving":
        return prop
    keys = tuple(key.model_copy(update={"at": key.at + skipped}) for key in prop.keys if key.counts_from == "head")
    return prop.model_copy(update={"keys": keys}) if keys else Fixed(value=prop.keys[-1].value)
