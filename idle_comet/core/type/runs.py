"""Cutting a line into runs that can be shaped: one setting, one face, one script, one direction."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

import regex
from fontTools import unicodedata as ucd

from .bidi import levels
from .faces import Face, chain_for
from .setting import Range, Setting

_EMOJI = regex.compile(r"\p{Emoji_Presentation}|\p{Emoji}\uFE0F|\p{Regional_Indicator}")
_CLUSTER = regex.compile(r"\X")


class Run(NamedTuple):
    """Characters [start, end) of the line; an odd level runs from right to left."""

    start: int
    end: int
    setting: Setting
    face: Face
    script: str
    level: int


def clusters(text: str) -> list[tuple[int, int]]:
    """Grapheme clusters (UAX #29) as [start, end)."""
    return [match.span() for match in _CLUSTER.finditer(text)]


@lru_cache(maxsize=4096)
def script_of(cluster: str) -> str:
    """The script of a cluster as an ISO 15924 tag; Zyyy where it takes that of its neighbours."""
    for each in cluster:
        script = ucd.script(each)
        if script not in ("Zyyy", "Zinh", "Zzzz"):
            return script
    return "Zyyy"


def cut(text: str, offset: int, base: Setting, ranges: tuple[Range, ...]) -> list[Run]:
    """The runs of a line in the order of its characters. `offset` is the line's first character in the whole text."""
    order = [0] * len(text) if text.isascii() else levels(text)
    pieces: list[Run] = []
    script = "Zyyy"
    spans = clusters(text)
    scripts = [script_of(text[start:end]) for start, end in spans]
    # What comes before the first letter takes its script.
    script = next((each for each in scripts if each != "Zyyy"), "Latn")
    faces: dict[tuple[str, Setting, str], Face] = {}
    for (start, end), own in zip(spans, scripts):
        script = own if own != "Zyyy" else script
        setting = next((each.setting for each in reversed(ranges) if each.start <= offset + start < each.end), base)
        cluster = text[start:end]
        before = pieces[-1] if pieces else None
        if (
            before
            and before.setting == setting
            and _binds(cluster)
            and before.face.has([ord(each) for each in cluster])
            and not before.face.colourful
        ):
            # Spaces and stops stay in the face of the words they stand between, so that kerning and joining go on.
            face = before.face
        else:
            known = faces.get((cluster, setting, script))
            face = known or _face(cluster, setting, bool(_EMOJI.search(cluster)) and "\ufe0e" not in cluster, script)
            faces[cluster, setting, script] = face
        level = order[start]
        if before and (before.setting, before.face, before.script, before.level) == (setting, face, script, level):
            pieces[-1] = before._replace(end=end)
        else:
            pieces.append(Run(start, end, setting, face, script, level))
    return pieces


def _binds(cluster: str) -> bool:
    return all(ucd.category(each)[0] in "ZP" for each in cluster)


def _face(cluster: str, setting: Setting, emoji: bool, script: str) -> Face:
    """The first face of the setting's chain with a glyph for every character; the first of all where none has."""
    chain = chain_for(setting.typeface, setting.weight, setting.width, script, emoji)
    wanted = [
        ord(each)
        for each in cluster
        if each.isprintable() and not ucd.category(each) in ("Cf", "Mn") or ord(each) == 0x20
    ]
    marks = [ord(each) for each in cluster if ucd.category(each) == "Mn" and not 0xFE00 <= ord(each) <= 0xFE0F]
    for face in chain:
        if face.has(wanted + marks):
            return face
    # A mark may be missing and still be composed; a letter may not.
    return next((face for face in chain if wanted and face.has(wanted)), chain[0])


def in_visual_order(runs: list[Run]) -> list[Run]:
    """From left to right as seen (UAX #9, L2): from the highest level down, what stands together is turned round."""
    out = list(runs)
    highest = max((run.level for run in runs), default=0)
    for level in range(highest, 0, -1):
        start = None
        for index in range(len(out) + 1):
            inside = index < len(out) and out[index].level >= level
            if inside and start is None:
                start = index
            elif not inside and start is not None:
                out[start:index] = reversed(out[start:index])
                start = None
    return out
