"""Pictures of shots made by another thread, while what lies over them is planned and painted."""

from __future__ import annotations

from concurrent.futures import Future, ThreadPoolExecutor
from typing import Callable, Iterable

from ..moment.scene import FootageNow
from ..picture import Patch
from .graph import Picture, Seen, Source, before_steps


class Ahead:
    """Has pictures of shots made ahead. Reading and sampling them holds no other thread up for long: all of it but a
    few calls runs without the lock that Python's threads share."""

    def __init__(self, made: Callable[[Source], Patch], known: Callable[[Picture], bool]) -> None:
        """`made` makes a shot's picture, `known` tells whether a picture need not be made any more."""
        self._made, self._known = made, known
        self._thread = ThreadPoolExecutor(1)
        # With its source, so that no other takes over its identity.
        self._coming: dict[int, tuple[Source, Future[Patch]]] = {}

    def begin(self, pictures: Iterable[Seen]) -> None:
        """Have the shots among pictures made that are not being made yet."""
        for each in pictures:
            shot = shot_of(each.picture)
            if shot is None or id(shot) in self._coming or shot is not each.picture and self._known(each.picture):
                continue
            self._coming[id(shot)] = shot, self._thread.submit(self._made, shot)

    def waits(self, picture: Picture) -> bool:
        """Whether a picture is made of a shot that was begun."""
        return bool(self._coming) and id(shot_of(picture)) in self._coming

    def find(self, source: Source) -> Patch | None:
        """A shot's picture if it was begun, as soon as it is there."""
        coming = self._coming.get(id(source))
        return None if coming is None else coming[1].result()

    def end(self) -> None:
        """Forget what was begun, as soon as no more of it is being made."""
        for _, coming in self._coming.values():
            if not coming.cancel():
                coming.exception()
        self._coming.clear()


def shot_of(picture: Picture) -> Source | None:
    """The shot that a picture is, or that steps were done to."""
    begin, _ = before_steps(picture)
    return begin if isinstance(begin, Source) and isinstance(begin.content, FootageNow) else None
