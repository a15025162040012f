"""Exact rates, timecode, and the three spans of a clip."""

from .rate import Rate
from .spans import LocalClock, Spans, fit_spans
from .timecode import Numbering, TimecodeError, format_timecode, numbering_of, parse_time

__all__ = [
    "LocalClock",
    "Numbering",
    "Rate",
    "Spans",
    "TimecodeError",
    "fit_spans",
    "format_timecode",
    "numbering_of",
    "parse_time",
]
