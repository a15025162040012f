"""The Unicode Bidirectional Algorithm (UAX #9), as far as levels: which way every character of a line runs.

The names of rules (X1, W4, N0 …) are those of the annex.
"""

from __future__ import annotations

import unicodedata
from functools import cache

DEEPEST = 125
"""The highest level explicit marks may reach (max_depth of BD2)."""

_OPENS = {"LRI": 0, "RLI": 1, "FSI": None, "LRE": 0, "RLE": 1, "LRO": 0, "RLO": 1}
_ISOLATES = ("LRI", "RLI", "FSI")
_REMOVED = ("LRE", "RLE", "LRO", "RLO", "PDF", "BN")
_NEUTRAL = ("B", "S", "WS", "ON", "LRI", "RLI", "FSI", "PDI")


def levels(text: str) -> list[int]:
    """The embedding level of every character; an odd one runs from right to left.

    The first strong character gives the line's direction. Characters that the algorithm removes (X9) have the level
    of what stands before them, so that every character has one.
    """
    # Characters younger than Python's tables have no direction there; they go from left to right.
    kinds = [unicodedata.bidirectional(each) or "L" for each in text]
    ends = _isolate_ends(kinds)
    base = _first_strong(kinds, ends, 0, len(kinds))
    found, kinds = _explicit(kinds, ends, base)
    kept = [index for index, kind in enumerate(kinds) if kind not in _REMOVED]
    explicit = tuple(found)
    for run in _sequences(kinds, found, kept, ends):
        _resolve(text, kinds, explicit, found, run, base, ends)
    _close(text, found, kinds, base)
    return found


def _isolate_ends(kinds: list[str]) -> dict[int, int]:
    """Where each isolate that is closed ends (BD9), by where it begins."""
    ends, stack = {}, []
    for index, kind in enumerate(kinds):
        if kind in _ISOLATES:
            stack.append(index)
        elif kind == "PDI" and stack:
            ends[stack.pop()] = index
        elif kind == "B":
            stack.clear()
    return ends


def _first_strong(kinds: list[str], ends: dict[int, int], start: int, end: int) -> int:
    """The level by the first strong character outside isolates (P2, P3)."""
    index = start
    while index < end:
        if kinds[index] == "L":
            return 0
        if kinds[index] in ("R", "AL"):
            return 1
        index = ends.get(index, end) if kinds[index] in _ISOLATES else index + 1
    return 0


def _explicit(kinds: list[str], ends: dict[int, int], base: int) -> tuple[list[int], list[str]]:
    """X1 to X8: levels by embeddings, overrides and isolates, and the kinds as overrides make them."""
    closed = set(ends.values())
    stack: list[tuple[int, str | None, bool]] = [(base, None, False)]
    too_many_isolates = too_many_embeddings = isolates = 0
    found, out = [base] * len(kinds), list(kinds)
    for index, kind in enumerate(kinds):
        level, override, _ = stack[-1]
        if kind in _OPENS:
            isolate = kind in _ISOLATES
            found[index] = level
            if isolate and override:
                out[index] = override
            odd = _first_strong(kinds, ends, index + 1, ends.get(index, len(kinds))) if kind == "FSI" else _OPENS[kind]
            deeper = (level + 1) | 1 if odd else (level + 2) & ~1
            if deeper <= DEEPEST and not too_many_isolates and not too_many_embeddings:
                isolates += isolate
                stack.append((deeper, {"LRO": "L", "RLO": "R"}.get(kind), isolate))
            elif isolate:
                too_many_isolates += 1
            elif not too_many_isolates:
                too_many_embeddings += 1
        elif kind == "PDI":
            if too_many_isolates:
                too_many_isolates -= 1
            elif isolates and index in closed:
                too_many_embeddings = 0
                while not stack[-1][2]:
                    stack.pop()
                stack.pop()
                isolates -= 1
            level, override, _ = stack[-1]
            found[index] = level
            if override:
                out[index] = override
        elif kind == "PDF":
            if too_many_isolates:
                pass
            elif too_many_embeddings:
                too_many_embeddings -= 1
            elif not stack[-1][2] and len(stack) > 1:
                stack.pop()
            found[index] = stack[-1][0]
        elif kind == "B":
            found[index] = base
        else:
            found[index] = level
            if override and kind != "BN":
                out[index] = override
    return found, out


def _sequences(kinds: list[str], found: list[int], kept: list[int], ends: dict[int, int]) -> list[list[int]]:
    """Isolating run sequences (BD13): runs of one level, led on over what they isolate."""
    runs: list[list[int]] = []
    for index in kept:
        if runs and found[runs[-1][-1]] == found[index]:
            runs[-1].append(index)
        else:
            runs.append([index])
    begins = {run[0]: number for number, run in enumerate(runs)}
    led = {ends[run[-1]] for run in runs if run[-1] in ends}
    sequences = []
    for run in runs:
        if run[0] in led:
            continue
        whole = list(run)
        while whole[-1] in ends and ends[whole[-1]] in begins:
            whole += runs[begins[ends[whole[-1]]]]
        sequences.append(whole)
    return sequences


def _resolve(
    text: str,
    kinds: list[str],
    explicit: tuple[int, ...],
    found: list[int],
    run: list[int],
    base: int,
    ends: dict[int, int],
) -> None:
    """W1 to I2 for one sequence."""
    level = explicit[run[0]]
    own = "R" if level % 2 else "L"
    before = _beside(explicit, kinds, range(run[0] - 1, -1, -1), base)
    open_end = kinds[run[-1]] in _ISOLATES and run[-1] not in ends
    after = base if open_end else _beside(explicit, kinds, range(run[-1] + 1, len(kinds)), base)
    sos, eos = ("R" if max(level, other) % 2 else "L" for other in (before, after))
    types = [kinds[index] for index in run]
    # Characters written as isolates stay what they are for the rules below, even where an override made them strong.
    _weak(types, sos)
    _brackets(text, run, types, kinds, sos, own)
    _neutral(types, sos, eos, own)
    for index, kind in zip(run, types):
        if level % 2 == 0:
            found[index] = level + {"R": 1, "AN": 2, "EN": 2}.get(kind, 0)
        else:
            found[index] = level + (kind in ("L", "AN", "EN"))


def _beside(explicit: tuple[int, ...], kinds: list[str], indexes: range, base: int) -> int:
    return next((explicit[index] for index in indexes if kinds[index] not in _REMOVED), base)


def _weak(types: list[str], sos: str) -> None:
    """W1 to W7."""
    last = sos
    for i, kind in enumerate(types):
        if kind == "NSM":
            types[i] = "ON" if last in (*_ISOLATES, "PDI") else last
        last = types[i]
    strong = sos
    for i, kind in enumerate(types):
        if kind in ("L", "R", "AL"):
            strong = kind
        elif kind == "EN" and strong == "AL":
            types[i] = "AN"
    types[:] = ["R" if kind == "AL" else kind for kind in types]
    for i in range(1, len(types) - 1):
        left, kind, right = types[i - 1 : i + 2]
        if left == right and (kind == "ES" and left == "EN" or kind == "CS" and left in ("EN", "AN")):
            types[i] = left
    i = 0
    while i < len(types):
        if types[i] != "ET":
            i += 1
            continue
        end = i
        while end < len(types) and types[end] == "ET":
            end += 1
        if (i > 0 and types[i - 1] == "EN") or (end < len(types) and types[end] == "EN"):
            types[i:end] = ["EN"] * (end - i)
        i = end
    types[:] = ["ON" if kind in ("ES", "ET", "CS") else kind for kind in types]
    strong = sos
    for i, kind in enumerate(types):
        if kind in ("L", "R"):
            strong = kind
        elif kind == "EN" and strong == "L":
            types[i] = "L"


@cache
def _pairs() -> tuple[dict[str, str], frozenset[str]]:
    """Opening brackets with what closes them, and all closing ones: punctuation that is mirrored, in pairs."""
    apart = {0x5B: 0x5D, 0x7B: 0x7D, 0xFF3B: 0xFF3D, 0xFF5B: 0xFF5D, 0x298D: 0x2990, 0x298F: 0x298E}
    opens = {}
    for code in range(0x10000):
        each = chr(code)
        if unicodedata.category(each) == "Ps" and unicodedata.mirrored(each):
            close = chr(apart.get(code, code + 1))
            if unicodedata.category(close) == "Pe":
                opens[each] = close
    return opens, frozenset(opens.values())


def _same(bracket: str) -> str:
    """Angle brackets of two blocks are one and the same (BD16)."""
    return {"\u2329": "\u3008", "\u232a": "\u3009"}.get(bracket, bracket)


def _brackets(text: str, run: list[int], types: list[str], kinds: list[str], sos: str, own: str) -> None:
    """N0: a pair takes a direction as a whole."""
    opens, closes = _pairs()
    stack: list[tuple[str, int]] = []
    pairs: list[tuple[int, int]] = []
    for place, index in enumerate(run):
        each = text[index]
        if types[place] != "ON":
            continue
        if each in opens:
            if len(stack) == 63:
                pairs = []
                break
            stack.append((_same(opens[each]), place))
        elif each in closes:
            for depth in range(len(stack) - 1, -1, -1):
                if stack[depth][0] == _same(each):
                    pairs.append((stack[depth][1], place))
                    del stack[depth:]
                    break

    def strong(kind: str) -> str | None:
        return "R" if kind in ("R", "AN", "EN") else "L" if kind == "L" else None

    other = "L" if own == "R" else "R"
    for start, end in sorted(pairs):
        inside = {strong(types[place]) for place in range(start + 1, end)}
        if own in inside:
            direction = own
        elif other in inside:
            context = next((found for place in range(start - 1, -1, -1) if (found := strong(types[place]))), sos)
            direction = other if context == other else own
        else:
            continue
        types[start] = types[end] = direction
        for edge in (start, end):
            # Marks on a bracket go with it.
            place = edge + 1
            while (
                place < len(run) and unicodedata.bidirectional(text[run[place]]) == "NSM" and kinds[run[place]] == "NSM"
            ):
                types[place] = direction
                place += 1


def _neutral(types: list[str], sos: str, eos: str, own: str) -> None:
    """N1 and N2."""
    i = 0
    while i < len(types):
        if types[i] not in _NEUTRAL:
            i += 1
            continue
        end = i
        while end < len(types) and types[end] in _NEUTRAL:
            end += 1
        left = sos if i == 0 else "L" if types[i - 1] == "L" else "R"
        right = eos if end == len(types) else "L" if types[end] == "L" else "R"
        types[i:end] = [left if left == right else own] * (end - i)
        i = end


def _close(text: str, found: list[int], kinds: list[str], base: int) -> None:
    """L1 for white space at the line's end and before separators; then the level of what stands before for what X9
    removes."""
    reset = True
    for index in range(len(text) - 1, -1, -1):
        kind = unicodedata.bidirectional(text[index])
        if kind in ("B", "S"):
            reset = True
        if reset and kind in ("B", "S", "WS", *_ISOLATES, "PDI", *_REMOVED):
            found[index] = base
        else:
            reset = False
    tail = len(text)
    while tail and unicodedata.bidirectional(text[tail - 1]) in ("B", "S", "WS", *_ISOLATES, "PDI", *_REMOVED):
        tail -= 1
    for index in range(tail):
        if kinds[index] in _REMOVED:
            found[index] = found[index - 1] if index else base
