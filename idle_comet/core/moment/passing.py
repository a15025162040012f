"""Passing a step's motion on from unit to unit of a text."""

from __future__ import annotations

from typing import NamedTuple

from ..motion import Cascade, Timing, Unit, fitted, held_state, timing, unit_frame
from ..project.model import Clip, Units
from ..project.times import clock_of
from ..remember import BUDGET, weigh
from ..steps import KINDS, Values
from ..type import Layout
from .compiled import CompiledStep
from .scene import PartNow, StepNow

Turns = tuple[list[tuple[int, int, int]], tuple[int, ...]]
"""The turns that letters take, and which of these each letter has."""


class Passing(NamedTuple):
    """How a step is passed on over a clip's text; `squeezed` where its delays had to be made smaller to fit the
    clip."""

    arrival: Cascade
    departure: Cascade
    arriving: Timing
    leaving: Timing
    squeezed: bool
    whole: tuple[Turns, Turns]
    """The turns of all letters while the clip arrives, and while it leaves."""


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
    # A half counts its frames from its own head, and is passed on as the whole was.
    opens, closes = -float(clip.skipped), clip.length - 1.0 + clip.cut_off
    begins, arrives = min((first for first, _ in head), default=opens), max((last for _, last in head), default=opens)
    leaves, ends = min((first for first, _ in tail), default=closes), max((last for _, last in tail), default=closes)
    spans = clock_of(clip).spans
    arriving = timing(len(layout.units[arrival.unit]), arrival, arrives - begins, spans.arrival)
    leaving = (
        timing(len(layout.units[departure.unit]), departure, ends - leaves, spans.departure)
        if tail
        else Timing((0.0,) * len(layout.units[departure.unit]), 1.0)
    )
    # What runs quicker than made frees the room it had.
    room = leaves - arrives
    arriving, leaving, squeezed = fitted(
        arriving, leaving, _free(room, arriving, arrives - begins, leaving, ends - leaves)
    )
    whole = [_turns(layout, arrival.unit, departure.unit, here) for here in (arrival.unit, departure.unit)]
    return Passing(arrival, departure, arriving, leaving, squeezed, (whole[0], whole[1]))


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
    others belong to no part (−1). Of none of them there are the values without the delays of units.
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
    if letters is not None and not letters:
        mix = step.mixed(local)
        nobody = (-1,) * len(layout.units["letter"])
        return StepNow(step.kind, step.told(step.values(local), local, mix), step.share(mix), leaving, (), nobody)
    here = passing.departure.unit if leaving else passing.arrival.unit
    if letters is None and every == 1:
        turns, of_letter = passing.whole[leaving]
    else:
        turns, of_letter = _turns(layout, passing.arrival.unit, passing.departure.unit, here, every, letters)
    told = _OfUnits(step, local, shown).each(passing, turns)
    # Made so since there is one for every letter.
    new = tuple.__new__
    parts = tuple([new(PartNow, (values, mix, here, index)) for (values, mix), (_, _, index) in zip(told, turns)])
    return StepNow(step.kind, parts[0].values, parts[0].mix, leaving, parts, of_letter, step.units.pivot)


def _turns(
    layout: Layout, into: Unit, out: Unit, here: Unit, every: int = 1, letters: frozenset[int] | None = None
) -> Turns:
    """The turns that letters take: their places among the units that arrive, those that leave and those they belong to
    now; and which of these turns each letter has (−1 for one that is not asked for)."""
    turn_of = list(zip(*[layout.places[unit][::every] for unit in (into, out, here)]))
    asked = turn_of if letters is None else [turn for letter, turn in enumerate(turn_of) if letter in letters]
    number_of = {turn: number for number, turn in enumerate(dict.fromkeys(asked))}
    if letters is None:
        return list(number_of), tuple([number_of[turn] for turn in turn_of])
    return list(number_of), tuple([number_of[turn] if letter in letters else -1 for letter, turn in enumerate(turn_of)])


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
        kind = KINDS[step.kind]
        # Then values are told as they are, unless they are weakened by it, or are others at every frame.
        done_whole = self._mix is not None and not kind.restless and (self._mix >= 1 or not kind.weakens)
        self._share = step.share(self._mix) if done_whole and self._mix is not None else None
        self._varying = [
            (each.name, each.parameter.clamp, each.sample, each.leads.sort == "whole") for each in step.varying
        ]

    def each(self, passing: Passing, turns: list[tuple[int, int, int]]) -> list[tuple[Values, float]]:
        """Values and mix of units with these turns."""
        # How late each arrives and how much quicker, how early it leaves and how much quicker.
        late, early, last = passing.arriving.delays, passing.leaving.delays, passing.leaving.longest
        quicker, quicker_out = passing.arriving.rate, passing.leaving.rate
        if self._only is None:
            return [self._one((late[into], quicker, last - early[out], quicker_out)) for into, out, _ in turns]
        leads, frame, held = self._only[1], self._local, self._held
        head, tail = leads.head, leads.tail
        takes = head[1] - head[0] if head else 0.0
        found = []
        for into, out, _ in turns:
            state = 0
            if head and leads.sort == "keys":
                # What `unit_frame` and `held_state` say of most: they wait, are on their way, or have arrived.
                since = frame - head[0] - late[into]
                done = since * quicker
                if since <= 0:
                    state = 1
                elif done < takes:
                    found.append(self._led_alone(head[0] + done))
                    continue
                elif leads.rests or not tail:
                    if not tail:
                        state = 3
                    elif (tail[1] - (last - early[out]) - frame) * quicker_out >= tail[1] - tail[0]:
                        state = 2
            known = held.get(state) if state else None
            if known is None:
                own = unit_frame(frame, leads, late[into], quicker, last - early[out], quicker_out)
                state = state or held_state(leads, own)
                known = held.get(state) if state else None
                if known is None:
                    known = self._led_alone(own)
                    if state:
                        held[state] = known
            found.append(known)
        return found

    def _led_alone(self, own: float) -> tuple[Values, float]:
        """Values and mix of a unit at a frame of its own, where all that moves has its keys at the same frames."""
        step, frame, mix = self._step, self._local, self._mix
        values = dict(step.fixed)
        for name, clamp, sample, whole in self._varying:
            values[name] = clamp(sample(frame if whole else own))
        if self._share is not None:
            return values, self._share
        if mix is None:
            mix = step.mixed(own)
        return step.told(values, frame, mix), step.share(mix)

    def _one(self, times: tuple[float, float, float, float]) -> tuple[Values, float]:
        """Values and mix of a unit with these times, of which several lead."""
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
