"""The preview: the newest wish wins; playing is sent ahead, as fast as the Desk takes it.

From the Desk, as JSON: `want` (a frame, now), `play` (frames in order from one on, in a range, looped or not, every
`step`th, backwards below 0), `shown` (how many played frames left the Desk's buffer), `prefetch` (frames of a size to
be painted while nothing else is asked for), `stop`.

To the Desk, as bytes: a header (frame, revision, serial, width, height, whether it is painted as exported, motion-blur
samples taken and wanted, seconds of painting; little-endian `IIIHH?xHHf`) and the JPEG. As JSON: `cached` (which frames
lie ready to be played at a revision), `compiling` (whether pictures take longer, since the loops that paint are still
being compiled) and, for what can't be painted, `problem`."""

from __future__ import annotations

import asyncio
import contextlib
import json
import struct
from collections import deque
from typing import Annotated, Any, Literal, Union

from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import Field, TypeAdapter, ValidationError

from ..core.compose.beside import MOST
from ..core.edits import Edit, EditError
from ..core.modelled import Model
from ..store.database import StoreUnavailable
from ..store.projects import Stored, UnknownProject
from .context import Context
from .pace import Pace
from .painting import FrameRequest, Painted, Painters, PaintFailed, Unwanted
from .painting import Wish as Painting
from .prefetching import DRAFT_QUALITY, Prefetching

router = APIRouter()

_SHORT = 32_000
"""Characters of a message that is read at once."""

PROCESSES = 2
"""Frames that are painted at a time while the film plays."""

_AHEAD = 16
"""Played frames on their way or waiting at the Desk at any time."""

_MOMENT = 0.35
"""Seconds a light picture may still take when another frame is wanted."""

Number = Annotated[int, Field(ge=0, le=10_000_000)]
Side = Annotated[int, Field(ge=16, le=4096)]
Beside = Annotated[tuple[Edit, ...], Field(max_length=MOST)]
"""Variants to be shown side by side: the film after each of these edits."""


class Want(Model):
    kind: Literal["want"]
    serial: Number
    frame: Number
    width: Side
    height: Side
    beside: Beside = ()


class Play(Model):
    kind: Literal["play"]
    serial: Number
    frame: Number
    first: Number
    last: Number
    loop: bool = False
    step: Annotated[int, Field(ge=-16, le=16)] = 1
    width: Side
    height: Side
    beside: Beside = ()


class Prefetch(Model):
    kind: Literal["prefetch"]
    frame: Number
    first: Number
    last: Number
    width: Side
    height: Side


class Shown(Model):
    kind: Literal["shown"]
    count: Annotated[int, Field(ge=0, le=1000)]


class Stop(Model):
    kind: Literal["stop"]


_message = TypeAdapter(Annotated[Union[Want, Play, Prefetch, Shown, Stop], Field(discriminator="kind")])


def _request(wish: Want | Play, frame: int, exact: bool, quality: int) -> FrameRequest:
    beside = tuple(each.model_dump_json() for each in wish.beside)
    return FrameRequest(frame, wish.width, wish.height, exact, quality, beside=beside)


def _after(wish: Play, frame: int) -> int | None:
    """The frame that is played after one; None at the end. In a loop as many frames past the one end as before it: its
    rhythm has no hitch."""
    frame, last = frame + (wish.step or 1), max(wish.first, wish.last)
    if wish.first <= frame <= last:
        return frame
    return wish.first + (frame - wish.first) % (last - wish.first + 1) if wish.loop else None


_Begun = tuple[int, float, Painting, "asyncio.Future[tuple[Stored, Painted]]"]
"""A played frame that is being painted: its number, the share of its size, and what it is painted by."""

_PROBLEMS = EditError, PaintFailed, StoreUnavailable, UnknownProject


def _heard(done: asyncio.Future[Any]) -> None:
    """Nobody may come for it: then nobody has to hear why it could not be painted, either."""
    if not done.cancelled():
        done.exception()


class _Ahead:
    """The frame that a window looks at, painted anew as soon as an edit is written: the window asks for it in a moment,
    when it has heard of the edit."""

    def __init__(self, painters: Painters, stored: Stored, request: FrameRequest, before: _Ahead | None) -> None:
        """It begins when the one `before` it has ended."""
        self.revision, self.request, self.painting = stored.revision, request, Painting()
        self._painted = asyncio.ensure_future(self._paint(painters, stored, before))
        self._painted.add_done_callback(_heard)

    async def _paint(self, painters: Painters, stored: Stored, before: _Ahead | None) -> Painted:
        if before is not None:
            await before.end()
        return await painters.frame(stored.id, stored.revision, stored.project, self.request, self.painting)

    async def painted(self) -> Painted:
        return await self._painted

    async def end(self) -> None:
        """Let go of it, and wait until its process is free for another."""
        self.painting.drop()
        await asyncio.wait([self._painted])


class Preview:
    """One Desk's preview."""

    def __init__(self, socket: WebSocket, context: Context, project: str) -> None:
        self._socket, self._context, self._project = socket, context, project
        self._looked_at: FrameRequest | None = None
        self._ahead: _Ahead | None = None
        self._wish: Want | Play | None = None
        self._prefetching = Prefetching(context, project, self._say)
        self._room = 0
        self._playing: Stored | None = None
        self._exact_frame: int | None = None
        self._painting: Painting | None = None
        self._played: deque[_Begun] = deque()
        self._painting_exact = False
        self._overtaken = False
        self._changed = asyncio.Event()

    def hear(self, text: str) -> None:
        self.take(_message.validate_json(text))

    def take(self, message: Want | Play | Prefetch | Shown | Stop) -> None:
        if isinstance(message, Shown):
            self._room += message.count
        elif isinstance(message, Prefetch):
            if self._wish is None:
                self._prefetching.start(message.frame, message.first, message.last, message.width, message.height)
        else:
            self._prefetching.stop()
            self._wish = None if isinstance(message, Stop) else message
            self._room = _AHEAD
            self._let_go()
        self._changed.set()

    def _let_go(self) -> None:
        """What is painted now is not wanted any more. A light picture gets a moment to be finished all the same, so
        that something is seen while the playhead is dragged."""
        for _, _, played, _ in self._played:
            played.drop()
        painting = self._painting
        if painting is None:
            return
        if self._painting_exact:
            painting.drop()
        else:
            asyncio.get_running_loop().call_later(
                _MOMENT, lambda: painting.drop() if self._painting is painting else None
            )

    def changed(self, stored: Stored) -> None:
        """An edit was written: what this window looks at is painted before it asks, unless something is being painted
        for it."""
        self._prefetching.stop()
        if self._playing is not None:
            self._playing = stored
        if self._looked_at is not None and self._painting is None:
            self._ahead = _Ahead(self._context.painters, stored, self._looked_at, self._ahead)

    async def _look_away(self) -> None:
        ahead, self._looked_at, self._ahead = self._ahead, None, None
        if ahead is not None:
            await ahead.end()

    def close(self) -> None:
        """The window is gone: nothing is painted for it any more."""
        self._prefetching.stop()
        playing = (painting for _, _, painting, _ in self._played)
        for painting in (self._painting, self._ahead.painting if self._ahead else None, *playing):
            if painting is not None:
                painting.drop()

    async def serve(self) -> None:
        while True:
            await self._changed.wait()
            self._changed.clear()
            wish = self._wish
            if isinstance(wish, Want):
                await self._show(wish)
            elif isinstance(wish, Play):
                await self._play(wish)

    async def _show(self, wish: Want) -> None:
        """The frame as exported; after a jump a light picture of it first, since seeking in a shot takes time."""
        self._wish = None
        if wish.frame != self._exact_frame:
            await self._look_away()
            await self._send(wish, wish.frame, exact=False, quality=DRAFT_QUALITY)
        if self._wish is None:
            await self._send(wish, wish.frame, exact=True, quality=93)
            self._exact_frame = wish.frame

    async def _play(self, wish: Play) -> None:
        """Frames in order, so many at a time and so large that none is late."""
        frame: int | None = wish.frame
        await self._look_away()
        # Read once: of edits since, this window hears.
        try:
            self._playing = await asyncio.to_thread(self._context.store.load, self._project)
        except _PROBLEMS as error:
            self._wish = None if self._wish is wish else self._wish
            await self._say({"problem": str(error), "frame": wish.frame, "serial": wish.serial})
            return
        pace = Pace(float(1 / self._playing.project.settings.rate.fraction), PROCESSES)
        while self._wish is wish:
            while frame is not None and self._room > 0 and len(self._played) < pace.at_once():
                self._room -= 1
                self._played.append(self._begin(wish, frame, pace.share()))
                frame = _after(wish, frame)
            if self._played:
                await self._give(wish, pace)
            elif frame is None:
                break
            else:
                self._changed.clear()
                await self._changed.wait()
        while self._played:
            _, _, painting, task = self._played.popleft()
            painting.drop()
            await asyncio.wait([task])
        if self._wish is wish:
            self._wish = None
        self._changed.set()

    def _begin(self, wish: Play, frame: int, share: float) -> _Begun:
        request = _request(wish, frame, exact=False, quality=DRAFT_QUALITY)
        if share < 1 and not wish.beside:
            request = request._replace(
                fallback=(max(16, round(wish.width * share)), max(16, round(wish.height * share)))
            )
        painting = Painting()
        task = asyncio.ensure_future(self._played_frame(request, painting))
        task.add_done_callback(_heard)
        return frame, share, painting, task

    async def _played_frame(self, request: FrameRequest, painting: Painting) -> tuple[Stored, Painted]:
        stored = self._playing
        assert stored is not None
        cached = self._prefetching.holds(stored.revision, request)
        return stored, await self._context.painters.frame(
            self._project, stored.revision, stored.project, request._replace(cached=cached), painting
        )

    async def _give(self, wish: Play, pace: Pace) -> None:
        """Send the frame that was begun first."""
        frame, share, _, task = self._played.popleft()
        try:
            stored, painted = await task
        except Unwanted:
            return
        except _PROBLEMS as error:
            await self._say({"problem": str(error), "frame": frame, "serial": wish.serial})
            return
        if painted.seconds:
            pace.took(1.0 if painted.full_size else share, painted.seconds)
        await self._hand(wish, frame, stored, painted, exact=False)

    async def _send(self, wish: Want | Play, frame: int, exact: bool, quality: int) -> None:
        try:
            stored = await asyncio.to_thread(self._context.store.load, self._project)
            # What is wanted may have changed while the film was read.
            overtaken = self._wish is not None and self._wish is not wish
            if overtaken and exact:
                return
            request = _request(wish, frame, exact, quality)
            self._painting_exact = exact
            self._overtaken = overtaken
            painted = await self._painted(stored, request)
            self._looked_at = request if exact and not wish.beside else None
        except Unwanted:
            return
        except _PROBLEMS as error:
            await self._say({"problem": str(error), "frame": frame, "serial": wish.serial})
            return
        finally:
            self._painting = None
        await self._hand(wish, frame, stored, painted, exact)

    async def _hand(self, wish: Want | Play, frame: int, stored: Stored, painted: Painted, exact: bool) -> None:
        head = struct.pack(
            "<IIIHH?xHHf",
            frame,
            stored.revision,
            wish.serial,
            wish.width,
            wish.height,
            exact,
            *(min(65535, each) for each in painted.samples),
            painted.seconds,
        )
        await self._socket.send_bytes(head + painted.jpeg)

    async def _say(self, message: dict[str, Any]) -> None:
        await self._socket.send_text(json.dumps(message))

    async def _painted(self, stored: Stored, request: FrameRequest) -> Painted:
        ahead, self._ahead = self._ahead, None
        if ahead is not None and (ahead.revision, ahead.request) == (stored.revision, request):
            self._painting = ahead.painting
            return await ahead.painted()
        self._painting = Painting()
        if self._overtaken:
            self._let_go()
        if ahead is not None:
            await ahead.end()
        return await self._context.painters.frame(
            self._project, stored.revision, stored.project, request, self._painting
        )


async def _say_compiling(socket: WebSocket, painters: Painters) -> None:
    """That pictures take longer, and when they no longer do."""
    if not painters.compiling():
        return
    with contextlib.suppress(WebSocketDisconnect, RuntimeError):
        await socket.send_text(json.dumps({"compiling": True}))
        while painters.compiling():
            await asyncio.sleep(1)
        await socket.send_text(json.dumps({"compiling": False}))


@router.websocket("/projects/{project_id}/preview")
async def preview(socket: WebSocket, project_id: str) -> None:
    context: Context = socket.app.state.context
    await socket.accept()
    desk = Preview(socket, context, project_id)
    serving = asyncio.create_task(desk.serve())
    saying = asyncio.create_task(_say_compiling(socket, context.painters))
    leave = context.listeners.watch(project_id, desk.changed)
    try:
        while True:
            message = await socket.receive()
            if message["type"] == "websocket.disconnect":
                break
            if message.get("text") is None:
                await socket.send_text(
                    json.dumps({"problem": "Not understood: the preview is asked in words (JSON), not in bytes."})
                )
                continue
            try:
                text = message["text"]
                # Edits that are tried may be long: they are read where nobody else waits.
                if len(text) > _SHORT:
                    desk.take(await asyncio.to_thread(_message.validate_json, text))
                else:
                    desk.hear(text)
            except ValidationError as error:
                await socket.send_text(json.dumps({"problem": f"Not understood: {error.errors()[0]['msg']}."}))
    except WebSocketDisconnect:
        pass
    finally:
        leave()
        serving.cancel()
        saying.cancel()
        desk.close()
