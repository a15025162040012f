"""What tests share: a throwaway database, a whole running server, a browser."""

from __future__ import annotations

import asyncio
import os
import shutil
import signal
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import httpx2 as httpx
import pytest
from hypothesis import settings

from idle_comet.setup.home import ROOT, Home

# Shared machines stall for moments: a slow example is no failed one.
settings.register_profile("comet", deadline=None, max_examples=32, print_blob=True)
settings.load_profile("comet")

SERVED = {"running", "mortal", "painter", "page", "chromium", "windows"}
"""Fixtures of servers, painting processes and browsers."""

IN_TIME = {
    "service/test_preview",
    "service/test_exports",
    "media/test_importing",
    "desk/test_sound",
    "desk/test_first_title",
}
"""Files whose tests play or export, or give something so many seconds."""


def pytest_collection_modifyitems(items):
    for item in items:
        if f"{item.path.parent.name}/{item.path.stem}" in IN_TIME:
            item.add_marker("alone")
        elif SERVED & set(item.fixturenames) and not item.get_closest_marker("alone"):
            item.add_marker("served")


BROWSER_FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


@pytest.fixture(scope="session")
def mariadb(tmp_path_factory):
    from idle_comet.setup.mariadb import MariaDB

    server = MariaDB(tmp_path_factory.mktemp("database")).start()
    yield server
    server.stop()


@pytest.fixture
def database(mariadb):
    """An empty, migrated database."""
    yield from migrated(mariadb)


def migrated(mariadb):
    """The same, for fixtures of another scope."""
    from idle_comet.store.database import Database

    with mariadb._root() as root, root.cursor() as cursor:
        cursor.execute("DROP DATABASE comet")
        cursor.execute("CREATE DATABASE comet")
    database = Database(mariadb.address.connect)
    database.migrate()
    yield database
    database.close()


@pytest.fixture(scope="session")
def heath(tmp_path_factory):
    """A small, short heath shot: (media folder, media)."""
    from idle_comet.demo.painting import paint_shot
    from idle_comet.demo.world import SHOTS

    folder = tmp_path_factory.mktemp("media")
    return folder, paint_shot(folder, SHOTS[0]._replace(width=640, height=360, seconds=2))


@pytest.fixture(scope="session")
def film(heath):
    """A film of the demo's title over the small shot."""
    from idle_comet.core.project.model import Clip, Footage, Project, Settings, Track
    from idle_comet.demo.project import title

    shot = Clip(id="shot", track="shots", name="Heath", head=0, length=200, content=Footage(media=heath[1].id))
    return Project(
        settings=Settings(name="A film"),
        tracks=(Track(id="titles", name="Titles"), Track(id="shots", name="Shots")),
        media={heath[1].id: heath[1]},
        clips={"title": title(), "shot": shot},
    )


@pytest.fixture(scope="session")
def sources(heath):
    from idle_comet.media.decode import ShotSources

    folder, media = heath
    return ShotSources(lambda _: folder / media.path)


DEMO = ROOT / "var" / "demo-media"
"""The demo's painted files, kept from one run of the tests to the next."""


def link_or_copy(source: str, target: str) -> None:
    try:
        os.link(source, target)
    except FileExistsError:
        pass
    except OSError:
        shutil.copy2(source, target)


def lend_demo(home: Path) -> None:
    media = Home(home).make().media
    if DEMO.exists():
        shutil.copytree(DEMO, media, copy_function=link_or_copy, dirs_exist_ok=True)


def keep_demo(home: Path) -> None:
    """What was painted for a home, for the next one."""
    shutil.copytree(Home(home).media, DEMO, copy_function=link_or_copy, dirs_exist_ok=True)


class Running:
    """`./comet start` as a user runs it, on a home of its own."""

    def __init__(self, home: Path) -> None:
        self.home = home
        # What is painted ahead takes time that other tests want.
        self.environment = {"IDLE_COMET_PREFETCH": "off", **os.environ, "IDLE_COMET_HOME": str(home)}
        self.process: subprocess.Popen | None = None
        self.address = ""

    def start(self) -> "Running":
        from idle_comet.setup.mariadb import free_port

        # A port of its own: another server that is started while this one is down must not take it.
        port = self.address.rsplit(":", 1)[1] if self.address else str(free_port())
        self.process = subprocess.Popen(
            [sys.executable, "-m", "idle_comet", "start", "--port", port],
            cwd=ROOT,
            env=self.environment,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
        )
        said = []
        for line in self.process.stdout:
            said.append(line)
            if line.startswith("Idle Comet is ready: "):
                self.address = line.split(": ", 1)[1].strip()
                # One client for all questions: a new one reads the machine's certificates, which takes longer than
                # most answers.
                self.client = httpx.Client(base_url=f"{self.address}/api", timeout=60)
                return self
        raise AssertionError("the server did not start:\n" + "".join(said))

    def stop(self) -> None:
        self.client.close()
        self.process.send_signal(signal.SIGINT)
        self.process.wait(30)

    def command(self, *words: str) -> subprocess.CompletedProcess:
        return subprocess.run(
            [sys.executable, "-m", "idle_comet", *words], cwd=ROOT, env=self.environment, capture_output=True, text=True
        )

    def api(self, method: str, path: str, **more) -> httpx.Response:
        return self.client.request(method, path, **more)

    def project(self) -> dict:
        return self.api("GET", "/projects/slow-harvest").json()

    def edit(self, edit: dict, **more) -> httpx.Response:
        revision = self.project()["revision"]
        return self.api("POST", "/projects/slow-harvest/edits", json={"revision": revision, "edit": edit, **more})


@pytest.fixture(scope="session")
def running(tmp_path_factory):
    home = tmp_path_factory.mktemp("home")
    lend_demo(home)
    server = Running(home).start()
    keep_demo(home)
    yield server
    server.stop()


@pytest.fixture(scope="session")
def chromium():
    from playwright.sync_api import sync_playwright

    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=BROWSER_FLAGS)
        yield browser
        browser.close()


WINDOW = {"width": 1280, "height": 800}


@pytest.fixture(scope="session")
def window(chromium):
    """A window that is kept open: what it has loaded and compiled it does not load again for every test."""
    context = chromium.new_context(viewport=WINDOW)
    yield context.new_page()
    context.close()


@pytest.fixture
def page(window):
    """The window, in which nothing is remembered of another test. A test that changes more than its size, or listens
    to it, takes one of its own from `chromium`."""
    if not window.url.startswith("http"):
        # A page that was written by hand; one of ours is left for the next, and what it compiled is kept.
        window.goto("about:blank")
    yield window
    window.unroute_all(behavior="ignoreErrors")
    if window.url.startswith("http"):
        window.evaluate("() => { localStorage.clear(); sessionStorage.clear() }")
    window.set_viewport_size(WINDOW)


def in_a_loop(work):
    """What a coroutine gives, run in a thread of its own: the browser's driver keeps a loop running in this one."""
    with ThreadPoolExecutor(1) as apart:
        return apart.submit(asyncio.run, work).result()


def until(check, seconds: float = 60):
    """Wait for a check to be true and return what it gave."""
    deadline, pause = time.monotonic() + seconds, 0.03
    while True:
        try:
            found = check()
        except (LookupError, StopIteration):
            # What is asked about is not there yet.
            found = None
        if found:
            return found
        assert time.monotonic() < deadline, "it did not come true in time"
        # Whoever is waited for wants the machine, too.
        time.sleep(pause)
        pause = min(0.2, 1.3 * pause)
