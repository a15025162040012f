"""What else can be set: motion blur, steps' own in and out, held words and choices, saved eases."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..contents import HeldName
from ..moment.compiled import held_frames
from ..motion import Ease
from ..motion.numbered import ItemId
from ..project.model import MAX_TEXT, Frames, Frozen, HeldKey, Id, Name, Project, SavedEase, Shutter, Text
from .base import EditError, changed, clip_of, clock_of, rule, step_of, with_clip, with_step
from .clips import named
from .lanes import with_clips

Held = Literal["text", "typeface", "align", "stand_x", "stand_y", "measured_by"]


class SetShutter(Frozen):
    """Motion blur of some clips, or (no clips) of the film. A clip with None has the film's."""

    kind: Literal["set_shutter"] = "set_shutter"
    clips: Annotated[tuple[Id, ...], Field(max_length=5000)] = ()
    shutter: Shutter | None


class SetStepTimes(Frozen):
    """A step is done from so many frames after the clip's head up to so many before its end."""

    kind: Literal["set_step_times"] = "set_step_times"
    clip: Id
    step: Id
    since: Frames | None = None
    until: Frames | None = None


class HoldChoice(Frozen):
    """From a frame of the clip on, other words or another choice; a key there changes."""

    kind: Literal["hold_choice"] = "hold_choice"
    clip: Id
    name: Held
    frame: Frames
    value: Annotated[str, StringConstraints(max_length=MAX_TEXT)] | int


class RemoveHeld(Frozen):
    """Take one of them away."""

    kind: Literal["remove_held"] = "remove_held"
    clip: Id
    name: Held
    key: ItemId


class SaveEase(Frozen):
    """Keep an ease under a name; one of that name is replaced."""

    kind: Literal["save_ease"] = "save_ease"
    name: Name
    ease: Ease


class ForgetEase(Frozen):
    kind: Literal["forget_ease"] = "forget_ease"
    name: Name


@rule(SetShutter)
def set_shutter(project: Project, edit: SetShutter) -> tuple[Project, str]:
    if not edit.clips:
        shutter = edit.shutter or Shutter(angle=0)
        return project.model_copy(
            update={"settings": project.settings.model_copy(update={"shutter": shutter})}
        ), f"motion blur {shutter.angle:g}°"
    clips = [clip_of(project, id) for id in edit.clips]
    label = "motion blur of the film" if edit.shutter is None else f"motion blur {edit.shutter.angle:g}°"
    return with_clips(
        project, [clip.model_copy(update={"shutter": edit.shutter}) for clip in clips]
    ), f"{label} for {named(clips)}"


@rule(SetStepTimes)
def set_step_times(project: Project, edit: SetStepTimes) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    step = step_of(clip, edit.step)
    since = step.since if edit.since is None else edit.since
    until = step.until if edit.until is None else edit.until
    if since + until >= clip.length + clip.skipped + clip.cut_off:
        raise EditError(
            f"That would leave no frame of “{clip.name}” on which the step is done; switch it off instead. It is as "
            f"it was."
        )
    return with_clip(
        project, with_step(clip, step.model_copy(update={"since": since, "until": until}))
    ), "times of a step"


@rule(HoldChoice)
def hold_choice(project: Project, edit: HoldChoice) -> tuple[Project, str]:

    clip = clip_of(project, edit.clip)
    if clip.content.kind != "text":
        raise EditError(f"“{clip.name}” has no words to change; it shows {clip.content.kind}.")
    clock = clock_of(clip)
    frame = min(edit.frame, clip.length - 1)
    keys = [key for key in clip.content.held.get(edit.name, ())]
    timed = held_frames(tuple(keys), clock)
    here = next((index for when, index, _ in timed if round(when) == frame), None)
    if here is not None:
        keys[here] = keys[here].model_copy(update={"value": edit.value})
    else:
        if len(keys) >= 2000:
            raise EditError("There are 2,000 such keys already; nothing was added.")
        keys.append(HeldKey(counts_from="head", at=clock.counted("head", frame), value=edit.value))
        keys = [keys[index] for _, index, _ in held_frames(tuple(keys), clock)]
    return with_clip(
        project, clip.model_copy(update={"content": _checked(clip.content, edit.name, keys)})
    ), f"{_WORDS[edit.name]} from frame {frame} on"


@rule(RemoveHeld)
def remove_held(project: Project, edit: RemoveHeld) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    content = clip.content
    keys = list(content.held.get(edit.name, ())) if content.kind == "text" else []
    left = [key for key in keys if key.id != edit.key]
    if content.kind != "text" or len(left) == len(keys):
        raise EditError(f"“{clip.name}” has no such key; nothing was changed.")
    return with_clip(
        project, clip.model_copy(update={"content": _checked(content, edit.name, left)})
    ), f"remove key of {_WORDS[edit.name]}"


_WORDS = {
    "text": "words",
    "typeface": "typeface",
    "align": "line alignment",
    "stand_x": "place in the frame",
    "stand_y": "place in the frame",
    "measured_by": "alignment",
}


def _checked(content: Text, name: HeldName, keys: list[HeldKey]) -> Text:
    held = {**content.held, name: tuple(keys)}
    if not keys:
        del held[name]
    try:
        return changed(content, held=held)
    except ValueError as error:
        raise EditError(
            f"That can't be held: {str(error).splitlines()[2].strip() if len(str(error).splitlines()) > 2 else error}"
        ) from None


@rule(SaveEase)
def save_ease(project: Project, edit: SaveEase) -> tuple[Project, str]:
    others = tuple(each for each in project.settings.eases if each.name != edit.name)
    if len(others) >= 200:
        raise EditError("There are 200 saved eases already; forget one first.")
    settings = project.settings.model_copy(update={"eases": (*others, SavedEase(name=edit.name, ease=edit.ease))})
    return project.model_copy(update={"settings": settings}), f"save ease {edit.name}"


@rule(ForgetEase)
def forget_ease(project: Project, edit: ForgetEase) -> tuple[Project, str]:
    others = tuple(each for each in project.settings.eases if each.name != edit.name)
    if len(others) == len(project.settings.eases):
        raise EditError(f"There is no saved ease “{edit.name}”; nothing was changed.")
    return project.model_copy(
        update={"settings": project.settings.model_copy(update={"eases": others})}
    ), f"forget ease {edit.name}"
