"""Moments between two that are known, for light pictures: values in an exposure change nearly evenly."""

from __future__ import annotations

from typing import Callable, NamedTuple

from ..moment.scene import Layer, StepNow
from ..steps import KINDS, Parameter

_EVEN = 0.1
"""The most by which the value in the middle may be off from the mean of the two at the sides, as a share of how far
those are apart."""


class _Varying(NamedTuple):
    """A value that changes, and what holds it within its limits; what a step is told of time has none."""

    name: str
    first: float
    last: float
    parameter: Parameter | None

    def at(self, share: float) -> float:
        value = self.first + (self.last - self.first) * share
        return value if self.parameter is None else self.parameter.clamp(value)


def in_between(first: Layer, middle: Layer, last: Layer) -> Callable[[float], Layer] | None:
    """A clip at any moment, 0 at the first and 1 at the last, which may lie a little outside; None where more changes
    than the values of its steps, or where they do not change evenly."""
    moments = (first, middle, last)
    if any(each.content != first.content or len(each.steps) != len(first.steps) for each in moments):
        return None
    varying: list[list[_Varying]] = []
    for steps in zip(*(each.steps for each in moments)):
        found = _that_vary(*steps)
        if found is None:
            return None
        varying.append(found)

    def at(share: float) -> Layer:
        steps = tuple(
            step._replace(values={**step.values, **{each.name: each.at(share) for each in found}}) if found else step
            for step, found in zip(first.steps, varying)
        )
        return first._replace(steps=steps)

    return at


def _that_vary(first: StepNow, middle: StepNow, last: StepNow) -> list[_Varying] | None:
    """The values that change; None where they jump, or something else does."""
    plain = first._replace(values={})
    for each in (middle, last):
        if each._replace(values={}) != plain or each.values.keys() != first.values.keys():
            return None
    parameters = {each.name: each for each in KINDS[first.kind].parameters}
    found = []
    for name, a in first.values.items():
        m, b = middle.values[name], last.values[name]
        if a == m == b:
            continue
        if not (type(a) is type(m) is type(b) is float) or abs(m - (a + b) / 2) > _EVEN * abs(b - a):
            return None
        found.append(_Varying(name, a, b, parameters.get(name)))
    return found
