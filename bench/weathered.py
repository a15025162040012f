"""A torn title with vignette, grain and paper over a shot: CPU of its export against the encoder, and of a frame that
plays at 640×360 against the time two painters have for it at 25 frames a second."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

import cv2

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import AddGenerated, AddStep, AddTogether, AddTreatment, apply
from idle_comet.core.project.model import Project, Step
from idle_comet.core.remember import Budget
from idle_comet.media.decode import EXPORTED, ShotSources
from idle_comet.media.encode import FilmWriter

from .common import close, demo, p50

FRAMES = range(90, 120)


def weathered(project: Project) -> Project:
    """The demo's title, weathered, over its evening."""
    for edit in (
        AddTogether(clip="title", name="weathered", at=0, seed="torn"),
        AddTreatment(clip="over", frame=25, length=150),
        AddStep(clip="over", at=0, step=Step(id="v", kind="vignette")),
        AddStep(clip="over", at=1, step=Step(id="g", kind="grain")),
        AddGenerated(clip="paper", frame=25, length=150, pattern="paper"),
    ):
        project, _ = apply(project, edit)
    return project


def run() -> bool:
    cv2.setNumThreads(1)
    project, folder, _ = demo()
    film = weathered(project)
    sources = ShotSources(lambda media: folder / film.media[media].path, Budget(EXPORTED))
    painter = Painter(sources, Budget(64 << 20))

    def painted(frame: int, size: tuple[int, int], exact: bool) -> float:
        began = time.process_time()
        pixels = painter.paint(plan(evaluate(film, frame), *size, exact))
        spent = time.process_time() - began
        if exact:
            out.write(pixels)
        return spent

    painter.paint(plan(evaluate(film, 89), 640, 360, False))
    light = p50([painted(frame, (640, 360), False) for frame in FRAMES])
    size = film.settings.width, film.settings.height
    with tempfile.TemporaryDirectory() as place:
        with FilmWriter(Path(place) / "film.mp4", *size, film.settings.rate.fraction, crf=20, threads=1) as out:
            painter.paint(plan(evaluate(film, 89), *size))
            began = time.process_time()
            paint = sum(painted(frame, size, True) for frame in FRAMES)
        whole = time.process_time() - began
    print(f"a light frame {1000 * light:.1f} ms, an exported one {1000 * paint / len(FRAMES):.1f} ms, all CPU")
    return close("weathered", [("export ratio", whole / (whole - paint), 2.5), ("playing", light / (2 / 25), 1.0)])
