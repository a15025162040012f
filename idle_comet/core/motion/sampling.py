"""A property as a function of the clip's time."""

from __future__ import annotations

from bisect import bisect_right
from itertools import pairwise
from typing import Any, Callable, Protocol, cast

from ..clock import LocalClock
from . import path
from .ease import ease_progress
from .motors import Follow, Motor, OnPoint, SoundLevel, Tether, fade, oscillation, wobble
from .property import Driven, Moving, Property, TimedKey, clock_for, resolve_keys
from .through import monotone_at, monotone_slopes
from .values import mixer_of, sort_of

Sample = Callable[[float], Any]
"""The clip's frame, counted from its head (fractions are moments between), to a value."""


class Around(Protocol):
    """What a driven property needs to know of what is around it."""

    @property
    def rate(self) -> float:
        """Frames a second."""

    def follow(self, motor: Follow) -> Sample | None:
        """The followed property, by this clip's frames; None where there is none (or it leads back here)."""

    def tether(self, motor: Tether) -> Sample | None:
        """Where the other clip's side stands, by this clip's frames: px, or None while it is not there."""

    def on_point(self, motor: OnPoint) -> Sample | None:
        """What a followed point does, by this clip's frames: px, degrees, or None where that can't be told."""

    def sound_level(self, motor: SoundLevel) -> Sample | None:
        """How loud a sound is, 0..1, by this clip's frames; None where that was not measured."""


class Alone:
    """Nothing around: 25 frames a second, and nothing to follow."""

    rate = 25.0

    def follow(self, motor: Follow) -> Sample | None:
        return None

    def tether(self, motor: Tether) -> Sample | None:
        return None

    def on_point(self, motor: OnPoint) -> Sample | None:
        return None

    def sound_level(self, motor: SoundLevel) -> Sample | None:
        return None


ALONE = Alone()


def sampler(prop: Property, clock: LocalClock, around: Around = ALONE) -> Sample:
    """The property as a function of the clip's frame.

    In a clip with no stay the arrival's last key and the departure's first would
    cross by a frame: then keys from the head rule before the departure begins, and
    keys from the tail from there on, so each end still plays as it was made.
    """
    if prop.state == "driven":
        return _driven(prop, clock, around)
    if prop.state == "fixed" or len(prop.keys) == 1:
        value = prop.value if prop.state == "fixed" else prop.keys[0].value
        return lambda frame: value
    timed = resolve_keys(prop, clock)
    heads = [item for item in timed if item.key.counts_from == "head"]
    tails = [item for item in timed if item.key.counts_from == "tail"]
    if not (heads and tails and heads[-1].frame > tails[0].frame):
        return _repeated(prop, timed, _run(prop, timed))
    border = clock_for(prop.keys, clock).spans.arrival - clock.skipped
    before = _run(prop, [item for item in timed if item.key.counts_from != "tail"])
    after = _run(prop, [item for item in timed if item.key.counts_from != "head"])
    return lambda frame: (before if frame < border else after)(frame)


_TURNS = 1000
"""Turns of a repeated motion that are looked at for jumps."""


def jumps_of(prop: Property, clock: LocalClock) -> tuple[float, ...]:
    """The clip's frames at which the property goes from one value to another with nothing between, in order."""
    if prop.state != "moving" or len(prop.keys) == 1:
        return ()
    timed = resolve_keys(prop, clock)
    found: list[float] = []
    for one, other in pairwise(timed):
        ease, span = one.key.ease, other.frame - one.frame
        if ease.kind == "hold" and one.key.value != other.key.value:
            found.append(other.frame)
        elif ease.kind == "jumps":
            found += (one.frame + span * (part + (ease.at == "end")) / ease.count for part in range(ease.count))
    first, last = timed[0].frame, timed[-1].frame
    if prop.repeat is None or last <= first:
        return tuple(found)
    turns = min(prop.repeat.times or _TURNS, _TURNS, int((clock.length - first) // (last - first)) + 1)
    starts_over = prop.repeat.mode != "mirror" and timed[0].key.value != timed[-1].key.value
    repeated = list(found)
    for turn in range(1, turns):
        begin = first + turn * (last - first)
        mirrored = prop.repeat.mode == "mirror" and turn % 2
        repeated += [begin + (last - at if mirrored else at - first) for at in found]
        if starts_over:
            repeated.append(begin)
    return tuple(sorted(repeated))


def value_at(prop: Property, frame: float, clock: LocalClock, around: Around = ALONE) -> Any:
    """The value at one frame of the clip; see `sampler`."""
    return sampler(prop, clock, around)(frame)


def _run(prop: Moving, timed: list[TimedKey]) -> Sample:
    """One run of keys, held before the first and after the last."""
    sort = sort_of(timed[0].key.value)
    # Values of different sorts in one property make no sense; the first sort rules.
    timed = [item for item in timed if sort_of(item.key.value) == sort]
    if prop.through and len({item.frame for item in timed}) == len(timed) > 1:
        if sort == "point":
            return _path_through(timed)
        if sort == "number":
            return _through(timed)
    if sort == "point":
        return _on_path(timed)
    mix, values = mixer_of(sort), [item.key.value for item in timed]
    return _between(timed, lambda before, progress: mix(values[before], values[before + 1], progress))


def _between(timed: list[TimedKey], passing: Callable[[int, float], Any]) -> Sample:
    """The value of a key held before the first and after the last; between two what `passing` makes of the number of
    the one before and the eased progress."""
    frames, values, eases = zip(*[(item.frame, item.key.value, item.key.ease) for item in timed])
    last = len(frames)

    def at(frame: float) -> Any:
        after = bisect_right(frames, frame)
        if after == 0:
            return values[0]
        if after == last:
            return values[-1]
        begin = frames[after - 1]
        return passing(after - 1, ease_progress(eases[after - 1], (frame - begin) / (frames[after] - begin)))

    return at


def _through(timed: list[TimedKey]) -> Sample:
    xs, ys = [item.frame for item in timed], [cast(float, item.key.value) for item in timed]
    slopes = monotone_slopes(xs, ys)
    return lambda frame: monotone_at(xs, ys, slopes, frame)


def path_segments(timed: list[TimedKey]) -> list[path.Segment]:
    """The path from key to key; tangents that are not set lead smoothly through."""
    points = [cast(path.Point, item.key.value) for item in timed]
    segments = []
    for i in range(len(points) - 1):
        a, d = points[i], points[i + 1]
        out, into = timed[i].key.out, timed[i + 1].key.into
        if out is None:
            out = path.automatic_tangent(points[i - 1] if i else None, a, d, 1)
        if into is None:
            into = path.automatic_tangent(a, d, points[i + 2] if i + 2 < len(points) else None, -1)
        segments.append(path.Segment(a, (a[0] + out[0], a[1] + out[1]), (d[0] + into[0], d[1] + into[1]), d))
    return segments


def _on_path(timed: list[TimedKey]) -> Sample:
    segments = path_segments(timed)
    return _between(timed, lambda before, progress: path.along(segments[before], progress))


def _path_through(timed: list[TimedKey]) -> Sample:
    """One smooth journey over the whole path: the way travelled is a monotone cubic of time."""
    segments = path_segments(timed)
    way = [0.0]
    for segment in segments:
        way.append(way[-1] + path.arc_length(segment))
    frames = [item.frame for item in timed]
    slopes = monotone_slopes(frames, way)

    def at(frame: float) -> Any:
        done = monotone_at(frames, way, slopes, frame)
        place = min(max(bisect_right(way, done) - 1, 0), len(segments) - 1)
        leg = way[place + 1] - way[place]
        return path.along(segments[place], (done - way[place]) / leg if leg else 0.0)

    return at


def _repeated(prop: Moving, timed: list[TimedKey], run: Sample) -> Sample:
    repeat, first, last = prop.repeat, timed[0].frame, timed[-1].frame
    if repeat is None or last <= first:
        return run
    span = last - first

    def at(frame: float) -> Any:
        if frame <= last:
            return run(frame)
        turn, rest = divmod(frame - first, span)
        if repeat.times is not None and turn >= repeat.times:
            turn, rest = repeat.times - 1, span
        return run(last - rest if repeat.mode == "mirror" and turn % 2 else first + rest)

    return at


def _driven(prop: Driven, clock: LocalClock, around: Around) -> Sample:
    motor: Motor = prop.motor

    def share(frame: float) -> float:
        return fade(motor, clock.whole_frame(frame), clock.length)

    def seconds(frame: float) -> float:
        return clock.whole_frame(frame) / around.rate

    if motor.kind == "follow":
        other = around.follow(motor)
        if other is None:
            return lambda frame: prop.rest
        return lambda frame: _followed(motor, other(frame - motor.delay), share(frame), prop.rest)
    if motor.kind == "tether":
        place = around.tether(motor)
        if place is None:
            return lambda frame: prop.rest
        if motor.own is None:
            return lambda frame: _followed(motor, place(frame), share(frame), prop.rest)
        # Gain and offset are already in it.
        return lambda frame: prop.rest if (found := place(frame)) is None else found * share(frame)
    if motor.kind == "on_point" or motor.kind == "sound_level":
        seen = around.on_point(motor) if motor.kind == "on_point" else around.sound_level(motor)
        if seen is None:
            return lambda frame: prop.rest
        return lambda frame: _followed(motor, seen(frame), share(frame), prop.rest)
    if motor.kind == "steady":
        return lambda frame: motor.start + motor.rate * seconds(frame) * share(frame)
    if motor.kind == "wobble":
        return lambda frame: motor.centre + motor.amplitude * share(frame) * wobble(motor, seconds(frame))
    return lambda frame: motor.centre + motor.amplitude * share(frame) * oscillation(motor, seconds(frame))


def _followed(motor: Follow | Tether | OnPoint | SoundLevel, value: Any, share: float, rest: Any) -> Any:
    if isinstance(value, (int, float)):
        return (motor.gain * value + motor.offset) * share
    return value if not isinstance(rest, (int, float)) else rest
