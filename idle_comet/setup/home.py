"""Where a running Idle Comet keeps its data."""

from __future__ import annotations

import fcntl
import os
from dataclasses import dataclass
from pathlib import Path
from typing import IO

ROOT = Path(__file__).resolve().parents[2]


class HomeBusy(RuntimeError):
    """Another Idle Comet runs on the same home."""


@dataclass(frozen=True, slots=True)
class Home:
    """A data folder: database, media by content hash, exported films."""

    path: Path

    @classmethod
    def find(cls) -> "Home":
        """`IDLE_COMET_HOME`, or `var/home` beside the program."""
        named = os.environ.get("IDLE_COMET_HOME")
        return cls(Path(named).expanduser().resolve() if named else ROOT / "var" / "home")

    @property
    def database(self) -> Path:
        return self.path / "database"

    @property
    def media(self) -> Path:
        return self.path / "media"

    @property
    def films(self) -> Path:
        return self.path / "films"

    @property
    def frames(self) -> Path:
        """Painted frames that are kept; the folder may be removed at any time."""
        return self.path / "frames"

    @property
    def frames_budget(self) -> int:
        """Bytes that kept frames may take: `IDLE_COMET_FRAMES_GB`, or 4 GB."""
        try:
            return int(float(os.environ.get("IDLE_COMET_FRAMES_GB", "4")) * 1e9)
        except ValueError:
            return 4_000_000_000

    def make(self) -> "Home":
        for folder in (self.path, self.media, self.films):
            folder.mkdir(parents=True, exist_ok=True)
        return self

    def lock(self) -> IO[str]:
        """Hold the home for one server; raises HomeBusy when it is held already."""
        file = (self.path / "lock").open("a+")
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise HomeBusy(
                f"Idle Comet already runs on {self.path}. Stop it first, or set IDLE_COMET_HOME to another folder."
            ) from None
        return file
