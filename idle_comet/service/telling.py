"""Windows are told of every edit as it is written, in order, whoever made it.

To each window, as JSON: first `{"revision": n}`, then the answer of every edit (as the one who made it gets it), and
`{"note": sentence}` for what is found out about the film meanwhile. A window that misses an edit sees a gap in the
revisions and reads the film anew.
"""

from __future__ import annotations

import asyncio
import json
import logging
from collections import defaultdict
from typing import Callable

from fastapi import APIRouter, WebSocket, WebSocketDisconnect

from ..store.database import StoreUnavailable
from ..store.projects import Outcome, Stored, UnknownProject

_log = logging.getLogger(__name__)

router = APIRouter()

_BEHIND = 200
"""Messages a window may be behind; one that is further behind is let go, and reads anew when it comes back."""


class Listeners:
    """The windows that are open on each film. Told from any thread."""

    def __init__(self) -> None:
        self._queues: dict[str, set[asyncio.Queue[str | None]]] = defaultdict(set)
        self._loop: asyncio.AbstractEventLoop | None = None
        # First come, first told: an answer that takes longer to be made holds up the next.
        self._turn = asyncio.Lock()
        self._watchers: dict[str, set[Callable[[Stored], None]]] = defaultdict(set)
        self.answer: Callable[[Outcome], str] | None = None
        """Makes what a window is told of an edit; nobody is told without it."""

    def listen(self, project: str) -> asyncio.Queue[str | None]:
        self._loop = asyncio.get_running_loop()
        queue: asyncio.Queue[str | None] = asyncio.Queue(_BEHIND)
        self._queues[project].add(queue)
        return queue

    def leave(self, project: str, queue: asyncio.Queue[str | None]) -> None:
        self._queues[project].discard(queue)
        if not self._queues[project]:
            del self._queues[project]

    def watch(self, project: str, watcher: Callable[[Stored], None]) -> Callable[[], None]:
        """Have a watcher called, in the server's loop, with a film as it was just written, before anybody is told.

        Gives what ends that."""
        self._loop = asyncio.get_running_loop()
        self._watchers[project].add(watcher)

        def end() -> None:
            self._watchers[project].discard(watcher)
            if not self._watchers[project]:
                del self._watchers[project]

        return end

    def note(self, project: str, sentence: str) -> None:
        """Tell all windows on a film a sentence."""
        if self._loop is not None and not self._loop.is_closed() and self._queues.get(project):
            self._loop.call_soon_threadsafe(self._send, project, json.dumps({"note": sentence}))

    def tell(self, outcome: Outcome) -> None:
        """Tell all windows on a film of what was written."""
        id = outcome.stored.id
        if self._loop is not None and (self._queues.get(id) or self._watchers.get(id)):
            # An answer takes time to be made: not where the edit waits for it.
            self._loop.call_soon_threadsafe(self._told, outcome)

    def _told(self, outcome: Outcome) -> None:
        for watcher in list(self._watchers.get(outcome.stored.id, ())):
            watcher(outcome.stored)
        asyncio.ensure_future(self._spread(outcome))

    async def _spread(self, outcome: Outcome) -> None:
        async with self._turn:
            if self.answer is None or not self._queues.get(outcome.stored.id):
                return
            try:
                text = await asyncio.to_thread(self.answer, outcome)
            except Exception:
                # The edit is written: whoever looks at the film has to read it anew.
                _log.exception("Windows on %s are only told the number of an edit", outcome.stored.id)
                text = json.dumps({"revision": outcome.stored.revision})
            self._send(outcome.stored.id, text)

    def _send(self, project: str, text: str) -> None:
        for queue in list(self._queues.get(project, ())):
            try:
                queue.put_nowait(text)
            except asyncio.QueueFull:
                self._queues[project].discard(queue)
                queue.get_nowait()
                queue.put_nowait(None)


@router.websocket("/projects/{project_id}/told")
async def told(socket: WebSocket, project_id: str) -> None:
    context = socket.app.state.context
    await socket.accept()
    queue = context.listeners.listen(project_id)

    async def telling() -> None:
        while (text := await queue.get()) is not None:
            await socket.send_text(text)
        await socket.close(4000)

    spreading = None
    try:
        revision = (await asyncio.to_thread(context.store.load, project_id)).revision
        await socket.send_text(json.dumps({"revision": revision}))
        spreading = asyncio.create_task(telling())
        while (await socket.receive())["type"] != "websocket.disconnect":
            pass
    except UnknownProject:
        await socket.close(4404)
    except StoreUnavailable:
        await socket.close(1013)
    except (WebSocketDisconnect, RuntimeError):
        pass
    finally:
        if spreading is not None:
            spreading.cancel()
        context.listeners.leave(project_id, queue)
