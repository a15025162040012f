"""Who may ask: this server's own pages on this machine; with a secret, pages on other machines too."""

from __future__ import annotations

import hmac
import ipaddress
import socket
from http.cookies import CookieError, SimpleCookie
from urllib.parse import parse_qsl, urlencode, urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import JSONResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

LOOPBACK = frozenset({"127.0.0.1", "localhost", "::1"})
COOKIE = "comet_secret"

_HEADERS = {
    "X-Content-Type-Options": "nosniff",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Referrer-Policy": "no-referrer",
    "X-Frame-Options": "DENY",
}


def addresses_of(host: str) -> frozenset[str]:
    """The names under which a server that listens on `host` is really reached."""
    if host in LOOPBACK:
        return LOOPBACK
    names = {host} - {"0.0.0.0", "::"} or {socket.gethostname(), *_own_addresses()}
    return LOOPBACK | names


def _own_addresses() -> set[str]:
    try:
        found = {str(info[4][0]) for info in socket.getaddrinfo(socket.gethostname(), None)}
    except OSError:
        found = set()
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            # Nothing is sent: the system only tells which of its addresses it would send from (RFC 5737 test network).
            probe.connect(("192.0.2.1", 9))
            found.add(probe.getsockname()[0])
        except OSError:
            pass
    return found


class Guard:
    """Refuses foreign hosts, origins and sites; with a secret, everyone who does not know it.

    400 for a Host or Origin that can't be read, 401 without the secret, 403 for a page elsewhere. The secret comes
    once in the address (`?secret=…`) and is then a cookie.
    """

    def __init__(self, app: ASGIApp, hosts: frozenset[str] = LOOPBACK, secret: str | None = None) -> None:
        self._app, self._hosts, self._secret = app, hosts, secret

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] not in ("http", "websocket"):
            return await self._app(scope, receive, send)
        refusal = self._refusal(scope, Headers(scope=scope))
        if refusal is None:
            return await self._app(scope, receive, _hardened(send))
        if scope["type"] == "websocket":
            await receive()
            return await send({"type": "websocket.close", "code": 1008})
        await refusal(scope, receive, _hardened(send))

    def _refusal(self, scope: Scope, headers: Headers) -> Response | None:
        host, origin = headers.get("host", ""), headers.get("origin")
        try:
            name = urlsplit(f"//{host}").hostname
            from_place = urlsplit(origin).netloc if origin is not None else host
        except ValueError:
            return _say(400, "The request's Host or Origin can't be read; nothing was done.")
        site = headers.get("sec-fetch-site", "none")
        elsewhere = scope["path"].startswith("/api") and site not in ("same-origin", "none")
        if name not in self._hosts or from_place != host or elsewhere or (name in LOOPBACK and not _from_here(scope)):
            return _say(403, "This request does not come from a page of this server; it was refused.")
        if self._secret is None:
            return None
        query = dict(parse_qsl(scope.get("query_string", b"").decode("latin-1")))
        if (
            "secret" in query
            and scope["type"] == "http"
            and hmac.compare_digest(query.pop("secret").encode(), self._secret.encode())
        ):
            answer = RedirectResponse(f"{scope['path']}{'?' if query else ''}{urlencode(query)}", 303)
            answer.set_cookie(COOKIE, self._secret, max_age=400 * 86400, httponly=True, samesite="strict")
            return answer
        try:
            cookies = SimpleCookie(headers.get("cookie", ""))
        except CookieError:
            cookies = SimpleCookie()
        if COOKIE in cookies and hmac.compare_digest(cookies[COOKIE].value.encode(), self._secret.encode()):
            return None
        return _say(
            401,
            "This server is open to other machines, so it asks for its secret. Use the whole address that `./comet "
            "start` printed.",
        )


def _from_here(scope: Scope) -> bool:
    """Whether the asker is on this machine, whatever name it used."""
    client = scope.get("client")
    try:
        return client is None or ipaddress.ip_address(client[0]).is_loopback
    except ValueError:
        # No address at all: a request made within this process.
        return True


def _say(status: int, sentence: str) -> JSONResponse:
    return JSONResponse({"detail": sentence}, status)


def _hardened(send: Send) -> Send:
    async def with_headers(message: Message) -> None:
        if message["type"] == "http.response.start":
            headers = MutableHeaders(scope=message)
            for name, value in _HEADERS.items():
                headers.setdefault(name, value)
        await send(message)

    return with_headers
