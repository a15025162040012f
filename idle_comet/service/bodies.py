"""What is sent is looked at before it is read: its size, its depth, and characters that nothing can store."""

from __future__ import annotations

import asyncio
import re

import numpy as np
from starlette.datastructures import Headers
from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

LARGEST = 32 << 20
"""Bytes of a body that is not a form of files."""
DEEPEST = 60
"""Brackets within brackets; the deepest document has about fifteen."""

_LONE = re.compile(
    rb"\\u[dD][89aAbB][0-9a-fA-F]{2}(?!\\u[dD][c-fC-F][0-9a-fA-F]{2})|(?<!\\u[dD][89aAbB][0-9a-fA-F]{2})\\u[dD][c-fC-F][0-9a-fA-F]{2}"
)


_SMALL = 64 << 10
"""Bytes of a body that is looked at, read and checked where the server listens; a larger one in a thread beside."""

_UPLOADS = re.compile(r"/api/(?:projects/[^/]{1,200}/media|typefaces)/?")
"""Where files are sent as a form, of any size: it is written to the disk as it comes."""


class Bodies:
    """Answers 413 to what is too large and 422 to what can't be kept, with a sentence; all else goes on as it came."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        headers = Headers(scope=scope) if scope["type"] == "http" else None
        if headers is None or scope["method"] in ("GET", "HEAD", "DELETE") or _UPLOADS.fullmatch(scope["path"]):
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
        whole = bytes(body)
        # What is sent as bytes is no document: whoever takes it reads it.
        raw = headers.get("content-type", "").startswith("application/octet-stream")
        look = _nothing if raw else wrong
        problem = await asyncio.to_thread(look, whole) if len(whole) > _SMALL else look(whole)
        if problem:
            return await _say(422, f"{problem}; nothing was changed.")(scope, receive, send)
        if raw or len(whole) <= _SMALL:
            return await self._app(scope, _given(whole, receive), send)
        for answer in await asyncio.to_thread(self._beside, scope, whole):
            await send(answer)

    def _beside(self, scope: Scope, body: bytes) -> list[Message]:
        """Answer a request in this thread: a large document takes long to be read and checked, and everybody else would
        wait for that."""
        answers: list[Message] = []

        async def keep(message: Message) -> None:
            answers.append(message)

        async def gone() -> Message:
            return {"type": "http.disconnect"}

        async def answered() -> None:
            await self._app(scope, _given(body, gone), keep)

        asyncio.run(answered())
        return answers


def _nothing(body: bytes) -> None:
    return None


def _given(body: bytes, then: Receive) -> Receive:
    """Gives a body that was read already, and what comes after it."""
    given = False

    async def replay() -> Message:
        nonlocal given
        if given:
            return await then()
        given = True
        return {"type": "http.request", "body": body, "more_body": False}

    return replay


def wrong(body: bytes) -> str | None:
    """Why a JSON text can't be taken, without a full stop; None when there is no reason here."""
    if b"\\u" in body:
        plain = body.replace(b"\\\\", b"")
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
    """The most brackets within each other, those within strings apart. Each of its passes is linear."""
    # With escapes gone, quotes are the ends of strings and nothing else.
    outside = b"".join(body.replace(b"\\\\", b"").replace(b'\\"', b"").split(b'"')[::2])
    marks = np.frombuffer(outside, np.uint8)
    steps = np.isin(marks, _OPENING).astype(np.int32) - np.isin(marks, _CLOSING)
    return int(steps.cumsum().max(initial=0))


_OPENING, _CLOSING = np.frombuffer(b"[{", np.uint8), np.frombuffer(b"]}", np.uint8)


def _say(status: int, sentence: str) -> JSONResponse:
    return JSONResponse({"detail": sentence}, status)
