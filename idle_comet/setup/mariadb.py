"""A MariaDB server of our own: on loopback, in a folder of its own, under a password of its own."""

from __future__ import annotations

import contextlib
import getpass
import os
import random
import secrets
import shutil
import signal
import socket
import subprocess
import tempfile
import time
from dataclasses import dataclass
from pathlib import Path

import pymysql

from ..disk import put
from .packages import find


class DatabaseFailed(RuntimeError):
    """The database server did not come up; the message says where its log is."""


@dataclass(frozen=True, slots=True)
class Address:
    """How to reach the store's database."""

    port: int
    password: str
    user: str = "comet"
    name: str = "comet"

    def connect(self, **more) -> pymysql.Connection:
        return pymysql.connect(
            host="127.0.0.1",
            port=self.port,
            user=self.user,
            password=self.password,
            database=self.name,
            charset="utf8mb4",
            autocommit=False,
            connect_timeout=5,
            **more,
        )


_LEAST = 200 << 20
"""Bytes a new database takes."""


_PORTS = range(20_000, 32_768)
"""Below those that a system gives to connections by itself (Linux: from 32768 on), one of which might take a port that
was free before whoever asked for it is ready."""


def free_port() -> int:
    """A port of loopback that nobody uses."""
    for port in random.sample(_PORTS, 100):
        with socket.socket() as probe:
            with contextlib.suppress(OSError):
                probe.bind(("127.0.0.1", port))
                return port
    raise OSError("None of a hundred ports between 20000 and 32768 is free; end what uses them")


class MariaDB:
    """One server process over one data folder."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._data = folder / "data"
        # A socket's path may hold about 100 bytes, whatever the home's path is.
        self._runtime = Path(tempfile.mkdtemp(prefix="idle-comet-"))
        self._socket = self._runtime / "db.sock"
        self._process: subprocess.Popen | None = None
        self.address = Address(free_port(), self._password())

    def _password(self) -> str:
        file = self._folder / "password"
        if not file.exists():
            self._folder.mkdir(parents=True, exist_ok=True)
            file.touch(0o600)
            file.write_text(secrets.token_urlsafe(24))
        return file.read_text()

    def start(self) -> "MariaDB":
        """Start the server and wait until it answers; makes the data folder the first time."""
        self._end_orphan()
        new = not (self._data / "mysql").exists()
        if new:
            self._install()
        log = (self._folder / "server.log").open("ab")
        # Of its own session: Ctrl-C reaches us first, and we stop it in order.
        self._process = subprocess.Popen(
            [
                find("mariadbd"),
                "--no-defaults",
                f"--datadir={self._data}",
                f"--socket={self._socket}",
                "--bind-address=127.0.0.1",
                f"--port={self.address.port}",
                f"--pid-file={self._runtime / 'db.pid'}",
                f"--user={getpass.getuser()}",
                "--character-set-server=utf8mb4",
                "--collation-server=utf8mb4_bin",
                "--innodb-flush-log-at-trx-commit=1",
                "--innodb-buffer-pool-size=96M",
                "--max-allowed-packet=256M",
                "--skip-name-resolve",
                "--performance-schema=OFF",
            ],
            stdout=log,
            stderr=log,
            start_new_session=True,
            env=self._own_temporaries(),
        )
        self._wait()
        self._grant()
        # So that the command line finds a server that is up already.
        (self._folder / "port").write_text(str(self.address.port))
        (self._folder / "pid").write_text(str(self.pid))
        return self

    def _end_orphan(self) -> None:
        """A server whose starter was killed still holds the data folder: end it before starting another."""
        for pid in self._holders():
            deadline = time.monotonic() + 30
            sign = signal.SIGTERM
            while _lives(pid):
                try:
                    os.kill(pid, sign)
                except ProcessLookupError:
                    break
                sign = signal.SIGKILL if time.monotonic() > deadline else 0
                time.sleep(0.05)

    def _holders(self) -> list[int]:
        """Servers on this data folder. They are looked for among all processes: a starter may have been killed before
        it could note down whom it started."""
        found = []
        for entry in Path("/proc").glob("[0-9]*/cmdline"):
            try:
                if f"--datadir={self._data}".encode() in entry.read_bytes().split(b"\0"):
                    found.append(int(entry.parent.name))
            except OSError:
                continue
        return found

    @property
    def pid(self) -> int:
        assert self._process
        return self._process.pid

    @property
    def running(self) -> bool:
        return self._process is not None and self._process.poll() is None

    def answers(self, seconds: float) -> bool:
        """Whether the server answers a plain question within so many seconds."""
        try:
            connection = self.address.connect(read_timeout=seconds, write_timeout=seconds)
            try:
                with connection.cursor() as cursor:
                    cursor.execute("SELECT 1")
            finally:
                connection.close()
        except (pymysql.err.Error, OSError):
            return False
        return True

    def kill(self) -> None:
        """End the server at once."""
        if self._process is not None:
            self._process.kill()
            self._process.wait(30)

    def stop(self) -> None:
        if self.running:
            self._process.send_signal(signal.SIGTERM)
            try:
                self._process.wait(30)
            except subprocess.TimeoutExpired:
                self._process.kill()
        for left in self._runtime.glob("*"):
            left.unlink(missing_ok=True)
        if self._runtime.exists():
            os.rmdir(self._runtime)

    def _install(self) -> None:
        """Make the data folder under another name first, so that what was cut short is not taken for a database."""
        making = self._folder / "data-being-made"
        shutil.rmtree(making, ignore_errors=True)
        done = subprocess.run(
            [
                find("mariadb-install-db"),
                "--no-defaults",
                f"--datadir={making}",
                f"--user={getpass.getuser()}",
                "--auth-root-authentication-method=socket",
                f"--auth-root-socket-user={getpass.getuser()}",
                "--skip-test-db",
                # A machine that can't look up its own name is no hindrance: nothing here is reached by name.
                "--force",
            ],
            capture_output=True,
            text=True,
            env=self._own_temporaries(),
        )
        if done.returncode and shutil.disk_usage(self._folder).free < _LEAST:
            raise DatabaseFailed(
                f"There is no room for the database: it needs {_LEAST >> 20} MB on the disk that holds "
                f"{self._folder}. Make room and start again."
            )
        if done.returncode:
            raise DatabaseFailed(
                f"The database folder could not be made: {(done.stderr or done.stdout).strip()[-400:]}"
            )
        put(making, self._data)

    def _own_temporaries(self) -> dict[str, str]:
        """A server that starts deletes what others left in the folder of temporary tables, whoever uses it: each has
        one of its own."""
        return {**os.environ, "TMPDIR": str(self._runtime)}

    def _root(self) -> pymysql.Connection:
        return pymysql.connect(
            unix_socket=str(self._socket), user=getpass.getuser() if os.geteuid() else "root", autocommit=True
        )

    def _wait(self) -> None:
        deadline = time.monotonic() + 60
        while time.monotonic() < deadline:
            if not self.running:
                break
            try:
                self._root().close()
                return
            except pymysql.err.OperationalError:
                time.sleep(0.05)
        if shutil.disk_usage(self._folder).free < 1 << 20:
            raise DatabaseFailed(
                f"The disk that holds {self._folder} is full, so the database can't start. Nothing that was saved "
                f"is lost; make room and start again."
            )
        raise DatabaseFailed(f"MariaDB did not start. Its log is {self._folder / 'server.log'}.")

    def _grant(self) -> None:
        user, name = self.address.user, self.address.name
        with self._root() as root, root.cursor() as cursor:
            cursor.execute(f"CREATE DATABASE IF NOT EXISTS `{name}`")
            cursor.execute(f"CREATE USER IF NOT EXISTS '{user}'@'127.0.0.1'")
            cursor.execute(f"ALTER USER '{user}'@'127.0.0.1' IDENTIFIED BY %s", (self.address.password,))
            cursor.execute(f"GRANT ALL ON `{name}`.* TO '{user}'@'127.0.0.1'")


def _lives(pid: int) -> bool:
    """Whether a process is there and not only waiting to be taken note of."""
    try:
        return " Z " not in Path(f"/proc/{pid}/stat").read_text()
    except OSError:
        return False
