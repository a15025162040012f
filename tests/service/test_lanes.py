"""Long work waits its turn; what is quick, and other films, do not wait for it."""

import asyncio

from idle_comet.service.lanes import Lanes
from tests.conftest import in_a_loop


class Asked:
    """An app whose answers are given by hand, and what is asked of it."""

    def __init__(self):
        self.begun, self.ends = [], {}

    async def __call__(self, scope, receive, send):
        self.begun.append(scope["name"])
        self.ends[scope["name"]] = asyncio.get_running_loop().create_future()
        await self.ends[scope["name"]]
        await send({"type": "http.response.start", "status": 200, "headers": []})


async def soon():
    for _ in range(20):
        await asyncio.sleep(0)


def ask(lanes, name, path, method="GET"):
    """Ask; `left` makes the client leave. Gives both and what was answered."""
    sent, left = [], asyncio.Event()

    async def receive():
        await left.wait()
        return {"type": "http.disconnect"}

    async def send(message):
        sent.append(message)

    scope = {"type": "http", "method": method, "path": path, "name": name, "headers": []}
    return asyncio.ensure_future(lanes(scope, receive, send)), left, sent


def test_a_film_that_asks_for_much_does_not_keep_another_waiting():
    async def run():
        app = Asked()
        lanes = Lanes(app, places=2)
        loud = [ask(lanes, f"a{n}", "/api/projects/a/loudness") for n in range(5)]
        await soon()
        other = ask(lanes, "b", "/api/projects/b/loudness")
        quick = ask(lanes, "quick", "/api/projects/a/frame")
        await soon()
        assert app.begun == ["a0", "a1", "quick"]
        app.ends["a0"].set_result(None)
        await soon()
        assert app.begun[3:] == ["b"]
        # One that leaves gives its place up, and is never begun.
        loud[2][1].set()
        await soon()
        app.ends["b"].set_result(None)
        await soon()
        assert app.begun[4:] == ["a3"]
        for end in app.ends.values():
            if not end.done():
                end.set_result(None)
        await soon()
        app.ends["a4"].set_result(None)
        await asyncio.gather(*(each[0] for each in (*loud, other, quick)))
        assert "a2" not in app.begun and other[2][0]["status"] == 200

    in_a_loop(run())


def test_one_that_waits_too_long_is_told_so():
    async def run():
        app = Asked()
        lanes = Lanes(app, places=1, patience=0.01)
        first, _, _ = ask(lanes, "a", "/api/projects/a/loudness")
        await soon()
        late, _, sent = ask(lanes, "b", "/api/projects/b/loudness")
        await late
        assert sent[0]["status"] == 503 and b"not begun" in sent[1]["body"]
        app.ends["a"].set_result(None)
        await first
        third, _, _ = ask(lanes, "c", "/api/projects/c/loudness")
        await soon()
        assert app.begun == ["a", "c"]
        app.ends["c"].set_result(None)
        await third

    in_a_loop(run())


def test_one_that_is_ended_as_its_turn_comes_gives_its_place_back():
    async def run():
        app = Asked()
        lanes = Lanes(app, places=1)
        first, _, _ = ask(lanes, "a", "/api/projects/a/loudness")
        await soon()
        second, _, _ = ask(lanes, "b", "/api/projects/b/loudness")
        await soon()
        # The place is given, and whoever waits for it is ended before it hears of that.
        lanes._given("a")
        second.cancel()
        await soon()
        assert second.cancelled() and app.begun == ["a"] and not lanes._busy
        first.cancel()

    in_a_loop(run())
