"""Five planes with focus before a camera that moves: frames late as they play at 25 a second at 640×360 after a first
pass; what the same five planes cost in focus and out of it, beside the film with all of them flat; and what solid type
and a model cost."""

from __future__ import annotations

import time
from pathlib import Path

import cv2

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import (
    AddCamera,
    AddLight,
    AddPicture,
    AddStep,
    AddTitle,
    MoveCamera,
    SetChoice,
    SetValue,
    apply,
)
from idle_comet.core.project.model import Project, Settings, Step, fixed
from idle_comet.core.remember import Budget
from idle_comet.demo.glb import Glb
from idle_comet.demo.hive import ball
from idle_comet.media.decode import EXPORTED, ShotSources
from idle_comet.media.importing import import_file

from .common import close, demo, ms, p50, p95, played

FRAMES = range(10, 110)


def planes(project: Project, stands: bool, by_lens: bool) -> Project:
    """A shot far away, three stills and a title's emblem before it."""
    film = Project(settings=Settings(name="depth"), media=project.media)
    media = ("heath-evening", "ottoline-portrait", "heath-wide", "emblem-hexagon", "emblem-stroke")
    for number, each in enumerate(media):
        id, z = f"plane-{number}", (1400, 700, 300, 0, -300)[number]
        film, _ = apply(film, AddPicture(clip=id, frame=0, media=each))
        if not stands:
            continue
        values = {"z": fixed(float(z)), "swing": fixed((0.0, 12.0, -15.0, 0.0, 20.0)[number])}
        film, _ = apply(film, AddStep(clip=id, at=1, step=Step(id="stand", kind="stand", values=values)))
    if stands:
        film, _ = apply(film, AddCamera(clip="eye", frame=0, length=150))
        film, _ = apply(film, MoveCamera(clip="eye", move="orbit"))
    if by_lens:
        film, _ = apply(film, SetChoice(clip="eye", step="content", name="sharp", value="by the lens"))
        film, _ = apply(film, SetValue(clip="eye", step="content", name="stop", value=1.4))
    return film


def run() -> bool:
    project, folder, _ = demo()
    costs = {}
    for name, film in (
        ("flat", planes(project, False, False)),
        ("standing", planes(project, True, False)),
        ("by the lens", planes(project, True, True)),
    ):
        costs[name] = _painted(film, folder)
        print(f"{name:12} {1000 * costs[name]:.0f} ms CPU a frame at 1280×720 as exported")
    letters, model = _solid_type(), _model(folder)
    print(f"solid type   {1000 * letters:.0f} ms CPU a frame at 1280×720, 20 letters; asked 250")
    print(f"a model      {1000 * model:.0f} ms CPU a frame at 1280×720, {_TRIANGLES} triangles; asked 400")
    passes = played("depth", planes(project, True, True), folder, FRAMES, FRAMES[::10], passes=2)
    for name, (late, waits) in zip(("first", "second"), passes):
        print(f"100 frames at 640×360, {name} pass: {late} late, painting p50 {ms(p50(waits))}, p95 {ms(p95(waits))}")
    return close("depth", [("frames late", late, 0), ("solid type", letters / 0.25, 1), ("model", model / 0.4, 1)])


_TRIANGLES = 50_000


def _solid_type() -> float:
    """Twenty letters of metal that turn before a camera, two lights on them."""
    film = Project(settings=Settings(name="solid"))
    for edit in (
        AddTitle(clip="t", frame=0, text="THE SLOW HARVEST OF HEATH"),
        SetValue(clip="t", step="content", name="size", value=84),
        AddStep(clip="t", at=0, ready="solid-gold", step=Step(id="solid", kind="solid")),
        AddLight(clip="lamp", frame=0, length=100),
        AddCamera(clip="eye", frame=0, length=100),
        MoveCamera(clip="eye", move="orbit"),
    ):
        film, _ = apply(film, edit)
    return _spent(film, Painter(None))


def _model(folder: Path) -> float:
    """A ball as large as the frame is high, of small triangles."""
    out = Glb()
    across = round((_TRIANGLES / 2) ** 0.5 * 1.4142)
    mesh = out.mesh(*ball(1.0, across=across, down=_TRIANGLES // 2 // across), out.material((0.7, 0.5, 0.2), 1.0, 0.3))
    out.node("ball", mesh)
    out.write(folder / "bench-ball.glb")
    media = import_file(folder / "bench-ball.glb", "ball.glb", folder)
    film = Project(settings=Settings(name="model"), media={media.id: media})
    for edit in (
        AddPicture(clip="m", frame=0, media=media.id),
        SetValue(clip="m", step="content", name="size", value=640),
        AddCamera(clip="eye", frame=0, length=100),
        MoveCamera(clip="eye", move="orbit"),
    ):
        film, _ = apply(film, edit)
    return _spent(film, Painter(ShotSources(lambda _: folder / media.path)))


def _spent(film: Project, painter: Painter) -> float:
    """Seconds of CPU a frame as exported, once all that is kept is there."""
    painter.paint(plan(evaluate(film, 40), 1280, 720))
    spent = []
    for frame in range(41, 49):
        began = time.process_time()
        painter.paint(plan(evaluate(film, frame), 1280, 720))
        spent.append(time.process_time() - began)
    return p50(spent)


def _painted(film: Project, folder: Path) -> float:
    cv2.setNumThreads(1)
    painter = Painter(ShotSources(lambda media: folder / film.media[media].path, Budget(EXPORTED)), Budget(64 << 20))
    return _spent(film, painter)
