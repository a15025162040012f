"""Export jobs: one at a time, each in a process of its own, each a row in the database."""

from __future__ import annotations

import errno
import logging
import os
import re
import shutil
import threading
import time
import uuid
from contextlib import suppress
from multiprocessing.connection import Connection, wait
from multiprocessing.process import BaseProcess
from pathlib import Path
from typing import Any, Literal

from pymysql.cursors import DictCursor

from ..core.modelled import Model
from ..core.project.model import Project
from ..media.apart import die_with_parent, keep_memory
from ..media.film import Order, concatenate
from ..media.probe import MediaError
from ..media.soundtrack import SoundFormat
from ..media.transparent import AlphaKind, FilmFormat
from ..store.database import Database, StoreFull, StoreUnavailable
from .forking import processes


class ExportJob(Model):
    """One export as the Desk shows it; `seconds_left` only while it runs."""

    id: str
    project: str
    state: Literal["waiting", "running", "done", "failed", "cancelled"]
    first_frame: int
    frames: int
    frames_done: int
    width: int
    height: int
    quality: int
    sound: SoundFormat = "aac"
    format: FilmFormat = "h264"
    alpha: AlphaKind = "straight"
    ground: str | None = None
    draft: bool = False
    message: str | None = None
    file_name: str | None = None
    seconds_left: float | None = None
    bytes: int | None = None


def time_left(gone: float, since: float, done: int, frames: int) -> float:
    """Seconds that the rest of a film takes: each frame as long as those before it on average, or as long as the last
    one has been under way, if that is more."""
    return max(gone / done, since) * (frames - done)


def _segments(
    pipe: Connection[Any, Any], document: str, media: str, folder: str, order: Order, mine: list[int]
) -> None:
    """Runs in an exporting process: renders its share of segments; tells frames done, then "done" or what went
    wrong."""
    import signal

    from ..core.compose import Painter
    from ..core.remember import Budget
    from ..media.decode import EXPORTED, ShotSources
    from ..media.faces import use_faces
    from ..media.film import render_segment

    signal.signal(signal.SIGINT, signal.SIG_IGN)
    die_with_parent()
    keep_memory()
    os.nice(10)
    try:
        project = Project.model_validate_json(document)
        use_faces(Path(media))
        painter = Painter(ShotSources(lambda id: Path(media) / project.media[id].path, Budget(EXPORTED)))
        for segment in mine:
            render_segment(project, painter, order, segment, Path(folder), 1, pipe.send)
        pipe.send("done")
    except Exception as error:
        pipe.send(_says(error))


def _joined(pipe: Connection[Any, Any], document: str, media: str, folder: str, order: Order, path: str) -> None:
    """Runs in a process of its own: joins a film's segments and its sound; tells "done" or what went wrong."""
    import signal

    from ..media.sounding import SoundFiles

    signal.signal(signal.SIGINT, signal.SIG_IGN)
    die_with_parent()
    os.nice(10)
    try:
        project = Project.model_validate_json(document)
        sounds = SoundFiles(lambda id: Path(media) / project.media[id].path)
        concatenate(Path(folder), order, Path(path), project, sounds)
        pipe.send("done")
    except Exception as error:
        pipe.send(_says(error))


class ExportEstimate(Model):
    """How long a film takes to be made, in full and as a draft: `…_frame` in seconds for a frame in one process,
    `…_film` in seconds for all of it, by as many processes as will work on it. Measured on frames of it."""

    frames: int
    processes: int
    full_frame: float
    full_film: float
    draft_frame: float
    draft_film: float


def _estimated(pipe: Connection[Any, Any], document: str, media: str, folder: str, order: Order) -> None:
    """Runs in a process of its own: tells seconds a frame in full and as a draft, or what went wrong."""
    import signal

    from ..core.compose import Painter
    from ..core.remember import Budget
    from ..media.decode import EXPORTED, ShotSources
    from ..media.faces import use_faces
    from ..media.film import seconds_a_frame

    signal.signal(signal.SIGINT, signal.SIG_IGN)
    die_with_parent()
    keep_memory()
    # As films are made.
    os.nice(10)
    try:
        project = Project.model_validate_json(document)
        use_faces(Path(media))
        found = []
        for each in (order, order.as_draft()):
            painter = Painter(ShotSources(lambda id: Path(media) / project.media[id].path, Budget(EXPORTED)))
            found.append(seconds_a_frame(project, painter, each, Path(folder)))
        pipe.send(found)
    except Exception as error:
        pipe.send(_says(error))


def _many(order: Order) -> int:
    """How many processes make a film."""
    return min(os.cpu_count() or 1, 4, len(order.segments))


_log = logging.getLogger("idle_comet")
_DIED = "a process died"
_ATTEMPTS = 3


def _says(error: BaseException) -> str:
    if isinstance(error, OSError) and error.errno in (errno.ENOSPC, errno.EDQUOT):
        return (
            "The disk is full, so the film could not be finished. Nothing else is lost; make room and export it again."
        )
    if isinstance(error, MemoryError):
        return "The film needs more memory than there is. Export it smaller, or soften its heaviest steps."
    if isinstance(error, OSError) and error.strerror:
        return (
            f"The film could not be written: the system said “{error.strerror}”. Nothing else is lost; export it again."
        )
    return (
        f"The film could not be made ({type(error).__name__}: {error})."
        if not isinstance(error, MediaError)
        else str(error)
    )


_COLUMNS = ("first_frame", "frames", "width", "height", "quality", "sound", "format", "alpha", "ground",
            "draft")  # fmt: skip
"""Of an order, in the order of its fields."""


def _stored(order: Order) -> tuple[object, ...]:
    return (order.first, order.frames, order.width, order.height, round(order.crf), order.sound, order.format,
            order.alpha, order.ground, order.draft)  # fmt: skip


_PATIENCE = 120.0
"""Seconds within which a film's frames have to be measured."""


class EstimateFailed(RuntimeError):
    """How long a film takes can't be told; the message says why."""


class StillRunning(RuntimeError):
    """An export that is being made can't be removed."""


class Exports:
    """Takes orders for films and carries them out in order."""

    def __init__(self, database: Database, media: Path, films: Path) -> None:
        self._database, self._media, self._films = database, media, films
        self._wake = threading.Event()
        self._stopping = False
        self._processes: list[BaseProcess] = []
        self._estimating: list[BaseProcess] = []
        self._began = self._moved = 0.0
        self.busy = False
        """Whether a film is being made."""
        self._thread = threading.Thread(target=self._run, name="exports", daemon=True)

    def start(self) -> None:
        # What was running when the last server stopped goes on from the segments it has.
        self._database.run(
            lambda cursor: cursor.execute("UPDATE exports SET state = 'waiting' WHERE state = 'running'")
        )
        self._clear_up()
        self._thread.start()
        self._wake.set()

    def _clear_up(self) -> None:
        """Take away what a killed server left of films that nobody waits for any more."""

        def work(cursor: DictCursor) -> Any:
            cursor.execute("SELECT id FROM exports WHERE state = 'waiting'")
            return {row["id"] for row in cursor.fetchall()}

        waiting = self._database.run(work)
        for left in self._films.glob(".*"):
            if left.name.lstrip(".") not in waiting:
                shutil.rmtree(left) if left.is_dir() else left.unlink(missing_ok=True)

    def stop(self) -> None:
        self._stopping = True
        self._wake.set()
        for process in list(self._processes):
            process.kill()
        self._thread.join(5)

    def order(self, project_id: str, revision: int, project: Project, wanted: Order) -> ExportJob:
        """Put a film in the queue, as the project is now."""
        # What is being made needs the machine more than the telling how long it will take.
        self._stop_estimates()
        id = uuid.uuid4().hex[:16]
        self._database.run(
            lambda cursor: cursor.execute(
                "INSERT INTO exports (id, project, revision, state, first_frame, frames, width, height, quality, "
                "sound, format, alpha, ground, draft, document)"
                " VALUES (%s, %s, %s, 'waiting', %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)"
                " ON DUPLICATE KEY UPDATE id = VALUES(id)",
                (id, project_id, revision, *_stored(wanted), project.model_dump_json()),
            )
        )
        self._wake.set()
        return self.get(id)

    def estimate(self, project: Project, order: Order) -> ExportEstimate:
        """How long a film would take. Raises EstimateFailed with the reason."""
        ours, theirs = processes().Pipe(False)
        document = project.model_dump_json()
        words = (theirs, document, str(self._media), str(self._films), order)
        process = processes().Process(target=_estimated, daemon=True, args=words)
        self._stop_estimates()
        process.start()
        self._estimating.append(process)
        theirs.close()
        try:
            found = (
                ours.recv() if ours.poll(_PATIENCE) else "It takes longer than this machine should be kept busy by it."
            )
        except EOFError:
            found = "The process that measured it ended before it was done."
        finally:
            process.kill()
            process.join(5)
            ours.close()
            with suppress(ValueError):
                self._estimating.remove(process)
        if isinstance(found, str):
            raise EstimateFailed(found)
        full, draft = found
        many = _many(order)
        return ExportEstimate(
            frames=order.frames,
            processes=many,
            full_frame=full,
            full_film=full * order.frames / many,
            draft_frame=draft,
            draft_film=draft * order.frames / many,
        )

    def _stop_estimates(self) -> None:
        for process in list(self._estimating):
            process.kill()

    def get(self, id: str) -> ExportJob:
        """Raises LookupError."""
        row = self._one("SELECT * FROM exports WHERE id = %s", (id,))
        if row is None:
            raise LookupError(f"There is no export “{id}”.")
        return self._job(row)

    def of(self, project_id: str) -> list[ExportJob]:
        def work(cursor: DictCursor) -> Any:
            cursor.execute("SELECT * FROM exports WHERE project = %s ORDER BY made_at DESC LIMIT 20", (project_id,))
            return list(cursor.fetchall())

        return [self._job(row) for row in self._database.run(work)]

    def path_of(self, job: ExportJob) -> Path:
        return self._films / (job.file_name or "")

    def cancel(self, id: str) -> ExportJob:
        self._database.run(
            lambda cursor: cursor.execute(
                "UPDATE exports SET state = 'cancelled', ended_at = CURRENT_TIMESTAMP(3) WHERE id = %s AND state IN "
                "('waiting', 'running')",
                (id,),
            )
        )
        return self.get(id)

    def delete(self, id: str) -> None:
        """Remove an export that has ended, with its file and the document it was made of. Raises LookupError, and
        StillRunning while it is being made."""
        job = self.get(id)
        if job.state in ("waiting", "running"):
            raise StillRunning("This film is being exported; cancel it first. Nothing was removed.")
        if job.file_name and job.state == "done":
            self.path_of(job).unlink(missing_ok=True)
        self._database.run(lambda cursor: cursor.execute("DELETE FROM exports WHERE id = %s", (id,)))

    def cancel_of(self, project: str) -> None:
        """End what is being made, or waits to be made, of a project."""
        self._database.run(
            lambda cursor: cursor.execute(
                "UPDATE exports SET state = 'cancelled', message = 'The film was deleted.', ended_at = "
                "CURRENT_TIMESTAMP(3)"
                " WHERE project = %s AND state IN ('waiting', 'running')",
                (project,),
            )
        )

    def _one(self, sql: str, values: tuple[object, ...] = ()) -> dict[str, Any] | None:
        def work(cursor: DictCursor) -> Any:
            cursor.execute(sql, values)
            return cursor.fetchone()

        return self._database.run(work)

    def _job(self, row: dict[str, Any]) -> ExportJob:
        left, size = None, None
        if row["state"] == "running" and row["frames_done"] > 3:
            now = time.monotonic()
            left = time_left(now - self._began, now - self._moved, row["frames_done"], row["frames"])
        if row["state"] == "done" and (self._films / row["file"]).exists():
            size = (self._films / row["file"]).stat().st_size
        names = (
            "id",
            "project",
            "state",
            "first_frame",
            "frames",
            "frames_done",
            "width",
            "height",
            "quality",
            "sound",
            "format",
            "alpha",
            "ground",
            "draft",
            "message",
        )
        return ExportJob(**{name: row[name] for name in names}, file_name=row["file"], seconds_left=left, bytes=size)

    def _run(self) -> None:
        while not self._stopping:
            try:
                row = self._one("SELECT * FROM exports WHERE state = 'waiting' ORDER BY made_at LIMIT 1")
            except Exception as error:  # the database may be away for a while; the queue is still there when it is back
                _log.warning("The queue of exports could not be read: %s", error)
                self._wake.wait(2)
                self._wake.clear()
                continue
            if row is None:
                self._wake.wait(30)
                self._wake.clear()
                continue
            self.busy = True
            try:
                self._carry_out(row)
            except (StoreUnavailable, StoreFull) as error:
                # What is done of it stays; it is taken up again.
                _log.warning("An export waits: %s", error)
                self._wake.wait(5)
                self._put_back(row["id"])
            except Exception as error:  # one failed film must not end the queue
                _log.error("An export failed", exc_info=error)
                self._fail(row["id"], _says(error))
            finally:
                self.busy = False

    def _put_back(self, id: str) -> None:
        """Let an export that was interrupted wait again. The queue does not go on before that is written."""
        while not self._stopping:
            try:
                self._database.run(
                    lambda cursor: cursor.execute(
                        "UPDATE exports SET state = 'waiting' WHERE id = %s AND state = 'running'", (id,)
                    )
                )
                return
            except Exception as error:
                _log.warning("An export could not be put back into the queue yet: %s", error)
                self._wake.wait(2)
                self._wake.clear()

    def _fail(self, id: str, message: str) -> None:
        """Note that an export failed; where that can't be written, it is tried again later."""
        try:
            self._end(id, "failed", message)
        except Exception as error:
            _log.warning("That an export failed could not be written: %s", error)
            self._put_back(id)

    def _carry_out(self, row: dict[str, Any]) -> None:
        """Make one film: segments in several processes, joined at the end. Segments outlive a crash."""
        id = row["id"]
        self._set(id, "state = 'running'")
        project = Project.model_validate_json(row["document"])
        name = re.sub(r"[^\w]+", "-", project.settings.name, flags=re.ASCII).strip("-").lower()[:60] or "film"
        folder = self._films / f".{id}"
        folder.mkdir(exist_ok=True)
        order = Order(*(row[column] for column in _COLUMNS))
        path = self._films / f"{name}-{id[:6]}{order.suffix}"
        outcome = _DIED
        for attempt in range(_ATTEMPTS):
            # A process that died leaves the segments it had finished: the next one goes on from there.
            outcome = self._render(id, row["document"], order, folder)
            if outcome != _DIED:
                break
            _log.warning("A process that exported died (time %d); its film is taken up again.", attempt + 1)
        if outcome == "stopping":
            return
        if outcome == _DIED:
            outcome = (
                f"The processes that made this film died {_ATTEMPTS} times, most likely for want of memory. "
                f"Export it smaller, or soften its heaviest steps."
            )
        if outcome == "done":
            for _ in range(_ATTEMPTS):
                outcome = self._join(id, row["document"], order, folder, path)
                if outcome != _DIED:
                    break
            if outcome == _DIED:
                outcome = "The process that joined the film's parts died again and again; export it once more."
            if outcome == "done":
                self._set(id, "frames_done = frames, file = %s", path.name)
                self._end(id, "done", None)
        if outcome == "stopping":
            return
        if outcome != "done":
            # It may have got its name before the last step failed.
            with suppress(OSError):
                path.unlink(missing_ok=True)
        if outcome not in ("done", "cancelled"):
            self._end(id, "failed", outcome)
        shutil.rmtree(folder, ignore_errors=True)

    def _join(self, id: str, document: str, order: Order, folder: Path, path: Path) -> str:
        """Join all segments, with what is heard, in a process of its own; "done", "cancelled", "stopping", that it
        died, or what went wrong."""
        ours, theirs = processes().Pipe(False)
        process = processes().Process(
            target=_joined, daemon=True, args=(theirs, document, str(self._media), str(folder), order, str(path))
        )
        process.start()
        theirs.close()
        self._processes.append(process)
        try:
            while not ours.poll(0.3):
                if self._stopping or self._unwanted(id):
                    return "stopping" if self._stopping else "cancelled"
            return str(ours.recv())
        except EOFError:
            return "stopping" if self._stopping else _DIED
        finally:
            process.kill()
            process.join(5)
            # What can't be taken away now is at the next start.
            with suppress(OSError):
                path.with_name(f".{path.name}.part").unlink(missing_ok=True)
            self._processes.clear()
            ours.close()

    def _render(self, id: str, document: str, order: Order, folder: Path) -> str:
        """Render all segments; "done", "cancelled", "stopping", or what went wrong."""
        context = processes()
        count = _many(order)
        pipes: list[Connection[Any, Any]] = []
        outcome = _DIED
        try:
            for number in range(count):
                ours, theirs = context.Pipe(False)
                pipes.append(ours)
                share = list(order.segments)[number::count]
                process = context.Process(
                    target=_segments, daemon=True, args=(theirs, document, str(self._media), str(folder), order, share)
                )
                process.start()
                theirs.close()
                self._processes.append(process)
            self._began = self._moved = time.monotonic()
            outcome = self._watched(id, pipes)
        finally:
            # Whatever happens, nothing goes on beside the next attempt.
            for running in self._processes:
                if outcome != "done":
                    running.kill()
                running.join(10)
            for pipe in pipes:
                pipe.close()
            self._processes.clear()
        return outcome

    def _watched(self, id: str, pipes: list[Connection[Any, Any]]) -> str:
        """Take note of what processes tell until all are done, or one is not: "done", or what went wrong."""
        done, written, open_pipes = 0, 0.0, list(pipes)
        while open_pipes:
            ready = wait(open_pipes, 0.3)
            for pipe in [each for each in open_pipes if each in ready]:
                try:
                    news = pipe.recv()
                except (EOFError, OSError):
                    news = _DIED
                if isinstance(news, int):
                    done += news
                    self._moved = time.monotonic()
                    continue
                open_pipes.remove(pipe)
                if news != "done":
                    return str(news)
            if time.monotonic() - written > 0.25:
                written = time.monotonic()
                self._set(id, "frames_done = %s", done)
                if self._stopping or self._unwanted(id):
                    return "stopping" if self._stopping else "cancelled"
        return "done"

    def _unwanted(self, id: str) -> bool:
        """Whether it was cancelled, or its project deleted; then it is cancelled."""
        row = self._one(
            "SELECT exports.state, projects.deleted_at FROM exports LEFT JOIN projects ON projects.id = "
            "exports.project WHERE exports.id = %s",
            (id,),
        )
        if row and row["state"] != "cancelled" and row["deleted_at"] is not None:
            self._end(id, "cancelled", "The film was deleted.")
        return row is None or row["state"] == "cancelled" or row["deleted_at"] is not None

    def _set(self, id: str, assignment: str, *values: object) -> None:
        self._database.run(
            lambda cursor: cursor.execute(
                f"UPDATE exports SET {assignment} WHERE id = %s AND state <> 'cancelled'", (*values, id)
            )
        )

    def _end(self, id: str, state: str, message: str | None) -> None:
        self._set(id, "state = %s, message = %s, ended_at = CURRENT_TIMESTAMP(3)", state, message and message[:1000])
