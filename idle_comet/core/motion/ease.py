"""Eases: how progress runs between two keys."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Annotated, Literal, Union

from pydantic import Field, model_validator

from ..modelled import Frozen
from .settling import bounce_progress, spring_progress

Unit = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
Height = Annotated[float, Field(ge=-100, le=100, allow_inf_nan=False)]


class Hold(Frozen):
    """The value stays and jumps at the next key."""

    kind: Literal["hold"] = "hold"


class Linear(Frozen):
    """Even speed."""

    kind: Literal["linear"] = "linear"


class Strengths(Frozen):
    """A strength at each end, 0..1; 1/3 and 1/3 is 3u² − 2u³, what a new key gets."""

    kind: Literal["strengths"] = "strengths"
    start: Unit = 1 / 3
    end: Unit = 1 / 3


class Free(Frozen):
    """A free cubic Bézier with the meaning of CSS `cubic-bezier(x1, y1, x2, y2)`."""

    kind: Literal["free"] = "free"
    x1: Unit
    y1: Height
    x2: Unit
    y2: Height


class Spring(Frozen):
    """A weight on a spring, let go at the first key; `damping` 1 just does not swing past."""

    kind: Literal["spring"] = "spring"
    damping: Annotated[float, Field(ge=0.05, le=4, allow_inf_nan=False)] = 0.35


class Bounce(Frozen):
    """A ball falling onto the next value: so many bounces, each `kept` times as fast as the one before."""

    kind: Literal["bounce"] = "bounce"
    bounces: Annotated[int, Field(ge=1, le=12)] = 3
    kept: Annotated[float, Field(ge=0.05, le=0.95, allow_inf_nan=False)] = 0.5


class Jumps(Frozen):
    """In n equal jumps, each at the end of its part (as CSS `steps(n)`), or at its start."""

    kind: Literal["jumps"] = "jumps"
    count: Annotated[int, Field(ge=1, le=1000)] = 4
    at: Literal["end", "start"] = "end"


class Traced(Frozen):
    """Straight lines through points (progress in, progress out), as CSS `linear()`."""

    kind: Literal["traced"] = "traced"
    points: Annotated[tuple[tuple[Unit, Height], ...], Field(min_length=2, max_length=500)]

    @model_validator(mode="after")
    def _in_order(self) -> "Traced":
        if any(a[0] > b[0] for a, b in zip(self.points, self.points[1:])):
            raise ValueError("the points of a traced ease go from left to right")
        return self


Ease = Annotated[Union[Hold, Linear, Strengths, Free, Spring, Bounce, Jumps, Traced], Field(discriminator="kind")]

STARTING_POINTS: tuple[tuple[str, Ease], ...] = (
    ("soft both ends", Strengths()),
    ("fast in, soft landing", Strengths(start=0, end=0.9)),
    ("slow start, fast exit", Strengths(start=0.9, end=0)),
    ("feather-soft", Strengths(start=0.8, end=0.8)),
    ("even", Linear()),
    ("hold", Hold()),
    ("past and back", Free(x1=0.2, y1=0.9, x2=0.3, y2=1.25)),
    ("wind-up", Free(x1=0.5, y1=-0.35, x2=0.4, y2=1)),
    ("spring", Spring()),
    ("dropped", Bounce()),
    ("in four jumps", Jumps()),
)
"""Named eases to start from."""


def ease_progress(ease: Ease, u: float) -> float:
    """Eased progress at u; u is clamped to 0..1, the result may overshoot (free, spring, traced).

    Strengths a, b are the Bézier P1 = (a, 0), P2 = (1 − b, 1).
    """
    if ease.kind == "jumps":
        return _jumped(ease, u)
    if ease.kind == "traced":
        return _traced(ease.points, min(1.0, max(0.0, u)))
    if u <= 0:
        return 0.0
    if u >= 1:
        return 1.0
    if ease.kind == "hold":
        return 0.0
    if ease.kind == "linear":
        return u
    if ease.kind == "strengths":
        return bezier_progress(ease.start, 0.0, 1.0 - ease.end, 1.0, u)
    if ease.kind == "spring":
        return spring_progress(ease.damping, u)
    if ease.kind == "bounce":
        return bounce_progress(ease.bounces, ease.kept, u)
    return bezier_progress(ease.x1, ease.y1, ease.x2, ease.y2, u)


def _jumped(ease: Jumps, u: float) -> float:
    if u >= 1:
        return 1.0
    part = math.floor(max(0.0, u) * ease.count + 1e-9)
    return min(1.0, (part + (ease.at == "start")) / ease.count)


def _traced(points: tuple[tuple[float, float], ...], u: float) -> float:
    """CSS Easing Functions 2, “linear”: the last of equal inputs counts; past the ends the outer segments go on."""
    after = next((i for i, point in enumerate(points) if point[0] > u), len(points))
    after = min(max(after, 1), len(points) - 1)
    (x0, y0), (x1, y1) = points[after - 1], points[after]
    return y1 if x1 == x0 else y0 + (y1 - y0) * (u - x0) / (x1 - x0)


@lru_cache(maxsize=1024)
def bezier_progress(x1: float, y1: float, x2: float, y2: float, x: float) -> float:
    """y of the cubic Bézier (0,0) (x1,y1) (x2,y2) (1,1) at abscissa x in 0..1.

    Newton's method kept inside a bracket: x(t) is monotone for x1, x2 in 0..1,
    so bisection always has a step to fall back on where the slope vanishes.
    """
    cx, bx = 3 * x1, 3 * (x2 - 2 * x1)
    ax = 1 - cx - bx
    low, high, t = 0.0, 1.0, x
    for _ in range(60):
        error = ((ax * t + bx) * t + cx) * t - x
        if abs(error) < 1e-13:
            break
        if error > 0:
            high = t
        else:
            low = t
        slope = (3 * ax * t + 2 * bx) * t + cx
        step = t - error / slope if slope else -1.0
        t = step if low < step < high else (low + high) / 2
    cy, by = 3 * y1, 3 * (y2 - 2 * y1)
    return (((1 - cy - by) * t + by) * t + cy) * t


def stronger(ease: Ease, by: float) -> Ease:
    """Strengths grown by so much at each end; even speed counts as none, other eases stay."""
    if ease.kind == "linear":
        ease = Strengths(start=0, end=0)
    if ease.kind != "strengths":
        return ease
    return Strengths(start=min(1.0, max(0.0, ease.start + by)), end=min(1.0, max(0.0, ease.end + by)))


def mirrored(ease: Ease) -> Ease:
    """The ease run backwards: progress 1 − e(1 − u). A spring and a bounce are traced; they have no other way back."""
    if ease.kind in ("hold", "linear"):
        return ease
    if ease.kind == "strengths":
        return Strengths(start=ease.end, end=ease.start)
    if ease.kind == "free":
        return Free(x1=1 - ease.x2, y1=1 - ease.y2, x2=1 - ease.x1, y2=1 - ease.y1)
    if ease.kind == "jumps":
        return Jumps(count=ease.count, at="start" if ease.at == "end" else "end")
    points = ease.points if ease.kind == "traced" else trace(ease)
    return Traced(points=tuple((1 - x, 1 - y) for x, y in reversed(points)))


def trace(ease: Ease, count: int = 120) -> tuple[tuple[float, float], ...]:
    """The ease as points from (0, 0) to (1, 1)."""
    return tuple((i / count, ease_progress(ease, i / count)) for i in range(count + 1))


def describe_ease(ease: Ease) -> str:
    """An ease in words an editor uses."""
    if ease.kind == "hold":
        return "holds, then jumps"
    if ease.kind == "linear":
        return "even speed"
    if ease.kind == "free":
        low, high = min(ease.y1, ease.y2), max(ease.y1, ease.y2)
        extra = " with overshoot" if high > 1 else " with a wind-up" if low < 0 else ""
        return f"free curve{extra}"
    if ease.kind == "spring":
        swings = (
            "swings for long"
            if ease.damping < 0.25
            else "swings and settles"
            if ease.damping < 0.8
            else "settles without a swing"
        )
        return f"spring, {swings}"
    if ease.kind == "bounce":
        return f"drops, {ease.bounces} {'bounce' if ease.bounces == 1 else 'bounces'}"
    if ease.kind == "jumps":
        return f"in {ease.count} {'jump' if ease.count == 1 else 'jumps'}"
    if ease.kind == "traced":
        return f"traced through {len(ease.points)} points"
    if ease.start == ease.end == 0:
        return "even speed"
    return f"{_softness(ease.start)} start, {_softness(ease.end)} landing"


def _softness(strength: float) -> str:
    for most, word in ((0.05, "sudden"), (0.25, "firm"), (0.5, "soft"), (0.8, "very soft")):
        if strength <= most:
            return word
    return "feather-soft"
