"""How long and how softly a clip arrives and departs."""

from __future__ import annotations

from typing import Callable, Literal

from ..contents import BY_NAME, parameters_of, property_in, with_properties
from ..motion import Ease, Key, Property
from ..project.model import Clip, Frames, Frozen, Id, Project
from .base import clip_of, rule, with_clip


class SetSpans(Frozen):
    """New lengths of arrival and departure; keys within them stretch along."""

    kind: Literal["set_spans"] = "set_spans"
    clip: Id
    arrival: Frames | None = None
    departure: Frames | None = None


class SetSpanEase(Frozen):
    """One ease for all that moves within an arrival or a departure."""

    kind: Literal["set_span_ease"] = "set_span_ease"
    clip: Id
    span: Literal["arrival", "departure"]
    ease: Ease


def map_properties(clip: Clip, change: Callable[[Property], Property], only: str | None = None) -> Clip:
    """The clip with `change(property) -> property` done to each of its properties, or to those of one step."""

    def mapped(values: dict[str, Property]) -> dict[str, Property]:
        return {name: change(prop) for name, prop in values.items()}

    steps = tuple(
        step.model_copy(
            update={
                "values": mapped(step.values),
                "mix": change(step.mix),
                "masks": tuple(mask.model_copy(update={"values": mapped(mask.values)}) for mask in step.masks),
            }
        )
        if only in (None, step.id)
        else step
        for step in clip.steps
    )
    content = clip.content
    if only in (None, "content"):
        values = {each.name: property_in(content, each) for each in parameters_of(content)}
        if isinstance(content, BY_NAME):
            values = {name: prop for name, prop in values.items() if name in content.values}
        content = with_properties(content, mapped(values))
    return clip.model_copy(update={"steps": steps, "content": content})


def _stretched(keys: tuple[Key, ...], end: str, old: int, new: int) -> tuple[Key, ...]:
    """Keys within the old span moved by new/old to whole frames; the outer keys meet the new knee."""
    if not old:
        return keys
    return tuple(
        key.model_copy(update={"at": float(round(key.at * new / old))})
        if key.counts_from == end and abs(key.at) <= old
        else key
        for key in keys
    )


@rule(SetSpans)
def set_spans(project: Project, edit: SetSpans) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    arrival = clip.arrival if edit.arrival is None else min(edit.arrival, clip.length)
    departure = clip.departure if edit.departure is None else min(edit.departure, clip.length)

    def change(prop: Property) -> Property:
        if prop.state != "moving":
            return prop
        keys = _stretched(prop.keys, "head", clip.arrival, arrival)
        return prop.model_copy(update={"keys": _stretched(keys, "tail", clip.departure, departure)})

    after = map_properties(clip, change).model_copy(update={"arrival": arrival, "departure": departure})
    label = f"arrival {arrival} frames" if edit.departure is None else f"departure {departure} frames"
    if edit.arrival is not None and edit.departure is not None:
        label = f"arrival {arrival}, departure {departure} frames"
    return with_clip(project, after), label


@rule(SetSpanEase)
def set_span_ease(project: Project, edit: SetSpanEase) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)

    def within(first: Key, second: Key) -> bool:
        if edit.span == "arrival":
            return first.counts_from == second.counts_from == "head" and second.at <= clip.arrival
        return first.counts_from == second.counts_from == "tail" and -first.at <= clip.departure

    def change(prop: Property) -> Property:
        if prop.state != "moving":
            return prop
        keys = list(prop.keys)
        for place in range(len(keys) - 1):
            if within(keys[place], keys[place + 1]):
                keys[place] = keys[place].model_copy(update={"ease": edit.ease})
        return prop.model_copy(update={"keys": tuple(keys)})

    return with_clip(project, map_properties(clip, change)), f"ease of the {edit.span}"
