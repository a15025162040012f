"""Evaluate: every value at one frame, as plain numbers. No pixels yet."""

from __future__ import annotations

from bisect import bisect_right
from typing import Mapping, NamedTuple

from ..clock import LocalClock
from ..motion import Fixed, value_at
from ..project.model import Clip, Footage, Project, Step, Still, Text
from ..steps import CONTENT_PARAMETERS, KINDS, MIX, Parameter


class TextNow(NamedTuple):
    """A text's settings at one frame; size in px of the project's frame."""

    text: str
    typeface: str
    weight: int
    size: float
    tracking: float
    leading: float
    colour: str
    align: str
    stand_x: str
    stand_y: str
    measured_by: str


class FootageNow(NamedTuple):
    """A shot at one frame, or a still: `frame` is the frame of its source."""

    media: str
    frame: int
    fit: str
    width: int
    height: int
    alpha: bool


class PlainNow(NamedTuple):
    """One colour over the frame."""

    colour: str


ContentNow = TextNow | FootageNow | PlainNow


class StepNow(NamedTuple):
    """A step that is on at this frame, with all of its values."""

    kind: str
    values: Mapping[str, float]
    mix: float


class Layer(NamedTuple):
    clip: str
    content: ContentNow
    steps: tuple[StepNow, ...]


class Scene(NamedTuple):
    """Everything to be seen at one frame, from the bottom of the picture up."""

    width: int
    height: int
    background: str
    layers: tuple[Layer, ...]


def evaluate(project: Project, frame: float) -> Scene:
    """All values at a frame of the film; fractions are moments within the shutter."""
    layers = []
    for clip in live_clips(project, frame):
        layer = evaluate_clip(project, clip, frame - clip.head)
        if layer:
            layers.append(layer)
    settings = project.settings
    return Scene(settings.width, settings.height, settings.background, tuple(layers))


def evaluate_clip(project: Project, clip: Clip, local: float) -> Layer | None:
    """One clip at a frame counted from its head; None where its shot is missing."""
    clock = LocalClock.of(clip.length, clip.arrival, clip.departure)
    now = _content(project, clip, local, clock)
    if now is None:
        return None
    steps = tuple(_step(step, local, clock) for step in clip.steps if step.on and step.kind in KINDS)
    return Layer(clip.id, now, steps)


def _number(parameter: Parameter, prop, local: float, clock: LocalClock) -> float:
    return parameter.clamp(value_at(prop, local, clock))


def _step(step: Step, local: float, clock: LocalClock) -> StepNow:
    values = {
        parameter.name: _number(
            parameter, step.values.get(parameter.name) or Fixed(value=parameter.default), local, clock)
        for parameter in KINDS[step.kind].parameters
    }
    return StepNow(step.kind, values, _number(MIX, step.mix, local, clock))


def _text(content: Text, local: float, clock: LocalClock) -> TextNow:
    numbers = {
        parameter.name: _number(parameter, getattr(content, parameter.name), local, clock)
        for parameter in CONTENT_PARAMETERS["text"]
    }
    return TextNow(
        content.text, content.typeface, content.weight, colour=content.colour, align=content.align,
        stand_x=content.stand_x, stand_y=content.stand_y, measured_by=content.measured_by, **numbers,
    )


def _content(project: Project, clip: Clip, local: float, clock: LocalClock) -> ContentNow | None:
    content = clip.content
    if content.kind == "text":
        return _text(content, local, clock)
    if content.kind == "plain":
        return PlainNow(content.colour)
    return _picture(project, content, local)


def _picture(project: Project, content: Footage | Still, local: float) -> FootageNow | None:
    media = project.media.get(content.media)
    if media is None:
        return None
    source = 0
    if content.kind == "footage":
        # Footage of another rate shows its frame ⌊t·r⌋.
        moment = project.settings.rate.seconds(content.start + int(local // 1))
        source = min(max(media.rate.frame_at(moment), 0), media.frames - 1)
    return FootageNow(media.id, source, content.fit, media.width, media.height, media.alpha)


class _Index(NamedTuple):
    """Per track, from the bottom up: heads in order, and their clips."""

    clips: dict[str, Clip]
    tracks: tuple
    lanes: list[tuple[list[int], list[Clip]]]


_indices: dict[int, _Index] = {}


def _index(project: Project) -> _Index:
    """Clips by track and head. A document's clips never change, so the index is kept by their identity."""
    known = _indices.get(id(project.clips))
    if known and known.clips is project.clips and known.tracks is project.tracks:
        return known
    lanes: dict[str, list[Clip]] = {track.id: [] for track in reversed(project.tracks)}
    for clip in project.clips.values():
        if clip.track in lanes:
            lanes[clip.track].append(clip)
    built = []
    for clips in lanes.values():
        clips.sort(key=lambda clip: clip.head)
        built.append(([clip.head for clip in clips], clips))
    while len(_indices) >= 8:
        _indices.pop(next(iter(_indices)))
    _indices[id(project.clips)] = index = _Index(project.clips, project.tracks, built)
    return index


def live_clips(project: Project, frame: float) -> list[Clip]:
    """The clips on screen at a frame, from the bottom track up."""
    live = []
    for heads, clips in _index(project).lanes:
        place = bisect_right(heads, frame) - 1
        if place >= 0 and frame < clips[place].head + clips[place].length:
            live.append(clips[place])
    return live


def film_length(project: Project) -> int:
    """Frames from the start to the last clip's end."""
    return max((clip.head + clip.length for clip in project.clips.values()), default=0)
