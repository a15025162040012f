"""Keys of several properties and clips at once: shift, stretch, distribute, align, ease, recount, copy, remove."""

from __future__ import annotations

from typing import Annotated, Callable, Literal, Sequence

from pydantic import Field

from ..motion import Ease, Fixed, Moving, Property, resolve_keys
from ..motion.landing import landed
from ..motion.numbered import ItemId
from ..motion.property import CountsFrom, TimedKey
from ..motion.values import Value
from ..project.address import Owner
from ..project.model import Clip, Frames, Frozen, Id, Project
from .base import EditError, clip_of, clock_of, rule
from .lanes import with_clips
from .values import at_frames, check_value, parameter_of, property_of, with_key, with_property


class KeyRef(Frozen):
    """One key: its clip, its step (or "content"), its property, its number in it."""

    clip: Id
    step: Owner
    name: str
    key: ItemId


Keys = Annotated[tuple[KeyRef, ...], Field(min_length=1, max_length=20_000)]


class ShiftKeys(Frozen):
    """All later by so many frames (or earlier), each keeping the end it counts from."""

    kind: Literal["shift_keys"] = "shift_keys"
    keys: Keys
    by: int = Field(ge=-10_000_000, le=10_000_000)


class KeyAt(KeyRef):
    """One key, and a frame of its clip."""

    frame: Frames


class PlaceKeys(Frozen):
    """Keys to frames of their clips, all at once; each keeps the end it counts from."""

    kind: Literal["place_keys"] = "place_keys"
    keys: Annotated[tuple[KeyAt, ...], Field(min_length=1, max_length=20_000)]


class StretchKeys(Frozen):
    """Further apart, or closer, about a frame of the film."""

    kind: Literal["stretch_keys"] = "stretch_keys"
    keys: Keys
    about: Frames
    factor: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)]


class DistributeKeys(Frozen):
    """Evenly between the first and the last of each property."""

    kind: Literal["distribute_keys"] = "distribute_keys"
    keys: Keys


class AlignKeys(Frozen):
    """All to one frame of the film; of each property only one key can stand there."""

    kind: Literal["align_keys"] = "align_keys"
    keys: Keys
    frame: Frames


class EaseKeys(Frozen):
    """One ease from each of the keys on."""

    kind: Literal["ease_keys"] = "ease_keys"
    keys: Keys
    ease: Ease


class RecountKeys(Frozen):
    """What they count from; each stays at its frame."""

    kind: Literal["recount_keys"] = "recount_keys"
    keys: Keys
    counts_from: CountsFrom


class RemoveKeys(Frozen):
    """Take them away; a property that loses its last key is fixed at that key's value."""

    kind: Literal["remove_keys"] = "remove_keys"
    keys: Keys


class CopiedKey(Frozen):
    """A key as it was copied: so many frames after the first of all that were copied."""

    step: Owner
    step_kind: str | None = None
    name: str
    after: Frames
    value: Value
    ease: Ease


class PasteKeys(Frozen):
    """Copied keys at a frame of the film, onto the clips' properties of the same step and name.

    A step of another clip is found by its kind. Keys that stand where one is pasted give way.
    """

    kind: Literal["paste_keys"] = "paste_keys"
    clips: Annotated[tuple[Id, ...], Field(min_length=1, max_length=5000)]
    keys: Annotated[tuple[CopiedKey, ...], Field(min_length=1, max_length=20_000)]
    frame: Frames


Place = tuple[str, str, str]


def _grouped(keys: Sequence[KeyRef]) -> dict[Place, set[int]]:
    found: dict[Place, set[int]] = {}
    for ref in keys:
        found.setdefault((ref.clip, ref.step, ref.name), set()).add(ref.key)
    return found


def _count(keys: Sequence[KeyRef]) -> str:
    return "a key" if len(keys) == 1 else f"{len(keys)} keys"


def change_keys(
    project: Project, keys: Keys, change: Callable[[Clip, Moving, list[TimedKey], set[int]], Property]
) -> Project:
    """The document with `change(clip, property, its timed keys, indices in hand) -> property` done to each property."""
    return _change_each(
        project, keys, lambda _, clip, prop, chosen: change(clip, prop, resolve_keys(prop, clock_of(clip)), chosen)
    )


def _change_each(
    project: Project, keys: Sequence[KeyRef], change: Callable[[Place, Clip, Moving, set[int]], Property]
) -> Project:
    """The document with `change(address, clip, property, indices in hand) -> property` done to each property."""
    clips: dict[str, Clip] = {}
    for place, chosen in _grouped(keys).items():
        clip_id, step, name = place
        clip = clips.get(clip_id) or clip_of(project, clip_id)
        prop = property_of(clip, step, name)
        places = {each.id: n for n, each in enumerate(prop.keys)} if prop.state == "moving" else {}
        if prop.state != "moving" or not chosen <= places.keys():
            raise EditError(
                f"{parameter_of(clip, step, name).label} of “{clip.name}” has no such key; nothing was changed."
            )
        after = change(place, clip, prop, {places[id] for id in chosen})
        clips[clip_id] = with_property(clip, step, name, after)
    return with_clips(project, clips.values())


def retimed(clip: Clip, prop: Moving, frames: dict[int, int]) -> Moving:
    """The property with these keys (by index) at new frames of the clip; two at one frame are refused."""
    clock, last = clock_of(clip), clip.length - 1
    for frame in frames.values():
        if not 0 <= frame <= last:
            raise EditError(
                f"A key of “{clip.name}” would lie outside it (frame {frame} of 0 to {last}); all stay where they were."
            )
    prop = at_frames(clip, prop, frames)
    timed = resolve_keys(prop, clock)
    for one, other in zip(timed, timed[1:]):
        if (
            round(one.frame) == round(other.frame)
            and (one.index in frames) != (other.index in frames)
            or (one.index in frames and other.index in frames and frames[one.index] == frames[other.index])
        ):
            raise EditError(
                f"Two keys of “{clip.name}” would stand at frame {round(one.frame)}; all stay where they were."
            )
    return prop.model_copy(update={"keys": tuple(item.key for item in timed)})


@rule(ShiftKeys)
def shift_keys(project: Project, edit: ShiftKeys) -> tuple[Project, str]:
    def change(clip: Clip, prop: Moving, timed: list[TimedKey], chosen: set[int]) -> Property:
        return retimed(clip, prop, {item.index: round(item.frame) + edit.by for item in timed if item.index in chosen})

    return change_keys(project, edit.keys, change), f"shift {_count(edit.keys)} {edit.by:+d} frames"


@rule(PlaceKeys)
def place_keys(project: Project, edit: PlaceKeys) -> tuple[Project, str]:
    frames = {(ref.clip, ref.step, ref.name, ref.key): ref.frame for ref in edit.keys}

    def change(place: Place, clip: Clip, prop: Moving, chosen: set[int]) -> Property:
        return retimed(clip, prop, {index: frames[(*place, prop.keys[index].id)] for index in chosen})

    return _change_each(project, edit.keys, change), f"move {_count(edit.keys)}"


@rule(StretchKeys)
def stretch_keys(project: Project, edit: StretchKeys) -> tuple[Project, str]:
    def change(clip: Clip, prop: Moving, timed: list[TimedKey], chosen: set[int]) -> Property:
        about = edit.about - clip.head
        return retimed(
            clip,
            prop,
            {item.index: round(about + (item.frame - about) * edit.factor) for item in timed if item.index in chosen},
        )

    return change_keys(project, edit.keys, change), f"stretch {_count(edit.keys)} to {100 * edit.factor:g} %"


@rule(DistributeKeys)
def distribute_keys(project: Project, edit: DistributeKeys) -> tuple[Project, str]:
    def change(clip: Clip, prop: Moving, timed: list[TimedKey], chosen: set[int]) -> Property:
        held = [item for item in timed if item.index in chosen]
        first, last = held[0].frame, held[-1].frame
        return retimed(
            clip,
            prop,
            {item.index: round(first + (last - first) * i / max(1, len(held) - 1)) for i, item in enumerate(held)},
        )

    return change_keys(project, edit.keys, change), f"distribute {_count(edit.keys)}"


@rule(AlignKeys)
def align_keys(project: Project, edit: AlignKeys) -> tuple[Project, str]:
    def change(clip: Clip, prop: Moving, timed: list[TimedKey], chosen: set[int]) -> Property:
        if len(chosen) > 1:
            raise EditError("Of one property only one key can stand at a frame; choose one of each. Nothing was moved.")
        return retimed(clip, prop, {index: edit.frame - clip.head for index in chosen})

    return change_keys(project, edit.keys, change), f"align {_count(edit.keys)}"


@rule(EaseKeys)
def ease_keys(project: Project, edit: EaseKeys) -> tuple[Project, str]:
    def change(clip: Clip, prop: Moving, timed: list[TimedKey], chosen: set[int]) -> Property:
        return prop.model_copy(
            update={
                "keys": tuple(
                    key.model_copy(update={"ease": edit.ease}) if index in chosen else key
                    for index, key in enumerate(prop.keys)
                )
            }
        )

    return change_keys(project, edit.keys, change), f"ease of {_count(edit.keys)}"


@rule(RecountKeys)
def recount_keys(project: Project, edit: RecountKeys) -> tuple[Project, str]:
    def change(clip: Clip, prop: Moving, timed: list[TimedKey], chosen: set[int]) -> Property:
        clock = clock_of(clip)
        frames = {item.index: item.frame for item in timed}
        keys = tuple(
            key.model_copy(
                update={"counts_from": edit.counts_from, "at": clock.counted(edit.counts_from, frames[index])}
            )
            if index in chosen
            else key
            for index, key in enumerate(prop.keys)
        )
        recounted = landed(
            prop.model_copy(update={"keys": keys}), clock, {index: frames[index] for index in chosen}, frames, ends=True
        )
        if recounted is None:
            raise EditError(
                f"“{clip.name}” is too short for all of these keys to count from there and stay at their frames; "
                f"they count as they did."
            )
        return recounted.model_copy(update={"keys": tuple(item.key for item in resolve_keys(recounted, clock))})

    where = {"head": "from the head", "tail": "from the tail", "proportion": "in proportion"}[edit.counts_from]
    return change_keys(project, edit.keys, change), f"count {_count(edit.keys)} {where}"


@rule(RemoveKeys)
def remove_keys(project: Project, edit: RemoveKeys) -> tuple[Project, str]:
    def change(clip: Clip, prop: Moving, timed: list[TimedKey], chosen: set[int]) -> Property:
        kept = tuple(key for index, key in enumerate(prop.keys) if index not in chosen)
        return prop.model_copy(update={"keys": kept}) if kept else Fixed(value=prop.keys[min(chosen)].value)

    return change_keys(project, edit.keys, change), f"remove {_count(edit.keys)}"


@rule(PasteKeys)
def paste_keys(project: Project, edit: PasteKeys) -> tuple[Project, str]:
    clips, pasted = [], 0
    for id in dict.fromkeys(edit.clips):
        clip = clip_of(project, id)
        for copied in edit.keys:
            step = _step_for(clip, copied)
            frame = edit.frame - clip.head + copied.after
            if step is None or not 0 <= frame < clip.length:
                continue
            parameter = parameter_of(clip, step, copied.name)
            check_value(parameter, copied.value)
            clip = with_property(
                clip, step, copied.name, _with_pasted(clip, property_of(clip, step, copied.name), frame, copied)
            )
            pasted += 1
        clips.append(clip)
    if not pasted:
        raise EditError(
            "None of the copied keys finds its property and a frame within these clips; nothing was pasted."
        )
    return with_clips(project, clips), f"paste {pasted} {'key' if pasted == 1 else 'keys'}"


def _step_for(clip: Clip, copied: CopiedKey) -> str | None:
    if copied.step == "content":
        try:
            parameter_of(clip, "content", copied.name)
            return "content"
        except EditError:
            return None
    same = [step.id for step in clip.steps if step.id == copied.step and copied.step_kind in (None, step.kind)]
    alike = [step.id for step in clip.steps if step.kind == copied.step_kind]
    return next(iter(same or alike), None)


def _with_pasted(clip: Clip, prop: Property, frame: int, copied: CopiedKey) -> Moving:

    moving = with_key(clip, prop, frame, copied.value)
    here = min(resolve_keys(moving, clock_of(clip)), key=lambda item: abs(item.frame - frame)).index
    keys = list(moving.keys)
    keys[here] = keys[here].model_copy(update={"ease": copied.ease})
    return moving.with_keys(tuple(keys))
