"""Heard words as captions: ended where a sentence or a pause ends, broken where lines read well."""

from __future__ import annotations

from typing import Sequence

from ..contents.caption import SpokenWord
from .cues import Cue, HeardWord
from .reading_time import CHARACTERS_A_SECOND

WIDTH = 38
"""Characters of a line at most; a longer word has a line of its own."""

LINES = 2
PAUSE = 0.6
"""Seconds of silence at which a caption ends."""

SHORTEST, LONGEST = 1.0, 7.0
"""Seconds that a caption stays."""

_AFTER = 0.25
"""Seconds that it stays after its last word, where nothing follows."""

_WEAK = {"a", "an", "and", "at", "but", "by", "for", "from", "in", "is", "no", "of", "on", "or", "our", "so", "than",
         "that", "the", "their", "to", "we", "what", "when", "with", "you", "your",
         "der", "die", "das", "ein", "eine", "und", "im", "in", "zu", "von", "mit", "auf", "den", "dem"}  # fmt: skip
"""Words that lean on the next: a line does not end with one."""

_BEGIN = {"and", "because", "but", "for", "from", "if", "in", "on", "or", "so", "than", "that", "though", "to", "until",
          "when", "where", "which", "while", "who", "with",
          "aber", "als", "auf", "bis", "dass", "denn", "mit", "oder", "und", "weil", "wenn", "wo"}  # fmt: skip
"""Words with which something new begins: it reads well to break before one."""


def cues_of(words: Sequence[HeardWord], width: int = WIDTH, lines: int = LINES) -> list[Cue]:
    """Captions of heard words, in milliseconds."""
    groups = [part for run in _runs(words, width * lines) for part in _parted(run, width * lines)]
    cues = []
    for number, group in enumerate(groups):
        follows = groups[number + 1][0].begin if number + 1 < len(groups) else float("inf")
        words_of = broken([each.text for each in group], width, lines)
        begin = group[0].begin
        least = max(SHORTEST, len(words_of) / CHARACTERS_A_SECOND)
        end = max(group[-1].end, min(follows, max(group[-1].end + _AFTER, begin + least)))
        said = tuple(
            SpokenWord(text=text, begin=round(first - begin, 3), end=round(last - begin, 3), sure=sure)
            for text, first, last, sure in group
        )
        cues.append(Cue(round(begin * 1000), round(end * 1000), words_of, words=said))
    return cues


def _runs(words: Sequence[HeardWord], most: int) -> list[list[HeardWord]]:
    """Words that belong together: up to the end of a sentence or a pause; short sentences that follow at once share
    one."""
    runs: list[list[HeardWord]] = []
    for word in words:
        now = runs[-1] if runs else None
        if now is None or word.begin - now[-1].end >= PAUSE:
            runs.append([word])
        elif now[-1].text[-1:] in ".!?…" and (_letters(now) >= most * 0.3 or word.begin - now[-1].end > 0.3):
            runs.append([word])
        else:
            now.append(word)
    return runs


def _letters(words: Sequence[HeardWord]) -> int:
    return sum(len(each.text) + 1 for each in words) - 1


def _parted(run: list[HeardWord], most: int) -> list[list[HeardWord]]:
    """A run in as few parts as each have room and stay no longer than they may, as even as they can be; rather after a
    comma, never after a word that leans on the next where there is another way."""
    if (_letters(run) <= most and run[-1].end - run[0].begin <= LONGEST) or len(run) < 2:
        return [run]
    whole = _letters(run)

    def price(place: int) -> float:
        last = run[place - 1].text
        uneven = abs(_letters(run[:place]) - whole / 2)
        stops = last[-1:] in ",;:–—.!?"
        return uneven + (14 if _leans(last) else 0) - (10 if stops else 9 if _begins(run[place].text) else 0)

    place = min(range(1, len(run)), key=price)
    return [*_parted(run[:place], most), *_parted(run[place:], most)]


def _begins(word: str) -> bool:
    return word.casefold().strip(".,;:") in _BEGIN


def _leans(word: str) -> bool:
    return word.casefold().strip(".,;:") in _WEAK


def broken(words: Sequence[str], width: int, lines: int = LINES) -> str:
    """Words on as few lines as hold them, as even as they can be: not after a word that leans on the next, rather after
    a comma, the upper line not the longer one by much."""
    text = " ".join(words)
    if len(text) <= width or lines < 2 or len(words) < 2:
        return text
    if len(text) > width * 2 or lines > 2:
        return _filled(words, width)
    best, cost = text, float("inf")
    for place in range(1, len(words)):
        upper, lower = " ".join(words[:place]), " ".join(words[place:])
        over = max(0, len(upper) - width) + max(0, len(lower) - width)
        price = abs(len(upper) - len(lower)) + 100 * over
        price += 12 if _leans(words[place - 1]) else 0
        price -= 8 if words[place - 1][-1:] in ",;:.!?–—" else 6 if _begins(words[place]) else 0
        price += 3 if len(upper) > len(lower) + 6 else 0
        if price < cost:
            best, cost = f"{upper}\n{lower}", price
    return best


def _filled(words: Sequence[str], width: int) -> str:
    made: list[str] = []
    for word in words:
        if made and len(made[-1]) + 1 + len(word) <= width:
            made[-1] += f" {word}"
        else:
            made.append(word)
    return "\n".join(made)
