"""Media over the wire, projects made and unmade, projects as files."""

import json
import os
import signal
import subprocess
import sys
import types
from pathlib import Path

import cv2
import httpx2 as httpx
import numpy as np
import pytest
from fastapi import HTTPException, Request

from idle_comet.core.clock import Rate
from idle_comet.core.edits import ChangeSettings
from idle_comet.core.project.model import Media
from idle_comet.service import receiving
from idle_comet.service.routers.media import _frame_of
from idle_comet.setup.home import ROOT
from tests.conftest import in_a_loop


def png(colour, size=(40, 30)):
    return cv2.imencode(".png", np.full((size[1], size[0], 3), colour, np.uint8))[1].tobytes()


def make(running, **order):
    return running.api("POST", "/projects", json={"name": "Trial", **order}).json()


def upload(running, project, *files):
    return running.api("POST", f"/projects/{project}/media", files=[("files", file) for file in files]).json()


def test_files_are_added_in_one_edit_and_the_bad_ones_are_named(running):
    made = make(running)
    answer = upload(
        running,
        made["id"],
        ("blue.png", png((255, 0, 0))),
        ("broken.mp4", b"\x00\x00\x00\x20ftypisom" + bytes(40)),
        ("../../evil.png", png(9)),
    )
    assert [item["name"] for item in answer["added"]] == ["blue", "evil"]
    assert [each["name"] for each in answer["rejected"]] == ["broken.mp4"] and "can't be" in answer["rejected"][0][
        "why"
    ]
    state = running.api("GET", f"/projects/{made['id']}").json()
    assert len(state["project"]["media"]) == 2 and state["history"]["undo"] == "add 2 files"
    item = answer["added"][0]["id"]
    assert running.api("GET", f"/projects/{made['id']}/media/{item}/thumbnail").headers["content-type"] == "image/jpeg"
    assert not [file for file in (running.home / "media").iterdir() if file.name.startswith(".")]


def form(*parts, ends=True):
    """A multipart form as raw bytes."""
    body = b"".join(
        b'--cut\r\nContent-Disposition: form-data; name="files"; filename="' + name + b'"\r\n\r\n' + data + b"\r\n"
        for name, data in parts
    )
    return body + b"--cut--\r\n" if ends else body


def receive(folder, body, kind="multipart/form-data; boundary=cut", pieces=7):
    """What the service keeps of a form that comes in small pieces."""
    chunks = [body[i : i + pieces] for i in range(0, len(body), pieces)] + [b""]
    messages = iter({"type": "http.request", "body": chunk, "more_body": bool(chunk)} for chunk in chunks)

    async def next_message():
        return next(messages)

    request = Request({"type": "http", "method": "POST", "headers": [(b"content-type", kind.encode())]}, next_message)
    return in_a_loop(receiving.receive_files(request, folder))


def test_a_file_over_the_limit_is_dropped_while_it_comes_in_and_the_others_are_kept(tmp_path, monkeypatch):
    monkeypatch.setattr(receiving, "LARGEST_FILE", 100)
    kept, dropped = receive(
        tmp_path, form((b"small.png", b"a\r\n--cu" * 9), (b"large.mov", bytes(101)), (b"last.png", b"z" * 100))
    )
    assert [(path.read_bytes(), name) for path, name in kept] == [
        (b"a\r\n--cu" * 9, "small.png"),
        (b"z" * 100, "last.png"),
    ]
    assert dropped[0][0] == "large.mov" and "larger than" in dropped[0][1]
    assert len(list(tmp_path.iterdir())) == 2


@pytest.mark.parametrize(
    "body, kind, says",
    [
        (form((b"half.png", b"abc"), ends=False), "multipart/form-data; boundary=cut", "ended early"),
        (b"no form at all", "multipart/form-data; boundary=cut", "can't be read"),
        (form(), "multipart/form-data; boundary=cut", "No file"),
        (b"{}", "application/json", "this is none"),
    ],
)
def test_what_is_no_whole_form_is_refused_in_words(tmp_path, body, kind, says):
    with pytest.raises(HTTPException, match=says):
        receive(tmp_path, body, kind)


def test_an_upload_never_fills_the_disk(tmp_path, monkeypatch):
    monkeypatch.setattr(receiving.shutil, "disk_usage", lambda _: types.SimpleNamespace(free=(256 << 20) + 50))
    with pytest.raises(HTTPException, match="larger than the room"):
        receive(tmp_path, form((b"a.png", bytes(200))))


def test_the_first_shot_gives_an_empty_film_its_size_and_rate(running):
    made = make(running, width=640, height=360, rate={"num": 24})
    shot = next(file for file in (running.home / "media").glob("*.mp4"))
    upload(running, made["id"], ("shot.mp4", shot.read_bytes()))
    settings = running.api("GET", f"/projects/{made['id']}").json()["project"]["settings"]
    assert settings["rate"] == {"num": 25, "den": 1, "non_drop": False} and settings["width"] in (1280, 1920)


def test_a_film_is_copied_deleted_and_put_back(running):
    made = make(running)
    copy = running.api("POST", f"/projects/{made['id']}/copy").json()
    assert copy["project"]["settings"]["name"] == "Trial, copy" and copy["id"] != made["id"]
    listed = lambda: {item["id"] for item in running.api("GET", "/projects").json()}
    assert running.api("DELETE", f"/projects/{copy['id']}").status_code == 204 and copy["id"] not in listed()
    assert running.api("POST", f"/projects/{copy['id']}/put-back").json()["project"] == copy["project"]
    assert copy["id"] in listed()
    for each in (made, copy):
        running.api("DELETE", f"/projects/{each['id']}")


def test_a_project_saved_as_files_is_rendered_without_a_database_and_loads_as_it_was(running, tmp_path):
    file = tmp_path / "harvest.json"
    assert running.command("save", "slow-harvest", "--out", str(file)).returncode == 0
    elsewhere = {**os.environ, "IDLE_COMET_HOME": str(tmp_path / "nowhere")}
    out = tmp_path / "frame.png"
    done = subprocess.run(
        [sys.executable, "-m", "idle_comet", "frame", str(file), "--at", "60", "--out", str(out), "--size", "320x180"],
        cwd=ROOT,
        env=elsewhere,
        capture_output=True,
        text=True,
    )
    assert done.returncode == 0, done.stderr
    running.command("frame", "slow-harvest", "--at", "60", "--out", str(tmp_path / "own.png"), "--size", "320x180")
    assert out.read_bytes() == (tmp_path / "own.png").read_bytes()
    assert not (tmp_path / "nowhere" / "database").exists()
    loaded = running.command("load", str(file))
    id = loaded.stdout.strip().rsplit(" ", 1)[1]
    assert running.api("GET", f"/projects/{id}").json()["project"] == running.project()["project"]
    running.api("DELETE", f"/projects/{id}")


def test_a_project_file_whose_media_is_missing_is_loaded_and_says_so(running, tmp_path):
    file = tmp_path / "harvest.json"
    running.command("save", "slow-harvest", "--out", str(file))
    raw = json.loads(file.read_text())
    raw["files"]["heath-evening"] = "harvest media/none.mp4"
    raw["project"]["clips"]["title"]["content"]["typeface"] = "moonlight"
    file.write_text(json.dumps(raw))
    loaded = running.command("load", str(file))
    assert loaded.returncode == 0
    for said in ("“Heath, evening” is missing", "“moonlight” of"):
        assert said in loaded.stderr
    state = running.api("GET", f"/projects/{loaded.stdout.strip().rsplit(' ', 1)[1]}").json()
    # The file itself is in the store already, under its content's name.
    assert len(state["notes"]) == 1 and "moonlight" in state["notes"][0]
    out = tmp_path / "frame.png"
    painted = running.command("frame", str(file), "--at", "20", "--out", str(out), "--size", "320x180")
    assert painted.returncode == 0 and "is shown as missing" in painted.stderr
    assert (cv2.imread(str(out)).astype(int)[..., 2] > cv2.imread(str(out)).astype(int)[..., 0] + 60).mean() > 0.05
    running.api("DELETE", f"/projects/{state['id']}")


def test_project_files_that_are_wrong_are_refused_in_one_line(running, tmp_path):
    file = tmp_path / "harvest.json"
    running.command("save", "slow-harvest", "--out", str(file))
    good = json.loads(file.read_text())

    def refused(change) -> str:
        raw = json.loads(json.dumps(good))
        change(raw)
        wrong = tmp_path / "wrong.json"
        wrong.write_text(json.dumps(raw))
        done = running.command("load", str(wrong))
        assert done.returncode == 1 and len(done.stderr.strip().splitlines()) == 1
        return done.stderr

    first = next(iter(good["files"]))
    assert "version 9" in refused(lambda raw: raw.update(version=9))
    assert "outside" in refused(lambda raw: raw["files"].update({first: "../../secret.mp4"}))
    assert "has changed" in refused(lambda raw: raw["project"]["media"][first].update(hash="0" * 64))
    assert "project.clips.title.length" in refused(lambda raw: raw["project"]["clips"]["title"].update(length=0))
    assert "would lie over" in refused(lambda raw: raw["project"]["clips"]["name"].update(head=30))
    (tmp_path / "text.json").write_text("not json")
    assert "no JSON at line 1" in running.command("load", str(tmp_path / "text.json")).stderr


def test_the_schema_describes_the_file(running, tmp_path):
    schema = json.loads(running.command("schema").stdout)
    assert {"format", "version", "files", "project"} <= schema["properties"].keys()
    assert schema["$defs"]["Clip"]["properties"]["content"]["discriminator"]["propertyName"] == "kind"


@pytest.mark.parametrize(
    "size, rate, wanted",
    [
        ((8, 8), 25, {"width": 16, "height": 16}),
        ((9000, 100), 25, {"width": 8192, "height": 90}),
        ((1919, 1081), 30, {"width": 1918, "height": 1080}),
        ((640, 360), 1000, {"width": 640, "height": 360}),
    ],
)
def test_any_shot_can_be_the_first_of_a_film(size, rate, wanted):
    shot = Media(
        id="m", name="M", hash="0" * 64, path="m.mp4", width=size[0], height=size[1], rate=Rate(num=rate), frames=9
    )
    frame = _frame_of(shot)
    ChangeSettings(**frame)
    assert {name: frame[name] for name in ("width", "height")} == wanted and ("rate" in frame) == (rate < 1000)


def test_a_name_with_marks_that_steer_is_kept_without_them(running):
    made = make(running)
    answer = upload(running, made["id"], ("be\x00es\x1b[2J.png", png((0, 0, 255))))
    assert [item["name"] for item in answer["added"]] == ["be%00es[2J"]
    running.api("DELETE", f"/projects/{made['id']}")


@pytest.mark.parametrize("text", ["[" * 200_000, "1" * 9000])
def test_the_command_line_answers_a_file_without_end_in_a_sentence(running, tmp_path, text):
    file = tmp_path / "endless.json"
    file.write_text(text)
    for words in (("load", str(file)), ("frame", str(file), "--at", "0", "--out", str(tmp_path / "a.png"))):
        done = running.command(*words)
        assert done.returncode == 1 and len(done.stderr.strip().splitlines()) == 1 and "Traceback" not in done.stderr


def test_a_home_that_can_not_be_used_is_said(tmp_path):
    (tmp_path / "file").write_text("x")
    for words in (("start", "--empty"), ("load", str(tmp_path / "none.json"))):
        done = subprocess.run(
            [sys.executable, "-m", "idle_comet", *words],
            cwd=ROOT,
            env={**os.environ, "IDLE_COMET_HOME": str(tmp_path / "file")},
            capture_output=True,
            text=True,
        )
        assert (
            done.returncode == 1
            and "Traceback" not in done.stderr
            and done.stderr.strip().endswith(("writable.", "changed."))
        )


def test_a_server_for_other_machines_wants_its_secret(tmp_path):
    server = subprocess.Popen(
        [sys.executable, "-m", "idle_comet", "start", "--empty", "--host", "0.0.0.0"],
        cwd=ROOT,
        env={**os.environ, "IDLE_COMET_HOME": str(tmp_path / "home")},
        stdout=subprocess.PIPE,
        text=True,
    )
    try:
        said = []
        for line in server.stdout:
            said.append(line)
            if "is ready: " in line:
                break
        assert any("can see and change every film" in line for line in said)
        address = said[-1].split("is ready: ")[1].strip().replace("0.0.0.0", "127.0.0.1")
        bare = address.split("/?")[0]
        assert httpx.get(f"{bare}/api/projects").status_code == 401
        with httpx.Client() as client:
            assert client.get(address, follow_redirects=True).status_code == 200
            assert client.get(f"{bare}/api/projects").json() == []
    finally:
        # As when its terminal is closed: nothing of it goes on.
        server.send_signal(signal.SIGHUP)
        server.wait(30)
    data = str(tmp_path / "home").encode()
    running = [entry.read_bytes() for entry in Path("/proc").glob("[0-9]*/cmdline")]
    assert not [each for each in running if data in each and b"mariadbd" in each]


def test_a_port_there_can_not_be_is_refused_in_a_sentence():
    command = [sys.executable, "-m", "idle_comet", "start", "--port", "70000"]
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True)
    assert done.returncode == 2 and "Traceback" not in done.stderr and "65535" in done.stderr


def test_paths_count_from_where_the_command_is_given(running, tmp_path):
    """Of what is read and what is written; a folder of the program's name there is none of the program."""
    (tmp_path / "idle_comet").mkdir()
    for words in (
        ("save", "slow-harvest", "--out", "saved.json"),
        ("frame", "saved.json", "--at", "30", "--out", "f.png"),
    ):
        done = subprocess.run(
            [ROOT / "comet", *words], cwd=tmp_path, env=running.environment, capture_output=True, text=True
        )
        assert done.returncode == 0, done.stderr
    assert cv2.imread(str(tmp_path / "f.png")).shape == (720, 1280, 3)
    assert not (ROOT / "saved.json").exists() and not (ROOT / "f.png").exists()
