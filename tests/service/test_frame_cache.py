"""Frames that are kept on disk and painted ahead: the painted ones to the byte, and never in anybody's way."""

import asyncio
import json
import os
import struct
from types import SimpleNamespace

import pytest
from hypothesis import Phase, find, settings

from idle_comet.core.edits import ChangeText, EditError, apply
from idle_comet.service import prefetching
from idle_comet.service.pace import Pace
from idle_comet.service.painting import FrameCache, FrameRequest, Painted, Unwanted
from idle_comet.service.painting.worker import Worker
from idle_comet.service.preview_socket import Preview
from idle_comet.store.database import StoreUnavailable
from tests.conftest import in_a_loop

from ..core.drawn import DRAWN
from ..core.rich import rich_film

REQUEST = FrameRequest(40, 160, 90, False, 82)


@pytest.fixture
def cache(tmp_path):
    return FrameCache(tmp_path / "frames", 10**9)


@pytest.fixture
def worker(heath):
    def made(cache, film, revision=1):
        worker = Worker(str(heath[0]), cache)
        worker.learn("film", revision, film)
        return worker

    return made


def test_a_frame_is_found_again_by_another_process_and_only_while_it_is_the_same(cache, worker, film, monkeypatch):
    monkeypatch.setattr("idle_comet.service.painting.worker._CACHED_FROM", 0.0)
    first = worker(cache, film).paint("film", REQUEST)
    again = worker(cache, film).paint("film", REQUEST)
    assert first.seconds > 0 == again.seconds and again.jpeg == first.jpeg
    changed = apply(film, ChangeText(clip="title", text="ANOTHER DUSK"))[0]
    assert worker(cache, changed).paint("film", REQUEST).seconds > 0
    # Where it is not there at its size, it is painted at the other.
    smaller = REQUEST._replace(frame=41, fallback=(80, 45))
    assert not worker(cache, film).paint("film", smaller).full_size
    assert worker(cache, film).paint("film", smaller._replace(frame=40)).full_size


def test_a_torn_file_a_full_disk_and_a_small_budget_do_no_harm(cache, worker, film, tmp_path, monkeypatch):
    monkeypatch.setattr("idle_comet.service.painting.worker._CACHED_FROM", 0.0)
    first = worker(cache, film).paint("film", REQUEST)
    (file,) = [path for path in (tmp_path / "frames").rglob("*") if path.is_file()]
    file.write_bytes(file.read_bytes()[:-9])
    again = worker(cache, film).paint("film", REQUEST)
    assert again.seconds > 0 and again.jpeg == first.jpeg and cache.find(("x",)) is None
    (tmp_path / "none").write_text("no folder")
    assert worker(FrameCache(tmp_path / "none", 10**9), film).paint("film", REQUEST).jpeg == first.jpeg
    small = FrameCache(tmp_path / "small", 10_000)
    for number in range(12):
        small.keep((number,), bytes(1000))
        seen = small._path((number,))
        os.utime(seen, (10**9 + number * 10_000,) * 2)
    # What was looked at is not the oldest any more.
    assert small.find((0,)) and len(list((tmp_path / "small").rglob("*/*"))) == 12
    small.trim()
    left = [number for number in range(12) if small.find((number,))]
    assert 0 in left and left[1:] == [5, 6, 7, 8, 9, 10, 11]


def test_after_any_edit_a_kept_frame_is_the_painted_one(cache, worker, heath, monkeypatch):
    monkeypatch.setattr("idle_comet.service.painting.worker._CACHED_FROM", 0.0)
    rich = rich_film(heath[1])
    kept = worker(cache, rich)
    before = kept.paint("film", REQUEST).jpeg

    def fits(edit):
        try:
            return apply(rich, edit)[0] != rich
        except EditError:
            return False

    changed = 0
    first = settings(max_examples=60, phases=[Phase.generate], derandomize=True, database=None)
    for number, drawn in enumerate(DRAWN.values()):
        after = apply(rich, find(drawn, fits, settings=first))[0]
        kept.learn("film", 2 + number, after)
        fresh = worker(None, after).paint("film", REQUEST).jpeg
        assert kept.paint("film", REQUEST).jpeg == fresh, drawn
        changed += fresh != before
    assert changed > 10


@pytest.mark.parametrize(
    "cost, processes, share",
    [(0.01, 1, 1.0), (0.06, 1, 0.5), (0.045, 2, 1.0), (0.06, 2, 0.5), (0.2, 1, 0.25), (5.0, 1, 0.25)],
)
def test_frames_are_as_large_as_is_painted_in_time(cost, processes, share):
    pace = Pace(0.04, processes)
    taken = []
    for _ in range(12):
        taken.append(pace.share())
        pace.took(taken[-1], cost * taken[-1] ** 2)
    assert taken[0] == 1.0 and set(taken[4:]) == {share}
    # When it gets cheap, it gets large again.
    for _ in range(12):
        pace.took(pace.share(), 0.001)
    assert pace.share() == 1.0


class Asked:
    """Painters, a store and a line that note what passes through them."""

    cache, busy = True, False

    def __init__(self, film):
        self.film, self.revision, self.ordered, self.said = film, 1, [], []
        self.loads, self.sent, self.away = 0, [], False
        self.slow = asyncio.Event()

    def load(self, id):
        self.loads += 1
        if self.away:
            raise StoreUnavailable("The database does not answer.")
        return SimpleNamespace(id=id, revision=self.revision, project=self.film)

    async def ahead(self, id, revision, project, request, wish):
        self.ordered.append(request.frame)
        if len(self.ordered) == 150:
            await self.slow.wait()
        if wish._dropped:
            raise Unwanted
        return Painted(b"", 0.01)

    async def frame(self, id, revision, project, request, wish=None):
        return Painted(b"", 0.0)

    async def send_text(self, text):
        message = json.loads(text)
        self.said.append(message.get("cached", message))

    async def send_bytes(self, data):
        self.sent.append(struct.unpack("<II", data[:8]))


def test_what_will_be_played_is_painted_first_and_anything_else_stops_it(film, monkeypatch):
    monkeypatch.setattr(prefetching, "spare_time", lambda: True)
    asked = Asked(film)
    size = {"width": 320, "height": 180}

    async def look():
        preview = Preview(asked, SimpleNamespace(store=asked, painters=asked, exports=asked), "film")
        serving = asyncio.create_task(preview.serve())
        preview.hear(json.dumps({"kind": "prefetch", "frame": 60, "first": 50, "last": 99, **size}))
        while len(asked.ordered) < 150:
            await asyncio.sleep(0.01)
        assert asked.ordered == [*range(60, 100), *range(50, 60), *range(100, 200)]
        # It waits within the last one as something is wanted: that one counts as not painted.
        preview.hear(json.dumps({"kind": "want", "serial": 1, "frame": 3, **size}))
        asked.slow.set()
        await asyncio.sleep(0.1)
        assert len(asked.ordered) == 150
        # It goes on where it was; what it knows is said.
        preview.hear(json.dumps({"kind": "prefetch", "frame": 0, "first": 0, "last": 199, **size}))
        await asyncio.sleep(0.2)
        assert asked.ordered[150:] == [*range(50), 199]
        assert asked.said[-1] == {"revision": 1, "spans": [[0, 199]]}
        # Of another state nothing is known.
        asked.revision = 2
        preview.hear(json.dumps({"kind": "prefetch", "frame": 0, "first": 0, "last": 199, **size}))
        await asyncio.sleep(0.2)
        assert len(asked.ordered) == 201 + 200
        serving.cancel()

    in_a_loop(look())


def test_a_film_that_plays_is_read_once_and_edits_are_heard(film):
    asked = Asked(film)
    play = {"kind": "play", "first": 0, "last": 99, "loop": True, "width": 320, "height": 180}

    async def look():
        preview = Preview(asked, SimpleNamespace(store=asked, painters=asked, exports=asked), "film")
        serving = asyncio.create_task(preview.serve())
        asked.away = True
        preview.hear(json.dumps({**play, "serial": 1, "frame": 0}))
        await asyncio.sleep(0.1)
        assert asked.said.pop()["problem"] == "The database does not answer." and not asked.sent
        asked.away = False
        preview.hear(json.dumps({**play, "serial": 2, "frame": 95}))
        await asyncio.sleep(0.1)
        assert asked.sent == [(number % 100, 1) for number in range(95, 111)]
        asked.revision = 2
        preview.changed(asked.load("film"))
        before = asked.loads
        preview.hear(json.dumps({"kind": "shown", "count": 3}))
        await asyncio.sleep(0.1)
        assert asked.sent[16:] == [(11, 2), (12, 2), (13, 2)] and asked.loads == before
        serving.cancel()

    in_a_loop(look())


def test_a_busy_machine_and_one_that_saves_its_battery_paint_nothing_ahead(monkeypatch):
    monkeypatch.delenv("IDLE_COMET_PREFETCH", raising=False)
    monkeypatch.setattr(os, "getloadavg", lambda: (0.2, 0, 0))
    monkeypatch.setattr(prefetching, "on_battery", lambda: False)
    assert prefetching.spare_time()
    monkeypatch.setattr(prefetching, "on_battery", lambda: True)
    assert not prefetching.spare_time()
    monkeypatch.setattr(prefetching, "on_battery", lambda: False)
    monkeypatch.setattr(os, "getloadavg", lambda: (os.cpu_count() + 2.0, 0, 0))
    assert not prefetching.spare_time()
    monkeypatch.setattr(os, "getloadavg", lambda: (0.2, 0, 0))
    monkeypatch.setenv("IDLE_COMET_PREFETCH", "off")
    assert not prefetching.spare_time()
    monkeypatch.setattr(os, "getloadavg", lambda: (99.0, 0, 0))
    monkeypatch.setenv("IDLE_COMET_PREFETCH", "always")
    assert prefetching.spare_time()
