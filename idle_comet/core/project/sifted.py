"""Of thousands of clips the few that something is to be known of, kept from one document to the next.

An edit changes few clips, and a look at each of 8,000 takes 5 ms, most of it spent waiting for memory. So what is
known of a document is made of what was known of the one before it.
"""

from __future__ import annotations

import threading
from typing import Callable, Generic, TypeVar

from .difference import replaced
from .model import Clip, Project

T = TypeVar("T")
_DOCUMENTS = 8


class Sifted(Generic[T]):
    """`of(project)` gives {id: what `look` says of the clip}, without the clips of which it says None. Safe for
    threads."""

    def __init__(self, look: Callable[[Clip], T | None]) -> None:
        self._look = look
        self._known: dict[int, tuple[dict[str, Clip], dict[str, T]]] = {}
        self._lock = threading.Lock()

    def of(self, project: Project) -> dict[str, T]:
        clips = project.clips
        known = self._known.get(id(clips))
        if known is not None and known[0] is clips:
            return known[1]
        with self._lock:
            near = list(self._known.values())
        found = next((made for each in reversed(near) if (made := self._from_near(*each, clips)) is not None), None)
        if found is None:
            found = {id: said for id, clip in clips.items() if (said := self._look(clip)) is not None}
        with self._lock:
            while len(self._known) >= _DOCUMENTS:
                self._known.pop(next(iter(self._known)))
            self._known[id(clips)] = clips, found
        return found

    def _from_near(self, old: dict[str, Clip], known: dict[str, T], clips: dict[str, Clip]) -> dict[str, T] | None:
        others = replaced(old, clips)
        if others is None:
            return None
        said = {id: self._look(after) for id, _, after in others}
        kept = {id: each for id, each in known.items() if id not in said}
        more = {id: each for id, each in said.items() if each is not None}
        return {**kept, **more} if said else known
