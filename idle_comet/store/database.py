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

_AGAIN = {0, 1927, 1053, 1205, 1213}
"""Error numbers of work that is to be done again: a connection that was cut, a server that shuts down, a lock that was
waited for too long, a deadlock."""

_MOST = 24
"""Connections at once."""

T = TypeVar("T")


class StoreUnavailable(RuntimeError):
    """The database can't be reached; nothing was written."""


class StoreFull(RuntimeError):
    """The disk has no room for what was to be written; nothing of it was."""


_SILENT = (
    "The database does not answer. Whether this was saved is not known yet; the Desk keeps it and sends it again as "
    "soon as the database is back."
)

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

    def __init__(
        self, connect: Callable[..., pymysql.Connection], patience: float = 10.0, silence: float = 8.0
    ) -> None:
        """`patience` is for how many seconds work is tried again while the server is away, `silence` after how many one
        statement counts as not answered."""
        self._connect = connect
        self._patience = patience
        self._silence = silence
        self._begun: dict[int, float] = {}
        self._idle: queue.LifoQueue[pymysql.Connection] = queue.LifoQueue()
        # More at once than the server's threads is of no use, and the database has its own limit.
        self._places = threading.BoundedSemaphore(_MOST)

    @contextmanager
    def transaction(self) -> Iterator[DictCursor]:
        """A cursor whose work is committed as a whole, or not at all."""
        if not self._places.acquire(timeout=self._patience):
            raise StoreUnavailable(_SILENT)
        try:
            with self._under_way(), self._connected() as cursor:
                yield cursor
        finally:
            self._places.release()

    @contextmanager
    def _connected(self) -> Iterator[DictCursor]:
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

    @contextmanager
    def _under_way(self) -> Iterator[None]:
        own = threading.get_ident()
        self._begun[own] = time.monotonic()
        try:
            yield
        finally:
            self._begun.pop(own, None)

    @property
    def waits(self) -> float:
        """Seconds since the oldest transaction that is under way began; 0 where none is."""
        begun = min(tuple(self._begun.values()), default=None)
        return 0.0 if begun is None else time.monotonic() - begun

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
                if error.args and error.args[0] not in _LOST | _AGAIN:
                    raise
                if time.monotonic() > deadline:
                    raise StoreUnavailable(_SILENT) from error
                time.sleep(0.1)

    def _take(self) -> pymysql.Connection:
        while True:
            try:
                connection = self._idle.get_nowait()
            except queue.Empty:
                return self._connect(
                    cursorclass=DictCursor,
                    read_timeout=self._silence,
                    write_timeout=self._silence,
                    init_command=f"SET SESSION innodb_lock_wait_timeout = {max(1, round(self._silence / 2))}",
                )
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
        ran = [file.stem for file in sorted(_MIGRATIONS.glob("[0-9]*.sql")) if file.stem not in known]
        # A table may take long to be changed: no limit of time holds here.
        connection = self._connect(cursorclass=DictCursor)
        try:
            for name in ran:
                _migrate(connection, name, known)
        except pymysql.err.Error as error:
            if _no_room(error):
                raise StoreFull(
                    "The disk is full, so the database could not be set up. Nothing is lost; make room."
                ) from error
            raise
        finally:
            _drop(connection)
        return ran


_THERE_ALREADY = {1050, 1060, 1061}
"""Error numbers for a table, a column or a key that is there."""


def _migrate(connection: pymysql.Connection, name: str, known: set[str]) -> None:
    """Run one migration, statement by statement. One that was cut short goes on where it ended: each statement is noted
    as it is done, and the one that was under way then may have been done without its note."""
    text = (_MIGRATIONS / f"{name}.sql").read_text()
    statements = [each for each in re.split(r";\s*$", text, flags=re.M) if re.sub(r"--.*", "", each).strip()]
    notes = [f"{name}#{number}" for number in range(len(statements))]
    done = sum(note in known for note in notes)
    with connection.cursor() as cursor:
        for note, statement in list(zip(notes, statements))[done:]:
            try:
                cursor.execute(statement)
            except pymysql.err.Error as error:
                if note != notes[done] or not error.args or error.args[0] not in _THERE_ALREADY:
                    raise
            cursor.execute("INSERT INTO migrations (name) VALUES (%s)", (note,))
            connection.commit()
        cursor.execute("DELETE FROM migrations WHERE name LIKE %s", (f"{name}#%",))
        cursor.execute("INSERT INTO migrations (name) VALUES (%s)", (name,))
    connection.commit()


def _drop(connection: pymysql.Connection) -> None:
    try:
        connection.close()
    except pymysql.err.Error:
        pass
