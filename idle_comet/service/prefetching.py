"""Frames that are painted while nothing else is asked for, so that they lie in the cache when they are played."""

from __future__ import annotations

import asyncio
import contextlib
import os
import time
from pathlib import Path
from typing import Any, Awaitable, Callable, Iterator

from fastapi import WebSocketDisconnect

from ..core.project.timeline import film_length
from ..store.database import StoreUnavailable
from ..store.projects import Stored, UnknownProject
from .context import Context
from .painting import FrameRequest, PaintFailed, Unwanted, Wish

DRAFT_QUALITY = 82
"""JPEG quality of frames that are played."""

_EVERY = 0.5
"""Seconds between two messages of what lies ready."""

_REST = 3.0
"""Seconds until the machine is looked at again, when it had no time to give."""

_MOST = 20_000
"""Frames that are looked after at once."""


def spare_time() -> bool:
    """Whether the machine has time to give: it is not on its battery and not busy. `IDLE_COMET_PREFETCH` says "off" or
    "always" in its place."""
    asked = os.environ.get("IDLE_COMET_PREFETCH")
    if asked in ("off", "always"):
        return asked == "always"
    # The process that paints ahead counts as one.
    return os.getloadavg()[0] <= (os.cpu_count() or 1) + 1 and not on_battery()


def on_battery() -> bool:
    """Whether the machine runs on its battery, as Linux says."""
    with contextlib.suppress(OSError):
        for supply in Path("/sys/class/power_supply").iterdir():
            if (supply / "status").exists() and (supply / "status").read_text().strip() == "Discharging":
                return True
    return False


class Prefetching:
    """What one window's frames lie ready, and the painting of those that do not.

    `say` is given what lies ready as it grows.
    """

    def __init__(self, context: Context, project: str, say: Callable[[dict[str, Any]], Awaitable[None]]) -> None:
        self._context, self._project, self._say = context, project, say
        self._of: tuple[int, int, int] = (-1, 0, 0)
        self._ready: set[int] = set()
        self._wish: Wish | None = None
        self._task: asyncio.Task[None] | None = None

    def holds(self, revision: int, request: FrameRequest) -> bool:
        """Whether a frame that is played is known to lie ready."""
        return (revision, request.width, request.height) == self._of and request.frame in self._ready

    def start(self, frame: int, first: int, last: int, width: int, height: int) -> None:
        """Paint what is missing: from a frame on to the end of the range, the rest of the range, then the rest of the
        film."""
        self.stop()
        if self._context.painters.cache is not None:
            self._task = asyncio.ensure_future(self._run(frame, first, last, width, height))

    def stop(self) -> None:
        """Let go at once: something else is asked for."""
        if self._wish is not None:
            self._wish.drop()
        if self._task is not None:
            self._task.cancel()
            self._task = None

    async def _run(self, frame: int, first: int, last: int, width: int, height: int) -> None:
        with contextlib.suppress(StoreUnavailable, UnknownProject, WebSocketDisconnect, RuntimeError):
            stored = await asyncio.to_thread(self._context.store.load, self._project)
            if self._of != (stored.revision, width, height):
                self._of, self._ready = (stored.revision, width, height), set()
            said = 0.0
            for number in _order(frame, first, last, film_length(stored.project)):
                if number in self._ready:
                    continue
                while self._context.exports.busy or not spare_time():
                    await asyncio.sleep(_REST)
                await self._paint(stored, FrameRequest(number, width, height, False, DRAFT_QUALITY))
                if time.monotonic() - said > _EVERY:
                    said = time.monotonic()
                    await self._announce(stored)
            await self._announce(stored)

    async def _paint(self, stored: Stored, request: FrameRequest) -> None:
        self._wish = Wish()
        try:
            await self._context.painters.ahead(stored.id, stored.revision, stored.project, request, self._wish)
            self._ready.add(request.frame)
        except (PaintFailed, Unwanted):
            # Whoever plays it is the one who has to hear why.
            pass
        finally:
            self._wish = None

    async def _announce(self, stored: Stored) -> None:
        await self._say({"cached": {"revision": stored.revision, "spans": _spans(self._ready)}})


def _order(frame: int, first: int, last: int, length: int) -> Iterator[int]:
    """Frames in the order in which they are likely to be played."""
    last = min(last, length - 1)
    here = min(max(frame, first), max(first, last))
    runs = (range(here, last + 1), range(first, here), range(last + 1, length), range(0, first))
    for _, number in zip(range(_MOST), (number for run in runs for number in run)):
        yield number


def _spans(frames: set[int]) -> list[list[int]]:
    """First and last frames of runs of neighbours."""
    found: list[list[int]] = []
    for frame in sorted(frames):
        if found and frame == found[-1][1] + 1:
            found[-1][1] = frame
        else:
            found.append([frame, frame])
    return found
