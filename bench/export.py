"""CPU of a film (decode, paint, encode) against encoding alone; one thread each."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

import cv2

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.remember import Budget
from idle_comet.media.decode import EXPORTED, ShotSources
from idle_comet.media.encode import FilmWriter

from .common import close, demo


def run() -> bool:
    cv2.setNumThreads(1)
    project, folder, _ = demo()
    frames = range(25, 145)
    settings = project.settings
    with tempfile.TemporaryDirectory() as place:
        parts = {"decode": 0.0, "paint": 0.0, "encode": 0.0}
        sources = ShotSources(lambda media: folder / project.media[media].path, Budget(EXPORTED))
        painter = Painter(sources, Budget(32 << 20))
        painter.paint(plan(evaluate(project, 24), settings.width, settings.height))
        size = settings.width, settings.height
        with FilmWriter(Path(place) / "film.mp4", *size, settings.rate.fraction, crf=20, threads=1) as film:
            for frame in frames:
                scene = evaluate(project, frame)
                shot = scene.layers[0].content
                began = time.process_time()
                sources.planes(shot.media, shot.frame, settings.width, True)
                decoded = time.process_time()
                picture = painter.paint(plan(scene, *size))
                painted = time.process_time()
                film.write(picture)
                encoded = time.process_time()
                for name, seconds in zip(parts, (decoded - began, painted - decoded, encoded - painted)):
                    parts[name] += seconds
            began = time.process_time()
        parts["encode"] += time.process_time() - began
    for name, seconds in parts.items():
        print(f"{name:7} {1000 * seconds / len(frames):.1f} ms CPU a frame")
    return close("export", [("CPU ratio", sum(parts.values()) / parts["encode"], 1.9)])
