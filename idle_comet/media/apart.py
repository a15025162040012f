"""Strangers' files are read in a process of its own, which may fail, hang or want too much without harm."""

from __future__ import annotations

import ctypes
import multiprocessing
import resource
import signal
from typing import Any, Callable, TypeVar

T = TypeVar("T")

MEMORY = 3 << 30
"""Bytes a reading process may take beyond what it begins with."""


_STARTING = 60.0
"""Seconds a process may take to start."""


class Unreadable(RuntimeError):
    """The reading process gave up, died or took too long; the message says which, as a sentence part."""


def limit_memory(more: int) -> None:
    """Let this process take `more` bytes beyond what it has now; past that, what asks for more gets a MemoryError."""
    with open("/proc/self/statm") as file:
        now = int(file.read().split()[0]) * resource.getpagesize()
    _, hard = resource.getrlimit(resource.RLIMIT_AS)
    most = now + more if hard == resource.RLIM_INFINITY else min(now + more, hard)
    resource.setrlimit(resource.RLIMIT_AS, (most, hard))


_KEPT_BLOCK, _KEPT_TOP = 32 << 20, 256 << 20
"""Bytes up to which a block that is given back is kept for the next one of its size, and of all that is kept."""


def keep_memory() -> None:
    """Let this process take pictures' memory anew from what it gave back: asked for from the system, every page of it
    would be cleared first (glibc; elsewhere nothing changes)."""
    M_TRIM_THRESHOLD, M_MMAP_THRESHOLD = -1, -3
    try:
        allocator = ctypes.CDLL(None).mallopt
    except AttributeError:
        return
    allocator(M_MMAP_THRESHOLD, _KEPT_BLOCK)
    allocator(M_TRIM_THRESHOLD, _KEPT_TOP)


def die_with_parent() -> None:
    """End this process when the one that started it ends, however that ends (Linux)."""
    PR_SET_PDEATHSIG = 1
    ctypes.CDLL(None).prctl(PR_SET_PDEATHSIG, signal.SIGKILL)


def _serve(pipe, memory: int) -> None:
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    die_with_parent()
    pipe.send("ready")
    limited = False
    while True:
        try:
            work, args = pipe.recv()
        except EOFError:
            return
        if not limited:
            # After the first task is unpickled: what it needs is imported then, and counts as what the process begins
            # with.
            limit_memory(memory)
            limited = True
        try:
            answer = (True, work(*args))
        except MemoryError:
            answer = (False, Unreadable(f"it wants more than {memory >> 20} MB of memory to be read"))
        except Exception as error:
            answer = (False, error)
        try:
            pipe.send(answer)
        except Exception:  # an error that can't be sent is told by its words
            pipe.send((False, Unreadable(f"{type(answer[1]).__name__}")))


class Apart:
    """A process that does one task after the other; made anew after one that it did not survive. Use as a context."""

    def __init__(self, seconds: float, memory: int = MEMORY) -> None:
        self._seconds, self._memory = seconds, memory
        self._context = multiprocessing.get_context("forkserver")
        self._process, self._pipe, self._ready = None, None, False

    def do(self, work: Callable[..., T], *args: Any) -> T:
        """What `work` returns or raises; raises Unreadable where the process did not come through."""
        if self._process is None:
            self._pipe, theirs = self._context.Pipe()
            self._process = self._context.Process(target=_serve, args=(theirs, self._memory), daemon=True)
            self._process.start()
            theirs.close()
        try:
            if not self._ready:
                # Starting a process is no part of reading a file.
                self._ready = bool(self._pipe.poll(_STARTING)) and self._pipe.recv() == "ready"
            self._pipe.send((work, args))
            if not self._pipe.poll(self._seconds):
                self.end()
                raise Unreadable(f"reading it takes longer than {self._seconds:g} seconds")
            done, found = self._pipe.recv()
        except (EOFError, OSError):
            self.end()
            raise Unreadable("it is broken in a way that no reader survives") from None
        if done:
            return found
        raise found

    def end(self) -> None:
        process, self._process, self._ready = self._process, None, False
        if process is not None:
            process.kill()
            process.join(5)
            self._pipe.close()

    def __enter__(self) -> "Apart":
        return self

    def __exit__(self, *error) -> None:
        self.end()
