"""A fault at every step of an upload, an export and a start: what was acknowledged is there, nothing half is shown, and
the next one works.

Of an export's steps, most of which ask the same again and again, every third has its turn; with `COMET_FAULTS=all`, all
have.
"""

import asyncio
import io
import multiprocessing
import os
import wave
from types import SimpleNamespace

import cv2
import httpx2 as httpx
import numpy as np
import pytest

from idle_comet.core.project.model import Project, Settings
from idle_comet.media import film as rendering
from idle_comet.media.film import Order
from idle_comet.media.importing import clear_leftovers, proxy_path, thumbnail_path
from idle_comet.media.package import missing_files
from idle_comet.media.probe import hash_file, probe
from idle_comet.media.sounding import peaks_path, samples_path
from idle_comet.service import exports
from idle_comet.service.app import create_app
from idle_comet.service.exports import Exports
from idle_comet.service.guard import LOOPBACK
from idle_comet.service.routers import media as media_router
from idle_comet.setup.home import Home
from idle_comet.setup.mariadb import DatabaseFailed, MariaDB
from idle_comet.store.database import Database
from idle_comet.store.projects import ProjectStore
from tests.conftest import until
from tests.faults import Faults
from tests.media.test_importing import bars, write_video

FILM = Project(settings=Settings(name="T", width=64, height=36))


def png(level):
    return cv2.imencode(".png", np.full((18, 32, 3), level, np.uint8))[1].tobytes()


def wav():
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(48_000)
        file.writeframes(np.arange(4800, dtype="<i2").tobytes())
    return out.getvalue()


@pytest.fixture(scope="module")
def shot(tmp_path_factory):
    path = tmp_path_factory.mktemp("shot") / "shot.mp4"
    return write_video(path, [bars(64, 36)] * 4, "libx264", "yuv420p").read_bytes()


class Here:
    """Reads files in this process, so that its steps are counted."""

    def __init__(self, seconds): ...

    def __enter__(self):
        return self

    def __exit__(self, *error): ...

    def do(self, work, *args):
        return work(*args)


def sent(app, film, files):
    async def ask():
        transport = httpx.ASGITransport(app, raise_app_exceptions=False)
        async with httpx.AsyncClient(transport=transport, base_url="http://127.0.0.1") as client:
            return await client.post(f"/api/projects/{film}/media", files=[("files", each) for each in files])

    return asyncio.run(ask())


def whole(project, folder):
    """Every file of a film holds what it should, and so does all that was made of it."""
    assert missing_files(project, folder) == []
    for item in project.media.values():
        path = folder / item.path
        assert hash_file(path) == item.hash
        assert cv2.imread(str(thumbnail_path(path))) is not None
        if item.sound is not None:
            assert samples_path(path).stat().st_size >= 8 * 4800 and len(np.load(peaks_path(path)))
        if path.suffix == ".mp4" or proxy_path(path).exists():
            assert probe(proxy_path(path)).frames == item.frames


@pytest.mark.parametrize("kind", ["shot", "sound", "pictures that count up", "two pictures"])
def test_an_upload_is_taken_whole_or_refused_whichever_step_fails(tmp_path, database, mariadb, monkeypatch, shot, kind):
    faults = Faults(mariadb.address.connect, tmp_path)
    store = ProjectStore(Database(faults))
    app = create_app(None, None, LOOPBACK)
    app.state.context = SimpleNamespace(store=store, media=tmp_path)
    monkeypatch.setattr(media_router, "Apart", Here)
    files = {
        "shot": [("shot.mp4", shot)],
        "sound": [("hum.wav", wav())],
        "pictures that count up": [("a1.png", png(10)), ("a2.png", png(90))],
        "two pictures": [("one.png", png(30)), ("two.png", png(60))],
    }[kind]
    answers = []

    def work(name):
        faults.at, at = None, faults.at
        store.create(name, FILM)
        for each in tmp_path.iterdir():
            each.unlink()
        faults.at, faults.steps = at, 0
        with faults.watched(monkeypatch):
            answer = sent(app, name, files)
        steps = faults.steps
        answers.append(answer.status_code)
        assert answer.status_code in (200, 503, 507), answer.text
        body = answer.json()
        project = ProjectStore(database).load(name).project
        whole(project, tmp_path)
        if answer.status_code == 200:
            assert {each["id"] for each in body["added"]} == set(project.media)
            assert all(each["why"].startswith(f"“{each['name']}” ") for each in body["rejected"])
            assert body["added"] or body["rejected"]
            assert str(tmp_path) not in answer.text
        else:
            assert body["detail"].endswith(".")
        # What could not be taken away is taken away at the next start; all else is whole.
        clear_leftovers(tmp_path)
        again = sent(app, name, files).json()
        assert len(again["added"]) == (1 if kind == "pictures that count up" else len(files)) and not again["rejected"]
        whole(ProjectStore(database).load(name).project, tmp_path)
        faults.steps = steps

    assert faults.each(work) >= 12
    assert 200 in answers and 507 in answers


def test_a_film_is_made_whole_or_failed_whichever_step_fails(tmp_path, database, mariadb, monkeypatch):
    faults = Faults(mariadb.address.connect, tmp_path)
    context = multiprocessing.get_context("fork")
    # Made of this process, so that their steps are counted with its own.
    monkeypatch.setattr(exports, "processes", lambda: context)
    monkeypatch.setattr(exports, "_many", lambda order: 1)
    # What is painted is not what is tried here.
    monkeypatch.setattr(rendering, "paint_frame", lambda *args: np.full((36, 64, 4), 90, np.uint8))
    queue, plain = (Exports(each, tmp_path, tmp_path) for each in (Database(faults), database))
    states = []
    queue.start()

    def ended():
        return all(each.state in ("done", "failed") for each in plain.of("film"))

    def work(name):
        with faults.watched(monkeypatch):
            job = queue.order("film", 0, FILM, Order(0, 2, 64, 36)).id
            until(ended)
        steps = faults.steps
        now = plain.get(job)
        states.append(now.state)
        if now.state == "done":
            assert probe(tmp_path / now.file_name).frames == now.frames_done == 2
        else:
            assert now.message.endswith(".") and str(tmp_path) not in now.message
        faults.steps = steps

    faults.each(work, None if os.environ.get("COMET_FAULTS") == "all" else range(1, 99, 3))
    assert len(states) > 12 and states.count("done") > states.count("failed") > 0 and states[-1] == "done"
    assert len(list(tmp_path.glob("*.mp4"))) == states.count("done")
    queue.stop()


def test_a_start_can_be_made_again_whichever_step_fails(tmp_path, monkeypatch):
    faults = Faults(folder=tmp_path)

    def work(name):
        home, at, server = Home(tmp_path / name), faults.at, None
        with faults.watched(monkeypatch):
            try:
                home.make().lock().close()
                server = MariaDB(home.database)
                server.start()
                return
            except (OSError, DatabaseFailed) as error:
                assert str(error)
            finally:
                steps, faults.at = faults.steps, None
                if server is not None:
                    server.stop()
                faults.steps = steps
        again = MariaDB(home.make().database).start()
        Database(again.address.connect).migrate()
        again.stop()
        faults.at, faults.steps = at, steps

    work("first")
    # The files of a new database are synced one by one, all in the same way.
    synced = [at for at, name in enumerate(faults.names, 1) if "data-being-made" in name[1] and name[0] == "os.fsync"]
    rest = [at for at in range(1, faults.steps + 1) if at not in synced]
    assert len(rest) >= 12 and len(synced) > 50
    faults.each(work, sorted([*rest, synced[0], synced[-1]]))
