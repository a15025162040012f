"""1920×1080 footage moved, rolled and shaken into 1280×720, CPU beside decoding it; and how long a move of a minute
takes to be kept filled."""

from __future__ import annotations

import time

import cv2

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import AddStep, UseMove, apply
from idle_comet.core.moment.filling import filling
from idle_comet.core.moment.scene import PlainNow
from idle_comet.core.project.model import Clip, Footage, Plain, Project, Settings, Step, Track
from idle_comet.core.remember import Budget
from idle_comet.media.decode import EXPORTED, ShotSources

from .common import close, demo, p50

FRAMES = range(20, 80)
MINUTE = 60 * 25


def film(media, content, length: int) -> Project:
    """One clip that is pushed in on, rolled and held by hand."""
    clip = Clip(id="shot", track="shots", name="shot", head=0, length=length, content=content)
    project = Project(
        settings=Settings(name="moves"), tracks=(Track(id="shots", name="Shots"),), media=media, clips={"shot": clip}
    )
    for edit in (
        UseMove(clips=("shot",), move="turn-point", at=(760, 300)),
        AddStep(clip="shot", at=1, step=Step(id="held", kind="handheld")),
    ):
        project, _ = apply(project, edit)
    return project


def run() -> bool:
    cv2.setNumThreads(1)
    project, folder, _ = demo()
    path = project.media["ottoline-bench"].path
    moved = film(project.media, Footage(media="ottoline-bench"), 200)

    def spent(work) -> float:
        began = time.process_time()
        work()
        return time.process_time() - began

    def sources() -> ShotSources:
        return ShotSources(lambda media: folder / moved.media[media].path, Budget(EXPORTED))

    one, two = sources(), sources()
    painter = Painter(two, Budget(64 << 20))
    for frame in range(14, 20):
        one.planes("ottoline-bench", frame, 1280, True)
        painter.paint(plan(evaluate(moved, frame), 1280, 720))
    decoded, painted = [], []
    for frame in FRAMES:
        decoded.append(spent(lambda: one.planes("ottoline-bench", frame, 1280, True)))
        painted.append(spent(lambda: painter.paint(plan(evaluate(moved, frame), 1280, 720))))
    long = film({}, Plain(colour="#808080"), MINUTE)
    began = time.perf_counter()
    found = filling(long, long.clips["shot"], PlainNow("#808080"))
    solved = time.perf_counter() - began
    moving = p50(painted) - p50(decoded)
    print(f"{path}: decoding {1000 * p50(decoded):.1f} ms a frame, moving it {1000 * moving:.1f} ms, all CPU")
    print(f"a minute kept filled in {solved:.2f} s, shown {100 * (found.scale - 1):.1f} % larger" if found else "lost")
    return close("moves", [("moving against decoding", moving / p50(decoded), 2.0), ("seconds to solve", solved, 0.5)])
