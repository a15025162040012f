"""Painting the demo's files: shots, stills and a model, as they ship with the product."""

from __future__ import annotations

import importlib
import os
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from pathlib import Path

import cv2
import numpy as np

from ..core.project.model import Media
from ..media.encode import FilmWriter
from ..media.importing import import_file
from .world import FILES, MODELS, RATE, SHOTS, STILLS, Shot


def painter_of(shot: Shot):
    """What paints a shot: `frame(seconds)` gives (h, w, 4) uint8."""
    module, name = shot.painter.split(".")
    return getattr(importlib.import_module(f"{__package__}.{module}"), name)(shot.width, shot.height)


def write_shot(shot: Shot, path: Path) -> None:
    """Paint a shot and write it as small as it can be without bands in its skies."""
    painter = painter_of(shot)
    more = {"g": str(RATE), "x264-params": "aq-mode=3"}
    with FilmWriter(path, shot.width, shot.height, RATE, shot.crf, "slow", threads=1, more=more) as film:
        for frame in range(int(shot.seconds * RATE)):
            film.write(painter.frame(float(frame / RATE)))


def paint_shot(folder: Path, shot: Shot) -> Media:
    """Paint one shot into a media folder."""
    unfinished = folder / f".{shot.id}.mp4"
    write_shot(shot, unfinished)
    return import_file(unfinished, f"{shot.name}.mp4", folder).model_copy(update={"id": shot.id})


def painted_still(painter: str) -> np.ndarray:
    """(h, w, 4) uint8, premultiplied."""
    from . import pictures

    return getattr(pictures, painter)()


def _write_still(painter: str, path: Path) -> None:
    rgba = painted_still(painter)
    if path.suffix == ".png":
        # Files hold straight colour.
        alpha = np.maximum(rgba[..., 3:], 1).astype(np.float32)
        rgba[..., :3] = np.clip(rgba[..., :3] * 255.0 / alpha + 0.5, 0, 255)
        _, data = cv2.imencode(path.suffix, rgba[..., [2, 1, 0, 3]])
    else:
        _, data = cv2.imencode(path.suffix, rgba[..., 2::-1], [cv2.IMWRITE_JPEG_QUALITY, 92])
    path.write_bytes(data.tobytes())


def _paint(id: str) -> None:
    from .hive import write_hive

    cv2.setNumThreads(1)
    shot = next((each for each in SHOTS if each.id == id), None)
    still = next((each for each in STILLS if each[0] == id), None)
    if shot:
        write_shot(shot, FILES / f"{id}.mp4")
    elif still:
        _write_still(still[2], FILES / f"{id}{still[3]}")
    else:
        write_hive(FILES / f"{id}.glb")


def paint_files() -> None:
    """Paint all files that ship, in as many processes as there are cores."""
    FILES.mkdir(exist_ok=True)
    wanted = [*(shot.id for shot in SHOTS), *(still[0] for still in STILLS), *MODELS]
    with ProcessPoolExecutor(os.cpu_count() or 1, mp_context=get_context("spawn")) as pool:
        list(pool.map(_paint, wanted))
