"""Parts of a text that are set in their own way: setting them, and keeping them while words change."""

from __future__ import annotations

from typing import Any

from .model import Styled

STYLES = tuple(name for name in Styled.model_fields if name not in ("start", "end"))


def restyled(
    ranges: tuple[Styled, ...], start: int, end: int, asked: dict[str, Any], clear: bool
) -> tuple[Styled, ...]:
    """Ranges that never overlap, in order, with [start, end) set as asked."""
    borders = sorted({start, end, *(edge for each in ranges for edge in (each.start, each.end))})
    made: list[Styled] = []
    for left, right in zip(borders, borders[1:]):
        held: dict[str, Any] = {}
        for each in ranges:
            if each.start <= left and right <= each.end:
                held.update({name: getattr(each, name) for name in STYLES if getattr(each, name) is not None})
        if start <= left and right <= end:
            held = {**({} if clear else held), **asked}
        if not held:
            continue
        last = made[-1] if made else None
        if last and last.end == left and last == Styled(start=last.start, end=left, **held):
            made[-1] = last.model_copy(update={"end": right})
        else:
            made.append(Styled(start=left, end=right, **held))
    return tuple(made)


def kept(ranges: tuple[Styled, ...], before: str, after: str) -> tuple[Styled, ...]:
    """The ranges of a text that was changed: what is typed within a part, or at its end, belongs to it.

    Lines keep their own: where lines were set apart and their words are wholly other, each line has what it had.
    """
    if not ranges or before == after:
        return ranges
    most = min(len(before), len(after))
    head = next((i for i in range(most) if before[i] != after[i]), most)
    tail = next((i for i in range(most - head) if before[-1 - i] != after[-1 - i]), most - head)
    old_end, grown = len(before) - tail, len(after) - len(before)
    by_line = _by_line(ranges, before, after)
    if by_line is not None:
        return by_line

    def moved(place: int, is_end: bool) -> int:
        """Words typed over others belong to the part in which they begin."""
        inserted = head == old_end
        if place < head or place == head and (is_end != inserted):
            return place
        return place + grown if place >= old_end else old_end + grown

    out = []
    for each in ranges:
        start, end = moved(each.start, False), moved(each.end, True)
        if start < end:
            out.append(each.model_copy(update={"start": start, "end": end}))
    return tuple(out)


def _by_line(ranges: tuple[Styled, ...], before: str, after: str) -> tuple[Styled, ...] | None:
    """Where every range is a whole line: the same for the lines of the new text."""
    lines, begins = {}, 0
    for number, line in enumerate(before.split("\n")):
        lines[begins, begins + len(line)] = number
        begins += len(line) + 1
    if any((each.start, each.end) not in lines for each in ranges):
        return None
    whole = {lines[each.start, each.end]: each for each in ranges}
    out, begins = [], 0
    for number, line in enumerate(after.split("\n")):
        if number in whole and line:
            out.append(whole[number].model_copy(update={"start": begins, "end": begins + len(line)}))
        begins += len(line) + 1
    return tuple(out)
