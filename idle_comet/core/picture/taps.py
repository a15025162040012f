"""The weights by which a picture is sampled along one axis.

A sample is the weighted mean of the source px around it (Turkowski, "Filters for common resampling tasks", 1990). The
filter grows with what one painted px covers of the source, without a step anywhere, so that neither a slow push nor a
pull past a half or a third changes how sharp a picture looks; an axis that is not shrunk is not blurred.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from .kernel import kernel

_REACH = {True: 2, False: 1}
"""How far the filter reaches, in px of whichever is coarser: a Lanczos window of three as exported, a tent in a light
preview."""


EVEN = 1.33
"""By how much wider the filter is for a picture that moves: then a px between four others is as sharp as one that lies
on another, and a zoom that passes its own size does not flash. What stands still is as sharp as it can be."""


class Taps(NamedTuple):
    """For every sample along one axis: the first source px that counts, and the weights from there on, whose sum is
    1.

    Those of them that would lie past the last px of a picture are 0.
    """

    first: np.ndarray
    weights: np.ndarray


@lru_cache(maxsize=64)
def taps(count: int, source: int, scale: float, begin: float, low: float, exact: bool) -> Taps:
    """The taps of `count` samples at px centres of an axis.

    Source px k covers [k, k + 1); it is painted from `begin` + k · `scale` on. The filter lets through what is coarser
    than `low` source px. Past the ends the outermost px goes on.
    """
    reach, wide = _REACH[exact], max(1.0, low)
    around = math.floor(2 * reach * wide) + 1
    found = Taps(np.empty(count, np.int64), np.empty((count, min(source, around)), np.float32))
    _weigh(*found, source, scale, begin, wide, reach)
    return found


@kernel("void(int64[::1], float32[:,::1], int64, float64, float64, float64, int64)")
def _weigh(first, weights, source, scale, begin, wide, reach):
    """Lanczos weights for a reach of 2, a tent for 1.

    They are balanced: a window's own centre of gravity is up to a fiftieth of a px beside the sample, by which a slow
    drift would hurry and lag. A part of cos² takes that back.
    """
    count, number = weights.shape
    around = int(math.floor(2 * reach * wide)) + 1
    raw, bell = np.empty(around), np.empty(around)
    # sin and cos of π·x/reach go on from tap to tap by a turn.
    step = 1 / wide
    turn_sin, turn_cos = math.sin(math.pi * step / reach), math.cos(math.pi * step / reach)
    for sample in range(count):
        centre = (sample + 0.5 - begin) / scale
        # The first px whose centre is within reach.
        leading = int(math.ceil(centre - reach * wide - 0.5))
        start = (leading + 0.5 - centre) / wide
        total, aside, b0, b1, b2 = 0.0, 0.0, 0.0, 0.0, 0.0
        sin, cos = math.sin(math.pi * start / reach), math.cos(math.pi * start / reach)
        for tap in range(around):
            x = start + tap * step
            raw[tap] = bell[tap] = 0.0
            if abs(x) < reach:
                bell[tap] = 0.5 + 0.5 * cos
                if reach == 1:
                    raw[tap] = 1 - abs(x)
                else:
                    # sinc(x) · sinc(x/2), where sin πx = 2 · sin πx/2 · cos πx/2.
                    raw[tap] = 4 * sin * sin * cos / (math.pi * x) ** 2 if abs(x) > 1e-6 else 1.0
            total += raw[tap]
            aside += raw[tap] * x
            b0 += bell[tap]
            b1 += bell[tap] * x
            b2 += bell[tap] * x * x
            sin, cos = sin * turn_cos + cos * turn_sin, cos * turn_cos - sin * turn_sin
        # A tent of which one px alone is within reach lies on it.
        apart = b0 * b2 - b1 * b1
        by = aside / total / apart if apart > 1e-12 else 0.0
        begins = min(max(leading, 0), max(0, source - number))
        first[sample] = begins
        for tap in range(number):
            weights[sample, tap] = 0
        for tap in range(around):
            weight = raw[tap] / total + bell[tap] * by * (b1 - b0 * (start + tap * step))
            # What lies past an end counts for the px at that end.
            weights[sample, min(max(leading + tap, 0), source - 1) - begins] += np.float32(weight)
