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


_TAG = re.compile(r"</?[^<>\n]{1,200}>")
_SRT_TAG = re.compile(
    r"</?(?:i|b|u|s|font|ruby|rt)(?:\s[^<>\n]{0,200})?/?>|\{\\[^{}\n]{0,100}\}|\{/?[ibuy](?::[^{}\n]{0,40})?\}", re.I
)
_SRT_ENTITY = re.compile(r"&(?:amp|lt|gt|nbsp|quot|apos|lrm|rlm|#\d{1,6}|#x[0-9a-f]{1,6});", re.I)


def plain(marked: str) -> str:
    """The words of a WebVTT caption: without tags, entities as the characters they stand for."""
    return _settled(_vtt_words(marked))


def _vtt_words(marked: str) -> str:
    return html.unescape(_TAG.sub("", marked))


def plain_srt(marked: str) -> str:
    """The words of a SubRip caption. It has few marks; any other < or & is a character like any other."""
    return _settled(_srt_words(marked))


def _srt_words(marked: str) -> str:
    return _SRT_ENTITY.sub(lambda found: html.unescape(found[0]), _SRT_TAG.sub("", marked))


def _settled(words: str) -> str:
    return words.replace("\u200e", "").replace("\u200f", "").strip("\n")


def unmarked(words: str, vtt: bool) -> str:
    """Words as a WebVTT or a SubRip file writes them: in SubRip only what would be read as a mark is written
    otherwise."""
    if vtt:
        return html.escape(words, quote=False)
    if _srt_words(words) == words:
        return words
    return words.replace("&", "&amp;").replace("<", "&lt;").replace("{", "&#123;")


_KEPT = re.compile(r"(</?[ibu]>)", re.I)


def remarked(marked: str, vtt: bool) -> str:
    """A caption's marks for the other sort of file, WebVTT if `vtt`: italic, bold and underlined words stay so, all
    other marks are left out, and every character is written as that sort writes it."""
    parts = _KEPT.split(marked)
    for at in range(0, len(parts), 2):
        parts[at] = unmarked(_srt_words(parts[at]) if vtt else _vtt_words(parts[at]), vtt)
    return "".join(part.lower() if at % 2 else part for at, part in enumerate(parts))
