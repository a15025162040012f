"""Writing captions, as SubRip (SRT) or WebVTT."""

from __future__ import annotations

import html
from typing import Literal, Sequence

from .cues import Cue, plain

Sort = Literal["srt", "vtt"]


def _time(milliseconds: int, point: str) -> str:
    seconds, part = divmod(max(0, milliseconds), 1000)
    minutes, seconds = divmod(seconds, 60)
    hours, minutes = divmod(minutes, 60)
    return f"{hours:02}:{minutes:02}:{seconds:02}{point}{part:03}"


def _payload(cue: Cue, sort: Sort) -> str:
    """The words with their file's marks, as long as they are the words that were marked."""
    if cue.marked and plain(cue.marked) == cue.text:
        return cue.marked
    # An empty line would end the caption.
    lines = "\n".join(line if line.strip() else "\u00a0" for line in cue.text.split("\n"))
    return html.escape(lines, quote=False).replace("--&gt;", "--&gt;") if sort == "vtt" else lines


def write_captions(cues: Sequence[Cue], sort: Sort, head: str = "", foot: str = "", lines: str = "\n") -> bytes:
    """A file of captions, UTF-8. What was read from a file of the same sort and not changed comes out byte for byte."""
    point = "." if sort == "vtt" else ","
    blocks = []
    if sort == "vtt":
        blocks.append(head if head.startswith("WEBVTT") else "WEBVTT")
    for number, cue in enumerate(cues, 1):
        if cue.before and (sort == "vtt" or not cue.before.startswith(("NOTE", "STYLE", "REGION"))):
            blocks.append(cue.before)
        settings = cue.settings if cue.settings.strip() else ""
        times = f"{_time(cue.begin, point)} --> {_time(cue.end, point)}{settings}"
        name = cue.name or ("" if sort == "vtt" else str(number))
        blocks.append("\n".join(each for each in (name, times, _payload(cue, sort)) if each))
    if foot:
        blocks.append(foot)
    return ("\n\n".join(blocks) + "\n").replace("\n", lines).encode()
