"""Arrival, stay and departure: how a clip's own time is told at any length."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Spans:
    """Lengths in frames that really apply, and whether they had to shrink."""

    arrival: int
    stay: int
    departure: int
    shrunk: bool


def fit_spans(length: int, arrival: int, departure: int) -> Spans:
    """Spans of a clip of `length` frames whose editor asked for these lengths.

    If the clip is shorter than both together they shrink in proportion:
    in' = round(T·in/(in + out)), out' = T − in'.
    """
    asked = arrival + departure
    if asked <= length:
        return Spans(arrival, length - asked, departure, False)
    # Round half up in whole numbers, so that no platform's float decides a frame.
    fitted = (2 * length * arrival + asked) // (2 * asked)
    return Spans(fitted, 0, length - fitted, True)


@dataclass(frozen=True, slots=True)
class LocalClock:
    """Turns what a key counts from into frames of a clip.

    A key `a` frames from the head stands at frame a; a key `a` frames from the
    tail (a ≤ 0) stands at length − 1 + a, so a departure is complete on the last
    frame shown; a key in proportion p stands at p·(length − 1). Where the spans
    had to shrink, both ends run quicker by their own ratio.

    A clip that was cut shows a window of a longer motion: `length` is the whole
    motion's, `skipped` how many of its frames lie before the clip's first. Frames
    are always counted from the clip's first.
    """

    length: int
    asked_in: int
    asked_out: int
    spans: Spans
    skipped: int = 0

    @classmethod
    def of(cls, length: int, arrival: int, departure: int, skipped: int = 0, cut_off: int = 0) -> "LocalClock":
        """The clock of a clip `length` frames long, `cut_off` frames of whose motion lie past its end."""
        whole = length + skipped + cut_off
        return cls(whole, arrival, departure, fit_spans(whole, arrival, departure), skipped)

    def covering(self, arrival: float, departure: float) -> "LocalClock":
        """This clock with its asked spans grown to hold keys that reach further in.

        A span grows into the other as far as no keys stand there; only where keys would cross do both shrink.
        """
        reach_in, reach_out = _ceil(arrival), _ceil(departure)
        if reach_in <= self.asked_in and reach_out <= self.asked_out:
            return self
        arrival, departure = max(self.asked_in, reach_in), max(self.asked_out, reach_out)
        if reach_out <= self.asked_out:
            departure = max(reach_out, min(departure, self.length - arrival))
        if reach_in <= self.asked_in:
            arrival = max(reach_in, min(arrival, self.length - departure))
        return LocalClock(self.length, arrival, departure, fit_spans(self.length, arrival, departure), self.skipped)

    def from_head(self, at: float) -> float:
        if self.spans.shrunk and self.asked_in:
            at = at * self.spans.arrival / self.asked_in
        return at - self.skipped

    def from_tail(self, at: float) -> float:
        if self.spans.shrunk and self.asked_out:
            at = at * self.spans.departure / self.asked_out
        return self.length - 1 + at - self.skipped

    def in_proportion(self, at: float) -> float:
        return at * (self.length - 1) - self.skipped

    def counted(self, end: str, frame: float) -> float:
        """What a key at this frame counts from "head", "tail" or in "proportion": the inverse of the above."""
        last, frame = self.length - 1, frame + self.skipped
        if end == "proportion":
            return min(1.0, max(0.0, frame / last)) if last else 0.0
        if end == "head":
            ratio = self.asked_in / self.spans.arrival if self.spans.shrunk and self.spans.arrival else 1
            return max(0.0, frame * ratio)
        ratio = self.asked_out / self.spans.departure if self.spans.shrunk and self.spans.departure else 1
        return min(0.0, (frame - last) * ratio)

    def whole_frame(self, frame: float) -> float:
        """A frame of the clip as one of the whole motion."""
        return frame + self.skipped


def _ceil(value: float) -> int:
    """Up to a whole frame; what only a rounding lifted above one is that one."""
    return int(-(-(value - 1e-9) // 1))
