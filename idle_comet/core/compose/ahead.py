"""Pictures of shots made by another thread, while a painter paints what lies over them."""

from __future__ import annotations

from concurrent.futures import Future, ThreadPoolExecutor
from typing import Callable, Sequence

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
        self._coming: dict[int, Future[Patch]] = {}

    def begin(self, pictures: Sequence[Seen]) -> list[bool]:
        """Have the shots among pictures made; which of the pictures wait for one. While there is nothing else to paint
        none is begun."""
        shots = [self._shot_of(each.picture) for each in pictures]
        if all(each is not None for each in shots):
            return [False] * len(shots)
        for each in shots:
            if each is not None:
                self._coming[id(each)] = self._thread.submit(self._made, each)
        return [each is not None for each in shots]

    def _shot_of(self, picture: Picture) -> Source | None:
        begin, steps = before_steps(picture)
        if not isinstance(begin, Source) or not isinstance(begin.content, FootageNow):
            return None
        return None if steps and self._known(picture) else begin

    def find(self, source: Source) -> Patch | None:
        """A shot's picture if it was begun, as soon as it is there."""
        coming = self._coming.get(id(source))
        return None if coming is None else coming.result()

    def end(self) -> None:
        """Wait for what was begun, and forget it."""
        for coming in self._coming.values():
            coming.exception()
        self._coming.clear()
