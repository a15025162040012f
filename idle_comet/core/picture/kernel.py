"""How hot loops are compiled."""

from __future__ import annotations

import functools
import os
import threading
from types import FunctionType
from typing import Any, Callable

import numpy as np

_LOOPS: list[Kernel] = []
_LOCK = threading.RLock()


class Part:
    """What a loop calls by name: another loop, or a piece that is told to the compiler in its own words."""

    def __call__(self, *values: Any) -> Any:
        raise NotImplementedError

    def compiled(self) -> Any:
        """What stands for it in the loop."""
        raise NotImplementedError

    def files(self) -> set[str]:
        """Where it is written, and what it calls is."""
        raise NotImplementedError


class Kernel(Part):
    """A loop that is compiled, or read from the disk where that was done before, when it is first run.

    So a process that paints nothing does not wait for a compiler it has no use for.
    """

    def __init__(self, work: FunctionType, signatures: tuple[str, ...], fastmath: bool) -> None:
        functools.update_wrapper(self, work)
        self._work, self._signatures, self._fastmath = work, signatures, fastmath
        self._compiled: Callable[..., Any] | None = None
        _LOOPS.append(self)

    def __call__(self, *values: Any) -> Any:
        return (self._compiled or self.compiled())(*values)

    def compiled(self) -> Callable[..., Any]:
        """The machine code, by its signatures alone: no call ever compiles another."""
        with _LOCK:
            if self._compiled is None:
                import numba

                # Four channels of a px that are done the same to are done at once.
                numba.config.SLP_VECTORIZE = 1  # type: ignore[attr-defined]
                made: Any = numba.njit(nogil=True, cache=True, fastmath=self._fastmath, error_model="numpy")(
                    self._with_inner()
                )
                # What is kept on disk goes by the file a loop stands in. It holds the loops that this one calls as
                # well, and what is said here of how it is compiled.
                kept = made._cache._cache_file
                kept._source_stamp = (kept._source_stamp, *map(_stamp, sorted(self.files() | {__file__})))
                for signature in self._signatures:
                    made.compile(signature)
                made.disable_compile()
                self._compiled = made
        return self._compiled

    def _inner(self) -> dict[str, Part]:
        """What it calls, by what it calls it."""
        named = {name: self._work.__globals__.get(name) for name in self._work.__code__.co_names}
        return {name: each for name, each in named.items() if isinstance(each, Part)}

    def files(self) -> set[str]:
        return {self._work.__code__.co_filename}.union(*(each.files() for each in self._inner().values()))

    def _with_inner(self) -> FunctionType:
        """The loop with what it calls, which the compiler must find compiled."""
        work = self._work
        inner = {name: each.compiled() for name, each in self._inner().items()}
        if not inner:
            return work
        made = FunctionType(work.__code__, {**work.__globals__, **inner}, work.__name__, work.__defaults__)
        made.__qualname__ = work.__qualname__
        return made


def _stamp(path: str) -> tuple[float, int]:
    found = os.stat(path)
    return found.st_mtime, found.st_size


def kernel(*signatures: str, fastmath: bool = False) -> Callable[[Any], Any]:
    """A loop in machine code, one for each of its signatures, kept on disk.

    It runs without the GIL, so that threads of one process can blend at the same time. With `fastmath`
    sums may be taken in another order; machines differ by no more than that.
    """
    return lambda work: Kernel(work, signatures, fastmath)


def load_kernels() -> None:
    """Make all loops ready at once, for a process that paints for somebody who waits."""
    for each in _LOOPS:
        each.compiled()


def own(pixels: np.ndarray) -> np.ndarray:
    """Pixels as loops take them: in one piece, and not locked against being written to."""
    whole = np.ascontiguousarray(pixels)
    return whole if whole.flags.writeable else whole.copy()
