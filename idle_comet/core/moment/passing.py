"""Passing a step's motion on from unit to unit of a text."""

from __future__ import annotations

from typing import NamedTuple

from ..motion import Cascade, Leads, Timing, fitted, held_state, timing, unit_frame
from ..project.model import Clip, Units
from ..project.times import clock_of
from ..remember import BUDGET, weigh
from ..steps import KINDS, Values
from ..type import Layout
from .compiled import CompiledStep
from .scene import PartNow, StepNow


class Passing(NamedTuple):
    """How a step is passed on over a clip's text; `squeezed` where its delays had to be made smaller to fit the
    clip."""

    arrival: Cascade
    departure: Cascade
    arriving: Timing
    leaving: Timing
    squeezed: bool


def passing_of(clip: Clip, step: CompiledStep, layout: Layout) -> Passing | None:
    """None for a step that moves all of the text at once. Kept: a shutter looks at it at many moments."""
    if step.units is None:
        return None
    key = (_passing_of, id(step))
    known = BUDGET.find(key)
    # The same identity may be another's by now.
    if known is not None and all(one is other for one, other in zip(known, (clip, step, layout))):
        found: Passing | None = known[3]
        return found
    found = _passing_of(clip, step, step.units, layout)
    BUDGET.keep(key, (clip, step, layout, found), weigh(found) + 400)
    return found


def _passing_of(clip: Clip, step: CompiledStep, units: Units, layout: Layout) -> Passing | None:
    arrival, departure = units.arrival, units.departure or units.arrival
    if arrival.unit == departure.unit == "all":
        return None
    everything = (*step.varying, step.mix)
    head = [each.leads.head for each in everything if each.leads.head]
    tail = [each.leads.tail for each in everything if each.leads.tail]
    begins, arrives = min((first for first, _ in head), default=0.0), max((last for _, last in head), default=0.0)
    leaves, ends = (
        min((first for first, _ in tail), default=clip.length - 1.0),
        max((last for _, last in tail), default=clip.length - 1.0),
    )
    spans = clock_of(clip).spans
    arriving = timing(len(layout.units[arrival.unit]), arrival, arrives - begins, spans.arrival)
    leaving = (
        timing(len(layout.units[departure.unit]), departure, ends - leaves, spans.departure)
        if tail
        else Timing((0.0,) * len(layout.units[departure.unit]), 1.0)
    )
    # What runs quicker than made frees the room it had.
    room = (leaves if tail else clip.length - 1.0) - arrives
    return Passing(
        arrival, departure, *fitted(arriving, leaving, _free(room, arriving, arrives - begins, leaving, ends - leaves))
    )


def _free(room: float, arriving: Timing, lasts: float, leaving: Timing, lasts_out: float) -> float:
    return room + lasts - lasts / arriving.rate + lasts_out - lasts_out / leaving.rate


def _times(passing: Passing, into: int, out: int) -> tuple[float, float, float, float]:
    """How late a unit arrives and how much quicker, how early it leaves and how much quicker."""
    return (
        passing.arriving.delays[into],
        passing.arriving.rate,
        passing.leaving.longest - passing.leaving.delays[out],
        passing.leaving.rate,
    )


def passing_times(passing: Passing, layout: Layout, letter: int) -> tuple[float, float, float, float]:
    """The times of one letter of the text, as `unit_frame` takes them."""
    return _times(passing, layout.places[passing.arrival.unit][letter], layout.places[passing.departure.unit][letter])


def step_by_units(
    clip: Clip,
    step: CompiledStep,
    layout: Layout,
    local: float,
    every: int = 1,
    shown: float | None = None,
    letters: frozenset[int] | None = None,
) -> StepNow:
    """A step at a frame of its clip, for every letter of the text (or for every so many of them, to draw a curve by).

    While a shutter is open `shown` is the frame it is open around. With `letters` only those are worked out; the
    others belong to no part (−1).
    """
    leaving = local >= step.border
    passing = passing_of(clip, step, layout)
    if step.units is None or passing is None or not layout.units["letter"]:
        mix = step.mixed(local)
        return StepNow(
            step.kind,
            step.told(step.values(local), local, mix),
            step.share(mix),
            leaving,
            pivot=step.units.pivot if step.units else "own",
        )
    here = passing.departure.unit if leaving else passing.arrival.unit
    parts: list[PartNow] = []
    of_letter: list[int] = []
    known: dict[tuple[int, int, int], int] = {}
    own = _OfUnits(step, local, shown)
    # How late each unit arrives and how much quicker, how early it leaves and how much quicker.
    late, early, last = passing.arriving.delays, passing.leaving.delays, passing.leaving.longest
    quicker, quicker_out = passing.arriving.rate, passing.leaving.rate
    places = [layout.places[unit][::every] for unit in (passing.arrival.unit, passing.departure.unit, here)]
    for letter, unit in enumerate(zip(*places)):
        if letters is not None and letter not in letters:
            of_letter.append(-1)
            continue
        number = known.get(unit)
        if number is None:
            number = known[unit] = len(parts)
            into, out, place = unit
            values, mix = own.at((late[into], quicker, last - early[out], quicker_out))
            parts.append(PartNow(values, mix, here, place))
        of_letter.append(number)
    first = parts[0]
    return StepNow(step.kind, first.values, first.mix, leaving, tuple(parts), tuple(of_letter), step.units.pivot)


def _still(leads: Leads, frame: float, late: float, quicker: float, early: float, quicker_out: float) -> int:
    """What `held_state` says of a unit's frame, told without working that out: most units wait, or have arrived."""
    head, tail = leads.head, leads.tail
    if leads.sort == "keys" and head:
        since = frame - head[0] - late
        if since <= 0:
            return 1
        if since * quicker >= head[1] - head[0] and (leads.rests or not tail):
            if not tail:
                return 3
            if (tail[1] - early - frame) * quicker_out >= tail[1] - tail[0]:
                return 2
    return held_state(leads, unit_frame(frame, leads, late, quicker, early, quicker_out))


class _OfUnits:
    """A step's values for unit after unit at one frame. Units that wait, rest or have gone share theirs."""

    def __init__(self, step: CompiledStep, local: float, shown: float | None) -> None:
        self._step, self._local = step, local
        self._shown = shown if shown is not None and shown != local and KINDS[step.kind].hides else None
        every = {id(each.leads): each.leads for each in (*step.varying, step.mix)}
        # What is the same for the whole clip is so for every unit.
        self._leads = [(name, leads) for name, leads in every.items() if leads.sort != "whole"]
        self._still = {name: local for name, leads in every.items() if leads.sort == "whole"}
        self._rests = all(held_state(leads, local) for leads in every.values() if leads.sort == "whole")
        # Most often all that moves has its keys at the same frames.
        self._only = self._leads[0] if len(self._leads) == 1 and self._rests and self._shown is None else None
        self._held: dict[object, tuple[Values, float]] = {}
        # A mix that does not move is most often all there.
        self._mix = step.mixed(local) if step.mix.leads.sort == "whole" and self._shown is None else None

    def at(self, times: tuple[float, float, float, float]) -> tuple[Values, float]:
        """Values and mix of a unit with these times."""
        if self._only is not None:
            leads = self._only[1]
            state = _still(leads, self._local, *times)
            if state and state in self._held:
                return self._held[state]
            found = self._told(self._by_leads([unit_frame(self._local, leads, *times)], self._local), self._local)
            if state:
                self._held[state] = found
            return found
        frames = [unit_frame(self._local, leads, *times) for _, leads in self._leads]
        if self._shown is not None:
            at_shown = self._by_leads([unit_frame(self._shown, leads, *times) for _, leads in self._leads], self._shown)
            if KINDS[self._step.kind].hidden(self._values(at_shown)):
                # What is hidden at its frame is hidden for as long as the shutter is open around it.
                return self._told(at_shown, self._shown)
        if not self._rests:
            return self._told(self._by_leads(frames, self._local), self._local)
        held = tuple([held_state(leads, frame) for (_, leads), frame in zip(self._leads, frames)])
        if 0 in held:
            return self._told(self._by_leads(frames, self._local), self._local)
        known = self._held.get(held)
        if known is None:
            known = self._held[held] = self._told(self._by_leads(frames, self._local), self._local)
        return known

    def _by_leads(self, frames: list[float], whole: float) -> dict[int, float]:
        found = dict.fromkeys(self._still, whole) if self._still else {}
        for (name, _), frame in zip(self._leads, frames):
            found[name] = frame
        return found

    def _values(self, frames: dict[int, float]) -> Values:
        step = self._step
        if not step.varying:
            return step.fixed
        values = dict(step.fixed)
        for each in step.varying:
            values[each.name] = each.parameter.clamp(each.sample(frames[id(each.leads)]))
        return values

    def _told(self, frames: dict[int, float], when: float) -> tuple[Values, float]:
        step, mix = self._step, self._mix
        if mix is None:
            mix = step.mix.parameter.clamp(step.mix.sample(frames[id(step.mix.leads)]))
        return step.told(self._values(frames), when, mix), step.share(mix)
