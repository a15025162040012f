"""How large frames are painted while a film plays, so that none is late."""

from __future__ import annotations

SHARES = (1.0, 0.5, 0.25)
"""Sizes, as shares of the preview's: the largest that is painted in time is taken."""

_IN_TIME = 0.8
"""Share of a frame's length that painting may take: the rest is for its way to the screen."""

_NEXT = 0.5
"""How much of a process each one beyond the first counts for: they share the machine with the browser."""

_NEWEST = 0.5
"""How much the newest frame counts in what frames take."""


class Pace:
    """What frames take at each size, in a run of frames of `interval` seconds each that so many processes paint."""

    def __init__(self, interval: float, processes: int) -> None:
        self._processes = processes
        self._allowed = interval * _IN_TIME * (1 + _NEXT * (processes - 1))
        self._seconds: dict[float, float] = {}

    def took(self, share: float, seconds: float) -> None:
        """Note what a frame took to be painted at a size."""
        before = self._seconds.get(share, seconds)
        # What is dear now may stay so; what is cheap now may have been luck.
        self._seconds[share] = max(seconds, before + _NEWEST * (seconds - before))
        for other in self._seconds:
            if other > share:
                # What comes may be cheaper than what was measured at the larger size.
                self._seconds[other] = min(self._seconds[other], self._seconds[share] * (other / share) ** 2)

    def share(self) -> float:
        """The largest size that is painted in time; the smallest where none is."""
        for share in SHARES:
            if self._expected(share) <= self._allowed:
                return share
        return SHARES[-1]

    def at_once(self) -> int:
        """How many frames are to be painted at a time."""
        return self._processes if self._expected(self.share()) > self._allowed / 4 else 1

    def _expected(self, share: float) -> float:
        """Seconds at a size; where none was painted at it, by the px of the nearest smaller one. Nothing is known at
        the beginning: then frames count as cheap, and the first ones, for which nobody waits, correct it."""
        if share in self._seconds:
            return self._seconds[share]
        smaller = [each for each in self._seconds if each < share]
        if not smaller:
            return 0.0
        return self._seconds[max(smaller)] * (share / max(smaller)) ** 2
