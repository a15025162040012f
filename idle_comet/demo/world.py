"""The media of the demo: files that ship with the product, and sounds that are made as they are first wanted."""

from __future__ import annotations

import hashlib
import json
import multiprocessing
import os
import shutil
from concurrent.futures import ProcessPoolExecutor
from fractions import Fraction
from pathlib import Path
from typing import NamedTuple

import cv2
import numpy as np

from ..core.project.model import Media
from ..disk import put
from ..media.importing import import_file
from .sounds import SOUNDS

RATE = Fraction(25)


class Shot(NamedTuple):
    """A moving shot of the demo: who paints it, at which size, for how long."""

    id: str
    name: str
    painter: str
    width: int
    height: int
    seconds: float
    crf: float
    """The encoder's quality, so that the file is as small as it ships."""


SHOTS = (
    Shot("heath-evening", "Heath, evening", "heath.Heath", 1920, 1080, 9, 22),
    Shot("ottoline-bench", "Ottoline at the bench", "workshop.Workshop", 1920, 1080, 9, 22),
    Shot("hands-jars", "Hands and jars", "jars.Jars", 1280, 720, 8, 20),
    Shot("walk-home", "The walk home", "walker.Walker", 1280, 720, 8, 20),
)
STILLS = (
    ("heath-dawn", "Heath, an old print", "photograph", ".jpg"),
    ("ottoline-portrait", "Ottoline, a portrait", "portrait", ".jpg"),
    ("jars-window", "Jars in the window", "jars_upright", ".jpg"),
    ("heath-wide", "Heath, wide", "wide", ".jpg"),
    ("hives-upright", "Hives in a row", "hives_upright", ".jpg"),
    ("bench-card", "The bench, a small card", "small_card", ".jpg"),
    ("emblem-hexagon", "Emblem, hexagon", "hexagon", ".png"),
    ("emblem-stroke", "Emblem, stroke", "stroke", ".png"),
)


MODELS = {"hive": "Hive"}


FILES = Path(__file__).parent / "files"
"""What ships, painted by `./comet demo`."""


def _file_of(id: str) -> tuple[Path, str]:
    """A file that ships, and its name as an editor reads it."""
    suffixes = {still[0]: still[3] for still in STILLS} | dict.fromkeys(MODELS, ".glb")
    names = {shot.id: shot.name for shot in SHOTS} | {still[0]: still[1] for still in STILLS} | MODELS
    suffix = suffixes.get(id, ".mp4")
    return FILES / f"{id}{suffix}", names[id] + suffix


def _taken(folder: Path, id: str) -> Media:
    file, name = _file_of(id)
    # What is imported is moved.
    copy = folder / f".{id}{file.suffix}"
    shutil.copyfile(file, copy)
    return import_file(copy, name, folder).model_copy(update={"id": id})


def _make_sound(folder: Path, id: str) -> Media:
    import wave

    from .sounds import RATE as SOUND_RATE

    name, make = SOUNDS[id]
    unfinished = folder / f".{id}.wav"
    with wave.open(str(unfinished), "wb") as out:
        out.setnchannels(2)
        out.setsampwidth(2)
        out.setframerate(SOUND_RATE)
        out.writeframes(np.round(np.clip(make(), -1, 1) * 32767).astype("<i2").tobytes())
    return import_file(unfinished, f"{name}.wav", folder).model_copy(update={"id": id})


def _marker(folder: Path, id: str) -> Path:
    """Where it is noted what was taken in: of this file, and of what is told of any file."""
    digest = hashlib.sha256(f"{sorted(Media.model_fields)}".encode())
    made_of = [Path(__file__).with_name(f"{each}.py") for each in ("sounds", "voice")]
    for file in made_of if id in SOUNDS else [_file_of(id)[0]]:
        digest.update(file.read_bytes())
    return folder / f"demo-{id}-{digest.hexdigest()[:16]}.json"


def _known(folder: Path, id: str) -> Media | None:
    marker = _marker(folder, id)
    known = Media.model_validate_json(marker.read_text()) if marker.exists() else None
    return known if known and (folder / known.path).exists() else None


def _make(job: tuple[Path, str]) -> Media:
    folder, id = job
    cv2.setNumThreads(1)
    media = (_make_sound if id in SOUNDS else _taken)(folder, id)
    unfinished = folder / f".{id}.json"
    unfinished.write_text(json.dumps(media.model_dump(mode="json")))
    put(unfinished, _marker(folder, id))
    return media


def make_world(folder: Path) -> dict[str, Media]:
    """All media of the demo in a media folder, by id."""
    wanted = [*(shot.id for shot in SHOTS), *(still[0] for still in STILLS), *MODELS, *SOUNDS]
    made = {id: _known(folder, id) for id in wanted}
    missing = [id for id in wanted if made[id] is None]
    if missing:
        with ProcessPoolExecutor(os.cpu_count() or 1, mp_context=multiprocessing.get_context("spawn")) as pool:
            made |= {media.id: media for media in pool.map(_make, [(folder, id) for id in missing])}
    return made
