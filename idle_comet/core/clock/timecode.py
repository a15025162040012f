"""SMPTE timecode, and times as an editor types them."""

from __future__ import annotations

import re
from fractions import Fraction

from ..modelled import Model
from .rate import Rate


class TimecodeError(ValueError):
    """A time that can't be read; the message says what would be."""


class Numbering(Model):
    """How timecode numbers frames: `base` to a second, and how many numbers each minute but every tenth leaves out."""

    base: int
    dropped: int


def numbering_of(rate: Rate) -> Numbering:
    return Numbering(base=rate.nominal, dropped=rate.nominal // 15 if rate.drops else 0)


def format_timecode(frame: int, rate: Rate) -> str:
    """`HH:MM:SS:FF`, with `;` before the frames where numbers are dropped.

    SMPTE ST 12-1 drop-frame: two numbers (four at 59.94) are skipped at the
    start of every minute but each tenth. Hours wrap after 24. Negative frames
    get a leading minus.
    """
    sign, frame = ("-", -frame) if frame < 0 else ("", frame)
    numbering = numbering_of(rate)
    base, skip = numbering.base, numbering.dropped
    if skip:
        minute, ten = base * 60 - skip, base * 600 - skip * 9
        tens, rest = divmod(frame, ten)
        extra = 0 if rest < base * 60 else 1 + (rest - base * 60) // minute
        frame += skip * (tens * 9 + extra)
    seconds, ff = divmod(frame, base)
    minutes, ss = divmod(seconds, 60)
    hours, mm = divmod(minutes, 60)
    width = max(2, len(str(base - 1)))
    return f"{sign}{hours % 24:02d}:{mm:02d}:{ss:02d}{';' if skip else ':'}{ff:0{width}d}"


def _from_parts(parts: list[int], rate: Rate) -> int:
    """Frames from [[hours, minutes,] seconds,] frames; fields may overflow."""
    hours, minutes, seconds, frames = [0] * (4 - len(parts)) + parts
    total_minutes = hours * 60 + minutes
    count = (total_minutes * 60 + seconds) * rate.nominal + frames
    skip = numbering_of(rate).dropped
    if skip:
        if total_minutes % 10 and seconds == 0 and frames < skip:
            raise TimecodeError(
                f"{hours:02d}:{minutes:02d}:00;{frames:02d} does not exist: at {rate} frames per second "
                f"that minute begins with ;{skip:02d}."
            )
        count -= skip * (total_minutes - total_minutes // 10)
    return count


_LONGEST = 200
_TERM = re.compile(r"([+-]?)(\d+(?:\.\d+)?)(f|s|m)?")


def parse_time(text: str, rate: Rate, now: int = 0) -> int:
    """A frame number from what an editor types.

    `75` or `75f` frames, `3s`, `0.5s`, `1m`, sums of those (`1s+5f`), a leading
    sign for a move from `now` (`+20f`, `-1s`), timecode (`00:00:03:07`), or its
    last fields, as the ruler shows them (`2:00` is two seconds).
    """
    typed = text.strip().lower().replace(" ", "")
    if not typed:
        raise TimecodeError("Type a time, such as 75, 3s, 2:00, +20f or 00:00:03:07.")
    if len(typed) > _LONGEST:
        raise TimecodeError(f"A time is no longer than {_LONGEST} characters.")
    if ":" in typed or ";" in typed:
        fields = re.split(r"[:;]", typed)
        if 2 <= len(fields) <= 4 and all(re.fullmatch(r"\d{1,6}", field) for field in fields):
            return _from_parts([int(field) for field in fields], rate)
        raise TimecodeError(f"“{text}” is not a timecode. Write it as 00:00:03:07, or 2:00 for two seconds.")
    position, total = 0, Fraction(0)
    relative = typed[0] in "+-"
    while position < len(typed):
        match = _TERM.match(typed, position)
        if not match or (position and not match[1]):
            raise TimecodeError(f"“{text}” is not a time. Write 75, 3s, 2:00, +20f or 00:00:03:07.")
        amount = Fraction(match[2])
        if match[3] == "s":
            amount *= rate.fraction
        elif match[3] == "m":
            amount *= rate.fraction * 60
        total += -amount if match[1] == "-" else amount
        position = match.end()
    frames = int((total + Fraction(1, 2)) // 1)
    return now + frames if relative else frames
