"""Limits of a process that works on what strangers send."""

from __future__ import annotations

import resource


def limit_memory(more: int) -> None:
    """Let this process take `more` bytes beyond what it has now; past that, what asks for more gets a MemoryError."""
    with open("/proc/self/statm") as file:
        now = int(file.read().split()[0]) * resource.getpagesize()
    _, hard = resource.getrlimit(resource.RLIMIT_AS)
    most = now + more if hard == resource.RLIM_INFINITY else min(now + more, hard)
    resource.setrlimit(resource.RLIMIT_AS, (most, hard))
