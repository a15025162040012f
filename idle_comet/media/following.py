"""Following a point through a shot's file: forward and back from where it was picked."""

from __future__ import annotations

import statistics
from pathlib import Path
from typing import Callable, Iterator, NamedTuple

import cv2
import numpy as np

from ..core.contents import FollowedPoint, HandPlace
from ..core.picture.following import SURE, Pursuit, Seen, hold
from ..core.project.model import Media
from .decode import ShotReader
from .probe import MediaError

_HELD_AT_ONCE = 96 << 20
"""Bytes of grey frames that are held while a shot is read backwards."""

_LEAST_HOLD = 0.45
"""Grey levels a px; below that a point is not told from its surroundings."""

_LEADING = 6
"""Frames before a loss at which what hides the point may already lie over a part of it."""

_WORSE = 0.06
"""By how much less alike than usual they are then."""


class Wanted(NamedTuple):
    """What is to be followed: the place `x`, `y` (px of the media) in a frame of the source, over frames first …
    last."""

    frame: int
    x: float
    y: float
    first: int
    last: int


class Followed(NamedTuple):
    """Places of frames `first` … in px of the media, as they were found."""

    first: int
    seen: tuple[Seen, ...]


def follow(path: Path, media: Media, wanted: Wanted, told: Callable[[int], None]) -> Followed:
    """Follow a point through a file; `told` hears how many frames are done. Raises MediaError where the file can't be
    read, or there is nothing to hold on to at the place."""
    reader = ShotReader(path)
    try:
        start = _grey(reader, wanted.frame)
        # A file's own px need not be square; the media's are.
        across, down = media.width / start.shape[1], media.height / start.shape[0]
        x, y = wanted.x / across, wanted.y / down
        if not (0 <= x <= start.shape[1] and 0 <= y <= start.shape[0]):
            raise MediaError("The point lies outside of the picture; pick one on it")
        if hold(start, x, y) < _LEAST_HOLD:
            raise MediaError(
                "There is nothing to hold on to here: the picture is plain, or a straight edge. Pick a corner, a spot "
                "or a place with a pattern"
            )
        done, found = 1, {wanted.frame: Seen(x, y, 1.0)}
        ways = (
            ((number, _grey(reader, number)) for number in range(wanted.frame + 1, wanted.last + 1)),
            _backwards(reader, wanted.first, wanted.frame - 1, start.nbytes),
        )
        for frames in ways:
            pursuit, row = Pursuit(start, x, y), [(wanted.frame, found[wanted.frame])]
            for number, grey in frames:
                row.append((number, pursuit.next(grey)))
                done += 1
                told(done)
            found |= _with_lead(row)
    finally:
        reader.close()
    numbers = sorted(found)
    return Followed(numbers[0], tuple(_scaled(found[number], across, down) for number in numbers))


def _scaled(seen: Seen, across: float, down: float) -> Seen:
    return seen._replace(x=seen.x * across, y=seen.y * down)


def _grey(reader: ShotReader, number: int) -> np.ndarray:
    """(h, w) uint8: how light a frame is, as it is shown."""
    planes = reader.planes(number)
    if planes is not None:
        return np.ascontiguousarray(planes.luma)
    return cv2.cvtColor(reader.picture(number, False), cv2.COLOR_RGBA2GRAY)


def _backwards(reader: ShotReader, first: int, last: int, size: int) -> Iterator[tuple[int, np.ndarray]]:
    """Frames from the last to the first. They are read forwards, some at a time: to seek each would read all
    between."""
    some = max(4, min(48, _HELD_AT_ONCE // max(1, size)))
    while last >= first:
        begin = max(first, last - some + 1)
        held = [(number, _grey(reader, number)) for number in range(begin, last + 1)]
        yield from reversed(held)
        last = begin - 1


def _with_lead(row: list[tuple[int, Seen]]) -> dict[int, Seen]:
    """What was found, in the order it was followed in. Just before the point was lost what hides it already pulls at
    it: such frames count as lost too."""
    made = [seen for _, seen in row]
    for place, seen in enumerate(made):
        if not seen.lost or place == 0 or made[place - 1].lost:
            continue
        usual = statistics.median(each.quality for each in made[max(0, place - 40) : place] if not each.lost)
        for before in range(place - 1, max(0, place - 1 - _LEADING), -1):
            if made[before].quality > usual - _WORSE:
                break
            made[before] = made[before]._replace(quality=min(made[before].quality, SURE / 2), why="hidden")
    return {number: seen for (number, _), seen in zip(row, made)}


def as_point(found: Followed, wanted: Wanted, media: Media, id: str, name: str) -> FollowedPoint:
    """What was found, as a shot keeps it; the place it was picked at is put by hand."""
    return FollowedPoint(
        id=id,
        name=name,
        media=media.id,
        first=found.first,
        x=tuple(round(each.x, 3) for each in found.seen),
        y=tuple(round(each.y, 3) for each in found.seen),
        sure=tuple(round(each.quality, 3) for each in found.seen),
        hand=(HandPlace(frame=wanted.frame, x=wanted.x, y=wanted.y),),
    )


def joined(old: FollowedPoint, new: FollowedPoint, direction: str, frame: int) -> FollowedPoint:
    """A point that was followed anew from a frame on, forward, back or both, with what it was elsewhere."""
    begin = min(old.first, new.first)
    end = max(old.first + len(old.x), new.first + len(new.x))
    rows = []
    for number in range(begin, end):
        anew = direction == "both" or (number >= frame if direction == "forward" else number <= frame)
        order = (new, old) if anew else (old, new)
        rows.append(next((row for each in order if (row := _row(each, number)) is not None), None))
    # Between two stretches that do not touch nothing is known.
    known = [row for row in rows if row is not None]
    kept = [row if row is not None else (known[0][0], known[0][1], 0.0) for row in rows]
    hand = {each.frame: each for each in (*old.hand, *new.hand)}
    return old.model_copy(
        update={
            "media": new.media,
            "first": begin,
            "x": tuple(row[0] for row in kept),
            "y": tuple(row[1] for row in kept),
            "sure": tuple(row[2] for row in kept),
            "hand": tuple(hand[number] for number in sorted(hand)),
        }
    )


def _row(point: FollowedPoint, number: int) -> tuple[float, float, float] | None:
    place = number - point.first
    return (point.x[place], point.y[place], point.sure[place]) if 0 <= place < len(point.x) else None


def said(found: Followed, frames: int) -> str:
    """How it went, in a sentence or two."""
    lost = _runs([seen.lost for seen in found.seen])
    if not lost:
        return f"Followed over {frames} frames without a break."
    parts = []
    for begin, end in lost[:3]:
        again = end < len(found.seen) - 1 and begin > 0
        left = any(seen.why == "left" for seen in found.seen[begin : end + 1])
        what = "it left the picture" if left else "it was hidden"
        one, last = found.first + begin, found.first + end
        where = f"in frame {one}" if one == last else f"in frames {one} to {last}"
        parts.append(f"{what} {where}" + (" and was found again" if again else ""))
    more = f", and {len(lost) - 3} times more" if len(lost) > 3 else ""
    sentence = "; ".join(parts) + more
    return f"Followed over {frames} frames: {sentence}. Where it was lost it goes straight on; put it by hand there."


def _runs(flags: list[bool]) -> list[tuple[int, int]]:
    """First and last places of each run of True."""
    made, begin = [], None
    for place, flag in enumerate([*flags, False]):
        if flag and begin is None:
            begin = place
        elif not flag and begin is not None:
            made.append((begin, place - 1))
            begin = None
    return made
