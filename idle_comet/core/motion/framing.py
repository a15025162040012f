"""Framings: which part of a picture the frame shows, and what lies between two of them."""

from __future__ import annotations

import cmath
import math
from typing import Annotated, Literal, NamedTuple

from pydantic import Field

from ..modelled import Frozen
from .outlines import Number


class Framing(Frozen):
    """The frame laid on a picture: its middle in px from where it lies at rest, how much larger the picture is shown
    for it, and how far the frame is turned, in degrees clockwise.

    `zoom` is how the size goes on to the next framing: by a constant ratio, or by a constant amount.
    """

    x: Number = 0.0
    y: Number = 0.0
    scale: Annotated[float, Field(ge=0.01, le=100, allow_inf_nan=False)] = 1.0
    roll: Annotated[float, Field(ge=-36000, le=36000, allow_inf_nan=False)] = 0.0
    zoom: Literal["ratio", "linear"] = "ratio"

    def scaled(self, by: float) -> Framing:
        """The same part of a picture that is `by` times as large."""
        return self.model_copy(update={"x": self.x * by, "y": self.y * by})


class Shown(NamedTuple):
    """How a framing shows a picture, in complex numbers: z of the picture is seen at turn · z + shift, both from the
    middle."""

    turn: complex
    shift: complex

    def inverse(self, seen: complex) -> complex:
        """What of the picture is seen there."""
        return (seen - self.shift) / self.turn


def shown(framing: Framing) -> Shown:
    """How the picture is seen: its framing's middle in the middle, turned the other way."""
    turn = cmath.rect(framing.scale, -math.radians(framing.roll))
    return Shown(turn, -turn * complex(framing.x, framing.y))


_QUARTER = 90.0
"""Degrees; a larger turn goes about the frame's own middle, since the point that stays would lie within the way."""


def mixed_framing(a: Framing, b: Framing, progress: float) -> Framing:
    """What lies between two framings.

    The second shows the picture as the first does, seen through w → K·w + t. What lies between is seen through the part
    of that: Kᵘ·w + t·(Kᵘ − 1)/(K − 1), with the size by a constant ratio, or linear. So the one point that stays on
    its place from the first to the second, t/(1 − K), stays there all the way; without zoom and roll it is a straight
    line. With a turn of more than a quarter the middle goes straight.
    """
    if progress in (0.0, 1.0):
        return b if progress else a
    k, turned = b.scale / a.scale, -math.radians(b.roll - a.roll)
    grown = k**progress if a.zoom == "ratio" else 1 + (k - 1) * progress
    grown = max(grown, 1e-4)
    first, last = shown(a), shown(b)
    whole, part = cmath.rect(k, turned), cmath.rect(grown, turned * progress)
    scale, roll = min(100.0, max(0.01, a.scale * grown)), a.roll + (b.roll - a.roll) * progress
    if abs(b.roll - a.roll) > _QUARTER:
        middle = complex(a.x, a.y) + complex(b.x - a.x, b.y - a.y) * progress
    else:
        # With next to no zoom and roll the way is straight, and the quotient the progress itself.
        share = (part - 1) / (whole - 1) if abs(whole - 1) > 1e-9 else progress
        middle = Shown(part * first.turn, part * first.shift + (last.shift - whole * first.shift) * share).inverse(0)
    return a.model_copy(update={"x": middle.real, "y": middle.imag, "scale": scale, "roll": roll})


def about(point: tuple[float, float], framing: Framing, scale: float, roll: float) -> Framing:
    """The framing of this scale and roll in which a point of the picture is seen where the other shows it."""
    at = complex(*point)
    seen = shown(framing).turn * at + shown(framing).shift
    turn = cmath.rect(scale, -math.radians(roll))
    middle = at - seen / turn
    return framing.model_copy(update={"x": middle.real, "y": middle.imag, "scale": scale, "roll": roll})
