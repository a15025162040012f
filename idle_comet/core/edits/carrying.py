"""What one clip has, copied onto others; and all steps of clips removed."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ..project.model import Clip, Frozen, Id, Project, Step
from ..steps import BY_HAND, KINDS
from ..wording import in_text
from .base import EditError, clip_of, rule, step_of
from .lanes import with_clips
from .looks import check_looks, looks_of


class CarryOver(Frozen):
    """Onto other clips from one: its look (type and surface, as it rests), its motion (steps with keys, spans), or
    both; or one `step` alone, in the place of the one of the same id and kind where there is such a one."""

    kind: Literal["carry_over"] = "carry_over"
    source: Id
    clips: Annotated[tuple[Id, ...], Field(min_length=1, max_length=5000)]
    what: Literal["look", "motion", "both"] = "both"
    step: Id | None = None


class Reset(Frozen):
    """All steps removed: no steps, spans or transitions of their own; words and typeface stay."""

    kind: Literal["reset_clips"] = "reset_clips"
    clips: Annotated[tuple[Id, ...], Field(min_length=1, max_length=5000)]


def moves(step: Step) -> bool:
    """Whether a step is motion: it has a value that is not fixed."""
    return step.mix.state != "fixed" or any(prop.state != "fixed" for prop in step.values.values())


_OWN = {"text", "ranges", "held", "caption", "kind"}
"""What a text keeps when it takes over another's look."""


def carried_over(source: Clip, clip: Clip, what: str) -> Clip:
    """A clip with another's look, motion or both; steps of the other sort stay, looks before motion."""
    motion = [step for step in (clip if what == "look" else source).steps if moves(step)]
    look = [step for step in (clip if what == "motion" else source).steps if not moves(step)]
    steps = source.steps if what == "both" else _distinct([*look, *motion])
    changes: dict[str, Any] = {"steps": tuple(steps)}
    if what != "look":
        changes |= {"arrival": source.arrival, "departure": source.departure, "shutter": source.shutter}
    if what != "motion" and source.content.kind == clip.content.kind == "text":
        taken = {name: getattr(source.content, name) for name in type(source.content).model_fields if name not in _OWN}
        changes["content"] = clip.content.model_copy(update=taken)
    return clip.model_copy(update=changes)


def _distinct(steps: list[Step]) -> list[Step]:
    used: set[str] = set()
    out = []
    for step in steps:
        name, number = step.id, 2
        while name in used:
            name, number = f"{step.id[:58]}-{number}", number + 1
        used.add(name)
        out.append(step if name == step.id else step.model_copy(update={"id": name}))
    return out


def _given_step(clip: Clip, step: Step) -> Clip:
    """A clip with a step of another: anew where it has it already, else before what places it."""
    steps = list(clip.steps)
    at = next((n for n, each in enumerate(steps) if (each.id, each.kind) == (step.id, step.kind)), None)
    if at is not None:
        steps[at] = step.model_copy(update={"masked_from": steps[at].masked_from})
    elif len(steps) >= 100:
        raise EditError(f"“{clip.name}” has no room for another step: 100 is the most; nothing was changed.")
    else:
        last = bool(steps) and steps[-1].kind == BY_HAND.kind and step.kind != BY_HAND.kind
        # What of a run of steps is not there can't be masked with it.
        steps.insert(len(steps) - last, step.model_copy(update={"masked_from": None}))
    return clip.model_copy(update={"steps": tuple(_distinct(steps))})


@rule(CarryOver)
def carry_over(project: Project, edit: CarryOver) -> tuple[Project, str]:
    source = clip_of(project, edit.source)
    clips = [clip_of(project, id) for id in edit.clips if id != edit.source]
    if not clips:
        raise EditError("Choose other clips to carry it over onto; nothing was changed.")
    if edit.step is not None:
        step = step_of(source, edit.step)
        kind = KINDS.get(step.kind)
        made = [_given_step(clip, step) for clip in clips]
        what = in_text(kind.label) if kind else step.kind
    else:
        # Of pictures there is only motion and steps to take; words stay words.
        made = [carried_over(source, clip, edit.what) for clip in clips]
        what = {"look": "the look", "motion": "the motion", "both": "look and motion"}[edit.what]
    carried = with_clips(project, made)
    for before, clip in zip(clips, made):
        for other in sorted((looks_of(clip) - looks_of(before)) & project.clips.keys()):
            check_looks(carried, clip, other, "clip it goes by")
    return carried, f"copy {what} of {source.name} onto {len(made)} clip{'' if len(made) == 1 else 's'}"


@rule(Reset)
def reset_clips(project: Project, edit: Reset) -> tuple[Project, str]:
    clips = [clip_of(project, id) for id in edit.clips]
    plain = [
        clip.model_copy(
            update={
                "steps": (Step(id="placement", kind=BY_HAND.kind),),
                "arrival": 0,
                "departure": 0,
                "opening": None,
                "closing": None,
                "shutter": None,
            }
        )
        for clip in clips
    ]
    return with_clips(project, plain), f"reset {clips[0].name if len(clips) == 1 else f'{len(clips)} clips'} to plain"
