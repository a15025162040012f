"""One act each: softer, slower, stronger, and the arrival played back as the departure."""

from __future__ import annotations

from typing import Callable, Literal

from ..motion import Ease, Key, Moving, Property, Strengths, mirrored, stronger
from ..project.address import Owner
from ..project.model import Clip, Frozen, Project
from .base import EditError, clip_of, rule
from .clips import Clips, named
from .lanes import with_clips
from .spans import SetSpans, map_properties, set_spans


class Soften(Frozen):
    """Soft in, soft out: every ease of arrival and departure gets both strengths a third."""

    kind: Literal["soften"] = "soften"
    clips: Clips


class Slower(Frozen):
    """Arrival and departure last half as long again."""

    kind: Literal["slower"] = "slower"
    clips: Clips


class Stronger(Frozen):
    """Every strength grows by a fifth of the whole."""

    kind: Literal["stronger"] = "stronger"
    clips: Clips


class MirrorArrival(Frozen):
    """The departure becomes the arrival played backwards. With `step` only what that step moves."""

    kind: Literal["mirror_arrival"] = "mirror_arrival"
    clips: Clips
    step: Owner | None = None


def _each(
    project: Project, clips: tuple[str, ...], change: Callable[[Property], Property]
) -> tuple[Project, list[Clip]]:
    found = [clip_of(project, id) for id in dict.fromkeys(clips)]
    return with_clips(project, [map_properties(clip, change) for clip in found]), found


def _eased(change: Callable[[Ease], Ease]) -> Callable[[Property], Property]:
    def on(prop: Property) -> Property:
        if prop.state != "moving":
            return prop
        last = len(prop.keys) - 1
        return prop.model_copy(
            update={
                "keys": tuple(
                    key.model_copy(update={"ease": change(key.ease)}) if index < last else key
                    for index, key in enumerate(prop.keys)
                )
            }
        )

    return on


@rule(Soften)
def soften(project: Project, edit: Soften) -> tuple[Project, str]:
    after, clips = _each(project, edit.clips, _eased(lambda ease: Strengths()))
    return after, f"{named(clips)} soft in, soft out"


@rule(Stronger)
def stronger_ease(project: Project, edit: Stronger) -> tuple[Project, str]:
    after, clips = _each(project, edit.clips, _eased(lambda ease: stronger(ease, 0.2)))
    return after, f"{named(clips)} stronger"


@rule(Slower)
def slower(project: Project, edit: Slower) -> tuple[Project, str]:
    clips = [clip_of(project, id) for id in dict.fromkeys(edit.clips)]
    for clip in clips:
        arrival, departure = round(clip.arrival * 1.5), round(clip.departure * 1.5)
        if arrival + departure > clip.length:
            raise EditError(
                f"“{clip.name}” is too short for that: {arrival} frames in and {departure} out are more than its "
                f"{clip.length}. It is as it was."
            )
        project, _ = set_spans(project, SetSpans(clip=clip.id, arrival=arrival, departure=departure))
    return project, f"{named(clips)} slower"


@rule(MirrorArrival)
def mirror_arrival(project: Project, edit: MirrorArrival) -> tuple[Project, str]:
    clips = []
    for id in dict.fromkeys(edit.clips):
        clip = clip_of(project, id)
        if not clip.arrival:
            raise EditError(f"“{clip.name}” has no arrival to mirror; give it one first.")
        clips.append(map_properties(clip, _mirror, edit.step).model_copy(update={"departure": clip.arrival}))
    return with_clips(project, clips), f"mirror arrival of {named(clips)}"


def _mirror(prop: Property) -> Property:
    """Keys that count from the head, once more from the tail and backwards; what counted from the tail before goes."""
    if prop.state != "moving":
        return prop
    heads = [key for key in prop.keys if key.counts_from == "head"]
    if not heads:
        return prop
    tails = []
    for place in range(len(heads) - 1, -1, -1):
        # Backwards the ease that led to a key leads away from it.
        ease = mirrored(heads[place - 1].ease) if place else heads[-1].ease
        tails.append(
            Key(
                counts_from="tail",
                at=-heads[place].at,
                value=heads[place].value,
                ease=ease,
                into=heads[place].out,
                out=heads[place].into,
            )
        )
    middle = [key for key in prop.keys if key.counts_from == "proportion"]
    return Moving(keys=(*heads, *middle, *tails), through=prop.through, repeat=prop.repeat)
