"""Words that two people type into at the same time: a three-way merge."""

from __future__ import annotations

from typing import NamedTuple


class _Splice(NamedTuple):
    """`old[start:end]` was replaced by `by`."""

    start: int
    end: int
    by: str


def merged_words(base: str, mine: str, theirs: str) -> str | None:
    """What both made of `base`; None where they changed the same place.

    Each side is taken as one replaced stretch: what lies between the longest common beginning and end. Two stretches
    that overlap, or touch at the same place, are not merged.
    """
    if mine == theirs or theirs == base:
        return mine
    if mine == base:
        return theirs
    first, second = sorted((_splice(base, mine), _splice(base, theirs)))
    if first.end > second.start or first.start == second.start:
        return None
    return base[: first.start] + first.by + base[first.end : second.start] + second.by + base[second.end :]


def _splice(old: str, new: str) -> _Splice:
    most = min(len(old), len(new))
    head = next((place for place in range(most) if old[place] != new[place]), most)
    left = most - head
    tail = next((place for place in range(left) if old[-1 - place] != new[-1 - place]), left)
    return _Splice(head, len(old) - tail, new[head : len(new) - tail])
