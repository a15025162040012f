"""Painting in processes of their own: the drawing library holds the interpreter's lock."""

from __future__ import annotations

import asyncio
import multiprocessing
import threading
import time
from collections import OrderedDict
from dataclasses import dataclass
from pathlib import Path
from typing import NamedTuple

from ..core.project.model import Project


class PaintFailed(RuntimeError):
    """A frame could not be painted; the message says why."""


class FrameRequest(NamedTuple):
    """A frame of the film, or (when `clip` is named) the picture after its first `done` steps.

    With `tiles`, that picture at so many moments of the clip, in one row. With `beside`, edits as JSON,
    the film after each of them in a cell of its own; with both, the film after the edit at so many moments of the
    clip, one below the other.
    """

    frame: int
    width: int
    height: int
    exact: bool
    quality: int
    clip: str | None = None
    done: int = 0
    tiles: int = 0
    beside: tuple[str, ...] = ()
    small: bool = False
    """For the process of small pictures, so that the preview never waits for it."""


class Painted(NamedTuple):
    """A JPEG, how many seconds of work it took (0 from the cache), and motion-blur samples taken and wanted."""

    jpeg: bytes
    seconds: float
    samples: tuple[int, int] = (0, 0)


class _Worker:
    """Runs in the painting process: paints what it is asked for, keeps encoded frames by their plan."""

    def __init__(self, media: str) -> None:
        from ..core.compose import Painter
        from ..media.decode import ShotSources
        from ..media.faces import use_faces

        self._media = Path(media)
        use_faces(self._media)
        self._projects: OrderedDict[str, tuple[int, Project]] = OrderedDict()
        self._paths: dict[str, str] = {}
        self._painter = Painter(ShotSources(self._path_of))
        self._kept: OrderedDict[tuple, bytes] = OrderedDict()
        self._bytes = 0
        self._variants: tuple[Project, tuple[str, ...], list[Project]] | None = None

    def _path_of(self, media: str) -> Path:
        return self._media / self._paths[media]

    def knows(self, id: str, revision: int) -> bool:
        return id in self._projects and self._projects[id][0] == revision

    def learn(self, id: str, revision: int, project: Project) -> None:
        self._projects[id] = (revision, project)
        self._projects.move_to_end(id)
        while len(self._projects) > 8:
            self._projects.popitem(last=False)

    def paint(self, id: str, request: FrameRequest) -> Painted:
        from ..core.compose import evaluate, plan
        from ..core.compose.stage import plan_stage
        from ..media.still import jpeg_bytes

        began = time.perf_counter()
        project = self._projects[id][1]
        if request.tiles and request.beside:
            return self._moments(project, request, began)
        if request.tiles:
            return Painted(jpeg_bytes(self._strip(project, request), request.quality), time.perf_counter() - began)
        self._paths = {item.id: item.path for item in project.media.values()}
        if request.beside:
            return self._beside(project, request, began)
        if request.clip is None:
            planned = plan(evaluate(project, request.frame), request.width, request.height, request.exact)
        else:
            planned = plan_stage(project, request.clip, request.done, request.frame, request.width, request.height)
        hashes = tuple(item.hash for item in project.media.values())
        key = (planned.key, hashes, request.quality)
        known = self._kept.get(key)
        if known:
            self._kept.move_to_end(key)
            return Painted(known, 0.0, planned.samples)
        jpeg = jpeg_bytes(self._painter.paint(planned), request.quality)
        self._keep(key, jpeg)
        return Painted(jpeg, time.perf_counter() - began, planned.samples)

    def _keep(self, key: tuple, jpeg: bytes) -> None:
        self._kept[key] = jpeg
        self._bytes += len(jpeg)
        while self._bytes > 192 << 20:
            self._bytes -= len(self._kept.popitem(last=False)[1])

    def _beside(self, project: Project, request: FrameRequest, began: float) -> Painted:
        from ..core.compose.beside import paint_beside, plan_beside
        from ..media.still import jpeg_bytes

        variants = self._variants_of(project, request.beside)
        planned = plan_beside(variants, request.frame, request.width, request.height, request.exact)
        hashes = tuple(item.hash for item in project.media.values())
        key = (tuple(each.key for _, each in planned), request.width, request.height, hashes, request.quality)
        known = self._kept.get(key)
        samples = max((each.samples for _, each in planned), key=lambda pair: pair[1] - pair[0])
        if known:
            self._kept.move_to_end(key)
            return Painted(known, 0.0, samples)
        jpeg = jpeg_bytes(paint_beside(self._painter, planned, request.width, request.height), request.quality)
        self._keep(key, jpeg)
        return Painted(jpeg, time.perf_counter() - began, samples)

    def _moments(self, project: Project, request: FrameRequest, began: float) -> Painted:
        import numpy as np
        from pydantic import TypeAdapter

        from ..core.compose import evaluate, plan
        from ..core.project.edits import Edit, apply
        from ..media.still import jpeg_bytes

        self._paths = {item.id: item.path for item in project.media.values()}
        after = apply(project, TypeAdapter(Edit).validate_json(request.beside[0]))[0]
        clip, high = after.clips[request.clip], request.height // request.tiles
        sheet = np.empty((request.height, request.width, 4), np.uint8)
        for tile in range(request.tiles):
            share = (tile + 0.5) / request.tiles if request.tiles > 1 else 0.55
            frame = clip.head + min(clip.length - 1, int(clip.length * share))
            sheet[tile * high:(tile + 1) * high] = self._painter.paint(plan(evaluate(after, frame), request.width, high, False))
        return Painted(jpeg_bytes(sheet, request.quality), time.perf_counter() - began)

    def _variants_of(self, project: Project, edits: tuple[str, ...]) -> list[Project]:
        from pydantic import TypeAdapter

        from ..core.project.edits import Edit, apply

        if self._variants is None or self._variants[0] is not project or self._variants[1] != edits:
            read = TypeAdapter(Edit).validate_json
            self._variants = (project, edits, [apply(project, read(edit))[0] for edit in edits])
        return self._variants[2]

    def _strip(self, project: Project, request: FrameRequest):
        import numpy as np

        from ..core.compose.stage import plan_stage

        self._paths = {item.id: item.path for item in project.media.values()}
        clip = project.clips[request.clip]
        strip = np.empty((request.height, request.width, 4), np.uint8)
        edges = [request.width * tile // request.tiles for tile in range(request.tiles + 1)]
        for tile, (left, right) in enumerate(zip(edges, edges[1:])):
            frame = clip.head + clip.length * tile // request.tiles
            strip[:, left:right] = self._painter.paint(
                plan_stage(project, clip.id, request.done, frame, right - left, request.height))
        return strip


def _work(pipe, media: str) -> None:
    """The painting process: answers requests until its pipe closes."""
    import signal

    signal.signal(signal.SIGINT, signal.SIG_IGN)
    worker = _Worker(media)
    while True:
        try:
            id, revision, project, request = pipe.recv()
        except EOFError:
            return
        try:
            if project is not None:
                worker.learn(id, revision, project)
            pipe.send(worker.paint(id, request) if worker.knows(id, revision) else "unknown revision")
        except Exception as error:  # the process must outlive any one frame
            pipe.send(f"{type(error).__name__}: {error}")


@dataclass
class _Process:
    process: multiprocessing.Process
    pipe: object
    told: dict[str, int]


class PainterProcess:
    """One warm painting process. A process that dies is replaced and the frame tried once more."""

    def __init__(self, media: Path) -> None:
        self._media = media
        self._context = multiprocessing.get_context("spawn")
        self._running: _Process | None = None
        self._lock = threading.Lock()

    def start(self) -> None:
        with self._lock:
            self._ensure()

    def _ensure(self) -> _Process:
        if self._running is None or not self._running.process.is_alive():
            ours, theirs = self._context.Pipe()
            process = self._context.Process(target=_work, args=(theirs, str(self._media)), daemon=True)
            process.start()
            theirs.close()
            self._running = _Process(process, ours, {})
        return self._running

    def stop(self) -> None:
        running, self._running = self._running, None
        if running:
            running.pipe.close()
            running.process.join(1)
            if running.process.is_alive():
                running.process.kill()

    def paint(self, id: str, revision: int, project: Project, request: FrameRequest) -> Painted:
        """Paint in the process and wait; raises PaintFailed."""
        with self._lock:
            for attempt in range(2):
                running = self._ensure()
                try:
                    news = None if running.told.get(id) == revision else project
                    running.pipe.send((id, revision, news, request))
                    running.told[id] = revision
                    answer = running.pipe.recv()
                    if answer == "unknown revision":
                        running.told.pop(id)
                        continue
                    break
                except (EOFError, OSError):
                    self._running = None
            else:
                raise PaintFailed("The frame could not be painted: the painting process stopped twice. Nothing else is affected.")
        if isinstance(answer, str):
            raise PaintFailed(f"Frame {request.frame} could not be painted ({answer}).")
        return answer


class Painters:
    """The preview's process and the one for small pictures, as awaitable calls."""

    def __init__(self, media: Path) -> None:
        self.preview, self.small = PainterProcess(media), PainterProcess(media)

    def start(self) -> None:
        self.preview.start()
        self.small.start()

    def stop(self) -> None:
        self.preview.stop()
        self.small.stop()

    async def frame(self, id: str, revision: int, project: Project, request: FrameRequest) -> Painted:
        process = self.preview if request.clip is None and not request.small else self.small
        return await asyncio.to_thread(process.paint, id, revision, project, request)
