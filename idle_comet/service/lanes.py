"""Long work has a lane of its own: however much of it is asked for, what is quick is answered at once.

Requests that take long wait here, without a thread, until there is a place. Of those who wait it is the turn of the
film for which the least is under way. A client that leaves while it waits gives its place up.
"""

from __future__ import annotations

import asyncio
import re
from collections import Counter

from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

PLACES = 3
"""Long requests that are carried out at once."""

PATIENCE = 90.0
"""Seconds a request may wait for its turn."""

_FILM = r"/api/projects/(?P<film>[^/]{1,200})"
_LONG = (
    ("GET", re.compile(rf"{_FILM}/(loudness|film\.wav)")),
    ("POST", re.compile(rf"{_FILM}/(loudness|media|captions|export-estimate|exports/estimate)")),
    ("POST", re.compile(rf"{_FILM}/clips/[^/]{{1,200}}/(hits|level|duck|points)")),
    ("POST", re.compile(r"/api/(?P<film>ensembles|recipes|drawing-parts|typefaces)")),
)


_FULL = "Other long work keeps the service busy, so this was not begun. Nothing was changed; try again."


class _Turn:
    """Somebody who waits."""

    def __init__(self, film: str) -> None:
        self.film = film
        self.come: asyncio.Future[None] = asyncio.get_running_loop().create_future()


class Lanes:
    """Lets so many long requests through at once; all others as they come. 503 to one that waited too long."""

    def __init__(self, app: ASGIApp, places: int = PLACES, patience: float = PATIENCE) -> None:
        self._app, self._places, self._patience = app, places, patience
        self._busy: Counter[str] = Counter()
        self._waiting: list[_Turn] = []

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        film = _film_of(scope) if scope["type"] == "http" else None
        if film is None:
            return await self._app(scope, receive, send)
        if not await self._taken(film, scope, receive):
            return await JSONResponse({"detail": _FULL}, 503)(scope, receive, send)
        try:
            await self._app(scope, receive, send)
        finally:
            self._given(film)

    async def _taken(self, film: str, scope: Scope, receive: Receive) -> bool:
        if sum(self._busy.values()) < self._places:
            self._busy[film] += 1
            return True
        own = _Turn(film)
        self._waiting.append(own)
        # What others send is read by whoever carries it out: only of these it is known that nothing comes but the end.
        leaving = asyncio.ensure_future(_left(receive)) if scope["method"] == "GET" else None
        try:
            first = asyncio.FIRST_COMPLETED
            await asyncio.wait({own.come, *([leaving] if leaving else [])}, timeout=self._patience, return_when=first)
            return own.come.done()
        except asyncio.CancelledError:
            # Its turn may have come in the very moment in which it was ended.
            if own.come.done():
                self._given(film)
            raise
        finally:
            if leaving is not None:
                leaving.cancel()
            if own in self._waiting:
                self._waiting.remove(own)

    def _given(self, film: str) -> None:
        self._busy[film] -= 1
        self._busy += Counter()
        if self._waiting and sum(self._busy.values()) < self._places:
            turn = min(self._waiting, key=lambda each: self._busy[each.film])
            self._waiting.remove(turn)
            self._busy[turn.film] += 1
            turn.come.set_result(None)


def _film_of(scope: Scope) -> str | None:
    """The film that a long request is about; None for one that is not long."""
    path: str = scope["path"].rstrip("/")
    for method, pattern in _LONG:
        if scope["method"] == method and (found := pattern.fullmatch(path)):
            return found["film"]
    return None


async def _left(receive: Receive) -> None:
    message: Message = await receive()
    while message["type"] != "http.disconnect":
        message = await receive()
