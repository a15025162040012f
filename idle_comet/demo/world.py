"""Making the demo's files: painted once, in as many processes as there are cores, and found again by name."""

from __future__ import annotations

import hashlib
import json
import multiprocessing
import os
import re
from concurrent.futures import ProcessPoolExecutor
from fractions import Fraction
from functools import lru_cache
from pathlib import Path
from typing import Callable, NamedTuple

import cv2
import numpy as np

from ..core.project.model import Media
from ..media.encode import FilmWriter
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


SHOTS = (
    Shot("heath-evening", "Heath, evening", "heath.Heath", 1920, 1080, 9),
    Shot("ottoline-bench", "Ottoline at the bench", "workshop.Workshop", 1920, 1080, 9),
    Shot("hands-jars", "Hands and jars", "jars.Jars", 1280, 720, 8),
    Shot("walk-home", "The walk home", "walker.Walker", 1280, 720, 8),
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


@lru_cache(maxsize=None)
def _sources(module: str) -> frozenset[Path]:
    """A module of the demo's and all that it knows of the others."""
    file = Path(__file__).parent / f"{module}.py"
    known = {file}
    for name in re.findall(r"^from \.(\w+) import", file.read_text(), re.M):
        known |= _sources(name)
    return frozenset(known)


def _fingerprint(module: str, wanted: str) -> str:
    """Of the sources that make a file, of what is wanted of it, and of what is told of any file: it is found
    again only while nothing changed."""
    digest = hashlib.sha256(f"{wanted} {sorted(Media.model_fields)}".encode())
    for file in sorted(_sources(module)):
        digest.update(file.read_bytes())
    return digest.hexdigest()[:16]


_MAKERS = {**dict.fromkeys(SOUNDS, "sounds"), **dict.fromkeys(MODELS, "hive")}


def _marker(folder: Path, id: str) -> Path:
    shot = next((each for each in SHOTS if each.id == id), None)
    maker = shot.painter.split(".")[0] if shot else _MAKERS.get(id, "pictures")
    return folder / f"demo-{id}-{_fingerprint(maker, repr(shot))}.json"


def paint_shot(folder: Path, shot: Shot) -> Media:
    """Paint one shot into a media folder."""
    import importlib

    module, name = shot.painter.split(".")
    painter = getattr(importlib.import_module(f"{__package__}.{module}"), name)(shot.width, shot.height)
    unfinished = folder / f".{shot.id}.mp4"
    with FilmWriter(unfinished, shot.width, shot.height, RATE, crf=19, threads=1, keys_every=12) as film:
        for frame in range(int(shot.seconds * RATE)):
            film.write(painter.frame(float(frame / RATE)))
    return import_file(unfinished, f"{shot.name}.mp4", folder).model_copy(update={"id": shot.id})


def _paint_still(folder: Path, id: str, name: str, painter: str, suffix: str) -> Media:
    from . import pictures

    rgba = getattr(pictures, painter)()
    if suffix == ".png":
        # Files hold straight colour.
        alpha = np.maximum(rgba[..., 3:], 1).astype(np.float32)
        rgba[..., :3] = np.clip(rgba[..., :3] * 255.0 / alpha + 0.5, 0, 255)
        _, data = cv2.imencode(suffix, rgba[..., [2, 1, 0, 3]])
    else:
        _, data = cv2.imencode(suffix, rgba[..., 2::-1], [cv2.IMWRITE_JPEG_QUALITY, 92])
    unfinished = folder / f".{id}{suffix}"
    unfinished.write_bytes(data.tobytes())
    return import_file(unfinished, name + suffix, folder).model_copy(update={"id": id})


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


def _make_model(folder: Path, id: str) -> Media:
    from .hive import write_hive

    unfinished = folder / f".{id}.glb"
    write_hive(unfinished)
    return import_file(unfinished, f"{MODELS[id]}.glb", folder).model_copy(update={"id": id})


def _known(folder: Path, id: str) -> Media | None:
    marker = _marker(folder, id)
    known = Media.model_validate_json(marker.read_text()) if marker.exists() else None
    return known if known and (folder / known.path).exists() else None


def _remembered(folder: Path, id: str, make: Callable[[], Media]) -> Media:
    media = make()
    _marker(folder, id).write_text(json.dumps(media.model_dump(mode="json")))
    return media


def _make(job: tuple[Path, tuple | str]) -> Media:
    folder, what = job
    cv2.setNumThreads(1)
    if isinstance(what, str):
        make = _make_model if what in MODELS else _make_sound
        return _remembered(folder, what, lambda: make(folder, what))
    if isinstance(what, Shot):
        return _remembered(folder, what.id, lambda: paint_shot(folder, what))
    return _remembered(folder, what[0], lambda: _paint_still(folder, *what))


def make_world(folder: Path) -> dict[str, Media]:
    """All media of the demo in a media folder, by id."""
    wanted = {(what.id if isinstance(what, Shot) else what[0]): what for what in (*SHOTS, *STILLS)}
    wanted |= {id: id for id in (*SOUNDS, *MODELS)}
    made = {id: _known(folder, id) for id in wanted}
    missing = [what for id, what in wanted.items() if made[id] is None]
    if missing:
        context = multiprocessing.get_context("spawn")
        with ProcessPoolExecutor(os.cpu_count() or 1, mp_context=context) as pool:
            made |= {media.id: media for media in pool.map(_make, [(folder, what) for what in missing])}
    return made
