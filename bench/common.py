"""What benchmarks share: the demo, percentiles, the closing line."""

from __future__ import annotations

import statistics
import time
from pathlib import Path

from idle_comet.demo.project import harvest
from idle_comet.demo.world import make_world
from idle_comet.media.decode import ShotSources
from idle_comet.service.painting import FrameRequest, PainterProcess
from idle_comet.setup.home import ROOT


def demo():
    """The demo project, its media folder and fresh sources over it."""
    folder = ROOT / "var" / "demo-media"
    folder.mkdir(parents=True, exist_ok=True)
    project = harvest(make_world(folder))
    return project, folder, sources_of(project, folder)


def sources_of(project, folder: Path) -> ShotSources:
    return ShotSources(lambda media: folder / project.media[media].path)


def p50(values: list[float]) -> float:
    return statistics.median(values)


def p95(values: list[float]) -> float:
    return sorted(values)[max(0, round(0.95 * len(values)) - 1)]


def ms(seconds: float) -> str:
    return f"{1000 * seconds:.2f} ms"


def timed(work) -> float:
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


AHEAD = 16
"""Frames that the Desk's buffer holds."""


def in_time(frames, paint) -> tuple[int, list[float]]:
    """How many frames are late as they play at 25 a second, and what `paint` gave for each: none is painted further
    ahead than the Desk's buffer holds."""
    began, late, waits = time.perf_counter() + 1.0, 0, []
    for count, number in enumerate(frames):
        due = began + count / 25
        pause = due - AHEAD / 25 - time.perf_counter()
        if pause > 0:
            time.sleep(pause)
        waits.append(paint(number))
        late += time.perf_counter() > due
    return late, waits


def played(name: str, film, folder: Path, frames, first=(), passes: int = 1) -> list[tuple[int, list[float]]]:
    """Of each pass the frames late, and how long each took, through one painting process at 640×360 (the service has
    three); `first` are painted before."""
    painter = PainterProcess(folder)

    def paint(number: int) -> float:
        return painter.paint(name, 0, film, FrameRequest(number, 640, 360, False, 82)).seconds

    for number in first:
        paint(number)
    found = [in_time(frames, paint) for _ in range(passes)]
    painter.stop()
    return found


def close(name: str, checks: list[tuple[str, float, float]]) -> bool:
    """Print the closing line; each check is (what, figure, the most it may be)."""
    short = [f"{what} {figure:.2f} against {most:g}" for what, figure, most in checks if figure > most]
    if short:
        print(f"{name}: short, {', '.join(short)}")
    else:
        print(f"{name}: held, {', '.join(f'{what} {figure:.2f}' for what, figure, _ in checks)}")
    return not short
