"""A clip's course: how it is drawn on the timeline and what its gauges show, computed here, drawn by the Desk."""

from __future__ import annotations

import math
from typing import Any, Literal

from ..clock import LocalClock
from ..modelled import Model
from ..motion import (
    Ease,
    Framing,
    Property,
    Sort,
    describe_ease,
    describe_motor,
    ease_progress,
    resolve_keys,
    sampler,
    unit_frame,
)
from ..motion.sampling import Sample
from ..project.address import Place, places
from ..project.model import Clip, Project
from ..project.retiming import retiming
from ..project.source import source_frame
from ..project.timeline import lanes, timeline_of
from ..project.times import clock_of
from ..steps import KINDS, Parameter
from ..type import STAND_IN, families, family_of
from .camera import CameraCourse, camera_notes, camera_of
from .compiled import Surroundings, compiled, held_frames
from .evaluate import evaluate_clip
from .joins import Joining, closing_of, opening_of
from .legible import out_of_focus
from .passing import passing_of, passing_times, step_by_units
from .placed import framings
from .scene import StepNow, TextNow
from .standing import layout_of, stand

_SAMPLES = 110

_LETTERS = 60
"""At most about so many letters of a text are looked at to tell how much of it is seen."""

_FAN = 9
"""At most so many curves are drawn where a value is passed on."""


class Curve(Model):
    """A property over the clip, as it moves or is driven.

    `points` are (frame, value) pairs, `speeds` (frame, units a second), `keys` (frame, value, id of the key).
    A path's value is the way travelled in px; a colour's is nothing, its `colours` are (frame, colour).
    """

    step: str
    name: str
    state: Literal["moving", "driven"]
    sort: Sort
    points: list[tuple[float, float]]
    speeds: list[tuple[float, float]]
    fastest: float
    colours: list[tuple[float, str]]
    keys: list[tuple[float, float, int]]
    fan: list[list[tuple[float, float]]]
    """The curves of some units, from the first to the last to move, where the step is passed on from unit to unit."""
    says: str


class SpanCourse(Model):
    """An arrival or a departure: frames that apply, its ease (None where nothing moves), how the ease runs."""

    frames: int
    ease: Ease | None
    mixed: bool
    curve: list[tuple[float, float]]
    says: str


class JoinCourse(Model):
    """A transition as it really lies, in frames from the clip's head; `asked` is the length that was set."""

    end: Literal["opening", "closing"]
    kind: str
    first: int
    length: int
    asked: int
    between: bool


class ClipCourse(Model):
    """Presence (frame, share of resting ink visible), fitted spans, curves and notes of one clip.

    `words_at` is the first frame at which half of the resting ink is visible.
    """

    arrival: SpanCourse
    stay: int
    departure: SpanCourse
    shrunk: bool
    presence: list[tuple[float, float]]
    words_at: float
    onsets: list[tuple[float, str]]
    """When each unit of the text begins to arrive, and its words, where they arrive one after the other."""
    curves: list[Curve]
    joins: list[JoinCourse]
    source: tuple[int, int] | None
    """First and last frame of its source that footage shows."""
    hits: list[tuple[float, float]]
    """When the hits of a sound are heard, in the clip's own frames, and how strong they are."""
    framings: list[list[tuple[float, float]]]
    """The frame's corners on a picture that moves, at its first frame and its last, as shares of the picture."""
    camera: CameraCourse | None
    held: dict[str, list[tuple[float, int]]]
    """Where words and choices change: (frame, index of the key) by name."""
    notes: list[str]


def visible_spans(clip: Clip) -> tuple[int, int]:
    """Frames of arrival and departure that lie within the clip; a clip that was cut may have lost some."""
    clock = clock_of(clip)
    return (
        min(clip.length, max(0, clock.spans.arrival - clip.skipped)),
        min(clip.length, max(0, clock.spans.departure - clip.cut_off)),
    )


def _frames(clip: Clip) -> list[float]:
    """Sampling moments: dense within arrival and departure, sparse in the stay."""
    last = clip.length - 1
    even = {last * i / _SAMPLES for i in range(_SAMPLES + 1)}
    arrival, departure = visible_spans(clip)
    even |= {arrival * i / 28 for i in range(29)}
    even |= {last - departure * i / 28 for i in range(29)}
    return sorted(frame for frame in even if 0 <= frame <= last)


def clip_properties(clip: Clip) -> list[Place]:
    """Every property of a clip: (owner, its parameter, the property)."""
    return list(places(clip))


def course_of(project: Project, clip: Clip) -> ClipCourse:
    """The course of one clip."""
    clock = clock_of(clip)
    frames = _frames(clip)
    samples = sampled_properties(project, clip)
    curves = [
        _curve(
            step, parameter, prop, samples[step, parameter.name], frames, clock, float(project.settings.rate.fraction)
        )
        for step, parameter, prop in clip_properties(clip)
        if prop.state != "fixed"
    ]
    fans, onsets = _passed(project, clip, frames)
    curves = [
        curve.model_copy(update={"fan": fans[curve.step, curve.name]}) if (curve.step, curve.name) in fans else curve
        for curve in curves
    ]
    seen = presence(project, clip, frames)
    arrival, departure = visible_spans(clip)
    return ClipCourse(
        arrival=_span(clip, "head", arrival),
        stay=max(0, clip.length - arrival - departure),
        departure=_span(clip, "tail", departure),
        shrunk=clock.spans.shrunk,
        presence=seen,
        words_at=next((frame for frame, share in seen if share >= 0.5), 0.0),
        onsets=onsets,
        curves=curves,
        joins=_joins(project, clip),
        source=_source(project, clip),
        hits=_hits(project, clip),
        framings=framings(project, clip),
        camera=camera_of(project, clip),
        held=_held(clip, clock),
        notes=_notes(project, clip, clock),
    )


def looks_around(clip: Clip) -> bool:
    """Whether how a clip comes and goes depends on other clips: its neighbours, its shot, or what its values follow."""
    driven = any(place.property.state == "driven" for place in places(clip))
    return bool(clip.opening or clip.closing or clip.rides) or driven


def presence_of(project: Project, clip: Clip) -> list[tuple[float, float]]:
    """(frame, share) of a clip's resting ink that is visible. One at which nothing moves is looked at twice."""
    still = (
        not (clip.opening or clip.closing or clip.rides)
        and all(place.property.state == "fixed" for place in places(clip))
        and not any(step.units is not None or step.since or step.until for step in clip.steps)
    )
    return presence(project, clip, [0.0, clip.length - 1.0] if still else _frames(clip))


def sampled_properties(project: Project, clip: Clip) -> dict[tuple[str, str], Sample]:
    """Every property of the clip as a function of its frames, by its place, as the painter has them."""
    around, clock = Surroundings(project, clip), clock_of(clip)
    return {
        (step, parameter.name): sampler(prop, clock, around.at(step, parameter.name))
        for step, parameter, prop in clip_properties(clip)
    }


def _curve(
    step: str, parameter: Parameter, prop: Property, sample: Sample, frames: list[float], clock: LocalClock, rate: float
) -> Curve:
    values = [(frame, parameter.clamp(sample(frame))) for frame in frames]
    keys = resolve_keys(prop, clock) if prop.state == "moving" else []
    points: list[tuple[float, float]] = []
    if parameter.sort == "number":
        points = values
        placed = [(item.frame, parameter.clamp(item.key.value), item.key.id) for item in keys]
    elif parameter.sort == "framing":
        # A framing is drawn by how large it shows the picture, in %.
        points = [(frame, 100 * value.scale) for frame, value in values]
        sizes = {item.key.id: 100 * item.key.value.scale for item in keys if isinstance(item.key.value, Framing)}
        placed = [(item.frame, sizes.get(item.key.id, 100.0), item.key.id) for item in keys]
    elif parameter.sort == "point":
        points = _way(values)
        placed = [(item.frame, _between(points, item.frame), item.key.id) for item in keys]
    else:
        placed = [(item.frame, 0.0, item.key.id) for item in keys]
    speeds = _speeds(points, rate)
    return Curve(
        step=step,
        name=parameter.name,
        state="driven" if prop.state == "driven" else "moving",
        sort=parameter.sort,
        points=points,
        speeds=speeds,
        fastest=max((abs(speed) for _, speed in speeds), default=0.0),
        colours=_thinned(values) if parameter.sort == "colour" else [],
        keys=placed,
        fan=[],
        says=describe_motor(prop.motor) if prop.state == "driven" else "",
    )


def _passed(
    project: Project, clip: Clip, frames: list[float]
) -> tuple[dict[tuple[str, str], list[list[tuple[float, float]]]], list[tuple[float, str]]]:
    """The fans of all numbers that are passed on, and the onsets of the units that come first."""
    fans: dict[tuple[str, str], list[list[tuple[float, float]]]] = {}
    onsets: list[tuple[float, str]] = []
    if clip.content.kind != "text" or all(step.units is None for step in clip.steps):
        return fans, onsets
    own = compiled(project, clip)
    layout = layout_of(own.text(visible_spans(clip)[0]))
    for step in own.steps:
        passing = passing_of(clip, step, layout)
        if passing is None or not layout.units["letter"]:
            continue
        if not onsets and passing.arriving.longest > 0 and step.varying:
            begins = min((each.leads.head[0] for each in step.varying if each.leads.head), default=0.0)
            units = layout.units[passing.arrival.unit]
            onsets = sorted(
                (begins + late, layout.text[unit.start : unit.end])
                for late, unit in zip(passing.arriving.delays, units)
            )[:_LETTERS]
        shown = _spread(len(layout.units["letter"]), _FAN)
        times = [passing_times(passing, layout, letter) for letter in shown]
        for each in step.varying:
            if each.parameter.sort == "number":
                fans[step.id, each.name] = [
                    [
                        (frame, each.parameter.clamp(each.sample(unit_frame(frame, each.leads, *moment))))
                        for frame in frames
                    ]
                    for moment in dict.fromkeys(times)
                ]
    return fans, onsets


def _spread(count: int, most: int) -> list[int]:
    """Up to so many places from the first to the last."""
    return list(range(count)) if count <= most else [round(i * (count - 1) / (most - 1)) for i in range(most)]


def _way(values: list[tuple[float, Any]]) -> list[tuple[float, float]]:
    way, points = 0.0, []
    for i, (frame, point) in enumerate(values):
        way += math.dist(point, values[i - 1][1]) if i else 0.0
        points.append((frame, way))
    return points


def _between(points: list[tuple[float, float]], frame: float) -> float:
    for (f0, v0), (f1, v1) in zip(points, points[1:]):
        if f0 <= frame <= f1:
            return v0 + (v1 - v0) * (frame - f0) / (f1 - f0) if f1 > f0 else v0
    return points[-1][1] if points else 0.0


def _speeds(points: list[tuple[float, float]], rate: float) -> list[tuple[float, float]]:
    """Units a second between each sample and the next, standing half-way between them."""
    return [((f0 + f1) / 2, (v1 - v0) / (f1 - f0) * rate) for (f0, v0), (f1, v1) in zip(points, points[1:]) if f1 > f0]


def _thinned(values: list[tuple[float, str]]) -> list[tuple[float, str]]:
    """Colours only where they change, and at both ends."""
    return [
        value
        for i, value in enumerate(values)
        if i in (0, len(values) - 1) or value[1] != values[i - 1][1] or value[1] != values[i + 1][1]
    ]


def _joins(project: Project, clip: Clip) -> list[JoinCourse]:
    found = []
    ends: tuple[tuple[Literal["opening", "closing"], Joining | None], ...] = (
        ("opening", opening_of(project, clip)),
        ("closing", closing_of(project, clip)),
    )
    for end, joining in ends:
        if joining:
            found.append(
                JoinCourse(
                    end=end,
                    kind=joining.transition.kind,
                    first=joining.first - clip.head,
                    length=joining.length,
                    asked=joining.transition.length,
                    between=joining.before is not None and joining.after is not None,
                )
            )
    return found


def _held(clip: Clip, clock: LocalClock) -> dict[str, list[tuple[float, int]]]:
    if clip.content.kind != "text":
        return {}
    return {
        name: [(frame, keys[index].id) for frame, index, _ in held_frames(keys, clock)]
        for name, keys in clip.content.held.items()
    }


def _hits(project: Project, clip: Clip) -> list[tuple[float, float]]:
    if clip.content.kind != "sound":
        return []
    way, rate = retiming(clip), float(project.settings.rate.fraction)
    places = [(way.when(hit.at * rate), hit.strength) for hit in clip.content.hits]
    return [(at, strength) for at, strength in places if at is not None and 0 <= at < clip.length]


def _source(project: Project, clip: Clip) -> tuple[int, int] | None:
    if clip.content.kind != "footage" or clip.content.media not in project.media:
        return None
    return source_frame(project, clip, 0), source_frame(project, clip, clip.length - 1)


def _lies_over_something(project: Project, clip: Clip) -> bool:
    """Whether any clip lies on a track below while this one lasts."""
    for lane in lanes(project, timeline_of(project, clip)):
        if lane.track.id == clip.track:
            return False
        if any(other.head < clip.end and clip.head < other.end for other in lane.clips):
            return True
    return False


def _span(clip: Clip, end: str, frames: int) -> SpanCourse:
    """The eases between keys that count from one end, which lie within its span."""
    eases: list[Ease] = []
    for _, _, prop in clip_properties(clip):
        if prop.state == "moving":
            eases += [
                first.ease
                for first, second in zip(prop.keys, prop.keys[1:])
                if first.counts_from == second.counts_from == end and first.value != second.value
            ]
    ease = eases[0] if eases else None
    curve = [(i / 40, ease_progress(ease, i / 40)) for i in range(41)] if ease else []
    return SpanCourse(
        frames=frames,
        ease=ease,
        mixed=any(each != ease for each in eases),
        curve=curve,
        says=describe_ease(ease) if ease else "nothing moves here",
    )


def presence(project: Project, clip: Clip, frames: list[float]) -> list[tuple[float, float]]:
    """The share of a clip's resting ink that is visible at each frame, 0..1; transitions at free ends count."""
    steps = compiled(project, clip).steps
    ends = [
        join
        for join in (opening_of(project, clip), closing_of(project, clip))
        if join and None in (join.before, join.after)
    ]
    shares = []
    for frame in frames:
        share = 1.0
        layout = None
        for step in steps:
            if step.since <= frame < step.until:
                if step.units is not None and clip.content.kind == "text":
                    layout = layout or layout_of(compiled(project, clip).text(frame))
                    share *= _presence_of(
                        step_by_units(clip, step, layout, frame, 1 + len(layout.units["letter"]) // _LETTERS)
                    )
                else:
                    share *= 1 - step.mixed(frame) * (1 - KINDS[step.kind].presence(step.values(frame)))
        for join in ends:
            at = clip.head + frame
            if join.first - 0.5 <= at <= join.first + join.length:
                share *= join.progress(at) if join.before is None else 1 - join.progress(at)
        shares.append((frame, min(1.0, max(0.0, share))))
    return shares


def _presence_of(step: StepNow) -> float:
    """The mean over the letters of a text."""
    kind = KINDS[step.kind]
    if not step.parts:
        return 1 - step.mix * (1 - kind.presence(step.values))
    shares = [1 - part.mix * (1 - kind.presence(part.values)) for part in step.parts]
    return sum(shares[number] for number in step.of_letter) / len(step.of_letter)


def _notes(project: Project, clip: Clip, clock: LocalClock) -> list[str]:
    notes = camera_notes(project, clip)
    for join in _joins(project, clip):
        if join.length < join.asked:
            notes.append(
                f"The {join.kind} at its {'head' if join.end == 'opening' else 'end'} was made shorter: "
                f"{join.length} of {join.asked} frames have room."
            )
    if clip.rides and clip.rides not in project.clips:
        notes.append("The shot it rode with is gone; it stays where it is.")
    elif clip.rides:
        shot = project.clips[clip.rides]
        if clip.head < shot.head or clip.end > shot.end:
            notes.append(f"It reaches past “{shot.name}”, which it is attached to.")
    if clock.spans.shrunk:
        notes.append(f"Arrival and departure were made shorter to fit {clip.length} frames.")
    content = clip.content
    notes += [
        f"{KINDS[step.kind].label} has no {KINDS[step.kind].takes} yet, or it is missing from this project; it does "
        f"nothing."
        for step in clip.steps
        if step.on
        and step.kind in KINDS
        and KINDS[step.kind].takes in ("picture", "table")
        and (step.media is not None or not KINDS[step.kind].makes_bodies)
        and step.media not in project.media
    ]
    notes += [
        f"{KINDS[step.kind].label} has no mask yet; it does nothing. Choose which part of the picture stays."
        for step in clip.steps
        if step.on and step.kind in KINDS and KINDS[step.kind].outside and not step.masks
    ]
    if content.kind == "treatment" and not _lies_over_something(project, clip):
        notes.append("Nothing lies below it while it lasts, so there is nothing to treat.")
    if content.kind != "text":
        seconds = clip.length / float(project.settings.rate.fraction)
        now = evaluate_clip(project, clip, visible_spans(clip)[0])
        if now is not None:
            rest = stand(now.content, project.settings.width, project.settings.height).rest()
            for step in compiled(project, clip).steps:
                moving = frozenset(each.name for each in step.varying)
                notes += KINDS[step.kind].notes(step.fixed, moving, rest, "", seconds)
        if content.kind in ("footage", "still", "model") and content.media not in project.media:
            notes.append("Its picture is missing from this project; the clip shows nothing.")
        if content.kind == "sound" and content.media not in project.media:
            notes.append("Its sound is missing from this project; nothing is heard.")
        return notes
    layer = evaluate_clip(project, clip, visible_spans(clip)[0])
    if not content.text.strip():
        notes.append("There are no words yet.")
        return notes
    assert layer and isinstance(layer.content, TextNow)
    layout = layout_of(layer.content)
    if family_of(content.typeface) is None:
        notes.append(f"The typeface “{content.typeface}” is missing; {families()[STAND_IN].name} stands in.")
    if layout.missing:
        notes.append(f"This typeface has no glyph for {' '.join(layout.missing[:12])}")
    for step in compiled(project, clip).steps:
        rest = stand(layer.content, project.settings.width, project.settings.height).rest()
        notes += KINDS[step.kind].notes(
            step.fixed,
            frozenset(each.name for each in step.varying),
            rest,
            layer.content.text,
            clip.length / float(project.settings.rate.fraction),
        )
        passing = passing_of(clip, step, layout)
        if passing and passing.squeezed:
            notes.append(
                f"{KINDS[step.kind].label} has too little time for "
                f"{max(len(passing.arriving.delays), len(passing.leaving.delays))} units; "
                "the delays between them were made smaller."
            )
    ink = stand(layer.content, project.settings.width, project.settings.height).ink
    if ink.x0 < 0 or ink.y0 < 0 or ink.x1 > project.settings.width or ink.y1 > project.settings.height:
        notes.append("The words are larger than the frame.")
    blurred = out_of_focus(project, clip)
    return [*notes, blurred] if blurred else notes
