"""What is said of an edit: made once, for whoever made the edit and for every window that is told of it."""

from __future__ import annotations

import threading
from concurrent.futures import Future
from typing import Callable

from cachetools import LRUCache

from ..store.projects import Outcome

_KEPT = 32
"""Answers that are kept: those whose edit is just being told of."""


class Answers:
    """Answers to edits as JSON. Safe for threads: of several who ask at once one makes it, and the others wait."""

    def __init__(self, make: Callable[[Outcome], str]) -> None:
        self._make = make
        self._lock = threading.Lock()
        self._made: LRUCache[tuple[str, int], tuple[Outcome, Future[str]]] = LRUCache(_KEPT)

    def of(self, outcome: Outcome) -> str:
        """Raises what making it raises, to all who asked."""
        key = outcome.stored.id, outcome.stored.revision
        with self._lock:
            known = self._made.get(key)
            # An edit that was sent again has another outcome at the same revision: all of the film.
            made_before = known[1] if known is not None and known[0] is outcome else None
            if made_before is None:
                making: Future[str] = Future()
                self._made[key] = (outcome, making)
        if made_before is not None:
            return made_before.result()
        try:
            making.set_result(self._make(outcome))
        except Exception as error:
            making.set_exception(error)
        return making.result()
