"""The service as it runs, spoken to from outside."""

import asyncio
import gzip
import re
import socket
import subprocess
import threading
from concurrent.futures import ThreadPoolExecutor
from types import SimpleNamespace

import cv2
import httpx2 as httpx
import numpy as np
import pytest

from idle_comet.cli.start import _listen
from idle_comet.service.answers import Answers
from tests.conftest import in_a_loop


def picture(data: bytes) -> np.ndarray:
    return cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)[..., ::-1]


def psnr(a: np.ndarray, b: np.ndarray) -> float:
    return 10 * np.log10(255**2 / max(1e-9, ((a.astype(float) - b) ** 2).mean()))


def words_of(running) -> str:
    return running.project()["project"]["clips"]["title"]["content"]["text"]


@pytest.mark.parametrize(
    "edit, status, says",
    [
        ({"kind": "change_text", "clip": "title", "text": "x" * 10_001}, 422, "10000"),
        ({"kind": "set_value", "clip": "title", "step": "focus", "name": "radius", "value": -4}, 422, "goes from 0"),
        ({"kind": "set_value", "clip": "title", "step": "focus", "name": "radius", "value": 1e300}, 422, ""),
        ({"kind": "change_text", "clip": "missing", "text": "x"}, 422, "no clip"),
        ({"kind": "trim_clip", "clip": "title", "head": 0, "length": 0}, 422, "greater"),
        ({"kind": "something else"}, 422, ""),
    ],
)
def test_bad_edits_get_a_clear_answer_and_change_nothing(running, edit, status, says):
    before = running.project()
    answer = running.edit(edit)
    assert answer.status_code == status and says in answer.text
    assert running.project() == before


@pytest.mark.parametrize("words", ["", "🐝🏽‍🦱 émoji", "שלום עולם", "x" * 10_000, "\n\n\n", "a\u0301\u0302"])
def test_any_words_get_a_sane_picture(running, words):
    before = words_of(running)
    assert running.edit({"kind": "change_text", "clip": "title", "text": words}).status_code == 200
    frame = running.api("GET", "/projects/slow-harvest/frame", params={"at": 100, "width": 320, "height": 180})
    assert frame.status_code == 200 and picture(frame.content).shape == (180, 320, 3)
    courses = running.api("POST", "/projects/slow-harvest/courses", json={"clips": ["title"]}).json()["courses"]
    # What can't be shown is said; scripts and emoji can.
    assert bool(courses["title"]["notes"]) == (words in ("", "\n\n\n", "x" * 10_000, "a\u0301\u0302"))
    assert running.edit({"kind": "change_text", "clip": "title", "text": before}).status_code == 200


def test_unknown_things_are_named(running):
    for path in ("/projects/none", "/projects/none/frame?at=0", "/exports/none", "/nothing"):
        answer = running.api("GET", path)
        assert answer.status_code == 404 and "There is no" in answer.json()["detail"]
    assert running.api("GET", "/projects/slow-harvest/frame?at=-1").status_code == 422
    assert "is not a time" in running.api("GET", "/projects/slow-harvest/time?typed=soon").json()["detail"]


def test_an_edit_on_an_old_revision_gets_the_current_state(running):
    order = {"revision": 10_000, "edit": {"kind": "change_text", "clip": "title", "text": "lost?"}}
    answer = running.api("POST", "/projects/slow-harvest/edits", json=order)
    assert answer.status_code == 409 and answer.json()["current"]["revision"] == running.project()["revision"]


@pytest.mark.parametrize("headers", [{"host": "elsewhere.example"}, {"origin": "http://elsewhere.example"}])
def test_requests_from_other_sites_are_refused(running, headers):
    assert httpx.get(f"{running.address}/api/projects", headers=headers).status_code == 403


def test_the_page_names_no_other_machine(running):
    page = httpx.get(running.address)
    policy = page.headers["content-security-policy"]
    assert "default-src 'none'" in policy and "http" not in policy
    assert "unsafe-inline" not in policy.split("style-src-attr")[0]


def test_a_frame_by_the_service_is_the_frame_by_the_command_line(running, tmp_path):
    out = tmp_path / "frame.png"
    done = running.command("frame", "slow-harvest", "--at", "00:00:02:00", "--out", str(out), "--size", "640x360")
    assert done.returncode == 0, done.stderr
    served = running.api("GET", "/projects/slow-harvest/frame", params={"at": 50, "width": 640, "height": 360})
    assert psnr(picture(served.content), picture(out.read_bytes())) >= 38


def test_the_command_line_renders_a_range_that_ffprobe_and_the_frames_confirm(running, tmp_path):
    out = tmp_path / "film.mp4"
    done = running.command("render", "The Slow Harvest, episode two", "--out", str(out), "--range", "60:74")
    assert done.returncode == 0, done.stderr
    probed = subprocess.run(
        [
            "ffprobe",
            "-v",
            "error",
            "-count_frames",
            "-select_streams",
            "v",
            "-of",
            "default=noprint_wrappers=1",
            "-show_entries",
            "stream=codec_name,width,height,r_frame_rate,nb_read_frames,color_space,color_transfer,color_primaries,color_range,pix_fmt",
            str(out),
        ],
        capture_output=True,
        text=True,
    ).stdout
    facts = dict(line.split("=") for line in probed.split())
    assert facts == {
        "codec_name": "h264",
        "width": "1280",
        "height": "720",
        "pix_fmt": "yuv420p",
        "r_frame_rate": "25/1",
        "nb_read_frames": "15",
        "color_range": "tv",
        "color_space": "bt709",
        "color_transfer": "bt709",
        "color_primaries": "bt709",
    }
    still = tmp_path / "decoded.png"
    subprocess.run(
        ["ffmpeg", "-v", "error", "-i", str(out), "-vf", "select=eq(n\\,7)", "-frames:v", "1", str(still)], check=True
    )
    running.command("frame", "slow-harvest", "--at", "67", "--out", str(tmp_path / "own.png"))
    assert psnr(picture(still.read_bytes()), picture((tmp_path / "own.png").read_bytes())) >= 38


@pytest.mark.parametrize(
    "arguments, says",
    [
        (("frame", "no such film", "--at", "0", "--out", "x.png"), "no project called"),
        (("frame", "slow-harvest", "--at", "later", "--out", "x.png"), "is not a time"),
        (("frame", "slow-harvest", "--at", "9999", "--out", "x.png"), "no frame 9999"),
        (("render", "slow-harvest", "--range", "8", "--out", "x.mp4"), "not a range"),
        (("render", "slow-harvest", "--out", "nowhere/x.mp4"), "does not exist"),
    ],
)
def test_the_command_line_says_what_is_wrong_in_one_line(running, arguments, says):
    done = running.command(*arguments)
    assert done.returncode == 1 and says in done.stderr and len(done.stderr.strip().splitlines()) == 1


def test_a_second_server_on_the_same_home_is_refused(running):
    done = running.command("start")
    assert done.returncode == 1 and "already runs" in done.stderr


def test_an_edits_answer_is_made_once_for_all_who_ask():
    asked, going = [], threading.Event()

    def make(outcome):
        asked.append(outcome)
        going.wait(10)
        return f"answer {len(asked)}"

    answers, stored = Answers(make), SimpleNamespace(id="film", revision=7)
    first, again = (SimpleNamespace(stored=stored) for _ in range(2))
    with ThreadPoolExecutor(3) as pool:
        told = [pool.submit(answers.of, first) for _ in range(3)]
        going.set()
        assert {each.result() for each in told} == {"answer 1"} and len(asked) == 1
    # An edit that is sent again has another answer at the same revision: the whole film.
    assert answers.of(again) == "answer 2" and asked == [first, again]


def test_what_is_said_on_a_connection_leaves_at_once():
    """No small piece of an answer waits until the piece before it is acknowledged."""

    async def at_once() -> int:
        heard: asyncio.Future[int] = asyncio.get_running_loop().create_future()

        async def answer(_, writer: asyncio.StreamWriter) -> None:
            heard.set_result(writer.get_extra_info("socket").getsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY))
            writer.close()

        async with await asyncio.start_server(answer, sock=_listen("127.0.0.1", 0)) as server:
            await asyncio.open_connection(*server.sockets[0].getsockname())
            return await heard

    assert in_a_loop(at_once())


def test_the_first_screen_loads_no_more_script_than_it_may(running):
    """At most 250 kB as it goes over a line; the rest is loaded when it is needed."""
    page = httpx.get(running.address).text
    scripts = re.findall(r'(?:src|href)="(/assets/[^"]+\.js)"', page)
    sizes = [len(gzip.compress(httpx.get(running.address + script).content)) for script in scripts]
    assert sizes and sum(sizes) <= 250_000
