"""Which moment of its source a clip shows at each of its own frames: its first, and from there the integral of its
speed."""

from __future__ import annotations

import math
from bisect import bisect_right
from fractions import Fraction
from itertools import pairwise
from typing import Callable, cast

import numpy as np

from ..clock import LocalClock
from ..motion import Moving, number, resolve_keys, sampler
from ..motion.property import clock_for
from ..motion.sampling import jumps_of
from ..remember import Remembered
from .model import Clip, Footage, Group, Sound

_GRAIN = 10_000
"""Speeds and source moments count to a ten-thousandth, so that no platform's float decides a frame."""

_POINTS, _WEIGHTS = np.polynomial.legendre.leggauss(6)
"""Gauss-Legendre quadrature, exact for polynomials up to the eleventh degree."""

_LEAST, _MOST = 16, 64
"""Parts between two keys that are integrated one by one: one for each frame, within these bounds."""


class Retiming:
    """The way of a clip through its source. Moments of the source count in frames of the film's rate."""

    def __init__(self, clip: Clip) -> None:
        content = clip.content
        assert isinstance(content, (Footage, Group, Sound))
        self._start, self._length, self._skipped = exact(content.start), clip.length, clip.skipped
        given = content.speed
        if not isinstance(given, (int, float)) and given.state == "moving" and len(given.keys) > 1:
            whole = clip.skipped + clip.length + clip.cut_off
            # A part of a clip that was cut asks the same questions as the whole, so that it gets the same answers.
            self._run: _Run | None = _Run(given, LocalClock.of(whole, clip.arrival, clip.departure))
            self.fixed: Fraction | None = None
            """The speed, where it is the same at all moments."""
        else:
            self._run, self.fixed = None, exact(steady_speed(content))

    def exact(self, local: int) -> Fraction:
        """The moment shown at a whole frame of the clip; frames before its head and past its end count as well."""
        if self._run is None:
            return self._start + cast(Fraction, self.fixed) * local
        return self._start + self._gone(local + self._skipped) - self._gone(self._skipped)

    def at(self, local: float) -> float:
        """The same at any moment of the clip."""
        if self._run is None:
            return float(self._start) + float(cast(Fraction, self.fixed)) * local
        begun = float(self._start) - float(self._gone(self._skipped))
        return begun + self._run.gone(local + self._skipped)

    def many(self, local: np.ndarray) -> np.ndarray:
        """(n,) the same at many moments."""
        if self._run is None:
            return float(self._start) + float(cast(Fraction, self.fixed)) * local
        first, last = math.floor(local.min()), math.ceil(local.max())
        # Within a frame the way is known at nine places; a speed does not change enough between two for it to be heard.
        known = np.linspace(first, last, max(1, last - first) * 8 + 1)
        return np.interp(local, known, [self.at(float(each)) for each in known])

    def speed(self, local: float) -> float:
        """Source frames a frame, at a moment of the clip."""
        return float(self.fixed) if self.fixed is not None else cast(_Run, self._run).speed(local + self._skipped)

    def when(self, moment: float) -> float | None:
        """The first of the clip's own moments at which it comes by a moment of its source; None where it never does,
        or stands there. At a steady speed moments before the head and past the end count as well."""
        if self.fixed is not None:
            return (moment - float(self._start)) / float(self.fixed) if self.fixed else None
        for low, high in pairwise(self._marks(0, self._length)):
            one, other = self.at(low), self.at(high)
            if one != other and min(one, other) <= moment <= max(one, other):
                for _ in range(50):
                    middle = (low + high) / 2
                    low, high = (middle, high) if (self.at(middle) < moment) == (one < other) else (low, middle)
                return high
        return None

    def reach(self, first: float, last: float) -> tuple[float, float]:
        """The earliest and the latest moment of the source that the clip comes by between two of its own."""
        moments = [self.at(each) for each in self._marks(first, last)]
        return min(moments), max(moments)

    def own(self, moment: float) -> float:
        """The clip's own moment that shows a moment of its source; its end for one that it never comes by."""
        found = self.when(moment)
        return float(self._length) if found is None else found

    @property
    def ends(self) -> tuple[int, int]:
        """The frames of the clip that show the earliest and the latest of its source."""
        marks = sorted({math.floor(each) for each in self._marks(0, self._length - 1)})
        return min(marks, key=self.exact), max(marks, key=self.exact)

    @property
    def backwards(self) -> bool:
        """Whether it ends at an earlier moment of its source than it begins at."""
        return self.at(self._length) < float(self._start)

    @property
    def forwards(self) -> bool:
        """Whether it runs forwards all the time."""
        return all(self.speed(each) > 0 for each in self._marks(0, self._length))

    def _marks(self, first: float, last: float) -> list[float]:
        """Moments of the clip between which its speed hardly changes."""
        own = [] if self._run is None else [each - self._skipped for each in self._run.knots]
        return [first, *(each for each in own if first < each < last), last]

    def _gone(self, whole: int) -> Fraction:
        return exact(cast(_Run, self._run).gone(whole))


class _Run:
    """The integral of keyed speeds from a motion's first frame on."""

    def __init__(self, speed: Moving, clock: LocalClock) -> None:
        sample = sampler(speed.model_copy(update={"repeat": None}), clock)
        self.speed: Callable[[float], float] = lambda frame: number(sample(frame))
        timed = resolve_keys(speed, clock)
        self._first, self._last = timed[0].frame, timed[-1].frame
        places = {item.frame for item in timed} | set(jumps_of(speed, clock))
        border = clock_for(speed.keys, clock).spans.arrival - clock.skipped
        places |= {float(border)} if self._first < border < self._last else set()
        knots = [self._first]
        for one, other in pairwise(sorted(each for each in places if self._first <= each <= self._last)):
            parts = min(_MOST, max(_LEAST, math.ceil(other - one)))
            knots += [one + (other - one) * part / parts for part in range(1, parts + 1)]
        self.knots, self._sums = knots, [0.0]
        for one, other in pairwise(knots):
            self._sums.append(self._sums[-1] + self._between(one, other))
        self._origin = 0.0
        self._origin = self.gone(0.0)

    def gone(self, frame: float) -> float:
        if frame <= self._first:
            return (frame - self._first) * self.speed(self._first) - self._origin
        if frame >= self._last:
            return self._sums[-1] + (frame - self._last) * self.speed(self._last) - self._origin
        before = bisect_right(self.knots, frame) - 1
        return self._sums[before] + self._between(self.knots[before], frame) - self._origin

    def _between(self, one: float, other: float) -> float:
        half = (other - one) / 2
        if half <= 0:
            return 0.0
        return half * sum(w * self.speed(one + half + half * x) for x, w in zip(_POINTS, _WEIGHTS))


_kept: Remembered[Clip, Retiming] = Remembered()


def retiming(clip: Clip) -> Retiming:
    """The way through its source of a clip that shows footage, sounds or groups clips."""
    known = _kept.find(clip)
    return known if known is not None else _kept.keep(clip, Retiming(clip))


def exact(value: float) -> Fraction:
    return Fraction(round(value * _GRAIN), _GRAIN)


def steady_speed(content: Footage | Group | Sound) -> float:
    """The speed of a content that has one; where it is keyed, the first key's."""
    given = content.speed
    if isinstance(given, (int, float)):
        return given
    return number(given.value if given.state == "fixed" else given.keys[0].value)


def speeds_of(content: Footage | Sound) -> list[float]:
    """All speeds of a content that are set: one, or those of its keys."""
    given = content.speed
    return [number(each) for each in ([given.value] if given.state == "fixed" else [key.value for key in given.keys])]
