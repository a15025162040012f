"""Evaluating ten live clips in timelines of 10, 1,000 and 10,000; memory of a short and a long export."""

from __future__ import annotations

import multiprocessing
import resource
import tempfile
from pathlib import Path

from idle_comet.core.compose import evaluate
from idle_comet.core.project.model import Project, Track

from .common import close, demo, ms, p50, sources_of, timed


def _crowded(project: Project, count: int) -> Project:
    """Ten tracks, `count` titles, ten of them live at any frame."""
    title = project.clips["title"]
    tracks = tuple(Track(id=f"t{i}", name=f"T{i}") for i in range(10))
    clips = {}
    for number in range(count):
        clip = title.model_copy(
            update={"id": f"c{number}", "track": f"t{number % 10}", "head": (number // 10) * title.length}
        )
        clips[clip.id] = clip
    return project.model_copy(update={"tracks": tracks, "clips": clips})


def _peak(pipe, seconds: int) -> None:
    """Peak memory in MB of rendering a film of so many seconds, shot looped."""
    from idle_comet.media.film import Order, render_film

    project, folder, _ = demo()
    shot, length = project.clips["shot-hands-jars"], 175
    clips = {
        f"s{i}": shot.model_copy(update={"id": f"s{i}", "head": i * length, "length": length})
        for i in range(seconds * 25 // length + 1)
    }
    film = project.model_copy(update={"clips": clips})
    with tempfile.TemporaryDirectory() as place:
        render_film(film, sources_of(film, folder), Path(place) / "film.mp4", Order(0, seconds * 25, 320, 180, 30))
    pipe.send(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)


def run() -> bool:
    project, _, _ = demo()
    costs = {}
    films = {count: _crowded(project, count) for count in (10, 1000, 10_000)}
    for film in films.values():
        evaluate(film, 40)
    samples = {count: [] for count in films}
    for frame in range(20, 120):
        for count, film in films.items():
            samples[count].append(timed(lambda: evaluate(film, frame)))
    for count, values in samples.items():
        costs[count] = p50(values)
        print(f"{count:6} clips: {ms(costs[count])} for ten live")
    context = multiprocessing.get_context("spawn")
    peaks = {}
    for seconds in (30, 300):
        ours, theirs = context.Pipe(False)
        process = context.Process(target=_peak, args=(theirs, seconds))
        process.start()
        peaks[seconds] = ours.recv()
        process.join()
        print(f"{seconds:4} s film: peak {peaks[seconds]:.0f} MB")
    return close(
        "scale", [("evaluate ratio", costs[10_000] / costs[10], 2), ("memory ratio", peaks[300] / peaks[30], 1.1)]
    )
