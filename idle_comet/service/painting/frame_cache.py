"""Frames on disk as they were painted, so that undo, another window and tomorrow find them again.

A frame goes by the digest of all that it is painted from, the program among it: what an edit does not touch is found,
and what another version painted is not. Several servers may use one folder: a file comes whole or not at all, and one
that is torn all the same is found out by the digest it begins with.
"""

from __future__ import annotations

import contextlib
import functools
import hashlib
import os
import time
from pathlib import Path
from typing import Any, Iterator

from ...core.compose.graph import digest_of

_SEEN_AGAIN = 3600.0
"""Seconds after which a look at a frame is noted: what was not seen for longest goes first."""

_FULL = 60.0
"""Seconds for which nothing is written after the disk did not take a frame."""

_BREATH = 0.005
"""Seconds between two folders that are looked through."""

_DIGEST = 16


class FrameCache:
    """Encoded frames by their keys, `most` bytes together."""

    def __init__(self, folder: Path, most: int) -> None:
        self._folder, self._most = folder, most
        self._writes_from = 0.0

    def find(self, key: tuple[Any, ...]) -> bytes | None:
        """The frame, or None where it is not there whole."""
        path = self._path(key)
        try:
            found = path.read_bytes()
        except OSError:
            return None
        jpeg = found[_DIGEST:]
        if hashlib.blake2b(jpeg, digest_size=_DIGEST).digest() != found[:_DIGEST]:
            with contextlib.suppress(OSError):
                path.unlink(missing_ok=True)
            return None
        with contextlib.suppress(OSError):
            if time.time() - path.stat().st_mtime > _SEEN_AGAIN:
                os.utime(path)
        return jpeg

    def keep(self, key: tuple[Any, ...], jpeg: bytes) -> None:
        """Write a frame; where the disk takes none, it is let go."""
        if time.monotonic() < self._writes_from:
            return
        path = self._path(key)
        part = path.with_name(f".{path.name}-{os.getpid()}")
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            part.write_bytes(hashlib.blake2b(jpeg, digest_size=_DIGEST).digest() + jpeg)
            part.replace(path)
        except OSError:
            self._writes_from = time.monotonic() + _FULL
            with contextlib.suppress(OSError):
                part.unlink(missing_ok=True)

    def trim(self) -> None:
        """Remove what was not seen for longest, until a tenth of the budget is free."""
        found = sorted(self._files())
        bytes = sum(size for _, size, _ in found)
        if bytes <= self._most:
            return
        for _, size, path in found:
            if bytes <= 0.9 * self._most:
                return
            with contextlib.suppress(OSError):
                os.unlink(path)
            bytes -= size

    def _files(self) -> Iterator[tuple[float, int, str]]:
        """When each was seen, its bytes and where it is."""
        with contextlib.suppress(OSError):
            for folder in os.scandir(self._folder):
                # Tens of thousands of files are looked at beside whoever waits for an answer.
                time.sleep(_BREATH)
                with contextlib.suppress(OSError), os.scandir(folder) as files:
                    for file in files:
                        stat = file.stat()
                        yield stat.st_mtime, stat.st_size, file.path

    def _path(self, key: tuple[Any, ...]) -> Path:
        name = digest_of((_program(), *key)).hex()
        return self._folder / name[:2] / name[2:]


@functools.cache
def _program() -> bytes:
    """16 bytes that stand for all that paints: code, packages and typefaces."""
    code = Path(__file__).resolve().parents[2]
    known = hashlib.blake2b((code.parent / "requirements.txt").read_bytes(), digest_size=_DIGEST)
    for folder in (code / "core", code / "media"):
        for path in sorted(folder.rglob("*")):
            if path.suffix == ".py":
                known.update(path.read_bytes())
            elif path.is_file() and "__pycache__" not in path.parts:
                known.update(f"{path.relative_to(code)} {path.stat().st_size}".encode())
    return known.digest()
