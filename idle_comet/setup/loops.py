"""Compiling the hot loops on a bare machine, before anybody waits for a picture."""

from __future__ import annotations

import hashlib
import os
import subprocess
import sys
import threading
from importlib.metadata import version

from .home import ROOT

_STAMP = ROOT / "var" / "loops"


def _fingerprint() -> str:
    """What the machine code is made of: the text of all files that hold a loop or a piece of one, and the compiler."""
    digest = hashlib.sha256(f"{sys.version} {version('numba')}".encode())
    for file in sorted((ROOT / "idle_comet" / "core").rglob("*.py")):
        text = file.read_bytes()
        if b"@kernel(" in text or b"Lanes(" in text:
            digest.update(text)
    return digest.hexdigest()


class Loops:
    """The hot loops, compiled by a process of their own while other things are set up.

    Without it the first picture on a bare machine would wait for the compiler. Where they were compiled before,
    nothing is done.
    """

    def __init__(self) -> None:
        self._made_of = _fingerprint()
        self._compiling: subprocess.Popen[bytes] | None = None
        if not _STAMP.exists() or _STAMP.read_text() != self._made_of:
            words = [sys.executable, "-m", "idle_comet.service.painting.ready"]
            self._compiling = subprocess.Popen(words, cwd=ROOT, stdin=subprocess.DEVNULL)

    @property
    def compiling(self) -> bool:
        return self._compiling is not None and self._compiling.poll() is None

    def finish(self) -> None:
        """Wait for them in a thread of its own: until then whoever paints takes each loop when it is first run."""
        if self.compiling:
            os.environ["IDLE_COMET_COMPILING"] = "1"
            threading.Thread(target=self._finish, daemon=True).start()

    def stop(self) -> None:
        """Let go of what is not compiled yet: the next start goes on from there."""
        if self.compiling and self._compiling is not None:
            self._compiling.terminate()

    def _finish(self) -> None:
        self.wait()
        os.environ.pop("IDLE_COMET_COMPILING", None)

    def wait(self) -> None:
        """Until they are ready. Should it fail, the first picture says so: it compiles what it needs."""
        if self._compiling is not None and self._compiling.wait() == 0:
            _STAMP.parent.mkdir(exist_ok=True)
            _STAMP.write_text(self._made_of)
