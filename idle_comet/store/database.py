"""Connections, transactions and migrations."""

from __future__ import annotations

import queue
import re
import threading
import time
from contextlib import contextmanager
from pathlib import Path
from typing import Callable, Iterator, TypeVar

import pymysql
from pymysql.cursors import DictCursor

_MIGRATIONS = Path(__file__).parent / "migrations"
_LOST = {2003, 2006, 2013, 2055}
"""Client error numbers for a connection that is gone."""

_MOST = 24
"""Connections at once."""

T = TypeVar("T")


class StoreUnavailable(RuntimeError):
    """The database can't be reached; nothing was written."""


class StoreFull(RuntimeError):
    """The disk has no room for what was to be written; nothing of it was."""


_FULL = {3, 14, 28, 1021, 1026, 1030, 1041, 1114, 1135}
"""Server error numbers for no room (1030 carries the storage engine's own number, which is 28 then)."""


def _no_room(error: pymysql.err.Error) -> bool:
    return (
        bool(error.args)
        and error.args[0] in _FULL
        and (error.args[0] not in (1030, 1026, 3) or "28" in str(error) or "space" in str(error).lower())
    )


class Database:
    """A pool of connections to one database."""

    def __init__(self, connect: Callable[..., pymysql.Connection], patience: float = 10.0) -> None:
        self._connect = connect
        self._patience = patience
        self._idle: queue.LifoQueue[pymysql.Connection] = queue.LifoQueue()
        # More at once than the server's threads is of no use, and the database has its own limit.
        self._places = threading.BoundedSemaphore(_MOST)

    @contextmanager
    def transaction(self) -> Iterator[DictCursor]:
        """A cursor whose work is committed as a whole, or not at all."""
        with self._places:
            connection = self._take()
            try:
                with connection.cursor() as cursor:
                    yield cursor
                connection.commit()
            except BaseException:
                # A connection that failed is not worth trusting: its server may be gone.
                try:
                    connection.rollback()
                    self._idle.put(connection)
                except pymysql.err.Error:
                    _drop(connection)
                raise
            self._idle.put(connection)

    def run(self, work: Callable[[DictCursor], T]) -> T:
        """Do `work` in a transaction; when the server goes away, wait for it and do it again.

        `work` must be safe to repeat: a commit whose answer was lost may have happened.
        """
        deadline = time.monotonic() + self._patience
        while True:
            try:
                with self.transaction() as cursor:
                    return work(cursor)
            except (pymysql.err.OperationalError, pymysql.err.InterfaceError, pymysql.err.InternalError) as error:
                if _no_room(error):
                    raise StoreFull(
                        "The disk is full. What was saved before is kept, this was not; make room and do it again."
                    ) from error
                if error.args and error.args[0] not in _LOST | {0, 1927, 1053, 1213}:
                    raise
                if time.monotonic() > deadline:
                    raise StoreUnavailable(
                        "The database does not answer. Nothing was written; it is being started again."
                    ) from error
                time.sleep(0.1)

    def _take(self) -> pymysql.Connection:
        while True:
            try:
                connection = self._idle.get_nowait()
            except queue.Empty:
                return self._connect(cursorclass=DictCursor)
            if connection.open:
                return connection

    def close(self) -> None:
        while not self._idle.empty():
            _drop(self._idle.get_nowait())

    def migrate(self) -> list[str]:
        """Run the numbered migrations that have not been run; returns their names."""
        with self.transaction() as cursor:
            cursor.execute(
                "CREATE TABLE IF NOT EXISTS migrations (name VARCHAR(200) NOT NULL PRIMARY KEY,"
                " run_at TIMESTAMP(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3))"
            )
            cursor.execute("SELECT name FROM migrations")
            known = {row["name"] for row in cursor.fetchall()}
        ran = []
        for file in sorted(_MIGRATIONS.glob("[0-9]*.sql")):
            if file.stem in known:
                continue
            with self.transaction() as cursor:
                for statement in re.split(r";\s*$", file.read_text(), flags=re.M):
                    if re.sub(r"--.*", "", statement).strip():
                        cursor.execute(statement)
                cursor.execute("INSERT INTO migrations (name) VALUES (%s)", (file.stem,))
            ran.append(file.stem)
        return ran


def _drop(connection: pymysql.Connection) -> None:
    try:
        connection.close()
    except pymysql.err.Error:
        pass
