"""How a clip is drawn on the timeline and what its gauges show: computed here, drawn by the Desk."""

from __future__ import annotations

from pydantic import BaseModel

from ..clock import LocalClock
from ..motion import Ease, Fixed, Property, describe_ease, ease_progress, resolve_keys, sampler
from ..project.model import Clip, Project
from ..steps import CONTENT_PARAMETERS, KINDS, MIX, Parameter
from ..type import face_for
from .evaluate import TextNow, evaluate_clip
from .standing import layout_of, stand

_SAMPLES = 160


class Curve(BaseModel):
    """A property over the clip: (frame, value) pairs; `keys` are (frame, value, index of the key)."""

    step: str
    name: str
    points: list[tuple[float, float]]
    keys: list[tuple[float, float, int]]


class SpanDrawing(BaseModel):
    """An arrival or a departure: frames that apply, its ease (None where nothing moves), how the ease runs."""

    frames: int
    ease: Ease | None
    mixed: bool
    curve: list[tuple[float, float]]
    says: str


class ClipDrawing(BaseModel):
    """Presence (frame, share of resting ink visible), fitted spans, curves and notes of one clip.

    `words_at` is the first frame at which half of the resting ink is visible.
    """

    arrival: SpanDrawing
    stay: int
    departure: SpanDrawing
    shrunk: bool
    presence: list[tuple[float, float]]
    words_at: float
    curves: list[Curve]
    notes: list[str]


def _frames(clip: Clip, clock: LocalClock) -> list[float]:
    """Sampling moments: dense within arrival and departure, sparse in the stay."""
    last = clip.length - 1
    even = {last * i / _SAMPLES for i in range(_SAMPLES + 1)}
    arrival, departure = clock.spans.arrival, clock.spans.departure
    even |= {arrival * i / 40 for i in range(41)}
    even |= {last - departure * i / 40 for i in range(41)}
    return sorted(frame for frame in even if 0 <= frame <= last)


def clip_properties(clip: Clip) -> list[tuple[str, Parameter, Property]]:
    """Every property of a clip: (step id or "content", its parameter, the property)."""
    found = [("content", each, getattr(clip.content, each.name)) for each in CONTENT_PARAMETERS[clip.content.kind]]
    for step in clip.steps:
        if step.kind not in KINDS:
            continue
        for each in KINDS[step.kind].parameters:
            found.append((step.id, each, step.values.get(each.name) or Fixed(value=each.default)))
        found.append((step.id, MIX, step.mix))
    return found


def draw_clip(project: Project, clip: Clip) -> ClipDrawing:
    """The drawing of one clip."""
    clock = LocalClock.of(clip.length, clip.arrival, clip.departure)
    frames = _frames(clip, clock)
    curves = [
        Curve(
            step=step, name=parameter.name, points=_sampled(parameter, prop, frames, clock),
            keys=[(item.frame, item.key.value, item.index) for item in resolve_keys(prop, clock)],
        )
        for step, parameter, prop in clip_properties(clip) if prop.state == "moving"
    ]
    seen = presence(clip, frames, clock)
    return ClipDrawing(
        arrival=_span(clip, "head", clock.spans.arrival), stay=clock.spans.stay,
        departure=_span(clip, "tail", clock.spans.departure), shrunk=clock.spans.shrunk, presence=seen,
        words_at=next((frame for frame, share in seen if share >= 0.5), 0.0),
        curves=curves, notes=_notes(project, clip, clock),
    )


def _span(clip: Clip, end: str, frames: int) -> SpanDrawing:
    """The eases between keys that count from one end, which lie within its span."""
    eases: list[Ease] = []
    for _, _, prop in clip_properties(clip):
        if prop.state == "moving":
            eases += [
                first.ease for first, second in zip(prop.keys, prop.keys[1:])
                if first.counts_from == second.counts_from == end and first.value != second.value
            ]
    ease = eases[0] if eases else None
    curve = [(i / 40, ease_progress(ease, i / 40)) for i in range(41)] if ease else []
    return SpanDrawing(frames=frames, ease=ease, mixed=any(each != ease for each in eases), curve=curve,
                       says=describe_ease(ease) if ease else "nothing moves here")


def _sampled(parameter: Parameter, prop: Property, frames: list[float], clock: LocalClock) -> list[tuple[float, float]]:
    at = sampler(prop, clock)
    return [(frame, parameter.clamp(at(frame))) for frame in frames]


def presence(clip: Clip, frames: list[float], clock: LocalClock) -> list[tuple[float, float]]:
    """The share of a clip's resting ink that is visible at each frame, 0..1."""
    shares = [1.0] * len(frames)
    for step in clip.steps:
        if not step.on or step.kind not in KINDS:
            continue
        kind = KINDS[step.kind]
        mix = _sampled(MIX, step.mix, frames, clock)
        names = [parameter.name for parameter in kind.parameters]
        columns = [
            _sampled(each, step.values.get(each.name) or Fixed(value=each.default), frames, clock)
            for each in kind.parameters
        ]
        for place in range(len(frames)):
            values = {name: column[place][1] for name, column in zip(names, columns)}
            shares[place] *= 1 - mix[place][1] * (1 - kind.presence(values))
    return [(frame, min(1.0, max(0.0, share))) for frame, share in zip(frames, shares)]


def _notes(project: Project, clip: Clip, clock: LocalClock) -> list[str]:
    notes = []
    if clock.spans.shrunk:
        notes.append(f"Arrival and departure were made shorter to fit {clip.length} frames.")
    content = clip.content
    if content.kind != "text":
        if content.kind != "plain" and content.media not in project.media:
            notes.append("Its picture is missing from this project; the clip shows nothing.")
        return notes
    layer = evaluate_clip(project, clip, clock.spans.arrival)
    if not content.text.strip():
        notes.append("There are no words yet.")
        return notes
    assert layer and isinstance(layer.content, TextNow)
    layout = layout_of(layer.content)
    if not face_for(content.typeface, content.weight)[1]:
        notes.append(f"The typeface “{content.typeface}” is missing; Archivo stands in.")
    if layout.missing:
        notes.append(f"This typeface has no glyph for {' '.join(layout.missing[:12])}")
    ink = stand(layer.content, project.settings.width, project.settings.height).ink
    if ink.x0 < 0 or ink.y0 < 0 or ink.x1 > project.settings.width or ink.y1 > project.settings.height:
        notes.append("The words are larger than the frame.")
    return notes
