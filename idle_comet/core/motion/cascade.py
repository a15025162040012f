"""Cascades: units of a text that make the same motion one after the other."""

from __future__ import annotations

import random
from functools import lru_cache
from typing import Annotated, Literal, NamedTuple

from pydantic import Field

from ..modelled import Frozen
from .property import Property, TimedKey

Unit = Literal["all", "line", "word", "letter"]
Order = Literal["forward", "backward", "from the middle", "to the middle", "random"]
By = Literal["delay", "fit", "overlap", "times"]
ORDERS = ("forward", "backward", "from the middle", "to the middle", "random")


class Cascade(Frozen):
    """How units follow each other.

    By "delay" each begins so many frames after the one before; by "fit" the delay is what fills the span; by
    "overlap" all share the time one motion was made for, each beginning before the one before has ended; by "times"
    each turn begins at its own time, such as the hits of a sound.
    """

    unit: Unit = "all"
    order: Order = "forward"
    by: By = "delay"
    delay: Annotated[float, Field(ge=0, le=10_000, allow_inf_nan=False)] = 3
    """Frames."""
    overlap: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 0.7
    """Share of its own time by which a unit overlaps the one before."""
    seed: Annotated[int, Field(ge=0, le=1_000_000)] = 1
    times: Annotated[
        tuple[Annotated[float, Field(ge=0, le=10_000_000, allow_inf_nan=False)], ...], Field(max_length=2000)
    ] = ()
    """Frames by which each turn is later than the motion was made for; turns beyond them follow `delay` apart."""


def ranks(count: int, order: str, seed: int) -> list[float]:
    """When each unit has its turn, counted in delays; the first is 0. Units alike far from the middle share a turn."""
    if order == "backward":
        return [float(count - 1 - i) for i in range(count)]
    if order in ("from the middle", "to the middle"):
        nearest = ((count - 1) / 2) % 1
        away = [abs(i - (count - 1) / 2) - nearest for i in range(count)]
        most = max(away, default=0.0)
        return away if order == "from the middle" else [most - each for each in away]
    turns = [float(i) for i in range(count)]
    if order == "random":
        random.Random(seed).shuffle(turns)
    return turns


class Timing(NamedTuple):
    """Frames by which each unit is late, and how many times quicker than made its motion runs."""

    delays: tuple[float, ...]
    rate: float
    longest: float = 0.0


@lru_cache(maxsize=512)
def timing(count: int, cascade: Cascade, lasts: float, span: float) -> Timing:
    """The timing of `count` units whose motion was made to last so many frames, in a span of so many.

    Unit i runs from rank(i)·δ; the last ends at rank·δ + its time. "fit" solves δ (0 for one unit), "overlap" o
    gives each unit lasts / (1 + (1 − o)·last rank) frames and begins it (1 − o) of that after the one before.
    """
    turns = ranks(count, cascade.order, cascade.seed)
    last = max(turns, default=0.0)
    if cascade.unit == "all" or last == 0:
        return Timing((0.0,) * count, 1.0)
    if cascade.by == "overlap":
        parts = 1 + (1 - cascade.overlap) * last
        each = lasts / parts * (1 - cascade.overlap)
        return Timing(tuple(turn * each for turn in turns), parts, last * each)
    if cascade.by == "times":
        late = tuple(_at_time(cascade, round(turn)) for turn in turns)
        return Timing(late, 1.0, max(late))
    delay = cascade.delay if cascade.by == "delay" else max(0.0, span - lasts) / last
    return Timing(tuple(turn * delay for turn in turns), 1.0, last * delay)


def _at_time(cascade: Cascade, turn: int) -> float:
    if turn < len(cascade.times):
        return cascade.times[turn]
    last = cascade.times[-1] if cascade.times else 0.0
    return last + (turn - len(cascade.times) + (1 if cascade.times else 0)) * cascade.delay


@lru_cache(maxsize=512)
def fitted(arriving: Timing, leaving: Timing, room: float) -> tuple[Timing, Timing, bool]:
    """Both timings with their delays made smaller alike where together they need more than `room` frames; whether they
    were."""
    needed = arriving.longest + leaving.longest
    if needed <= room or needed == 0:
        return arriving, leaving, False
    share = max(0.0, room) / needed
    return _nearer(arriving, share), _nearer(leaving, share), True


def _nearer(timing: Timing, share: float) -> Timing:
    return Timing(tuple(each * share for each in timing.delays), timing.rate, timing.longest * share)


class Leads(NamedTuple):
    """Where a property's keys lie in the clip: the first and last that count from its head, and from its tail.

    `sort` tells how a late unit reads it: "keys" (its arrival later, its departure earlier than the last unit's),
    "motor" (all of it later) or "whole" (at the clip's own time: what runs over the whole clip has no turn to wait
    for)."""

    sort: Literal["keys", "motor", "whole"]
    head: tuple[float, float] | None = None
    tail: tuple[float, float] | None = None
    rests: bool = False
    """Whether the value is one and the same between its arrival and its departure; of a fixed one, always."""


def leads_of(prop: Property, timed: list[TimedKey]) -> Leads:
    if prop.state == "driven" or prop.state == "moving" and prop.repeat is not None:
        return Leads("motor")
    if prop.state == "fixed":
        return Leads("whole", rests=True)
    if any(item.key.counts_from == "proportion" for item in timed):
        return Leads("whole")
    ends = [[item.frame for item in timed if item.key.counts_from == end] for end in ("head", "tail")]
    head, tail = ((min(frames), max(frames)) if frames else None for frames in ends)
    values = [
        next((item.key.value for item in side if item.key.counts_from == end), None)
        for end, side in (("head", timed[::-1]), ("tail", timed))
    ]
    return Leads("keys", head, tail, values[0] == values[1] and not isinstance(values[0], tuple))


def unit_frame(frame: float, leads: Leads, late: float, quicker: float, early: float, quicker_out: float) -> float:
    """The clip's frame at which a unit reads a property: `late` on arrival, `early` on departure, each run so much
    quicker.

    Between its own arrival and departure a unit runs through the stay without a jump.
    """
    if leads.sort == "whole":
        return frame
    if leads.sort == "motor":
        return frame - late
    head, tail = leads.head, leads.tail
    arrived = left = 0.0
    if head:
        here = head[0] + (frame - head[0] - late) * quicker
        if here < head[1]:
            return here
        arrived = head[0] + late + (head[1] - head[0]) / quicker
    if tail:
        here = tail[1] - (tail[1] - frame - early) * quicker_out
        if here > tail[0]:
            return here
        left = tail[1] - early - (tail[1] - tail[0]) / quicker_out
    if head is None or tail is None:
        return frame
    if left <= arrived:
        return head[1]
    return head[1] + (frame - arrived) / (left - arrived) * (tail[0] - head[1])


def held_state(leads: Leads, frame: float) -> int:
    """1 before a property's first key, 2 between its arrival and its departure, 3 after its last: there its value stays
    as it is. 0 anywhere else."""
    if leads.sort != "keys":
        return 2 if leads.rests else 0
    head, tail = leads.head, leads.tail
    if head and frame <= head[0] or tail and not head and frame <= tail[0]:
        return 1
    if tail and frame >= tail[1] or head and not tail and frame >= head[1]:
        return 3
    return 2 if leads.rests and head and tail and head[1] <= frame <= tail[0] else 0
