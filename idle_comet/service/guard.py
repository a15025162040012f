"""Refusing requests that do not come from this machine's own pages."""

from __future__ import annotations

from urllib.parse import urlsplit

from starlette.datastructures import Headers
from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Receive, Scope, Send

LOOPBACK = frozenset({"127.0.0.1", "localhost", "::1"})


class Guard:
    """Answers 403 to a foreign Host or Origin: a page elsewhere must not steer a server on this machine."""

    def __init__(self, app: ASGIApp, hosts: frozenset[str] = LOOPBACK) -> None:
        self._app, self._hosts = app, hosts

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] not in ("http", "websocket"):
            return await self._app(scope, receive, send)
        headers = Headers(scope=scope)
        host, origin = headers.get("host", ""), headers.get("origin")
        known = urlsplit(f"//{host}").hostname in self._hosts
        same = origin is None or urlsplit(origin).netloc == host
        if known and same:
            return await self._app(scope, receive, send)
        if scope["type"] == "websocket":
            await receive()
            return await send({"type": "websocket.close", "code": 1008})
        await JSONResponse({"detail": "This request does not come from a page of this server; it was refused."}, 403)(
            scope, receive, send)
