"""The sounds that ship with the product: a click, a whoosh, a chime and a quiet bed, made by its own generator."""

from __future__ import annotations

import shutil
import tempfile
from pathlib import Path

from ..core.project.model import Media
from .importing import import_file
from .probe import hash_file

_FOLDER = Path(__file__).parent / "sounds"


def shipped_sounds(folder: Path) -> dict[str, Media]:
    """What ships, in a media folder, by the name of each; what is not there yet is put there."""
    return {file.stem: _laid_out(file, folder) for file in sorted(_FOLDER.iterdir())}


def lay_out_sounds(folder: Path) -> None:
    """Puts what ships into a media folder, where ensembles look for it."""
    for file in sorted(_FOLDER.iterdir()):
        if not (folder / f"{hash_file(file)}{file.suffix}").exists():
            _laid_out(file, folder)


def _laid_out(file: Path, folder: Path) -> Media:
    with tempfile.TemporaryDirectory(dir=folder) as apart:
        # What is imported is moved.
        copy = Path(apart) / file.name
        shutil.copy(file, copy)
        return import_file(copy, file.name, folder).model_copy(update={"id": f"shipped-{file.stem}"})
