"""Pictures of shots that are read and placed in a thread of their own, while the rest of a frame is still planned."""

from __future__ import annotations

from concurrent.futures import Future, ThreadPoolExecutor, wait
from typing import Callable

from ..moment.scene import FootageNow
from ..picture import Patch
from .graph import Picture, Source


class Ahead:
    """Begins what takes long and needs nothing but itself: a frame of a shot. Reading and placing it leave Python to
    others, so that words are planned meanwhile."""

    def __init__(self, paint: Callable[[Source], Patch]) -> None:
        self._paint = paint
        self._thread = ThreadPoolExecutor(1, "ahead")
        self._begun: dict[int, tuple[Source, Future[Patch]]] = {}

    def begin(self, picture: Picture) -> None:
        """Begin what a picture is made of, as far as it is shots."""
        for each in picture.walk():
            if isinstance(each, Source) and isinstance(each.content, FootageNow) and id(each) not in self._begun:
                # The source is held with its result: no other can have its identity meanwhile.
                self._begun[id(each)] = each, self._thread.submit(self._paint, each)

    def take(self, source: Source) -> Patch | None:
        """The pixels of a source that was begun, as soon as they are there; None of any other."""
        begun = self._begun.pop(id(source), None)
        return begun and begun[1].result()

    def clear(self) -> None:
        """Give up what was not asked for. What is under way is waited for: the next frame may be of another film."""
        wait([begun for _, begun in self._begun.values() if not begun.cancel()])
        self._begun.clear()
