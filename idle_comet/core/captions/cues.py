"""A caption as a file has it."""

from __future__ import annotations

import html
import re
from typing import NamedTuple

from ..contents.caption import SpokenWord


class HeardWord(NamedTuple):
    """A word that was heard: from when to when, in seconds, and how sure its hearer was, 0..1."""

    text: str
    begin: float
    end: float
    sure: float = 1.0


class Cue(NamedTuple):
    """Words and their times in milliseconds; for the rest see `contents.caption.Caption`."""

    begin: int
    end: int
    text: str
    name: str = ""
    settings: str = ""
    marked: str = ""
    before: str = ""
    words: tuple[SpokenWord, ...] = ()


class Read(NamedTuple):
    """A file of captions: what stands before the first and after the last, how its lines end, and what was noticed."""

    cues: list[Cue]
    head: str
    foot: str
    lines: str
    notes: list[str]


_TAG = re.compile(r"</?[^<>\n]{1,200}>|\{\\[^{}\n]{0,100}\}")


def plain(marked: str) -> str:
    """The words without a file's marks: tags left out, entities as the characters they stand for."""
    return html.unescape(_TAG.sub("", marked)).replace("\u200e", "").replace("\u200f", "").strip("\n")
