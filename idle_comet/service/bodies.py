"""What is sent is looked at before it is read: its size, its depth, and characters that nothing can store."""

from __future__ import annotations

import re

from starlette.datastructures import Headers
from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

LARGEST = 32 << 20
"""Bytes of a body that is not a form of files."""
DEEPEST = 60
"""Brackets within brackets; the deepest document has about fifteen."""

_STRINGS = re.compile(rb'"(?:[^"\\]|\\.)*"', re.S)
_LONE = re.compile(
    rb"\\u[dD][89aAbB][0-9a-fA-F]{2}(?!\\u[dD][c-fC-F][0-9a-fA-F]{2})|(?<!\\u[dD][89aAbB][0-9a-fA-F]{2})\\u[dD][c-fC-F][0-9a-fA-F]{2}"
)
_ESCAPED = re.compile(rb"\\\\")


class Bodies:
    """Answers 413 to what is too large and 422 to what can't be kept, with a sentence; all else goes on as it came."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        headers = Headers(scope=scope) if scope["type"] == "http" else None
        if (
            headers is None
            or scope["method"] in ("GET", "HEAD", "DELETE")
            or headers.get("content-type", "").startswith("multipart/")
        ):
            return await self._app(scope, receive, send)
        body = bytearray()
        while True:
            message = await receive()
            if message["type"] == "http.disconnect":
                return
            body += message.get("body", b"")
            if len(body) > LARGEST:
                return await _say(
                    413, f"What was sent is larger than {LARGEST >> 20} MB; nothing was changed. Send less at a time."
                )(scope, receive, send)
            if not message.get("more_body"):
                break
        # What is sent as bytes is no document: whoever takes it reads it.
        raw = headers.get("content-type", "").startswith("application/octet-stream")
        problem = None if raw else wrong(bytes(body))
        if problem:
            return await _say(422, f"{problem}; nothing was changed.")(scope, receive, send)
        given = False

        async def replay() -> Message:
            nonlocal given
            if given:
                return await receive()
            given = True
            return {"type": "http.request", "body": bytes(body), "more_body": False}

        await self._app(scope, replay, send)


def wrong(body: bytes) -> str | None:
    """Why a JSON text can't be taken, without a full stop; None when there is no reason here."""
    if b"\\u" in body:
        plain = _ESCAPED.sub(b"", body)
        if b"\\u0000" in plain:
            return "What was sent holds a character that ends all text (NUL)"
        if _LONE.search(plain):
            return "What was sent holds half a character (a lone surrogate)"
    try:
        body.decode("utf-8")
    except UnicodeDecodeError:
        return "What was sent is no text (its bytes are not UTF-8)"
    if body.count(b"[") + body.count(b"{") > DEEPEST and _depth(body) > DEEPEST:
        return f"What was sent has more than {DEEPEST} levels within each other"
    return None


def _depth(body: bytes) -> int:
    deepest = depth = 0
    for mark in re.findall(rb"[\[\]{}]", _STRINGS.sub(b"", body)):
        depth += 1 if mark in b"[{" else -1
        deepest = max(deepest, depth)
    return deepest


def _say(status: int, sentence: str) -> JSONResponse:
    return JSONResponse({"detail": sentence}, status)
