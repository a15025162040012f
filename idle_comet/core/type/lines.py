"""Where a text breaks into lines."""

from __future__ import annotations

from typing import Callable, Iterator

from icu4py.breakers import LineBreaker


def _stops(text: str) -> list[int]:
    """Where a line may break (UAX #14; Thai, Khmer, Lao and Burmese words by ICU's dictionaries). No hyphenation."""
    # Breaks are counted in UTF-16 units nowhere here: the pieces are strings, so their lengths add up.
    stops, at = [], 0
    for piece in LineBreaker(text, "en"):
        at += len(piece)
        stops.append(at)
    return stops


def broken(
    text: str, measure: float | None, width: Callable[[int, int], float], even: bool
) -> list[tuple[int, int, bool]]:
    """Lines as (first character, end, whether the line ends by itself), filled as full as the measure allows.

    A word longer than the measure has a line of its own; nothing is cut. `even` lines have as like a length as the
    same number of lines allows: a title whose last word stands alone looks like an accident.
    """
    return [
        line
        for start, end in _typed(text)
        for line in (_even(text, start, end, measure, width, even) if measure else [(start, end, True)])
    ]


def _typed(text: str) -> Iterator[tuple[int, int]]:
    start = 0
    for words in text.split("\n"):
        yield start, start + len(words)
        start += len(words) + 1


def _even(
    text: str, start: int, end: int, measure: float, width: Callable[[int, int], float], even: bool
) -> list[tuple[int, int, bool]]:
    lines = _filled(text, start, end, measure, width)
    if not even or len(lines) < 2 or len(lines) > 12:
        return lines
    low, high = measure / len(lines) / 2, measure
    for _ in range(10):
        tried = (low + high) / 2
        again = _filled(text, start, end, tried, width)
        if len(again) == len(lines) and all(width(a, b) <= measure for a, b, _ in again):
            lines, high = again, tried
        else:
            low = tried
    return lines


def _filled(
    text: str, start: int, end: int, measure: float, width: Callable[[int, int], float]
) -> list[tuple[int, int, bool]]:
    lines, begin, fits = [], start, None
    stops = [start + stop for stop in _stops(text[start:end]) if stop < end - start] + [end]
    for stop in stops:
        # The space at a line's end hangs: it takes no room.
        if fits is not None and width(begin, begin + len(text[begin:stop].rstrip())) > measure:
            lines.append((begin, begin + len(text[begin:fits].rstrip()), False))
            begin = fits
        fits = stop
    lines.append((begin, end, True))
    return lines
