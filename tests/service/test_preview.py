"""The line between Desk and painter, and the painting processes behind it."""

import asyncio
import json
import os
import signal
import struct
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from types import SimpleNamespace

import cv2
import numpy as np
import pytest
from websockets.sync.client import connect

from idle_comet.core.motion import Cascade, Fixed, Key, Moving
from idle_comet.core.project.model import Step, Units
from idle_comet.service import preview_socket
from idle_comet.service.painting import FrameRequest, Painted, PainterProcess, Painters, PaintFailed, Unwanted, Wish
from idle_comet.service.preview_socket import Preview
from idle_comet.setup.home import ROOT
from tests.conftest import in_a_loop

SIZE = {"width": 320, "height": 180}


@pytest.fixture
def line(running):
    with connect(
        running.address.replace("http", "ws") + "/api/projects/slow-harvest/preview", origin=running.address
    ) as socket:
        yield socket


def heard(line, seconds=20.0):
    """(frame, serial, exact) of the next picture."""
    data = line.recv(timeout=seconds)
    frame, _, serial, width, height, exact, *_ = struct.unpack("<IIIHH?xHHf", data[:26])
    assert (width, height) == (320, 180) and data[26:29] == b"\xff\xd8\xff"
    return frame, serial, exact


def say(line, kind, **more):
    line.send(json.dumps({"kind": kind, **SIZE, **more} if kind in ("want", "play") else {"kind": kind, **more}))


def test_a_frame_comes_light_first_and_then_as_exported(line):
    say(line, "want", serial=1, frame=60)
    assert [heard(line), heard(line)] == [(60, 1, False), (60, 1, True)]


def test_of_many_wishes_the_newest_is_painted_and_most_others_never(line):
    for serial in range(1, 41):
        say(line, "want", serial=serial, frame=300 + serial)
    seen = []
    while not seen or seen[-1] != (340, 40, True):
        seen.append(heard(line))
    assert len(seen) < 20


def test_playing_is_sent_in_order_no_further_than_the_buffer_and_loops(line):
    say(line, "play", serial=7, frame=58, first=50, last=60, loop=True)
    frames = [heard(line)[0] for _ in range(16)]
    assert frames == [58, 59, 60, *range(50, 61), 50, 51]
    with pytest.raises(TimeoutError):
        heard(line, 0.5)
    say(line, "shown", count=2)
    assert [heard(line)[0] for _ in range(2)] == [52, 53]
    say(line, "stop")
    say(line, "want", serial=8, frame=1)
    assert heard(line)[:2] == (1, 8)


def test_a_shuttle_runs_backwards_and_by_steps_within_its_range(line):
    say(line, "play", serial=9, frame=55, first=50, last=60, loop=True, step=-2)
    assert [heard(line)[0] for _ in range(7)] == [55, 53, 51, 60, 58, 56, 54]


def test_variants_are_painted_side_by_side_in_one_picture(line, running):
    def painted(**more):
        say(line, "want", serial=more.pop("serial"), frame=40, **more)
        data = line.recv(timeout=20)
        while not struct.unpack("<IIIHH?xHHf", data[:26])[5]:
            data = line.recv(timeout=20)
        return cv2.imdecode(np.frombuffer(data[26:], np.uint8), cv2.IMREAD_COLOR).astype(float)

    def ease(start, end):
        return {
            "kind": "set_span_ease",
            "clip": "title",
            "span": "arrival",
            "ease": {"kind": "strengths", "start": start, "end": end},
        }

    both = painted(serial=20, beside=[ease(0, 1), ease(1, 0)])
    cells = running.api("GET", "/projects/beside/cells", params={"count": 2, "width": 320, "height": 180}).json()
    left, right = (both[c["y"] : c["y"] + c["height"], c["x"] : c["x"] + c["width"]] for c in cells)
    # The quick one's title is there already, the slow one's is hardly begun.
    rows = slice(int(left.shape[0] * 0.4), int(left.shape[0] * 0.6))
    assert np.abs(left[rows] - right[rows]).max() > 60
    say(line, "want", serial=21, frame=40, beside=[ease(0, 1)] * 10)
    assert "problem" in json.loads(line.recv(timeout=20))


def test_while_loops_are_compiled_they_are_taken_one_by_one_and_the_desk_says_so(monkeypatch):
    look = (
        "import idle_comet.service.painting.ready; from idle_comet.core.picture.kernel import _LOOPS;"
        "print(sum(each._compiled is not None for each in _LOOPS), len(_LOOPS))"
    )
    environment = {**os.environ, "IDLE_COMET_COMPILING": "1"}
    said = subprocess.run([sys.executable, "-c", look], cwd=ROOT, env=environment, capture_output=True, text=True)
    ready, all_of_them = map(int, said.stdout.split())
    assert ready == 0 < all_of_them
    left, heard = [True, True, False, False], []

    class Socket:
        async def send_text(self, text):
            heard.append(json.loads(text))

    painters = SimpleNamespace(compiling=lambda: left.pop(0))
    in_a_loop(preview_socket._say_compiling(Socket(), painters))
    assert heard == [{"compiling": True}, {"compiling": False}]


class Asked:
    """Painters, a store and a line that note what passes through them."""

    def __init__(self):
        self.revision, self.orders, self.heard, self.open = 1, [], [], asyncio.Event()
        self.open.set()

    def load(self, id):
        return SimpleNamespace(id=id, revision=self.revision, project=None)

    async def frame(self, id, revision, project, request, wish):
        self.orders.append((revision, request.frame, request.exact))
        await self.open.wait()
        return Painted(b"%d" % revision, 0.0)

    async def send_bytes(self, data):
        self.heard.append((struct.unpack("<IIIHH?xHHf", data[:26])[1:3], data[26:]))


def test_what_is_looked_at_is_painted_as_soon_as_an_edit_is_written():
    asked = Asked()

    async def settled():
        for _ in range(40):
            await asyncio.sleep(0.005)

    async def edit(preview):
        asked.revision += 1
        preview.changed(asked.load("film"))
        await settled()

    async def want(preview, serial, frame):
        preview.hear(json.dumps({"kind": "want", "serial": serial, "frame": frame, **SIZE}))
        await settled()

    async def look():
        preview = Preview(asked, SimpleNamespace(store=asked, painters=asked), "film")
        serving = asyncio.create_task(preview.serve())
        await edit(preview)
        assert asked.orders == []
        await want(preview, 1, 40)
        assert asked.orders == [(2, 40, False), (2, 40, True)]
        await edit(preview)
        # Nothing was asked for, and nothing is sent before it is.
        assert asked.orders[2:] == [(3, 40, True)] and len(asked.heard) == 2
        await want(preview, 2, 40)
        assert asked.heard[2:] == [((3, 2), b"3")] and len(asked.orders) == 3
        # Of two edits in a row the first is let go of, and the second waits until its process is free.
        asked.open.clear()
        await edit(preview)
        await edit(preview)
        assert asked.orders[3:] == [(4, 40, True)]
        asked.open.set()
        await settled()
        assert asked.orders[4:] == [(5, 40, True)]
        # Another frame is wanted: what was painted ahead is of no use.
        await want(preview, 3, 41)
        assert asked.orders[5:] == [(5, 41, False), (5, 41, True)]
        assert [data for _, data in asked.heard[3:]] == [b"5", b"5"]
        serving.cancel()

    in_a_loop(look())


def test_an_exact_frame_that_is_no_longer_wanted_is_not_begun():
    """The film is read before a frame is painted: what is wanted may have changed by then."""
    asked = Asked()

    async def look():
        preview = Preview(asked, SimpleNamespace(store=asked, painters=asked), "film")
        serving = asyncio.create_task(preview.serve())
        reading = asyncio.to_thread
        gate = asyncio.Event()

        async def slow(work, *args):
            await gate.wait()
            return await reading(work, *args)

        preview_socket.asyncio.to_thread = slow
        try:
            preview._exact_frame = 40
            preview.hear(json.dumps({"kind": "want", "serial": 1, "frame": 40, **SIZE}))
            await asyncio.sleep(0.02)
            preview.hear(json.dumps({"kind": "want", "serial": 2, "frame": 41, **SIZE}))
            gate.set()
            for _ in range(40):
                await asyncio.sleep(0.005)
        finally:
            preview_socket.asyncio.to_thread = reading
        assert [order[1:] for order in asked.orders] == [(41, False), (41, True)]
        serving.cancel()

    in_a_loop(look())


@pytest.mark.parametrize(
    "message",
    [
        "no json",
        '{"kind": "want"}',
        '{"kind": "want", "serial": 1, "frame": -1, "width": 320, "height": 180}',
        '{"kind": "play", "serial": 1, "frame": 0, "first": 0, "last": 1, "width": 90000, "height": 180}',
    ],
)
def test_what_is_not_understood_gets_an_answer_and_the_line_stays(line, message):
    line.send(message)
    assert "Not understood" in json.loads(line.recv(timeout=10))["problem"]
    say(line, "want", serial=1, frame=0)
    assert heard(line)[:2] == (0, 1)


def test_bytes_on_the_line_are_answered_in_words_and_the_line_stays(line):
    line.send(b"\x00\x01")
    assert "in words" in json.loads(line.recv(timeout=10))["problem"]
    say(line, "want", serial=1, frame=0)
    assert heard(line)[:2] == (0, 1)


@pytest.fixture
def painter(heath):
    process = PainterProcess(heath[0])
    yield process
    process.stop()


def test_a_painting_process_that_dies_is_replaced_and_the_frame_painted(painter, film):
    request = FrameRequest(40, 320, 180, True, 90)
    first = painter.paint("film", 1, film, request)
    again = painter.paint("film", 1, film, request)
    assert again.jpeg == first.jpeg and again.seconds == 0 < first.seconds
    os.kill(painter.process.pid, signal.SIGKILL)
    painter.process.join()
    assert painter.paint("film", 1, film, request).jpeg == first.jpeg


def test_a_shot_whose_file_is_gone_is_shown_as_missing_until_it_is_there_again(painter, film, heath, tmp_path):
    lost = film.media[heath[1].id].model_copy(update={"path": "gone.mp4"})
    without = film.model_copy(update={"media": {lost.id: lost}})
    request = FrameRequest(40, 320, 180, True, 90)

    def seen(id, project):
        return cv2.imdecode(
            np.frombuffer(painter.paint(id, 1, project, request).jpeg, np.uint8), cv2.IMREAD_COLOR
        ).astype(float)

    there, missing = seen("film", film), seen("lost", without)
    # Stripes of terracotta, neither black nor the shot.
    assert np.abs(missing - there).mean() > 20 and (missing[..., 2] > missing[..., 0] + 60).mean() > 0.08
    found = heath[0] / "gone.mp4"
    try:
        found.write_bytes((heath[0] / heath[1].path).read_bytes())
        assert np.abs(seen("lost", without) - there).mean() < 2
    finally:
        found.unlink()


def absurd(film):
    """A title of 4,000 letters that come one by one, each turned in depth and blurred: minutes of work."""
    cascade = Units(arrival=Cascade(unit="letter", delay=0.01))
    keys = Moving(keys=(Key(at=0, value=90), Key(at=40, value=0)))
    title = film.clips["title"]
    steps = tuple(
        Step(id=f"s{n}", kind=kind, values={name: keys}, units=cascade)
        for n, (kind, name) in enumerate([("focus_blur", "radius"), ("tumble", "tilt"), ("focus_blur", "radius")])
    )
    words = title.content.model_copy(update={"text": "harvest " * 500, "box": Fixed(value=1200)})
    return film.model_copy(
        update={
            "clips": {
                **film.clips,
                "title": title.model_copy(update={"content": words, "steps": steps, "head": 0, "length": 100}),
            }
        }
    )


def test_a_frame_that_takes_too_long_is_given_up_in_a_sentence(painter, film):
    easy = FrameRequest(20, 320, 180, True, 90)
    painter.paint("film", 1, film, easy)
    with pytest.raises(PaintFailed, match="longer than 1 seconds at 1920×1080 .* Nothing is lost"):
        painter.paint("absurd", 1, absurd(film), FrameRequest(20, 1920, 1080, True, 90), 1.0)
    assert painter.paint("film", 1, film, easy).jpeg


def test_while_one_window_waits_for_an_absurd_frame_another_goes_on(heath, film):
    painters = Painters(heath[0])
    painters.start()

    async def both():
        heavy = asyncio.create_task(painters.frame("absurd", 1, absurd(film), FrameRequest(20, 1920, 1080, True, 90)))
        await asyncio.sleep(0.2)
        for frame in range(3):
            await painters.frame("film", 1, film, FrameRequest(20 + frame, 320, 180, True, 90))
        assert not heavy.done(), "the heavy frame was to be the slow one"
        heavy.cancel()

    try:
        in_a_loop(both())
    finally:
        painters.stop()


def test_a_frame_that_is_no_longer_wanted_is_dropped_while_it_is_painted(heath, film):
    """The same process paints the next wish, long before the absurd frame would have been given up."""
    painter, wish = PainterProcess(heath[0]), Wish()
    painter.paint("film", 1, film, FrameRequest(0, 320, 180, True, 90))
    process = painter.process
    try:
        with ThreadPoolExecutor(1) as apart:
            heavy = apart.submit(
                painter.paint, "absurd", 1, absurd(film), FrameRequest(20, 1920, 1080, True, 90), 60.0, wish
            )
            time.sleep(1.5)
            assert not heavy.done(), "the heavy frame was to be the slow one"
            wish.drop()
            with pytest.raises(Unwanted):
                heavy.result(timeout=20)
        assert painter.paint("film", 1, film, FrameRequest(30, 320, 180, True, 90)).jpeg and painter.process is process
        with pytest.raises(Unwanted):
            painter.paint("film", 1, film, FrameRequest(31, 320, 180, True, 90), 60.0, wish)
    finally:
        painter.stop()


def test_a_frame_that_wants_more_memory_than_there_is_for_it_is_given_up(film):
    code = (
        "import resource, numpy as np\nfrom idle_comet.media.apart import limit_memory\nlimit_memory(200 << 20)\n"
        "np.ones(100 << 20, np.uint8)\ntry:\n    np.ones(400 << 20, np.uint8)\nexcept MemoryError:\n    "
        "print('refused')"
    )
    assert subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, cwd=ROOT).stdout == "refused\n"
