"""Eases in the notation of CSS: `cubic-bezier()`, `linear()`, `steps()` and their names."""

from __future__ import annotations

import re
from typing import Literal

from .ease import Ease, Free, Jumps, Linear, Traced, trace

_NAMES: dict[str, Ease] = {
    "linear": Linear(),
    "ease": Free(x1=0.25, y1=0.1, x2=0.25, y2=1),
    "ease-in": Free(x1=0.42, y1=0, x2=1, y2=1),
    "ease-out": Free(x1=0, y1=0, x2=0.58, y2=1),
    "ease-in-out": Free(x1=0.42, y1=0, x2=0.58, y2=1),
    "step-start": Jumps(count=1, at="start"),
    "step-end": Jumps(count=1),
}
_NUMBER = r"[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?"


class EaseError(ValueError):
    """A text that is no ease; the message says what would be."""


def read_css(text: str) -> Ease:
    """The ease a CSS easing function stands for; raises EaseError."""
    typed = text.strip().lower().removesuffix(";")
    if typed in _NAMES:
        return _NAMES[typed]
    call = re.fullmatch(r"([a-z-]+)\s*\((.*)\)", typed, re.S)
    if not call:
        raise EaseError(
            f"“{text.strip()[:60]}” is not an ease. Write cubic-bezier(0.2, 0, 0, 1), linear(0, 0.6, 1) or steps(4)."
        )
    name, inside = call[1], [part.strip() for part in call[2].split(",")]
    if name == "cubic-bezier":
        return _bezier(inside)
    if name == "linear":
        return _linear(inside)
    if name == "steps":
        return _steps(inside)
    raise EaseError(f"{name}() is not an ease of CSS; there are cubic-bezier(), linear() and steps().")


def _bezier(parts: list[str]) -> Ease:
    if len(parts) != 4 or not all(re.fullmatch(_NUMBER, part) for part in parts):
        raise EaseError("cubic-bezier() takes four numbers: x1, y1, x2, y2.")
    x1, y1, x2, y2 = (float(part) for part in parts)
    if not (0 <= x1 <= 1 and 0 <= x2 <= 1):
        raise EaseError("In cubic-bezier() x1 and x2 lie between 0 and 1; time does not run backwards.")
    if max(abs(y1), abs(y2)) > 100:
        raise EaseError("In cubic-bezier() y1 and y2 lie between −100 and 100 here.")
    return Free(x1=x1, y1=y1, x2=x2, y2=y2)


def _steps(parts: list[str]) -> Ease:
    where = parts[1] if len(parts) > 1 else "end"
    known: dict[str, Literal["start", "end"]] = {
        "end": "end",
        "jump-end": "end",
        "start": "start",
        "jump-start": "start",
    }
    if len(parts) > 2 or not re.fullmatch(r"\d{1,4}", parts[0]) or not 1 <= int(parts[0]) <= 1000 or where not in known:
        raise EaseError("steps() takes a count from 1 to 1000, and jump-end or jump-start.")
    return Jumps(count=int(parts[0]), at=known[where])


def _linear(parts: list[str]) -> Ease:
    """The stops of `linear()`, missing inputs filled in as CSS Easing Functions 2 has it."""
    inputs: list[float | None] = []
    outputs: list[float] = []
    for part in parts:
        numbers = re.findall(rf"({_NUMBER})(%)?", part)
        there = [float(number) for number, percent in numbers if not percent]
        when = [float(number) / 100 for number, percent in numbers if percent]
        if len(there) != 1 or len(when) > 2 or re.sub(rf"{_NUMBER}%?|\s", "", part):
            raise EaseError(
                f"“{part}” is not a stop of linear(); write an output such as 0.6, with its input in % after it if "
                f"you like."
            )
        inputs += when or [None]
        outputs += there * max(1, len(when))
    if len(inputs) < 2:
        raise EaseError("linear() takes two stops or more.")
    first = 0.0 if inputs[0] is None else inputs[0]
    inputs[0] = first
    inputs[-1] = max(1.0, first) if inputs[-1] is None else inputs[-1]
    # An input that lies before an earlier one is moved up to it.
    known, largest = [], first
    for place, each in enumerate(inputs):
        if each is not None:
            largest = max(each, largest)
            known.append((place, largest))
    # Those without one lie evenly between their neighbours.
    filled = [known[0][1]]
    for (left, begin), (right, end) in zip(known, known[1:]):
        filled += [begin + (end - begin) * (place - left) / (right - left) for place in range(left + 1, right)] + [end]
    if len(filled) > 500 or filled[0] < 0 or filled[-1] > 1 or any(abs(each) > 100 for each in outputs):
        raise EaseError(
            "linear() is read with inputs from 0 % to 100 %, outputs from −100 to 100 and at most 500 stops."
        )
    return Traced(points=tuple(zip(filled, outputs)))


def write_css(ease: Ease) -> str:
    """The ease as CSS; springs and bounces as `linear()` through 120 points."""
    if ease.kind == "linear":
        return "linear"
    if ease.kind == "hold":
        return "step-end"
    if ease.kind == "strengths":
        ease = Free(x1=ease.start, y1=0, x2=1 - ease.end, y2=1)
    if ease.kind == "free":
        return f"cubic-bezier({', '.join(_short(each) for each in (ease.x1, ease.y1, ease.x2, ease.y2))})"
    if ease.kind == "jumps":
        return f"steps({ease.count}, jump-{ease.at})"
    points = ease.points if ease.kind == "traced" else trace(ease)
    return f"linear({', '.join(f'{_short(y)} {_short(100 * x)}%' for x, y in points)})"


def _short(value: float) -> str:
    return f"{value:.5f}".rstrip("0").rstrip(".") or "0"
