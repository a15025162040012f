"""Reading captions: SubRip (SRT) and WebVTT (W3C), as they are found in the world."""

from __future__ import annotations

import re
from typing import Callable

from .cues import Cue, Read, plain, plain_srt
from .encodings import ENCODINGS, decoded, encoding_of
from .reading_time import reading_seconds

MOST_BYTES = 8 << 20
MOST_CUES = 5000
_LONGEST = 4000
"""Characters of one caption."""


class CaptionsError(ValueError):
    """A file holds no captions; the message says what was found instead."""


_TIME = r"(?:(\d{1,5})\s*:\s*)?(\d{1,2})\s*:\s*(\d{1,2})(?:\s*[,.:]\s*(\d{1,3}))?"
_TIMES = re.compile(rf"^\s*(-?){_TIME}\s*--?>\s*(-?){_TIME}(?P<settings>.*)$")
_LONGEST_SHOWN = 24 * 3_600_000
"""Milliseconds; a caption that is longer on the screen has a slip in its times."""
_ARROW = re.compile(r"--?>")
_INNER = re.compile(rf"<{_TIME}>")


def read_captions(data: bytes, encoding: str | None = None) -> Read:
    """A file's captions in order of time. Nothing that holds words is left out: what is noticed is told, sentence by
    sentence. Without an `encoding` it is the likely one. Raises CaptionsError for what is no file of captions."""
    if len(data) > MOST_BYTES:
        raise CaptionsError(f"it is larger than {MOST_BYTES >> 20} MB")
    notes = []
    found = None if encoding else encoding_of(data)
    text = decoded(data, encoding or (found.name if found else ""))
    if found and not found.sure:
        notes.append(f"Its characters were read as {ENCODINGS[found.listed]}; look at accented letters.")
    if "\0" in text:
        raise CaptionsError("it is no text")
    lines = "\r\n" if "\r\n" in text else "\n"
    text = text.replace("\r\n", "\n").replace("\r", "\n")
    if not text.strip():
        raise CaptionsError("it is empty")
    if not _ARROW.search(text):
        raise CaptionsError("no times of captions (00:00:01,000 --> 00:00:02,000) were found in it")
    vtt = text.startswith("WEBVTT")
    words_of = plain if vtt else plain_srt
    blocks = _blocks(text)
    head = ""
    if vtt:
        head, blocks = blocks[0][1], blocks[1:]
    cues: list[Cue] = []
    waiting = ""
    for number, block in blocks:
        cue = _cue(block, number, notes, cues[-1] if cues else None, words_of)
        if cue is None:
            waiting += block + "\n\n"
            continue
        cues.append(cue._replace(before=waiting.rstrip("\n")))
        waiting = ""
        if len(cues) > MOST_CUES:
            raise CaptionsError(f"it has more than {MOST_CUES} captions")
    if not cues:
        raise CaptionsError("none of its captions has times that can be read")
    if any(one.begin > other.begin for one, other in zip(cues, cues[1:])):
        notes.append("Its captions were not in order of time; they are now.")
        cues.sort(key=lambda cue: (cue.begin, cue.end))
    return Read(cues, head, waiting.rstrip("\n"), lines, notes)


def _blocks(text: str) -> list[tuple[int, str]]:
    """Runs of lines without an empty one between them, each with the number of its first line."""
    found: list[tuple[int, str]] = []
    run: list[str] = []
    for number, line in enumerate([*text.split("\n"), ""], 1):
        if line.strip():
            run.append(line)
        elif run:
            found.append((number - len(run), "\n".join(run)))
            run = []
    return found


def _milliseconds(hours: str | None, minutes: str, seconds: str, part: str | None) -> int:
    whole = (int(hours or 0) * 60 + int(minutes)) * 60 + int(seconds)
    # One or two digits after the point are tenths and hundredths.
    return whole * 1000 + int((part or "0").ljust(3, "0"))


def _cue(block: str, number: int, notes: list[str], last: Cue | None, words_of: Callable[[str], str]) -> Cue | None:
    """One caption; None for a block that is none, such as a note."""
    lines = block.split("\n")
    place = next((at for at, line in enumerate(lines[:2]) if _ARROW.search(line)), None)
    if place is None:
        return None
    name = lines[0] if place else ""
    marked = "\n".join(lines[place + 1 :])[:_LONGEST]
    words = words_of(marked)
    found = _TIMES.match(lines[place])
    if found is None:
        begin = last.end + 40 if last else 0
        end = begin + round(1000 * max(1.0, reading_seconds(words)))
        notes.append(
            f"Line {number + place}: “{lines[place].strip()[:60]}” are no times; its words were put after those before."
        )
        return Cue(begin, end, words, name, "", marked)
    groups = found.groups()
    begin, end = _milliseconds(*groups[1:5]), _milliseconds(*groups[6:10])
    if groups[0] or groups[5]:
        notes.append(f"Line {number + place}: a time before the film’s beginning was put at its beginning.")
        begin, end = 0 if groups[0] else begin, 0 if groups[5] else end
    if end < begin:
        notes.append(f"Line {number + place}: it ended before it began; its times were changed for each other.")
        begin, end = end, begin
    if end == begin:
        end = begin + round(1000 * max(0.5, reading_seconds(words)))
        notes.append(f"Line {number + place}: it had no length; it is shown as long as it takes to read.")
    if begin > 360_000_000:
        notes.append(
            f"Line {number + place}: it begins after more than a hundred hours; it was put after those before."
        )
        begin, end = (last.end if last else 0), (last.end if last else 0) + min(end - begin, 10_000)
    if end - begin > _LONGEST_SHOWN:
        end = begin + round(1000 * max(0.5, reading_seconds(words)))
        notes.append(f"Line {number + place}: it ended after more than a day; it is shown as long as it takes to read.")
    return Cue(begin, end, words, name, found["settings"], marked)
