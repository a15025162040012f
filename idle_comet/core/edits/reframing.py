"""Another frame and rate for a film with everything in it: contents scale, keep their places and their times."""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Callable

from ..clock import Rate
from ..contents import parameters_of, with_properties
from ..contents.caption import Caption
from ..motion import Fixed, Property, number
from ..project.model import (
    Camera,
    Clip,
    Footage,
    Generated,
    Group,
    HeldKey,
    InToOut,
    Light,
    Marker,
    Marks,
    ModelFile,
    Plain,
    Project,
    Settings,
    Shape,
    Sound,
    Step,
    Still,
    Text,
    Transition,
)
from ..recipes.scaling import scaled, scaled_step, scaled_text, scaled_values
from ..steps import BY_HAND, CELL


def _scaled(content: Generated | Shape, length: float, time: float) -> dict[str, Property]:
    """A generated picture's or a shape's values in a frame so many times as large."""
    return scaled_values(content.values, parameters_of(content), length, time)


Place = Callable[[float], float]
"""From a place along one side of the old frame, px from where a clip rests, to one of the new."""

_NEAR_MIDDLE = 1 / 6
"""Share of a side: what is no further from the middle belongs there."""


def reframed(project: Project, width: int, height: int, rate: Rate) -> Project:
    """The film in a frame of this size at this rate.

    Lengths grow by the ratio of the sides that grows least, so that what fitted still fits. A placement keeps its
    place: words near the middle their distance to it, words nearer to an edge theirs to the safe area, both as large
    as the type; pictures their share of the frame. How far a motion goes from that place grows like any length. Heads
    and ends keep their moments, to the nearest frame.
    """
    old = project.settings
    across, down = width / old.width, height / old.height
    grown, time = min(across, down), rate.fraction / old.rate.fraction
    settings = old.model_copy(
        update={
            "width": width,
            "height": height,
            "rate": rate,
            "type_styles": tuple(
                style.model_copy(
                    update={
                        "look": scaled_text(style.look, grown, float(time)),
                        "surface": tuple(scaled_step(step, grown, float(time)) for step in style.surface),
                    }
                )
                for style in old.type_styles
            ),
        }
    )
    marks, range = _marks(project.marks, time), _range(project.range, time)
    made = project.model_copy(update={"settings": settings, "marks": marks, "range": range})
    ends: dict[str, int] = {}
    clips: dict[str, Clip] = {}
    for clip in sorted(project.clips.values(), key=lambda each: each.head):
        # One frame at least, and never over the one before.
        head = max(_frame(clip.head, time), ends.get(clip.track, 0))
        end = max(_frame(clip.end, time), head + 1)
        ends[clip.track] = end
        clips[clip.id] = _clip(clip, settings, head, end - head, across, down, grown, time)
    return made.model_copy(update={"clips": {id: clips[id] for id in project.clips}})


def _frame(at: float, time: Fraction) -> int:
    """Half a frame goes up, so that no platform's float decides."""
    return int((at * time * 2 + 1) // 2)


def _clip(
    clip: Clip, settings: Settings, head: int, length: int, across: float, down: float, grown: float, time: Fraction
) -> Clip:
    content, at = clip.content, float(time)
    places = {"x": lambda value: value * across, "y": lambda value: value * down}
    if isinstance(content, Text):
        wide, high = settings.width / across, settings.height / down
        places = {
            "x": _from_middle(wide, settings.width, grown)
            if content.stand_x == "centre"
            else lambda value: value * grown,
            "y": _from_middle(high, settings.height, grown)
            if content.stand_y == "middle"
            else lambda value: value * grown,
        }
        held = {name: tuple(_held(key, time) for key in keys) for name, keys in content.held.items()}
        content = scaled_text(content, grown, at).model_copy(
            update={"held": held, "box": scaled(content.box, across, at)}
        )
        if content.caption is not None:
            caption = _caption(content.caption, clip, head, length, settings, time)
            content = content.model_copy(update={"caption": caption})
    elif isinstance(content, Sound):
        fades = {
            name: round(getattr(content, name) * time) for name in ("fade_in", "fade_out", "fade_before", "fade_after")
        }
        values = {name: scaled(getattr(content, name), 1.0, at) for name in ("gain", "pan")}
        content = content.model_copy(update={"start": float(content.start * time), **fades, **values})
    elif isinstance(content, (Footage, Group)):
        content = content.model_copy(update={"start": float(content.start * time)})
        if isinstance(content, Footage):
            content = content.model_copy(update={"gain": scaled(content.gain, 1.0, at)})
    elif isinstance(content, Generated):
        content = with_properties(content, _scaled(content, grown, at))
    elif isinstance(content, ModelFile):
        content = with_properties(content, scaled_values(content.values, parameters_of(content), grown, at))
    elif isinstance(content, Shape):
        # It keeps its place in the frame and its proportions.
        places_of = {"x": across / grown, "y": down / grown}
        values = _scaled(content, grown, at)
        values |= {name: scaled(values[name], by, 1.0) for name, by in places_of.items() if name in values}
        content = with_properties(content, values)
    elif isinstance(content, (Camera, Light)):
        content = with_properties(content, scaled_values(content.values, parameters_of(content), across, at))
    elif isinstance(content, Plain):
        content = content.model_copy(update={"colour": scaled(content.colour, 1.0, at)})
    own_size = isinstance(content, (Footage, Still)) and content.fit == "own"
    steps = tuple(
        _placement(step, places, grown, at, own_size)
        if step.kind == BY_HAND.kind
        else _cell(step, across, down, grown, at)
        if step.kind == CELL.kind
        else scaled_step(step, grown, at)
        for step in clip.steps
    )
    if own_size and not any(step.kind == BY_HAND.kind for step in steps):
        steps = (*steps, Step(id=_free("placement", clip), kind=BY_HAND.kind, values={"scale": Fixed(value=grown)}))
    return clip.model_copy(
        update={
            "head": head,
            "length": length,
            "content": content,
            "steps": steps,
            "arrival": _frame(clip.arrival, time),
            "departure": _frame(clip.departure, time),
            "skipped": _frame(clip.skipped, time),
            "cut_off": _frame(clip.cut_off, time),
            "handles": tuple(_frame(each, time) for each in clip.handles),
            "opening": _transition(clip.opening, time),
            "closing": _transition(clip.closing, time),
        }
    )


def _cell(step: Step, across: float, down: float, grown: float, time: float) -> Step:
    """A cell takes up the same part of the new frame, in whole px: its borders go where theirs go, so that cells that
    met still meet."""
    made = scaled_step(step, grown, time)
    values = dict(made.values)
    for begin, side, share in (("x", "width", across), ("y", "height", down)):
        first, long = step.values.get(begin), step.values.get(side)
        if first is None or long is None or first.state != "fixed" or long.state != "fixed":
            continue
        left, right = (
            round(number(value) * share) for value in (first.value, number(first.value) + number(long.value))
        )
        values |= {begin: Fixed(value=float(left)), side: Fixed(value=float(max(1, right - left)))}
    return made.model_copy(update={"values": values})


def _caption(caption: Caption, clip: Clip, head: int, length: int, settings: Settings, time: Fraction) -> Caption:
    """A caption keeps its exact times at another rate, and its words theirs."""
    rate = settings.rate.fraction
    by = float(clip.head * time / rate - Fraction(head) / rate)
    late = float(clip.end * time / rate - Fraction(head + length) / rate)
    words = tuple(
        word.model_copy(update={"begin": round(word.begin + by, 6), "end": round(word.end + by, 6)})
        for word in caption.words
    )
    limits = {"early": caption.early + by, "late": caption.late + late}
    kept = {name: round(min(1.0, max(-1.0, value)), 6) for name, value in limits.items()}
    return caption.model_copy(update={**kept, "words": words})


def _free(id: str, clip: Clip) -> str:
    taken = {step.id for step in clip.steps}
    return next(name for name in (id, *(f"{id}-{number}" for number in range(2, 102))) if name not in taken)


def _placement(step: Step, places: dict[str, Place], grown: float, time: float, own_size: bool) -> Step:
    made = scaled_step(step, grown, time)
    values = dict(made.values)
    for name in ("x", "y"):
        if name in step.values:
            values[name] = _placed(step.values[name], places[name], grown, time)
    if own_size:
        values["scale"] = scaled(step.values.get("scale", Fixed(value=1.0)), grown, time)
    return made.model_copy(update={"values": values})


def _from_middle(old: float, new: float, grown: float) -> Place:
    """Where something stands along one side of the frame, by how far it was from the middle of the old one."""

    def place(value: float) -> float:
        if abs(value) < old * _NEAR_MIDDLE:
            return value * grown
        # The safe area ends 45 % of the side from the middle.
        return math.copysign(0.45 * new - (0.45 * old - abs(value)) * grown, value)

    return place


def _placed(prop: Property, place: Place, grown: float, time: float) -> Property:
    """What it stands at goes to its new place, the way to it and from it scales like any length."""
    moved = scaled(prop, grown, time)
    if prop.state == "fixed":
        return prop.model_copy(update={"value": place(number(prop.value))})
    if prop.state == "driven" or moved.state != "moving":
        return moved
    # The stay's value is the place: the last that is reached from the head, else the first there is.
    counted = [key for key in prop.keys if key.counts_from == "head"] or list(prop.keys)
    rest = number(max(counted, key=lambda key: key.at).value)
    return moved.model_copy(
        update={
            "keys": tuple(
                key.model_copy(update={"value": place(rest) + (number(old.value) - rest) * grown})
                for key, old in zip(moved.keys, prop.keys)
            )
        }
    )


def _held(key: HeldKey, time: Fraction) -> HeldKey:
    return (
        key
        if key.counts_from == "proportion"
        else key.model_copy(
            update={"at": float(_frame(key.at, time)) if key.at >= 0 else -float(_frame(-key.at, time))}
        )
    )


def _transition(transition: Transition | None, time: Fraction) -> Transition | None:
    return transition and transition.model_copy(update={"length": max(1, _frame(transition.length, time))})


def _marks(marks: Marks, time: Fraction) -> Marks:
    return Marks(
        markers=tuple(Marker(id=each.id, frame=_frame(each.frame, time), name=each.name) for each in marks.markers)
    )


def _range(range: InToOut, time: Fraction) -> InToOut:
    def at(frame: int | None) -> int | None:
        return None if frame is None else _frame(frame, time)

    return InToOut(first=at(range.first), last=at(range.last))
