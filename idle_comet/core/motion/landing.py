"""Keys that must stand at given frames: what they have to count, and from where."""

from __future__ import annotations

from typing import Iterator, Mapping

from ..clock import LocalClock
from .property import CountsFrom, Key, Moving, clock_for, resolve_keys

_NEAR = 1e-6
"""Frames within which a key stands where it was asked to."""


def end_for(moving: Moving | None, clock: LocalClock, frame: float) -> CountsFrom:
    """What a new key at a frame counts from: the end of the clip within the departure, else its head.

    Where all keys are in proportion to the clip, so is the new one.
    """
    if moving and all(key.counts_from == "proportion" for key in moving.keys):
        return "proportion"
    own = clock_for(moving.keys, clock) if moving else clock
    last, whole = own.length - 1, own.whole_frame(frame)
    leaves = own.spans.departure > 0 and own.spans.arrival < whole and last - own.spans.departure <= whole
    return "tail" if leaves else "head"


def landed(
    moving: Moving,
    clock: LocalClock,
    frames: Mapping[int, float],
    stand: Mapping[int, float] | None = None,
    ends: bool = False,
) -> Moving | None:
    """The property with these keys (by index) at these frames of the clip and all others where they stand: at `stand`,
    if they were to be found elsewhere before.

    How far in keys reach decides how long the spans they count from are, and in a clip with no stay how quickly those
    run; so a key that moves could move others. The first way in which none does is taken: as the keys count now; the
    moved ones counting from the end they now lie at; all of them counting anew. With `ends` no key may change what it
    counts from, and the answer is None where that can't be.
    """
    stand = {item.index: item.frame for item in resolve_keys(moving, clock)} | dict(stand or {}) | dict(frames)
    for tried in _ways(moving, clock, stand, frames, ends):
        if all(abs(item.frame - stand[item.index]) <= _NEAR for item in resolve_keys(tried, clock)):
            return tried
    return None


def _ways(
    moving: Moving, clock: LocalClock, stand: Mapping[int, float], moved: Mapping[int, float], ends: bool
) -> Iterator[Moving]:
    own = clock_for(moving.keys, clock)
    yield _counted(moving, own, {index: (moving.keys[index].counts_from, stand[index]) for index in moved})
    everywhere = {index: (key.counts_from, stand[index]) for index, key in enumerate(moving.keys)}
    yield _counted(moving, clock, everywhere)
    if ends:
        return
    yield _counted(moving, own, {index: (end_for(moving, clock, stand[index]), stand[index]) for index in moved})
    # Split where no key reaches further in than its span, or than the keys beyond it: then nothing runs quicker.
    spans = clock.spans
    border = (
        spans.arrival
        if spans.shrunk
        else min(max(spans.arrival, (clock.length - 1) / 2), clock.length - 1 - spans.departure)
    )
    yield _counted(
        moving,
        clock,
        {
            index: (end if end == "proportion" else "head" if clock.whole_frame(frame) <= border else "tail", frame)
            for index, (end, frame) in everywhere.items()
        },
    )


def _counted(moving: Moving, clock: LocalClock, places: Mapping[int, tuple[str, float]]) -> Moving:
    keys: list[Key] = list(moving.keys)
    for index, (end, frame) in places.items():
        keys[index] = keys[index].model_copy(update={"counts_from": end, "at": clock.counted(end, frame)})
    return moving.model_copy(update={"keys": tuple(keys)})
