"""A few painting processes: each frame goes to one that is free; one that takes too long or dies is replaced."""

from __future__ import annotations

import asyncio
import threading
import time
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from multiprocessing.connection import Connection
from multiprocessing.context import ForkServerProcess
from pathlib import Path
from typing import Any, Callable

from ...core.edits import EditError
from ...core.project.difference import difference
from ...core.project.model import Project
from ..forking import processes
from .asking import Changed, Failed, FrameRequest, Painted, PaintFailed, Refused, Unwanted
from .frame_cache import FrameCache
from .worker import UNKNOWN, work

SECONDS, SMALL_SECONDS = 20.0, 12.0
"""How long a frame, and a small picture, may take to be painted."""

_STARTING = 60.0
"""Seconds a process may take to be ready: compiled loops are read from their cache, or made."""

_PREVIEWS, _SMALLS = 3, 2
_NICE = 19
"""How far the process that paints ahead steps back behind all others."""

_PATIENCE = 10
"""How many times as long a picture may take while loops are being compiled."""

_TRIM = 120.0
"""Seconds between two looks at how much the cache of frames holds."""

_REST = 90.0
"""Seconds after which a process beyond the first that has nothing to do is ended."""


class Wish:
    """A frame that is wanted until it is dropped."""

    def __init__(self) -> None:
        self._process: PainterProcess | None = None
        self._dropped = False
        self._lock = threading.Lock()

    def drop(self) -> None:
        with self._lock:
            self._dropped = True
            if self._process is not None:
                self._process.drop()

    def taken_by(self, process: "PainterProcess | None") -> bool:
        """Note which process paints it (None when it is done); False where it was dropped before."""
        with self._lock:
            self._process = process
            return not self._dropped


class PainterProcess:
    """One painting process, asked one thing at a time by whoever holds it."""

    def __init__(self, media: Path, cache: FrameCache | None = None, nice: int = 0) -> None:
        self._media, self._cache, self._nice = media, cache, nice
        self._context = processes()
        self._starting = threading.Lock()
        self.process: ForkServerProcess | None = None
        self._line: Connection[Any, Any] | None = None
        self._ready = False
        self._told: dict[str, tuple[int, Project]] = {}
        self._wanted = self._context.Value("Q", 0, lock=False)
        self._number = 0
        self.rested = time.monotonic()

    def start(self) -> None:
        with self._starting:
            if self.process is None or not self.process.is_alive():
                self._start()

    def _start(self) -> None:
        self._line, theirs = self._context.Pipe()
        process = self.process = self._context.Process(
            target=work, args=(theirs, str(self._media), self._wanted, self._cache, self._nice), daemon=True
        )
        process.start()
        theirs.close()
        self._ready, self._told = False, {}

    @property
    def _pipe(self) -> "Connection[Any, Any]":
        if self._line is None:
            raise EOFError("the process was not started")
        return self._line

    def stop(self) -> None:
        with self._starting:
            process, self.process = self.process, None
        if process is not None:
            self._pipe.close()
            process.kill()
            process.join(5)

    def knows(self, id: str, revision: int) -> bool:
        return id in self._told and self._told[id][0] == revision

    def heard_of(self, id: str) -> bool:
        """Whether it knows some revision of a film: then it is told differences only."""
        return id in self._told

    def drop(self) -> None:
        """Let go of what is being painted: it ends at its next pause."""
        self._wanted.value = 0

    def paint(
        self,
        id: str,
        revision: int,
        project: Project,
        request: FrameRequest,
        seconds: float = SECONDS,
        wish: "Wish | None" = None,
    ) -> Painted:
        """Paint in the process and wait.

        Raises PaintFailed, EditError where a tried edit does not fit, or Unwanted where the wish was dropped.
        """
        answer: Painted | Refused | Failed | str | None = None
        self._number += 1
        self._wanted.value = self._number
        if wish is not None and not wish.taken_by(self):
            raise Unwanted
        for _ in range(2):
            try:
                self.start()
                if not self._ready:
                    if not self._pipe.poll(_STARTING) or self._pipe.recv() != "ready":
                        raise EOFError("the process was not ready in time")
                    self._ready = True
                answer = self._asked(id, revision, project, request, seconds)
            except (EOFError, OSError):
                self.stop()
                continue
            break
        if answer is None:
            raise PaintFailed(
                "The frame could not be painted: the painting process stopped twice. Nothing else is affected."
            )
        if isinstance(answer, str):
            raise Unwanted
        if isinstance(answer, Refused):
            raise EditError(answer.why)
        if isinstance(answer, Failed):
            raise PaintFailed(f"Frame {request.frame} could not be painted: {answer.why}.")
        return answer

    def _asked(
        self, id: str, revision: int, project: Project, request: FrameRequest, seconds: float
    ) -> Painted | Refused | Failed | str:
        """What the process says; DROPPED where nobody waits for it any more."""
        answer: Painted | Refused | Failed | str = UNKNOWN
        for news in (self._news(id, revision, project), project):
            pipe = self._pipe
            pipe.send((self._number, id, revision, news, request))
            number = None
            # An answer to an earlier request is not one to this.
            while number != self._number:
                if not pipe.poll(seconds):
                    self.stop()
                    self.start()
                    return Failed(
                        f"it takes longer than {seconds:g} seconds at {request.width}×{request.height} and was given "
                        "up. Nothing is lost; soften its heaviest steps or look at it smaller"
                    )
                number, answer = pipe.recv()
            if answer != UNKNOWN:
                break
        self._told[id] = (revision, project)
        while len(self._told) > 64:
            self._told.pop(next(iter(self._told)))
        return answer

    def _news(self, id: str, revision: int, project: Project) -> Project | Changed | None:
        """What the process has to be told to know this revision: nothing, what changed since it last heard, or all of
        it."""
        if id not in self._told:
            return project
        known, before = self._told[id]
        return None if known == revision else Changed(known, difference(before, project))


class _Turn:
    """Somebody who waits for a process to paint a film."""

    def __init__(self, film: str) -> None:
        self.film = film


class _Pool:
    """Processes for one sort of pictures. The first is always there; others come while all are busy, and go again."""

    def __init__(self, media: Path, most: int, cache: FrameCache | None = None, nice: int = 0) -> None:
        self._media, self._most, self._cache, self._nice = media, most, cache, nice
        self._free: list[PainterProcess] = []
        self._waiting: list[_Turn] = []
        self._busy: Counter[str] = Counter()
        self._all: list[PainterProcess] = []
        self._change = threading.Condition()

    def begin(self) -> None:
        first = self._made()
        self._all, self._free = [first], [first]

    def _made(self) -> PainterProcess:
        return PainterProcess(self._media, self._cache, self._nice)

    def start(self) -> None:
        self._all[0].start()

    def stop(self) -> None:
        for process in self._all:
            process.stop()

    def paint(
        self, id: str, revision: int, project: Project, request: FrameRequest, seconds: float, wish: Wish | None = None
    ) -> Painted:
        process = self._take(id, revision, seconds)
        try:
            return process.paint(id, revision, project, request, seconds, wish)
        finally:
            if wish is not None:
                wish.taken_by(None)
            self._give(process, id)

    def _take(self, id: str, revision: int, seconds: float) -> PainterProcess:
        """The free process that knows the film best; a new one while there may be more. Of those who wait it is the
        turn of the film for which the least is being painted."""
        deadline = time.monotonic() + 3 * seconds
        own = _Turn(id)
        with self._change:
            self._waiting.append(own)
            try:
                while (not self._free and len(self._all) >= self._most) or self._next() is not own:
                    if not self._change.wait(deadline - time.monotonic()):
                        raise PaintFailed(
                            "Too many frames that take long are being painted; this one was not begun. Nothing is lost."
                        )
            finally:
                self._waiting.remove(own)
                self._change.notify_all()
            self._busy[id] += 1
            if not self._free:
                process = self._made()
                self._all.append(process)
                return process
            process = max(self._free, key=lambda each: (each.knows(id, revision), each.heard_of(id)))
            self._free.remove(process)
            return process

    def _next(self) -> "_Turn":
        """The first of those who wait for the film for which the least is being painted."""
        return min(self._waiting, key=lambda each: self._busy[each.film])

    def _give(self, process: PainterProcess, id: str) -> None:
        process.rested = time.monotonic()
        with self._change:
            self._busy[id] -= 1
            self._busy += Counter()
            self._free.append(process)
            spare = [each for each in self._free if each is not self._all[0] and process.rested - each.rested > _REST]
            for each in spare:
                self._free.remove(each)
                self._all.remove(each)
            self._change.notify_all()
        for each in spare:
            each.stop()


class Painters:
    """The preview's processes and those for small pictures, as awaitable calls."""

    def __init__(
        self, media: Path, cache: FrameCache | None = None, compiling: Callable[[], bool] = lambda: False
    ) -> None:
        """`compiling` says whether the loops that paint are still being compiled: then pictures may take longer."""
        self.cache, self.compiling = cache, compiling
        self._stopped = threading.Event()
        self.preview, self.small = _Pool(media, _PREVIEWS, cache), _Pool(media, _SMALLS)
        self.prefetch = _Pool(media, 1, cache, _NICE)
        # Threads of their own: those that wait for a picture must not keep requests for data waiting, nor those that
        # wait for a small one the preview.
        self._threads = {
            pool: ThreadPoolExecutor(most, name)
            for pool, most, name in (
                (self.preview, 24, "painting"),
                (self.small, 24, "pictures"),
                (self.prefetch, 2, "prefetch"),
            )
        }

    def start(self) -> None:
        """Begin to start both; whoever asks for a picture meanwhile waits for it."""
        for pool in (self.preview, self.small):
            pool.begin()
            self._threads[pool].submit(pool.start)
        # Its process is started by the first frame that is wanted of it.
        self.prefetch.begin()
        if self.cache is not None:
            threading.Thread(target=self._trim, args=(self.cache,), name="frames", daemon=True).start()

    def _trim(self, cache: FrameCache) -> None:
        while True:
            cache.trim()
            if self._stopped.wait(_TRIM):
                return

    def stop(self) -> None:
        self._stopped.set()
        for threads in self._threads.values():
            threads.shutdown(wait=False, cancel_futures=True)
        self.preview.stop()
        self.small.stop()
        self.prefetch.stop()

    async def frame(
        self, id: str, revision: int, project: Project, request: FrameRequest, wish: Wish | None = None
    ) -> Painted:
        """Raises PaintFailed, EditError where a tried edit does not fit, or Unwanted where the wish was dropped."""
        wide = request.clip is None and not request.small
        pool, seconds = (self.preview, SECONDS) if wide else (self.small, SMALL_SECONDS)
        return await self._by(pool, id, revision, project, request, seconds, wish)

    async def ahead(self, id: str, revision: int, project: Project, request: FrameRequest, wish: Wish) -> Painted:
        """The same at low priority, for the cache of frames."""
        return await self._by(self.prefetch, id, revision, project, request, SECONDS, wish)

    async def _by(
        self,
        pool: _Pool,
        id: str,
        revision: int,
        project: Project,
        request: FrameRequest,
        seconds: float,
        wish: Wish | None,
    ) -> Painted:
        seconds *= _PATIENCE if self.compiling() else 1
        return await asyncio.get_running_loop().run_in_executor(
            self._threads[pool], pool.paint, id, revision, project, request, seconds, wish
        )
