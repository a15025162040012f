"""Exports that meet with trouble: processes that die, films that are deleted, disks that are full, what a kill leaves
behind."""

import errno
import os
import signal
from contextlib import suppress

import cv2
import pymysql
import pytest

from idle_comet.media.decode import ShotReader
from idle_comet.media.importing import clear_leftovers
from idle_comet.service.exports import Exports, _says
from idle_comet.service.problems import plainly
from idle_comet.store.database import Database, StoreFull
from tests.conftest import until


def exporting(running):
    """Process ids of exporting processes of this server: what it has brought about that works at a lower priority."""
    parents, low = {}, []
    for place in os.listdir("/proc"):
        if place.isdigit():
            try:
                fields = open(f"/proc/{place}/stat").read().rsplit(")", 1)[1].split()
            except OSError:
                continue
            parents[int(place)] = int(fields[1])
            low += [int(place)] if int(fields[16]) >= 10 else []
    return [each for each in low if parents.get(parents[each]) == running.process.pid]


def order(running, project="slow-harvest", **more):
    return running.api(
        "POST", f"/projects/{project}/exports", json={"first": 0, "last": 199, "width": 320, "height": 180, **more}
    ).json()["id"]


def state(running, job):
    return running.api("GET", f"/exports/{job}").json()


def test_a_film_whose_process_dies_is_taken_up_again_by_itself(running):
    job = order(running)
    for _ in range(2):
        victims = until(lambda: exporting(running), 30)
        os.kill(victims[0], signal.SIGKILL)
        until(lambda: victims[0] not in exporting(running))
    found = until(lambda: (now := state(running, job))["state"] in ("done", "failed") and now, 120)
    assert found["state"] == "done" and found["frames_done"] == 200


def test_a_film_that_keeps_dying_is_given_up_in_a_sentence(running):
    job = order(running)
    while (now := state(running, job))["state"] in ("waiting", "running"):
        for victim in exporting(running):
            # One that was found may have ended by now.
            with suppress(ProcessLookupError):
                os.kill(victim, signal.SIGKILL)
    assert now["state"] == "failed" and "died 3 times" in now["message"]


def test_a_deleted_film_ends_its_exports_and_takes_no_edits(running, made):
    job = order(running, made.id, last=99)
    running.api("DELETE", f"/projects/{made.id}")
    assert (
        until(lambda: (now := state(running, job))["state"] == "cancelled" and now)["message"]
        == "The film was deleted."
    )
    answer = made.edit(kind="change_settings", name="Gone")
    assert answer.status_code == 409 and "Put it back" in answer.json()["detail"]
    running.api("POST", f"/projects/{made.id}/put-back")
    assert made.edit(kind="change_settings", name="Back").status_code == 200


def test_what_a_kill_left_is_cleared_and_what_is_needed_stays(database, tmp_path):
    films, media = tmp_path / "films", tmp_path / "media"
    for folder in (films / ".dead", films / ".alive", media / ".upload-1", media / "faces" / ".own-1.part"):
        folder.mkdir(parents=True)
        (folder / "half").write_text("x")
    (films / ".film.mp4.part").write_text("x")
    (films / "film.mp4").write_text("x")
    (media / "kept.png").write_text("x")
    database.run(
        lambda cursor: cursor.execute(
            "INSERT INTO exports (id, project, revision, state, first_frame, frames, width, height, quality, "
            "document) VALUES ('alive', 'p', 0, 'waiting', 0, 1, 16, 16, 9, '{}')"
        )
    )
    Exports(database, media, films)._clear_up()
    clear_leftovers(media)
    assert sorted(each.name for each in films.iterdir()) == [".alive", "film.mp4"]
    assert sorted(each.name for each in media.iterdir()) == ["faces", "kept.png"] and not list(
        (media / "faces").iterdir()
    )


@pytest.mark.parametrize(
    "error",
    [
        pymysql.err.OperationalError(1021, "Disk full"),
        pymysql.err.InternalError(1114, "The table is full"),
        pymysql.err.OperationalError(1030, 'Got error 28 "No space left on device" from storage engine InnoDB'),
    ],
)
def test_a_full_disk_is_said_and_is_not_waited_for(error):
    class Broken:
        open = True

        def cursor(self):
            raise error

        def rollback(self): ...

    database = Database(lambda **_: Broken())
    with pytest.raises(StoreFull, match="make room"):
        database.run(lambda cursor: None)


def test_no_film_ends_with_the_system_s_own_words():
    full = OSError(errno.ENOSPC, "No space left on device", "/home/x/films/.a")
    assert _says(full).startswith("The disk is full") and plainly(full).startswith("The disk is full")
    assert "/home" not in _says(OSError(errno.EIO, "Input/output error", "/home/x"))


def test_the_queue_outlives_a_database_that_is_away(database, tmp_path):
    away = [True, True]

    class Shaky(Database):
        def run(self, work):
            if away:
                away.pop()
                raise RuntimeError("the database is away")
            return database.run(work)

    exports = Exports(Shaky(None), tmp_path, tmp_path)
    exports._wake.set()
    exports._thread.start()
    try:
        for _ in range(3):
            exports._wake.set()
            until(lambda: not exports._wake.is_set(), 5)
        assert exports._thread.is_alive() and not away
    finally:
        exports.stop()


@pytest.mark.parametrize("form, suffix", [("vp9", ".webm"), ("prores4444", ".mov"), ("png", ".zip")])
def test_a_clip_alone_is_exported_with_transparency(running, form, suffix):
    job = order(running, first=60, last=63, format=form, clip="title")
    early = running.api("DELETE", f"/exports/{job}/film")
    assert early.status_code == 409 and "cancel it first" in early.json()["detail"]
    done = until(lambda: (found := state(running, job))["state"] in ("done", "failed") and found, 60)
    assert done["state"] == "done" and done["file_name"].endswith(suffix) and done["format"] == form
    kind = running.api("GET", f"/exports/{job}/film").headers["content-type"]
    assert kind == {".webm": "video/webm", ".mov": "video/quicktime", ".zip": "application/zip"}[suffix]
    file = running.home / "films" / done["file_name"]
    assert file.exists() and running.api("DELETE", f"/exports/{job}/film").status_code == 204
    assert not file.exists() and running.api("GET", f"/exports/{job}").status_code == 404
    assert job not in [each["id"] for each in running.api("GET", "/projects/slow-harvest/exports").json()]
    refused = running.api("POST", "/projects/slow-harvest/exports", json={"format": form, "clip": "gone"})
    assert refused.status_code == 422 and "no clip" in refused.json()["detail"]


def test_a_draft_is_measured_before_it_is_started_and_looks_like_the_film(running, tmp_path):
    asked = {"first": 60, "last": 109, "width": 640, "height": 360}
    told = running.api("POST", "/projects/slow-harvest/exports/estimate", json=asked).json()
    assert told["frames"] == 50 and told["processes"] >= 1
    for name in ("full", "draft"):
        assert 0 < told[f"{name}_frame"] < 30
        assert told[f"{name}_film"] == pytest.approx(told[f"{name}_frame"] * 50 / told["processes"])
    films = []
    for draft in (False, True):
        job = order(running, **{**asked, "draft": draft})
        found = until(lambda: (now := state(running, job))["state"] in ("done", "failed") and now, 120)
        assert found["state"] == "done" and found["draft"] is draft
        (tmp_path / "film.mp4").write_bytes(running.api("GET", f"/exports/{job}/film").content)
        reader = ShotReader(tmp_path / "film.mp4")
        films.append(reader.picture(25, True)[..., :3].astype(float))
        assert (found["width"], found["height"]) == films[-1].shape[1::-1] == ((320, 180) if draft else (640, 360))
        reader.close()
    small = cv2.resize(films[0], (320, 180), interpolation=cv2.INTER_AREA)
    assert 0 < abs(small - films[1]).mean() < 3
