"""Texts and files of strangers, read in a process of their own: however odd one is, nobody else waits for it."""

from __future__ import annotations

import threading
from typing import Any, Callable, Iterator, TypeVar

from ..core.edits import AddDrawing, Edit, EditError, Several
from ..core.picture import SvgError, read_svg, was_read
from ..media.apart import Apart, Unreadable

T = TypeVar("T")

_SECONDS, _MEMORY = 10.0, 512 << 20


class Strangers:
    """One reading process, for one text, or one part of a file, at a time. Safe for threads."""

    def __init__(self, seconds: float = _SECONDS) -> None:
        self._lock = threading.Lock()
        self._reader = Apart(seconds, _MEMORY)

    def read(self, work: Callable[..., T], *args: Any) -> T:
        """What `work` returns or raises; raises Unreadable where the process did not come through."""
        with self._lock:
            return self._reader.do(work, *args)

    def drawings_of(self, edit: Edit) -> None:
        """Read the drawings that an edit brings along, so that its rule finds them read. Raises EditError."""
        for each in _drawings(edit):
            try:
                was_read(each.svg, self.read(read_svg, each.svg))
            except SvgError as error:
                raise EditError(f"{error} Nothing was added.") from None
            except Unreadable as error:
                raise EditError(f"The drawing was not added: {error}. Save a simpler one.") from None

    def end(self) -> None:
        self._reader.end()


def _drawings(edit: Edit) -> Iterator[AddDrawing]:
    if isinstance(edit, AddDrawing):
        yield edit
    elif isinstance(edit, Several):
        for each in edit.edits:
            yield from _drawings(each)
