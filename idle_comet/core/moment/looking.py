"""Clips that look at each other: a row of looks that leads back to where it came from ends in nothing.

What a clip sees of another needs that other evaluated, and evaluating asks here: so the one that finds it is given from
outside (`found_by`), as the room is opened.
"""

from __future__ import annotations

from contextlib import contextmanager
from contextvars import ContextVar
from typing import Callable, Iterator

from ..motion.motors import OnPoint, Own, Side
from ..picture import Rect
from ..project.model import Clip, Project

Find = Callable[[Project, Clip, str, float, Side], float | None]
_found_by: list[Find] = []


def found_by(find: Find) -> None:
    """Name what finds where another clip's side stands."""
    _found_by[:] = [find]


def where(project: Project, clip: Clip, other: str, frame: float, side: Side) -> float | None:
    """Where a side of another clip stands at a frame of this one, px; None while it is not there."""
    return _found_by[0](project, clip, other, frame, side)


Meet = Callable[[Project, Clip, str, str, Own], Callable[[float, float], float | None]]
_met_by: list[Meet] = []


def met_by(meet: Meet) -> None:
    """Name what finds the value that brings a clip's or a mask's own side somewhere."""
    _met_by[:] = [meet]


def meeting(project: Project, clip: Clip, owner: str, name: str, own: Own) -> Callable[[float, float], float | None]:
    """From a frame of the clip and a place on the picture, px, to the value that brings its own side there; None where
    no value does."""
    return _met_by[0](project, clip, owner, name, own)


Watch = Callable[[Project, Clip, OnPoint], Callable[[float], float | None] | None]
_watched_by: list[Watch] = []


def watched_by(watch: Watch) -> None:
    """Name what finds what a followed point does."""
    _watched_by[:] = [watch]


def watching(project: Project, clip: Clip, motor: OnPoint) -> Callable[[float], float | None] | None:
    """What a followed point does, by a clip's frames; None where there is no such point."""
    return _watched_by[0](project, clip, motor)


Gather = Callable[[Project, Clip], Rect | None]
_gathered_by: list[Gather] = []


def gathered_by(gather: Gather) -> None:
    """Name what finds what a group's clips take up."""
    _gathered_by[:] = [gather]


def gathered(project: Project, group: Clip) -> Rect | None:
    """What a group's clips take up of the frame, px; None where they fill it, or where there is nothing."""
    return _gathered_by[0](project, group)


_under_way: ContextVar[tuple[str, ...]] = ContextVar("looks under way", default=())

_LONGEST = 32
"""Looks one after the other; a longer row ends in nothing too."""


@contextmanager
def looking(clip: str, other: str) -> Iterator[bool]:
    """While a clip looks at another; gives whether it may. Edits refuse such circles; a document from elsewhere may
    hold one."""
    row = _under_way.get() or (clip,)
    if other in row or len(row) > _LONGEST:
        yield False
        return
    token = _under_way.set((*row, other))
    try:
        yield True
    finally:
        _under_way.reset(token)
