"""The process that those which paint, read and export are forked from."""

from __future__ import annotations

import multiprocessing
from multiprocessing import forkserver
from multiprocessing.context import ForkServerContext


def processes() -> ForkServerContext:
    """Makes processes of one that has read all that they need (see painting/ready.py)."""
    context = multiprocessing.get_context("forkserver")
    context.set_forkserver_preload(["idle_comet.service.painting.ready"])
    return context


def begin_processes() -> None:
    """Let that process read what they need, while other things are begun."""
    processes()
    forkserver.ensure_running()
