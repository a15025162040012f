"""The transcriber that the service speaks with: a named one, or the stand-in, started when it is first asked for."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import threading
import time

from .home import ROOT
from .mariadb import free_port

_PATIENCE = 20.0
"""Seconds the stand-in may take to listen."""


class Transcriber:
    """Where the transcriber is: at `IDLE_COMET_TRANSCRIBER`, or the stand-in, which ends with this process."""

    def __init__(self) -> None:
        self._named = os.environ.get("IDLE_COMET_TRANSCRIBER")
        self._starting = threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None
        self._port = 0

    def address(self) -> str:
        """Its address, once it listens; one that ended is started again."""
        if self._named:
            return self._named.rstrip("/")
        with self._starting:
            if self._process is None or self._process.poll() is not None:
                self._start()
        return f"http://127.0.0.1:{self._port}"

    def _start(self) -> None:
        self._port = free_port()
        own = ["--port", str(self._port), "--parent", str(os.getpid())]
        words = [sys.executable, "-m", "idle_comet.standins.transcriber", *own]
        self._process = subprocess.Popen(words, cwd=ROOT, stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL)
        until = time.monotonic() + _PATIENCE
        while time.monotonic() < until and self._process.poll() is None:
            try:
                socket.create_connection(("127.0.0.1", self._port), 1).close()
                return
            except OSError:
                time.sleep(0.02)
