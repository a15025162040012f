"""Rendering frames of a project, one or many, to files. The one path for export and command line."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Callable

import numpy as np

from ..core.compose import Painter, Sources, evaluate, plan
from ..core.project.model import Project
from .encode import FilmWriter
from .probe import MediaError, probe


class Cancelled(Exception):
    """The one who asked for the film does not want it any more."""


def paint_frame(painter: Painter, project: Project, frame: int, width: int, height: int, exact: bool = True) -> np.ndarray:
    """One frame at a size, (height, width, 4) uint8."""
    return painter.paint(plan(evaluate(project, frame), width, height, exact))


def render_film(
    project: Project, sources: Sources, path: Path, first: int, frames: int, width: int, height: int,
    crf: float = 18, threads: int = 0, progress: Callable[[int], None] = lambda done: None,
) -> None:
    """Render frames [first, first + frames) to an MP4.

    Written beside its place under a temporary name, checked, then renamed: what stands
    at `path` is always a whole film. `progress` is told after each frame and may raise
    Cancelled; then, as on any error, nothing is left behind.
    """
    painter = Painter(sources)
    unfinished = path.with_name(f".{path.name}.part")
    try:
        with FilmWriter(unfinished, width, height, project.settings.rate.fraction, crf, threads=threads) as film:
            for done in range(frames):
                film.write(paint_frame(painter, project, first + done, width, height))
                progress(done + 1)
        found = probe(unfinished)
        if (found.frames, found.width, found.height) != (frames, width, height):
            raise MediaError(f"The film came out wrong ({found.frames} frames of {found.width}×{found.height}); it was not kept.")
        os.replace(unfinished, path)
    finally:
        unfinished.unlink(missing_ok=True)
