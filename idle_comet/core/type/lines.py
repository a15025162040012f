"""Where a text breaks into lines."""

from __future__ import annotations

from typing import Callable, Iterator

import regex

_BREAKS = regex.compile(r"(?<=[ \t\u200b\-\u2013\u2014])(?=\S)|(?<=[\p{Han}\p{Hiragana}\p{Katakana}])(?=[\p{Han}\p{Hiragana}\p{Katakana}])|(?=\p{Han})(?<=\p{Hangul})")
"""A line may break after a space or a dash, and between ideographs. No hyphenation."""


def broken(text: str, measure: float | None, width: Callable[[int, int], float], even: bool) -> list[tuple[int, int, bool]]:
    """Lines as (first character, end, whether the line ends by itself), filled as full as the measure allows.

    A word longer than the measure has a line of its own; nothing is cut. `even` lines have as like a length as the
    same number of lines allows: a title whose last word stands alone looks like an accident.
    """
    return [line for start, end in _typed(text) for line in (_even(text, start, end, measure, width, even) if measure else [(start, end, True)])]


def _typed(text: str) -> Iterator[tuple[int, int]]:
    start = 0
    for words in text.split("\n"):
        yield start, start + len(words)
        start += len(words) + 1


def _even(text: str, start: int, end: int, measure: float, width: Callable[[int, int], float], even: bool) -> list[tuple[int, int, bool]]:
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


def _filled(text: str, start: int, end: int, measure: float, width: Callable[[int, int], float]) -> list[tuple[int, int, bool]]:
    lines, begin, fits = [], start, None
    stops = [match.start() for match in _BREAKS.finditer(text, start, end)] + [end]
    for stop in stops:
        # The space at a line's end hangs: it takes no room.
        if fits is not None and width(begin, begin + len(text[begin:stop].rstrip())) > measure:
            lines.append((begin, begin + len(text[begin:fits].rstrip()), False))
            begin = fits
        fits = stop
    lines.append((begin, end, True))
    return lines
