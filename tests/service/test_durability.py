"""Nothing that was acknowledged is lost, whatever is killed and whenever."""

import os
import random
import signal
import time

import av
import httpx2 as httpx
import numpy as np
import pytest

from tests.conftest import Running, lend_demo, until


@pytest.fixture
def mortal(tmp_path):
    """A server of its own, to be killed."""
    lend_demo(tmp_path)
    server = Running(tmp_path).start()
    yield server
    if server.process.poll() is None:
        server.stop()


def kill_database(server):
    def killed():
        try:
            os.kill(int((server.home / "database" / "pid").read_text()), signal.SIGKILL)
            return True
        except (ProcessLookupError, FileNotFoundError, ValueError):
            return False  # the last one killed is not up again yet

    until(killed)


def kill_server(server):
    server.process.kill()
    server.process.wait()


def test_edits_outlive_kills_of_server_and_database(mortal):
    dice = random.Random(20)
    text, revision, acknowledged, unsure = "THE SLOW HARVEST", mortal.project()["revision"], [], None
    kills = sorted(dice.sample(range(120), 9))
    # A film is made all the while.
    film = order(mortal)
    for number in range(120):
        if number in kills:
            down = kill_server if kills.index(number) % 4 == 0 else kill_database
            # Now and then in the middle of a request.
            if dice.random() < 0.5:
                try:
                    unsure = f"lost {number}"
                    httpx.post(
                        f"{mortal.address}/api/projects/slow-harvest/edits",
                        timeout=0.004,
                        json={"revision": revision, "edit": {"kind": "change_text", "clip": "title", "text": unsure}},
                    )
                except httpx.HTTPError:
                    pass
            down(mortal)
            if down is kill_server:
                mortal.start()
            # An edit whose answer was lost is there as a whole, or not at all.
            state = until(lambda: mortal.api("GET", "/projects/slow-harvest"), 30).json()
            seen = state["project"]["clips"]["title"]["content"]["text"]
            assert seen in (text, unsure)
            text, revision = seen, state["revision"]
            # One that happened although its answer was lost is a state of the film like any other.
            acknowledged.append((revision, seen))
        wanted = f"edit {number}"
        answer = mortal.api(
            "POST",
            "/projects/slow-harvest/edits",
            json={"revision": revision, "edit": {"kind": "change_text", "clip": "title", "text": wanted}},
        )
        if answer.status_code == 409:
            # One whose answer was lost was still on its way, and is there after all: a state like any other.
            current = answer.json()["current"]
            seen, revision = current["project"]["clips"]["title"]["content"]["text"], current["revision"]
            assert seen in (text, unsure)
            acknowledged.append((revision, seen))
            answer = mortal.api(
                "POST",
                "/projects/slow-harvest/edits",
                json={"revision": revision, "edit": {"kind": "change_text", "clip": "title", "text": wanted}},
            )
        assert answer.status_code == 200, answer.text
        text, revision = wanted, answer.json()["revision"]
        acknowledged.append((revision, wanted))
    kill_server(mortal)
    mortal.start()
    assert mortal.project()["project"]["clips"]["title"]["content"]["text"] == "edit 119"
    # Undone one by one, the journal gives back every acknowledged state.
    known = dict(acknowledged)
    for _ in range(30):
        state = mortal.project()
        answer = mortal.api("POST", "/projects/slow-harvest/undo", json={"revision": state["revision"]})
        assert answer.status_code == 200
    assert mortal.project()["project"]["clips"]["title"]["content"]["text"] in known.values()
    made = done(mortal, film)
    assert made["frames_done"] == 150 and len(frames_of(mortal.home / "films" / made["file_name"])) == 150
    # The film is of the moment it was asked for, whatever was edited and killed since.
    again = until(
        lambda: mortal.command("save", "slow-harvest", "--out", str(mortal.home / "after.json")).returncode == 0
    )
    assert again and not [each.name for each in (mortal.home / "media").glob(".*")]
    mortal.stop()
    assert until(lambda: not of_home(mortal.home) and "none") == "none", "a process was left behind"


def order(server):
    return server.api(
        "POST", "/projects/slow-harvest/exports", json={"first": 0, "last": 149, "width": 320, "height": 180}
    ).json()["id"]


def done(server, job):
    return until(lambda: (found := server.api("GET", f"/exports/{job}").json())["state"] == "done" and found, 120)


def of_home(home):
    """Processes that work for a home, whoever started them."""
    found = []
    for place in os.listdir("/proc"):
        if place.isdigit():
            try:
                if (
                    f"IDLE_COMET_HOME={home}".encode() in open(f"/proc/{place}/environ", "rb").read().split(b"\0")
                    and b"defunct" not in open(f"/proc/{place}/status", "rb").read()
                ):
                    found.append(open(f"/proc/{place}/cmdline").read().replace("\0", " "))
            except OSError:
                continue
    return [each for each in found if each.strip()]


def frames_of(path):
    with av.open(str(path)) as container:
        return [frame.to_ndarray(format="gray") for frame in container.decode(video=0)]


def test_a_killed_export_goes_on_and_ends_with_the_same_frames(mortal, tmp_path):
    whole = done(mortal, order(mortal))
    job = order(mortal)
    until(lambda: len(list((mortal.home / "films" / f".{job}").glob("*.mp4"))) >= 2, 60)
    kill_server(mortal)
    kept = {file.name: file.stat().st_mtime_ns for file in (mortal.home / "films" / f".{job}").glob("*.mp4")}
    time.sleep(0.5)
    mortal.start()
    resumed = done(mortal, job)
    assert kept and resumed["frames_done"] == 150
    ours, theirs = (frames_of(mortal.home / "films" / found["file_name"]) for found in (whole, resumed))
    assert len(ours) == len(theirs) == 150
    assert all(np.array_equal(a, b) for a, b in zip(ours, theirs))
