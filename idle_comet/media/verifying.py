"""Files of films that are opened are read once in the background, to see whether they hold what was added."""

from __future__ import annotations

import queue
import threading
from pathlib import Path
from typing import Callable, Iterable

from ..core.project.model import Media
from .probe import hash_file


class Verifying:
    """One thread, which looks at every file once as long as it stays as it is."""

    def __init__(self, folder: Path, found: Callable[[str, Media], None]) -> None:
        """`found` is called with the film and the media whose file is damaged, from the thread."""
        self._folder, self._found = folder, found
        self._wanted: queue.Queue[tuple[str, Media] | None] = queue.Queue()
        self._known: dict[tuple[str, int, int], bool] = {}
        self._thread: threading.Thread | None = None

    def look(self, film: str, items: Iterable[Media]) -> None:
        """Have the files of a film looked at."""
        if self._thread is None:
            self._thread = threading.Thread(target=self._run, daemon=True, name="verifying media")
            self._thread.start()
        for item in items:
            self._wanted.put((film, item))

    def stop(self) -> None:
        self._wanted.put(None)

    def _run(self) -> None:
        while (wanted := self._wanted.get()) is not None:
            film, item = wanted
            try:
                path = self._folder / item.path
                there = path.stat()
                key = (item.path, there.st_size, there.st_mtime_ns)
                if key not in self._known:
                    self._known[key] = hash_file(path) == item.hash
                if not self._known[key]:
                    self._found(film, item)
            except OSError:
                # One that is missing is said where the film is read.
                continue
