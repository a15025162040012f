"""Writing captions, as SubRip (SRT) or WebVTT."""

from __future__ import annotations

from typing import Literal, Sequence

from .cues import Cue, plain, plain_srt, remarked, unmarked

Sort = Literal["srt", "vtt"]


def _time(milliseconds: int, point: str) -> str:
    seconds, part = divmod(max(0, milliseconds), 1000)
    minutes, seconds = divmod(seconds, 60)
    hours, minutes = divmod(minutes, 60)
    return f"{hours:02}:{minutes:02}:{seconds:02}{point}{part:03}"


def _payload(cue: Cue, sort: Sort, own: Sort) -> str:
    """The words with their file's marks, as long as they are the words that were marked."""
    if cue.marked and (plain if own == "vtt" else plain_srt)(cue.marked) == cue.text:
        return cue.marked if sort == own else _without_gaps(remarked(cue.marked, sort == "vtt"))
    return _without_gaps(unmarked(cue.text, sort == "vtt"))


def _without_gaps(words: str) -> str:
    """An empty line would end the caption."""
    return "\n".join(line if line.strip() else "\u00a0" for line in words.split("\n"))


def write_captions(cues: Sequence[Cue], sort: Sort, head: str = "", foot: str = "", lines: str = "\n") -> bytes:
    """A file of captions, UTF-8. What was read from a file of the same sort and not changed comes out byte for byte;
    for the other sort, its words do."""
    point = "." if sort == "vtt" else ","
    own: Sort = "vtt" if head.startswith("WEBVTT") else "srt"
    blocks = []
    if sort == "vtt":
        blocks.append(head if own == "vtt" else "WEBVTT")
    for number, cue in enumerate(cues, 1):
        blocks += _beside(cue.before, sort, own)
        settings = cue.settings if cue.settings.strip() and sort == own else ""
        times = f"{_time(cue.begin, point)} --> {_time(cue.end, point)}{settings}"
        name = (cue.name if sort == own else "") or ("" if sort == "vtt" else str(number))
        blocks.append("\n".join(each for each in (name, times, _payload(cue, sort, own)) if each))
    blocks += _beside(foot, sort, own)
    return ("\n\n".join(blocks) + "\n").replace("\n", lines).encode()


def _beside(text: str, sort: Sort, own: Sort) -> list[str]:
    """What stands between captions and is none: SubRip has no place for notes, and in WebVTT it is one."""
    if not text or sort == own:
        return [text] if text else []
    return ["NOTE\n" + text.replace("-->", "->")] if sort == "vtt" else []
