"""A sound whose speed moves: heard at each moment as it is seen then, its pitch going with it or staying."""

from __future__ import annotations

from typing import Callable

import numpy as np

from .pace import paced

Read = Callable[[int, int], np.ndarray]
"""Samples (n, 2) of a source: from which on, and how many."""

Stretch = Callable[[float, float, int], np.ndarray]
"""Samples (n, 2) at a pace with their pitch as it was: the pace, the place in the source of the first, how many."""

Places = Callable[[np.ndarray], np.ndarray]
"""The places in a source, in its samples, that are heard at samples of the film."""

_BLOCK = 512
"""Samples of the film that are filtered alike."""

_PART, _FADE = 6000, 1200
"""Samples of the film that are stretched at one pace, and those over which one part fades into the next: at a speed
that halves within half a second, a part is nowhere more than 3 ms from its moment."""

_STILL = 0.02
"""A pace at which nothing is heard any more."""


def retimed(places: Places, read: Read, begin: int, count: int) -> np.ndarray:
    """(count, 2) float64 from sample `begin` of the film on, the pitch going with the speed; nothing where the source
    stands or runs backwards. What is asked for in parts is what is asked for at once."""
    out = np.zeros((count, 2))
    for block in range(begin // _BLOCK, -(-(begin + count) // _BLOCK)):
        first, last = block * _BLOCK, (block + 1) * _BLOCK
        own = places(np.arange(first, last + 1))
        forwards = np.diff(own) > _STILL
        if forwards.any():
            made = paced(read, np.maximum.accumulate(own[:-1]), float(np.diff(own).max())) * forwards[:, None]
            a, b = max(first, begin), min(last, begin + count)
            out[a - begin : b - begin] = made[a - first : b - first]
    return out


def retimed_with_pitch(places: Places, stretch: Stretch, begin: int, count: int) -> np.ndarray:
    """The same with its pitch as it was: part by part at the mean pace of each, one faded into the next."""
    out = np.zeros((count, 2))
    rise = (np.arange(_FADE) + 0.5) / _FADE
    for part in range((begin - _FADE) // _PART, -(-(begin + count + _FADE) // _PART)):
        first, last = part * _PART - _FADE // 2, (part + 1) * _PART + _FADE // 2
        one, other = places(np.array([first, last]))
        pace = (other - one) / (last - first)
        a, b = max(first, begin), min(last, begin + count)
        if pace > _STILL and a < b:
            weight = np.ones(last - first)
            weight[:_FADE], weight[-_FADE:] = rise, rise[::-1]
            made = stretch(pace, one, last - first) * weight[:, None]
            out[a - begin : b - begin] += made[a - first : b - first]
    return out
