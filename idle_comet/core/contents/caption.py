"""What a text knows as a caption: its exact times, its words as they are said, its markup in the file it came from."""

from __future__ import annotations

import re
from difflib import SequenceMatcher
from typing import Annotated, NamedTuple

from pydantic import Field, StringConstraints

from ..modelled import Frozen

Seconds = Annotated[float, Field(ge=-86_400, le=86_400, allow_inf_nan=False)]


class SpokenWord(Frozen):
    """A word as it is said, in seconds from the clip's head as it was before it was cut; `sure` is how sure its hearer
    was, 0..1."""

    text: Annotated[str, StringConstraints(min_length=1, max_length=200)]
    begin: Seconds
    end: Seconds
    sure: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 1.0


class Caption(Frozen):
    """`early` and `late` are the seconds by which its exact times lie after its first frame and after its end: a file's
    times are finer than frames."""

    early: Annotated[float, Field(ge=-1, le=1, allow_inf_nan=False)] = 0.0
    late: Annotated[float, Field(ge=-1, le=1, allow_inf_nan=False)] = 0.0
    name: Annotated[str, StringConstraints(max_length=500)] = ""
    """The number or name it has in its file."""
    settings: Annotated[str, StringConstraints(max_length=500)] = ""
    """What stands after its times there."""
    marked: Annotated[str, StringConstraints(max_length=4000)] = ""
    """Its words with the file's own marks; written again as long as the words are the same."""
    before: Annotated[str, StringConstraints(max_length=20_000)] = ""
    """What stands before it in its file and is no caption."""
    words: Annotated[tuple[SpokenWord, ...], Field(max_length=400)] = ()


class Said(NamedTuple):
    """A word of a text: characters [start, end), and from when to when it is said, in seconds."""

    start: int
    end: int
    begins: float
    ends: float


_WORD = re.compile(r"\S+")


def _plain(word: str) -> str:
    return "".join(each for each in word.casefold() if each.isalnum())


def said(text: str, words: tuple[SpokenWord, ...], seconds: float) -> list[Said]:
    """When each word of a text is said.

    Words that were heard keep their times, in whatever way the text was edited around them; what was not heard shares
    the time between its neighbours by its letters. Without any, all share the seconds that the text is shown.
    """
    own = [found.span() for found in _WORD.finditer(text)]
    times: list[tuple[float, float] | None] = [None] * len(own)
    names = [_plain(text[start:end]) for start, end in own]
    heard = [_plain(each.text) for each in words]
    if len(own) == len(words):
        # As many as were heard: each is a correction of its own.
        times = [(each.begin, each.end) for each in words]
    else:
        for mine, theirs, count in SequenceMatcher(None, names, heard, autojunk=False).get_matching_blocks():
            for number in range(count):
                word = words[theirs + number]
                times[mine + number] = (word.begin, word.end)
    _spread(times, [end - start + 1 for start, end in own], seconds)
    return [Said(*span, *when) for span, when in zip(own, times) if when is not None]


def _spread(times: list[tuple[float, float] | None], weights: list[int], seconds: float) -> None:
    """Times for those that have none: between those that have, by their weights."""
    place = 0
    while place < len(times):
        if times[place] is not None:
            place += 1
            continue
        end = place
        while end < len(times) and times[end] is None:
            end += 1
        before, after = times[place - 1] if place else None, times[end] if end < len(times) else None
        begin = before[1] if before else 0.0
        until = max(begin, after[0] if after else seconds)
        total, at = sum(weights[place:end]), begin
        for number in range(place, end):
            until_word = at + (until - begin) * weights[number] / total
            times[number] = (at, until_word)
            at = until_word
        place = end
