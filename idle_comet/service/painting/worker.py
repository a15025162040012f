"""Runs in a painting process: paints what it is asked for, keeps encoded frames by their plan."""

from __future__ import annotations

import os
import signal
import time
from collections import OrderedDict
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, Callable, NamedTuple

import numpy as np
from cachetools import LRUCache
from pydantic import TypeAdapter

from ...core.compose import Painter, evaluate, plan
from ...core.compose.beside import paint_beside, plan_beside
from ...core.compose.graph import digest_of
from ...core.compose.stage import plan_stage
from ...core.edits import Edit, EditError, apply
from ...core.picture import tally
from ...core.project.difference import apply_difference
from ...core.project.model import Project
from ...core.project.timeline import timeline_of
from ...core.remember import Budget, weigh
from ...media.apart import die_with_parent, keep_memory, limit_memory
from ...media.decode import ShotSources
from ...media.faces import use_faces
from ...media.probe import MediaError
from ...media.still import jpeg_bytes
from .asking import Changed, Failed, FrameRequest, Painted, Refused, Unwanted
from .frame_cache import FrameCache

_KEPT = 272 << 20
"""Bytes kept of shots' frames, of painted pictures and of encoded frames together."""

_FILMS = 8
"""Films a process knows at once."""

_ASKED = 4096
"""Requests remembered to tell which come again."""

_CACHED_FROM = 0.005
"""Seconds of painting from which on a frame is worth its file."""

MEMORY = 3 << 30
"""Bytes a process may take beyond what it begins with."""

_edit = TypeAdapter(Edit)


class _Known(NamedTuple):
    """A project as this process knows it: its revision, where the files of its media are, and 16 bytes that name
    them."""

    revision: int
    project: Project
    paths: dict[str, str]
    files: bytes


class Worker:
    """Runs in the painting process: paints what it is asked for, keeps encoded frames by their plan."""

    def __init__(self, media: str, cache: FrameCache | None = None) -> None:
        self._media, self._cache = Path(media), cache
        use_faces(self._media)
        self._projects: LRUCache[str, _Known] = LRUCache(_FILMS)
        self._paths: dict[str, str] = {}
        self._kept = Budget(_KEPT)
        self._painter = Painter(ShotSources(self._path_of, self._kept), self._kept, ahead=True)
        self._asked: OrderedDict[tuple[str, FrameRequest], None] = OrderedDict()
        self._variants: tuple[Project, tuple[str, ...], list[Project]] | None = None

    def paint_wanted(self, id: str, request: FrameRequest, wanted: Callable[[], bool]) -> Painted:
        """Paint, unless it is no longer wanted meanwhile; then raises Unwanted."""

        def pause() -> None:
            if not wanted():
                raise Unwanted

        self._painter.pause = pause
        return self.paint(id, request)

    def _path_of(self, media: str) -> Path:
        return self._media / self._paths[media]

    def knows(self, id: str, revision: int) -> bool:
        return id in self._projects and self._projects[id].revision == revision

    def learn(self, id: str, revision: int, project: Project) -> None:
        paths = {item.id: item.path for item in project.media.values()}
        faces = self._media / "faces"
        own = tuple(sorted(each.name for each in faces.iterdir())) if faces.is_dir() else ()
        self._projects[id] = _Known(revision, project, paths, digest_of((tuple(paths.items()), own)))

    def hear(self, id: str, revision: int, news: Changed) -> None:
        """Take over what changed; what did not stays the same object, and with it all that is kept of it. A change from
        another revision than the one known is left alone."""
        if self.knows(id, news.since):
            self.learn(id, revision, apply_difference(self._projects[id].project, news.change))

    def paint(self, id: str, request: FrameRequest) -> Painted:
        began = time.perf_counter()
        self._painter.missing.clear()
        _, project, self._paths, files = self._projects[id]
        if request.tiles and request.beside:
            return self._moments(project, request, began)
        if request.tiles:
            return Painted(jpeg_bytes(self._strip(project, request), request.quality), time.perf_counter() - began)
        if request.beside:
            return self._beside(project, files, request, began)
        if request.clip is None:
            again = self._asked_before(id, request._replace(cached=False)) or request.cached or request.fallback
            begin = None if again else self._painter.begin
            planned = plan(evaluate(project, request.frame), request.width, request.height, request.exact, begin)
        else:
            planned = plan_stage(
                project, request.clip, request.done, request.frame, request.width, request.height, request.whole
            )
        key = (*planned.key, files, request.quality, request.counted)
        cache = None if request.counted or request.clip is not None else self._cache
        known = self._kept.find(key) or (cache and cache.find(key))
        if known:
            self._painter.forget()
            self._keep(key, known)
            return Painted(known, 0.0, planned.samples)
        if request.fallback is not None:
            width, height = request.fallback
            self._painter.forget()
            smaller = self.paint(id, request._replace(width=width, height=height, fallback=None))
            return smaller._replace(seconds=smaller.seconds and time.perf_counter() - began, full_size=False)
        pixels = self._painter.paint(planned)
        made = tally(pixels).model_dump_json().encode() if request.counted else jpeg_bytes(pixels, request.quality)
        seconds = time.perf_counter() - began
        self._keep(key, made)
        if cache and not self._painter.missing and seconds >= _CACHED_FROM:
            cache.keep(key, made)
        return Painted(made, seconds, planned.samples)

    def _asked_before(self, id: str, request: FrameRequest) -> bool:
        """Whether a frame was asked for before, of this film or of what it was: then it may well be kept."""
        again = (id, request) in self._asked
        self._asked[id, request] = None
        self._asked.move_to_end((id, request))
        if len(self._asked) > _ASKED:
            self._asked.popitem(last=False)
        return again

    def _keep(self, key: tuple[object, ...], jpeg: bytes) -> None:
        if self._painter.missing:
            # A picture that is missing now may be there next time.
            return
        self._kept.keep(key, jpeg, len(jpeg) + weigh(key))

    def _beside(self, project: Project, files: bytes, request: FrameRequest, began: float) -> Painted:
        variants = self._variants_of(project, request.beside)
        planned = plan_beside(variants, request.frame, request.width, request.height, request.exact)
        key = (tuple(each.key for _, each in planned), request.width, request.height, files, request.quality)
        known = self._kept.find(key)
        samples = max((each.samples for _, each in planned), key=lambda pair: pair[1] - pair[0])
        if known:
            return Painted(known, 0.0, samples)
        jpeg = jpeg_bytes(paint_beside(self._painter, planned, request.width, request.height), request.quality)
        self._keep(key, jpeg)
        return Painted(jpeg, time.perf_counter() - began, samples)

    def _moments(self, project: Project, request: FrameRequest, began: float) -> Painted:
        after = apply(project, _edit.validate_json(request.beside[0]))[0]
        clip, high = after.clips[str(request.clip)], request.height // request.tiles
        sheet = np.empty((request.height, request.width, 4), np.uint8)
        for tile in range(request.tiles):
            share = (tile + 0.5) / request.tiles if request.tiles > 1 else 0.55
            frame = clip.head + min(clip.length - 1, int(clip.length * share))
            sheet[tile * high : (tile + 1) * high] = self._painter.paint(
                plan(evaluate(after, frame, timeline_of(after, clip)), request.width, high, False)
            )
        return Painted(jpeg_bytes(sheet, request.quality), time.perf_counter() - began)

    def _variants_of(self, project: Project, edits: tuple[str, ...]) -> list[Project]:
        if self._variants is None or self._variants[0] is not project or self._variants[1] != edits:
            self._variants = (project, edits, [apply(project, _edit.validate_json(edit))[0] for edit in edits])
        return self._variants[2]

    def _strip(self, project: Project, request: FrameRequest) -> np.ndarray:
        clip = project.clips[str(request.clip)]
        strip = np.empty((request.height, request.width, 4), np.uint8)
        edges = [request.width * tile // request.tiles for tile in range(request.tiles + 1)]
        for tile, (left, right) in enumerate(zip(edges, edges[1:])):
            frame = clip.head + clip.length * tile // request.tiles
            strip[:, left:right] = self._painter.paint(
                plan_stage(project, clip.id, request.done, frame, right - left, request.height)
            )
        return strip


UNKNOWN, DROPPED = "unknown revision", "dropped"


def work(pipe: Connection[Any, Any], media: str, wanted: Any, cache: FrameCache | None, nice: int) -> None:
    """The painting process: answers requests until its pipe closes. `wanted` holds the number of the one that is
    wanted."""
    os.nice(nice)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    die_with_parent()
    keep_memory()
    worker = Worker(media, cache)
    limit_memory(MEMORY)
    pipe.send("ready")
    while True:
        try:
            number, id, revision, news, request = pipe.recv()
        except EOFError:
            return
        answer: Painted | Refused | Failed | str
        try:
            if isinstance(news, Changed):
                worker.hear(id, revision, news)
            elif news is not None:
                worker.learn(id, revision, news)
            answer = (
                worker.paint_wanted(id, request, lambda: wanted.value == number)
                if worker.knows(id, revision)
                else UNKNOWN
            )
        except Unwanted:
            answer = DROPPED
        except EditError as error:
            answer = Refused(str(error))
        except MediaError as error:
            answer = Failed(str(error))
        except MemoryError:
            answer = Failed(
                f"it needs more memory than a frame may take ({MEMORY >> 30} GB). Nothing is lost; soften its "
                f"heaviest steps"
            )
        except Exception as error:  # the process must outlive any one frame
            answer = Failed(type(error).__name__ if isinstance(error, OSError) else f"{type(error).__name__}: {error}")
        pipe.send((number, answer))
