"""`./comet start`: everything from a bare machine to an address to open."""

from __future__ import annotations

import contextlib
import errno
import secrets
import signal
import socket
import threading
import time
from typing import Annotated, Optional

import typer

from ..setup.home import Home, HomeBusy
from ..setup.packages import PackagesMissing
from ..setup.progress import part


def start(
    port: Annotated[
        Optional[int], typer.Option(min=0, max=65535, help="Port to serve on; a free one near 4180 if left out.")
    ] = None,
    host: Annotated[str, typer.Option(help="Address to serve on.")] = "127.0.0.1",
    empty: Annotated[bool, typer.Option("--empty", help="Do not make the demo.")] = False,
) -> None:
    """Set up all that is missing, then serve until Ctrl-C."""
    from ..setup.front_end import BuildFailed
    from ..setup.mariadb import DatabaseFailed
    from ..store.database import StoreFull, StoreUnavailable

    try:
        _serve(Home.find().make(), host, port, empty)
    except (HomeBusy, PackagesMissing, BuildFailed, DatabaseFailed, StoreFull, StoreUnavailable) as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(1) from None
    except OSError as error:
        typer.echo(_unusable(error), err=True)
        raise typer.Exit(1) from None


def _unusable(error: OSError) -> str:
    if error.errno in (errno.ENOSPC, errno.EDQUOT):
        return (
            f"The disk that holds {Home.find().path} is full. Nothing that was saved is lost; make room and "
            f"start again."
        )
    return (
        f"The data folder {Home.find().path} can't be used: {error.strerror or error}. Set IDLE_COMET_HOME to "
        f"another folder, or make it writable."
    )


def _serve(home: Home, host: str, port: int | None, empty: bool) -> None:
    import uvicorn

    from ..service.forking import begin_processes
    from ..setup.loops import Loops
    from ..setup.packages import PAINTING, SPEAKING, ensure

    # Before anything that draws is imported.
    ensure("mariadbd", "my_print_defaults", *PAINTING, *SPEAKING)
    # SIGTERM, and the terminal that is closed, end the server as Ctrl-C does: its database ends with it.
    for sign in (signal.SIGTERM, signal.SIGHUP):
        signal.signal(sign, signal.default_int_handler)
    lock = home.lock()
    listening = _listen(host, port)
    loops = Loops()
    if not loops.compiling:
        begin_processes()
    from ..media.importing import clear_leftovers
    from ..media.shipped import lay_out_sounds
    from ..service.app import create_app
    from ..service.context import Context
    from ..service.exports import Exports
    from ..service.following import Following
    from ..service.guard import LOOPBACK, addresses_of
    from ..service.painting import FrameCache, Painters
    from ..service.transcribing import Transcribing
    from ..setup.front_end import DIST, build_front_end
    from ..setup.mariadb import MariaDB
    from ..setup.transcriber import Transcriber
    from ..store.database import Database
    from ..store.projects import ProjectStore
    from ..store.recipes import RecipeStore

    with part("Starting the database"):
        server = MariaDB(home.database).start()
    try:
        database = Database(server.address.connect)
        database.migrate()
        store = ProjectStore(database)
        store.forget_tokens()
        if not empty and not store.listed():
            _make_demo(store, home)
        clear_leftovers(home.media)
        lay_out_sounds(home.media)
        build_front_end()
        loops.finish()
        context = Context(
            store,
            Painters(home.media, FrameCache(home.frames, home.frames_budget), lambda: loops.compiling),
            Exports(database, home.media, home.films),
            Following(store, home.media),
            Transcribing(store, home.media, Transcriber().address),
            home.media,
            RecipeStore(database),
        )
        secret = None if host in LOOPBACK else _secret()
        app = create_app(context, DIST, addresses_of(host), secret)
        web = uvicorn.Server(uvicorn.Config(app, log_level="warning", ws_max_size=1 << 20, timeout_graceful_shutdown=2))
        signal.signal(signal.SIGHUP, lambda _, frame: web.handle_exit(signal.SIGTERM, frame))
        _announce(web, f"http://{host}:{listening.getsockname()[1]}", home, secret)
        with _keep_running(server):
            web.run(sockets=[listening])
    finally:
        loops.stop()
        server.stop()
        lock.close()
        (home.path / "address").unlink(missing_ok=True)


def _listen(host: str, port: int | None) -> socket.socket:
    """Take the port before anything slow is done, so that two starts never race for it."""
    for candidate in [port] if port is not None else [*range(4180, 4200), 0]:
        # Named as TCP, so that what is said on its connections leaves at once: an answer that is written in two pieces
        # would otherwise wait 40 ms between them, until the browser has said that the first is there.
        taken = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
        taken.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            taken.bind((host, candidate))
            taken.listen(128)
            return taken
        except OSError:
            taken.close()
    typer.echo(f"Port {port} on {host} can't be used. Choose another with --port.", err=True)
    raise typer.Exit(1)


def _make_demo(store, home: Home) -> None:
    from ..demo.project import harvest
    from ..demo.world import make_world

    with part("Laying out the demo"):
        store.create("slow-harvest", harvest(make_world(home.media)))


def _secret() -> str:
    """What others must know to reach a server that listens beyond this machine; made anew at every start."""
    typer.echo(
        "Idle Comet will be reached from other machines: whoever has the whole address below can see and change "
        "every film."
    )
    return secrets.token_urlsafe(24)


def _announce(web, address: str, home: Home, secret: str | None) -> None:
    """Print the address once the server really answers."""

    def wait() -> None:
        while not web.started:
            time.sleep(0.02)
        (home.path / "address").write_text(address)
        print(f"Idle Comet is ready: {address}{f'/?secret={secret}' if secret else ''}", flush=True)

    threading.Thread(target=wait, daemon=True).start()


_ASKED, _SILENT = 2.0, 15.0
"""Seconds between two looks at whether the database answers; and for how long it may not before it is ended."""


@contextlib.contextmanager
def _keep_running(server):
    """Start the database again if it dies."""
    from ..setup.mariadb import DatabaseFailed

    stopping = threading.Event()

    def watch() -> None:
        silent_since: float | None = None
        asked = time.monotonic()
        while not stopping.wait(0.3):
            if server.running and time.monotonic() - asked > _ASKED:
                asked = time.monotonic()
                silent_since = None if server.answers(_ASKED) else silent_since or asked
                if silent_since is not None and time.monotonic() - silent_since > _SILENT:
                    # It is there and does not answer: what it has written survives its end.
                    server.kill()
                    silent_since = None
            if not server.running:
                try:
                    server.start()
                except (DatabaseFailed, OSError):
                    # No room, most likely. What was written is safe; it is tried again until there is.
                    stopping.wait(2)

    thread = threading.Thread(target=watch, daemon=True)
    thread.start()
    try:
        yield
    finally:
        stopping.set()
        thread.join(5)
