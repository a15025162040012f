"""Four moving 1080p shots in a quad, with outlines and shadows: frames late as they play at 25 a second at 640×360,
through the painting process; CPU of the export against the encoder and four decodes alone."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

import cv2

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import AddPicture, ArrangeClips, UseMove, apply
from idle_comet.core.project.model import Project, Settings
from idle_comet.core.remember import Budget
from idle_comet.media.decode import EXPORTED, ShotSources
from idle_comet.media.encode import FilmWriter

from .common import close, demo, ms, p95, played

EXPORTED_FRAMES = range(60, 100)


def quad(project: Project) -> Project:
    """The two large shots of the demo twice each, from other moments, each with a slow move, in a grid."""
    film = Project(settings=Settings(name="quad", width=1920, height=1080), media=project.media)
    ids = []
    for number, media in enumerate(("heath-evening", "ottoline-bench") * 2):
        ids.append(f"shot-{number}")
        edit = AddPicture(clip=ids[-1], frame=0, media=media, first=30 * (number // 2), last=30 * (number // 2) + 180)
        film, _ = apply(film, edit)
    film, _ = apply(film, UseMove(clips=tuple(ids), move="push-slow"))
    edit = ArrangeClips(clips=tuple(ids), arrangement="grid", margin=36, gutter=24, outline=3, radius=12, shadow=True)
    return apply(film, edit)[0]


def run() -> bool:
    project, folder, _ = demo()
    film = quad(project)
    [(late, waits)] = played("quad", film, folder, range(150), (0,))
    print(f"150 frames, painting p95 {ms(p95(waits))}, mean {ms(sum(waits) / len(waits))}")
    ratio = _exported(film, folder)
    return close("pictures", [("frames late", late, 0), ("export ratio", ratio, 2.5)])


def _exported(film: Project, folder: Path) -> float:
    """CPU of painting and encoding, over that of encoding and decoding each of the four shots once a frame."""
    cv2.setNumThreads(1)
    size = film.settings.width, film.settings.height
    sources = ShotSources(lambda media: folder / film.media[media].path, Budget(EXPORTED))
    painter = Painter(sources, Budget(64 << 20))
    painter.paint(plan(evaluate(film, EXPORTED_FRAMES[0] - 1), *size))
    apart = ShotSources(lambda media: folder / film.media[media].path, Budget(0))
    decode = encode = whole = 0.0
    with tempfile.TemporaryDirectory() as place:
        with FilmWriter(Path(place) / "film.mp4", *size, film.settings.rate.fraction, crf=20, threads=1) as out:
            for frame in EXPORTED_FRAMES:
                scene = evaluate(film, frame)
                began = time.process_time()
                picture = painter.paint(plan(scene, *size))
                painted = time.process_time()
                out.write(picture)
                encoded = time.process_time()
                whole += encoded - began
                encode += encoded - painted
            began = time.process_time()
        encode += time.process_time() - began
        whole += time.process_time() - began
    # The same frames decoded alone, each shot by itself, in order.
    for layer in evaluate(film, EXPORTED_FRAMES[0]).layers:
        first = layer.content.frame
        apart.planes(layer.content.media, first - 1, size[0], True)
        began = time.process_time()
        for number in range(len(EXPORTED_FRAMES)):
            apart.planes(layer.content.media, first + number, size[0], True)
        decode += time.process_time() - began
    count = len(EXPORTED_FRAMES)
    print(
        f"CPU a frame: all {1000 * whole / count:.1f} ms, encode {1000 * encode / count:.1f} ms, four decodes "
        f"{1000 * decode / count:.1f} ms"
    )
    return whole / (encode + decode)
