"""Export jobs: one at a time, each in a process of its own, each a row in the database."""

from __future__ import annotations

import multiprocessing
import os
import re
import threading
import time
import uuid
from pathlib import Path
from typing import Literal

from pydantic import BaseModel

from ..core.project.model import Project
from ..store.database import Database


class ExportJob(BaseModel):
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
    message: str | None = None
    file_name: str | None = None
    seconds_left: float | None = None
    bytes: int | None = None


def _film(pipe, document: str, media: str, path: str, first: int, frames: int, width: int, height: int, crf: int) -> None:
    """Runs in the exporting process; tells frames done, then "done" or what went wrong."""
    import signal

    from ..media.decode import ShotSources
    from ..media.film import render_film

    signal.signal(signal.SIGINT, signal.SIG_IGN)
    os.nice(10)
    try:
        project = Project.model_validate_json(document)
        sources = ShotSources(lambda id: Path(media) / project.media[id].path)
        render_film(project, sources, Path(path), first, frames, width, height, crf, progress=pipe.send)
        pipe.send("done")
    except Exception as error:
        pipe.send(f"{error}" or type(error).__name__)


class Exports:
    """Takes orders for films and carries them out in order."""

    def __init__(self, database: Database, media: Path, films: Path) -> None:
        self._database, self._media, self._films = database, media, films
        self._wake = threading.Event()
        self._stopping = False
        self._process: multiprocessing.Process | None = None
        self._began = (0.0, 0)
        self._thread = threading.Thread(target=self._run, name="exports", daemon=True)

    def start(self) -> None:
        # What was running when the last server stopped starts over.
        self._database.run(lambda cursor: cursor.execute("UPDATE exports SET state = 'waiting', frames_done = 0 WHERE state = 'running'"))
        self._thread.start()
        self._wake.set()

    def stop(self) -> None:
        self._stopping = True
        self._wake.set()
        if self._process and self._process.is_alive():
            self._process.kill()
        self._thread.join(5)

    def order(self, project_id: str, revision: int, project: Project, first: int, frames: int,
              width: int, height: int, quality: int) -> ExportJob:
        """Put a film in the queue, as the project is now."""
        id = uuid.uuid4().hex[:16]
        self._database.run(lambda cursor: cursor.execute(
            "INSERT INTO exports (id, project, revision, state, first_frame, frames, width, height, quality, document)"
            " VALUES (%s, %s, %s, 'waiting', %s, %s, %s, %s, %s, %s)",
            (id, project_id, revision, first, frames, width, height, quality, project.model_dump_json())))
        self._wake.set()
        return self.get(id)

    def get(self, id: str) -> ExportJob:
        """Raises LookupError."""
        row = self._one("SELECT * FROM exports WHERE id = %s", (id,))
        if row is None:
            raise LookupError(f"There is no export “{id}”.")
        return self._job(row)

    def of(self, project_id: str) -> list[ExportJob]:
        def work(cursor):
            cursor.execute("SELECT * FROM exports WHERE project = %s ORDER BY made_at DESC LIMIT 20", (project_id,))
            return list(cursor.fetchall())
        return [self._job(row) for row in self._database.run(work)]

    def path_of(self, job: ExportJob) -> Path:
        return self._films / (job.file_name or "")

    def cancel(self, id: str) -> ExportJob:
        self._database.run(lambda cursor: cursor.execute(
            "UPDATE exports SET state = 'cancelled', ended_at = CURRENT_TIMESTAMP(3) WHERE id = %s AND state IN ('waiting', 'running')", (id,)))
        return self.get(id)

    def _one(self, sql: str, values: tuple = ()) -> dict | None:
        def work(cursor):
            cursor.execute(sql, values)
            return cursor.fetchone()
        return self._database.run(work)

    def _job(self, row: dict) -> ExportJob:
        left, size = None, None
        if row["state"] == "running" and row["frames_done"] > 3:
            left = (time.monotonic() - self._began[0]) / row["frames_done"] * (row["frames"] - row["frames_done"])
        if row["state"] == "done" and (self._films / row["file"]).exists():
            size = (self._films / row["file"]).stat().st_size
        names = ("id", "project", "state", "first_frame", "frames", "frames_done", "width", "height", "quality", "message")
        return ExportJob(**{name: row[name] for name in names}, file_name=row["file"], seconds_left=left, bytes=size)

    def _run(self) -> None:
        while not self._stopping:
            row = self._one("SELECT * FROM exports WHERE state = 'waiting' ORDER BY made_at LIMIT 1")
            if row is None:
                self._wake.wait(30)
                self._wake.clear()
                continue
            try:
                self._carry_out(row)
            except Exception as error:  # one failed film must not end the queue
                self._end(row["id"], "failed", f"{error}")

    def _carry_out(self, row: dict) -> None:
        id = row["id"]
        self._set(id, "state = 'running'")
        project = Project.model_validate_json(row["document"])
        name = re.sub(r"[^\w]+", "-", project.settings.name, flags=re.ASCII).strip("-").lower()[:60] or "film"
        path = self._films / f"{name}-{id[:6]}.mp4"
        context = multiprocessing.get_context("spawn")
        ours, theirs = context.Pipe(False)
        self._process = context.Process(target=_film, daemon=True, args=(
            theirs, row["document"], str(self._media), str(path), row["first_frame"], row["frames"],
            row["width"], row["height"], row["quality"]))
        self._process.start()
        theirs.close()
        self._began = (time.monotonic(), 0)
        outcome, written = None, 0.0
        while outcome is None:
            try:
                news = ours.recv() if ours.poll(0.5) else None
            except EOFError:
                outcome = "The exporting process stopped. The film was not made; start it again."
                break
            if isinstance(news, str):
                outcome = news
            elif time.monotonic() - written > 0.25:
                written = time.monotonic()
                if isinstance(news, int):
                    self._set(id, "frames_done = %s", news)
                if self._stopping or self.get(id).state == "cancelled":
                    self._process.kill()
                    self._process.join()
                    path.with_name(f".{path.name}.part").unlink(missing_ok=True)
                    return
        self._process.join(10)
        if outcome == "done":
            self._set(id, "frames_done = frames, file = %s", path.name)
            self._end(id, "done", None)
        else:
            self._end(id, "failed", outcome)

    def _set(self, id: str, assignment: str, *values) -> None:
        self._database.run(lambda cursor: cursor.execute(
            f"UPDATE exports SET {assignment} WHERE id = %s AND state <> 'cancelled'", (*values, id)))

    def _end(self, id: str, state: str, message: str | None) -> None:
        self._set(id, "state = %s, message = %s, ended_at = CURRENT_TIMESTAMP(3)", state, message and message[:1000])
