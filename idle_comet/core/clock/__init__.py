"""Exact rates, timecode, and the three spans of a clip."""

from .rate import Rate
from .spans import LocalClock, Spans, fit_spans
from .timecode import TimecodeError, format_timecode, parse_time

__all__ = ["LocalClock", "Rate", "Spans", "TimecodeError", "fit_spans", "format_timecode", "parse_time"]
