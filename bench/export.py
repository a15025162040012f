"""CPU of a film (decode, paint, encode) against encoding alone; one thread each. CPU of a draft against the whole film,
for the demo and each ensemble."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

import cv2

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import UseEnsemble, apply
from idle_comet.core.project.model import Project
from idle_comet.core.project.timeline import film_length
from idle_comet.core.recipes import shipped_ensembles
from idle_comet.core.remember import Budget
from idle_comet.media.decode import EXPORTED, ShotSources
from idle_comet.media.encode import FilmWriter
from idle_comet.media.film import Order, paint_frame

from .common import close, demo, sources_of


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
    drafts = {"the demo": _draft(project, folder)}
    for id, ensemble in shipped_ensembles().items():
        film = Project(settings=ensemble.film.settings)
        film, _ = apply(film, UseEnsemble(ensemble=ensemble, frame=0, seed="e"))
        drafts[id] = _draft(film, folder)
    for name, share in drafts.items():
        print(f"draft of {name:20} {share:.2f} of its film")
    return close(
        "export",
        [("CPU ratio", sum(parts.values()) / parts["encode"], 1.9), ("draft, the worst", max(drafts.values()), 1 / 3)],
    )


def _draft(project: Project, folder: Path) -> float:
    """What painting and encoding 24 frames of a film in a row cost as a draft, as a share of the whole film's CPU."""
    length = film_length(project)
    frames = range(length // 2, min(length // 2 + 24, length))
    order = Order(frames.start, len(frames), project.settings.width, project.settings.height)
    rate, cost = project.settings.rate.fraction, []
    for each in (order, order.as_draft()):
        sources = sources_of(project, folder)
        painter = Painter(sources, Budget(32 << 20))
        with tempfile.TemporaryDirectory() as place:
            path = Path(place) / "film.mp4"
            began = time.process_time()
            with FilmWriter(path, each.width, each.height, rate, each.crf, each.preset, threads=1) as film:
                for frame in frames:
                    film.write(paint_frame(painter, project, frame, each.width, each.height, not each.draft))
            cost.append(time.process_time() - began)
    return cost[1] / cost[0]
