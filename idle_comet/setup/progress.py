"""What a command says while it works: each part with the time it took, and a line for one that takes long."""

from __future__ import annotations

import contextlib
import threading
import time
from typing import Iterator

_LONG, _AGAIN = 3.0, 10.0
"""Seconds after which a part says that it goes on, and between two such lines."""

_WORTH_A_LINE = 0.3
"""Seconds below which a part is not worth a line."""


@contextlib.contextmanager
def part(says: str) -> Iterator[None]:
    """A part of the work, named as a phrase such as "Building the front end"."""
    began, done = time.monotonic(), threading.Event()

    def wait() -> None:
        pause = _LONG
        while not done.wait(pause):
            pause = _AGAIN
            print(f"{says}: {time.monotonic() - began:.0f} s so far", flush=True)

    threading.Thread(target=wait, daemon=True).start()
    try:
        yield
    finally:
        done.set()
    took = time.monotonic() - began
    if took >= _WORTH_A_LINE:
        print(f"{says}: {took:.1f} s", flush=True)
