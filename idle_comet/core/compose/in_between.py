"""Moments between two that are known, for light pictures: values in an exposure change nearly evenly."""

from __future__ import annotations

from typing import Callable

from ..moment.scene import Layer, StepNow

_EVEN = 0.1
"""The most by which the value in the middle may be off from the mean of the two at the sides, as a share of how far
those are apart."""

_Varying = list[list[tuple[str, float, float]]]
"""Of each step the values that change: the name, the first and the last."""


def in_between(first: Layer, middle: Layer, last: Layer) -> Callable[[float], Layer] | None:
    """A clip at any moment, 0 at the first and 1 at the last, which may lie a little outside; None where more changes
    than the values of its steps, or where they do not change evenly."""
    moments = (first, middle, last)
    if any(each.content != first.content or len(each.steps) != len(first.steps) for each in moments):
        return None
    varying: _Varying = []
    for steps in zip(*(each.steps for each in moments)):
        found = _that_vary(*steps)
        if found is None:
            return None
        varying.append(found)

    def at(share: float) -> Layer:
        steps = tuple(
            step._replace(values={**step.values, **{name: a + (b - a) * share for name, a, b in found}})
            if found
            else step
            for step, found in zip(first.steps, varying)
        )
        return first._replace(steps=steps)

    return at


def _that_vary(first: StepNow, middle: StepNow, last: StepNow) -> list[tuple[str, float, float]] | None:
    """The values that change; None where they jump, or something else does."""
    plain = first._replace(values={})
    for each in (middle, last):
        if each._replace(values={}) != plain or each.values.keys() != first.values.keys():
            return None
    found = []
    for name, a in first.values.items():
        m, b = middle.values[name], last.values[name]
        if a == m == b:
            continue
        if not (type(a) is type(m) is type(b) is float) or abs(m - (a + b) / 2) > _EVEN * abs(b - a):
            return None
        found.append((name, a, b))
    return found
