"""A file gets its name when it is whole and on the disk: a fault or a power cut leaves all of it under that name, or
nothing."""

from __future__ import annotations

import os
from pathlib import Path


def put(unfinished: Path, target: Path) -> None:
    """Give a written file, or a folder of files, its name, in the place of one that has it. Raises OSError."""
    for each in unfinished.rglob("*") if unfinished.is_dir() else ():
        sync(each)
    sync(unfinished)
    os.replace(unfinished, target)
    sync(target.parent)


def sync(path: Path) -> None:
    """Have what a file holds, or the names in a folder, written to the disk. Raises OSError."""
    opened = os.open(path, os.O_RDONLY)
    try:
        os.fsync(opened)
    finally:
        os.close(opened)
