"""Following points: one shot at a time, in a process of its own; what is found is entered as an edit."""

from __future__ import annotations

import logging
import os
import queue
import signal
import threading
import time
import uuid
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, Literal

from ..core.contents import FollowedPoint
from ..core.contents.points import MAX_FOLLOWED
from ..core.edits import EditError, SetPoint
from ..core.edits.points import MOST_POINTS, picked
from ..core.modelled import Model
from ..core.moment.points import point_in, source_at
from ..core.project.model import Clip, Footage, Media, Project
from ..core.project.retiming import retiming
from ..media.apart import die_with_parent, limit_memory
from ..media.following import Followed, Wanted, as_point, follow, joined, said
from ..media.probe import MediaError
from ..store.database import StoreFull, StoreUnavailable
from ..store.projects import ProjectStore, StaleRevision, UnknownProject
from .forking import processes

Direction = Literal["both", "forward", "back"]

_REMEMBERED = 100
"""Jobs that are over and can still be asked for."""

_MEMORY = 3 << 30

_log = logging.getLogger("idle_comet")


class FollowJob(Model):
    """A point being followed, as the Desk shows it; once it is done the point is part of its shot, and `message` says
    how it went."""

    id: str
    project: str
    clip: str
    point: str
    name: str
    state: Literal["waiting", "running", "done", "failed", "cancelled"]
    frames: int
    frames_done: int
    message: str | None = None


@dataclass
class _Task:
    job: FollowJob
    media: Media
    wanted: Wanted
    direction: Direction
    cancelled: threading.Event = field(default_factory=threading.Event)
    entering: bool = False


def _follow(pipe: Connection[Any, Any], path: str, media: Media, wanted: Wanted) -> None:
    """Runs in a process of its own: tells frames done, then what was found or, as text, what went wrong."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    die_with_parent()
    os.nice(5)
    limit_memory(_MEMORY)
    told = 0.0

    def tell(done: int) -> None:
        nonlocal told
        if time.monotonic() - told > 0.1:
            told = time.monotonic()
            pipe.send(done)

    try:
        pipe.send(follow(Path(path), media, wanted, tell))
    except MediaError as error:
        pipe.send(f"{error}.")
    except MemoryError:
        pipe.send("The shot's frames need more memory than there is.")
    except Exception as error:
        pipe.send(f"The shot can't be read ({type(error).__name__}).")


class Following:
    """Takes wishes for points and carries them out in order. What was not done when the service ends is not begun
    again: nothing was promised but the wish."""

    def __init__(self, store: ProjectStore, media: Path) -> None:
        self._store, self._media = store, media
        self._tasks: dict[str, _Task] = {}
        self._queue: queue.Queue[_Task | None] = queue.Queue()
        self._thread = threading.Thread(target=self._run, name="following", daemon=True)
        self._stopping = False
        self._deciding = threading.Lock()

    def start(self) -> None:
        self._thread.start()

    def stop(self) -> None:
        self._stopping = True
        self._queue.put(None)
        for task in list(self._tasks.values()):
            task.cancelled.set()
        self._thread.join(5)

    def order(
        self,
        project_id: str,
        project: Project,
        clip: Clip,
        local: int,
        place: tuple[float, float],
        name: str | None,
        point: str | None,
        direction: Direction,
    ) -> FollowJob:
        """Follow what is seen at px of the film's frame, at a frame of the clip. Raises EditError where nothing can be
        followed there."""
        content = clip.content
        if not isinstance(content, Footage) or content.media not in project.media:
            raise EditError(f"“{clip.name}” is no shot whose picture is there; a point is followed in a shot.")
        known = point_in(clip, point)
        if point is not None and known is None:
            raise EditError(f"“{clip.name}” has no followed point “{point}”; nothing was begun.")
        if known is None and len(content.points) >= MOST_POINTS:
            raise EditError(f"“{clip.name}” has {MOST_POINTS} followed points, the most there can be.")
        frame, (x, y) = picked(project, clip, local, *place)
        ends = [source_at(project, clip, local) or 0 for local in retiming(clip).ends]
        first, last = (max(ends[0], frame - MAX_FOLLOWED // 2), min(ends[1], frame + MAX_FOLLOWED // 2 - 1))
        # Forward is the way the clip is played.
        backwards = retiming(clip).backwards
        if direction == ("back" if backwards else "forward"):
            first = frame
        elif direction != "both":
            last = frame
        if last <= first:
            raise EditError("There is no other frame to follow it to; nothing was begun.")
        media = project.media[content.media]
        if not (0 <= x <= media.width and 0 <= y <= media.height):
            raise EditError("That lies outside of the shot's picture; pick a point on it.")
        job = FollowJob(
            id=uuid.uuid4().hex[:16],
            project=project_id,
            clip=clip.id,
            point=point or f"point-{uuid.uuid4().hex[:8]}",
            name=known.name if known else (name or f"point {len(content.points) + 1}"),
            state="waiting",
            frames=last - first + 1,
            frames_done=0,
        )
        way: Direction = direction
        if backwards and direction != "both":
            way = "back" if direction == "forward" else "forward"
        task = _Task(job, media, Wanted(frame, x, y, first, last), way)
        self._tasks[job.id] = task
        self._queue.put(task)
        self._forget()
        return job

    def get(self, id: str) -> FollowJob:
        """Raises LookupError."""
        if id not in self._tasks:
            raise LookupError(
                f"There is no following “{id}”; it may have ended with the service. Follow the point again."
            )
        return self._tasks[id].job

    def of(self, project_id: str) -> list[FollowJob]:
        return [task.job for task in list(self._tasks.values()) if task.job.project == project_id]

    def cancel(self, id: str) -> FollowJob:
        job = self.get(id)
        # What is being entered can no longer be given up: it is there, and can be undone.
        with self._deciding:
            task = self._tasks[id]
            if job.state in ("waiting", "running") and not task.entering:
                task.cancelled.set()
                self._set(task, state="cancelled", message="It was given up; the shot is as it was.")
        return self.get(id)

    def _forget(self) -> None:
        over = [id for id, task in list(self._tasks.items()) if task.job.state not in ("waiting", "running")]
        for id in over[: max(0, len(over) - _REMEMBERED)]:
            del self._tasks[id]

    def _set(self, task: _Task, **changes: Any) -> None:
        task.job = task.job.model_copy(update=changes)

    def _run(self) -> None:
        while (task := self._queue.get()) is not None and not self._stopping:
            if task.cancelled.is_set():
                continue
            try:
                self._carry_out(task)
            except (EditError, UnknownProject) as error:
                self._set(task, state="failed", message=str(error))
            except (StoreUnavailable, StoreFull) as error:
                self._set(task, state="failed", message=f"The point was followed but could not be kept: {error}")
            except Exception as error:  # one shot must not end the queue
                _log.error("Following a point failed", exc_info=error)
                self._set(task, state="failed", message=f"The point could not be followed ({type(error).__name__}).")

    def _carry_out(self, task: _Task) -> None:
        self._set(task, state="running")
        context = processes()
        ours, theirs = context.Pipe(False)
        path = str(self._media / task.media.path)
        process = context.Process(target=_follow, daemon=True, args=(theirs, path, task.media, task.wanted))
        process.start()
        theirs.close()
        found: object = "The process that read the shot died, most likely for want of memory."
        try:
            while not task.cancelled.is_set():
                if not ours.poll(0.1):
                    continue
                found = ours.recv()
                if not isinstance(found, int):
                    break
                self._set(task, frames_done=found)
        except EOFError:
            pass
        finally:
            process.kill()
            process.join(5)
            ours.close()
        with self._deciding:
            if task.cancelled.is_set():
                return
            task.entering = True
        if not isinstance(found, Followed):
            self._set(task, state="failed", message=f"{found} The shot is as it was.")
            return
        self._enter(task, found)
        self._set(task, state="done", frames_done=task.job.frames, message=said(found, task.job.frames))

    def _enter(self, task: _Task, found: Followed) -> None:
        """Keep what was found with its shot, whatever was edited meanwhile. Raises EditError where the shot is gone."""
        made = as_point(found, task.wanted, task.media, task.job.point, task.job.name)
        while True:
            stored = self._store.load(task.job.project)
            clip = stored.project.clips.get(task.job.clip)
            if clip is None:
                raise EditError("The shot was removed while its point was followed; nothing was kept.")
            known = point_in(clip, task.job.point)
            point: FollowedPoint = made if known is None else joined(known, made, task.direction, task.wanted.frame)
            try:
                self._store.edit(
                    task.job.project, stored.revision, SetPoint(clip=clip.id, point=point), uuid.uuid4().hex
                )
                return
            except StaleRevision:
                continue
