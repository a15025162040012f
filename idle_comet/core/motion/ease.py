"""Eases: how progress runs between two keys."""

from __future__ import annotations

from typing import Annotated, Literal, Union

from pydantic import BaseModel, ConfigDict, Field

Unit = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
Height = Annotated[float, Field(ge=-100, le=100, allow_inf_nan=False)]


class _Frozen(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class Hold(_Frozen):
    """The value stays and jumps at the next key."""

    kind: Literal["hold"] = "hold"


class Linear(_Frozen):
    """Even speed."""

    kind: Literal["linear"] = "linear"


class Strengths(_Frozen):
    """A strength at each end, 0..1; 1/3 and 1/3 is 3u² − 2u³, what a new key gets."""

    kind: Literal["strengths"] = "strengths"
    start: Unit = 1 / 3
    end: Unit = 1 / 3


class Free(_Frozen):
    """A free cubic Bézier with the meaning of CSS `cubic-bezier(x1, y1, x2, y2)`."""

    kind: Literal["free"] = "free"
    x1: Unit
    y1: Height
    x2: Unit
    y2: Height


Ease = Annotated[Union[Hold, Linear, Strengths, Free], Field(discriminator="kind")]


def ease_progress(ease: Ease, u: float) -> float:
    """Eased progress at u; u is clamped to 0..1, the result may overshoot for a free curve.

    Strengths a, b are the Bézier P1 = (a, 0), P2 = (1 − b, 1).
    """
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
    return bezier_progress(ease.x1, ease.y1, ease.x2, ease.y2, u)


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
    if ease.start == ease.end == 0:
        return "even speed"
    return f"{_softness(ease.start)} start, {_softness(ease.end)} landing"


def _softness(strength: float) -> str:
    for most, word in ((0.05, "sudden"), (0.25, "firm"), (0.5, "soft"), (0.8, "very soft")):
        if strength <= most:
            return word
    return "feather-soft"
