"""From request to encoded frame at 640×360, against the floor: proxy decode and JPEG encode of the same frames."""

from __future__ import annotations

import random

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.media.still import jpeg_bytes
from idle_comet.service.painting import FrameRequest, ready  # noqa: F401 — as a painting process begins
from idle_comet.service.painting.worker import Worker

from .common import close, demo, ms, p50, p95, sources_of, timed

WIDTH, HEIGHT = 640, 360


def run() -> bool:
    project, folder, _ = demo()
    moving = list(range(25, 65)) + list(range(250, 270)) + list(range(500, 530))
    random.Random(1).shuffle(moving)
    worker = Worker(str(folder))
    worker.learn("demo", 0, project)
    floor_sources = sources_of(project, folder)
    live = {frame: evaluate(project, frame).layers[0].content for frame in moving}
    # Both are run once so that files are open and glyphs are known; then they take turns.
    for frame in moving[:6]:
        worker.paint("demo", FrameRequest(frame + 1, WIDTH, HEIGHT, False, 82))
        floor_sources.frame(live[frame].media, live[frame].frame + 1, WIDTH, False)
    floor, cost, cached, cold, cold_floor = [], [], [], [], []
    for frame in moving:
        shot = live[frame]
        floor.append(timed(lambda: jpeg_bytes(floor_sources.frame(shot.media, shot.frame, WIDTH, False), 82)))
        request = FrameRequest(frame, WIDTH, HEIGHT, False, 82)
        cost.append(timed(lambda: worker.paint("demo", request)))
        cached.append(timed(lambda: worker.paint("demo", request)))
    # Cold is a frame of a file that was not open, for both.
    for frame in moving[:24]:
        shot, fresh = live[frame], sources_of(project, folder)
        cold_floor.append(timed(lambda: jpeg_bytes(fresh.frame(shot.media, shot.frame, WIDTH, False), 82)))
        painter = Painter(sources_of(project, folder))
        cold.append(timed(lambda: jpeg_bytes(painter.paint(plan(evaluate(project, frame), WIDTH, HEIGHT, False)), 82)))
    shown = (("floor", floor), ("moving", cost), ("cached", cached), ("cold", cold), ("its floor", cold_floor))
    for name, values in shown:
        print(f"{name:9} p50 {ms(p50(values))}  p95 {ms(p95(values))}")
    return close(
        "preview",
        [
            ("p50 ratio", p50(cost) / p50(floor), 2.5),
            ("p95 ratio", p95(cost) / p95(floor), 2.5),
            ("cold p50 ratio", p50(cold) / p50(cold_floor), 1.8),
        ],
    )
