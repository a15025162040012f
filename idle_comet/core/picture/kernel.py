"""How hot loops are compiled."""

from __future__ import annotations

import functools
import threading
from types import FunctionType
from typing import Any, Callable

import numpy as np

_LOOPS: list[Kernel] = []
_LOCK = threading.RLock()


class Kernel:
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

                self._compiled = numba.njit(
                    list(self._signatures), nogil=True, cache=True, fastmath=self._fastmath, error_model="numpy"
                )(self._with_inner())
        return self._compiled

    def _with_inner(self) -> FunctionType:
        """The loop with the loops it calls, which the compiler must find compiled."""
        work = self._work
        named = {name: work.__globals__.get(name) for name in work.__code__.co_names}
        inner = {name: each.compiled() for name, each in named.items() if isinstance(each, Kernel)}
        if not inner:
            return work
        made = FunctionType(work.__code__, {**work.__globals__, **inner}, work.__name__, work.__defaults__)
        made.__qualname__ = work.__qualname__
        return made


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
