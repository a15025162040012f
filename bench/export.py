"""CPU of a film (decode, paint, encode) against encoding alone the same frames held in memory; one thread each."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

import cv2

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.media.encode import FilmWriter

from .common import close, demo, sources_of


def run() -> bool:
    cv2.setNumThreads(1)
    project, folder, _ = demo()
    frames = range(25, 145)
    settings = project.settings
    with tempfile.TemporaryDirectory() as place:
        parts = {"decode": 0.0, "paint": 0.0}
        sources = sources_of(project, folder)
        painter, held = Painter(sources), []
        painter.paint(plan(evaluate(project, 24), settings.width, settings.height))
        for frame in frames:
            scene = evaluate(project, frame)
            shot = scene.layers[0].content
            began = time.process_time()
            sources.planes(shot.media, shot.frame, settings.width, True)
            between = time.process_time()
            held.append(painter.paint(plan(scene, settings.width, settings.height)))
            parts["decode"] += between - began
            parts["paint"] += time.process_time() - between
        began = time.process_time()
        with FilmWriter(
            Path(place) / "film.mp4", settings.width, settings.height, settings.rate.fraction, crf=20, threads=1
        ) as film:
            for picture in held:
                film.write(picture)
        parts["encode"] = time.process_time() - began
    for name, seconds in parts.items():
        print(f"{name:7} {1000 * seconds / len(frames):.1f} ms CPU a frame")
    return close("export", [("CPU ratio", sum(parts.values()) / parts["encode"], 2.5)])
