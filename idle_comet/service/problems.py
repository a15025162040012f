"""Every refusal is a sentence: what happened, what was kept, what to do."""

from __future__ import annotations

import errno
import logging
import re
from typing import Any, Awaitable, Callable

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse

from ..core.edits import EditError
from ..core.modelled import Model
from ..media.probe import MediaError
from ..store.database import StoreFull, StoreUnavailable
from ..store.projects import DeletedProject, NothingToUndo, UnknownProject
from .loudness import Overtaken
from .painting import PaintFailed

_log = logging.getLogger("idle_comet")
_PATH = re.compile(r"'?(?<![\w.])/(?:[\w.@+-]+/)+[\w.@+-]*'?")


class Offered(Model):
    """An edit that does what a refused one was made for, and what it does."""

    says: str
    edit: dict[str, Any]


class Problem(Model):
    """Why something was not done, as a sentence."""

    detail: str


class Refusal(Problem):
    """Why an edit was not done, and another that does what it was made for."""

    offer: Offered


def _problem(description: str) -> dict[str, Any]:
    # By its name: a model is built anew for each operation, half a second in all at the first request.
    schema = {"$ref": f"#/components/schemas/{Problem.__name__}"}
    return {"description": description, "content": {"application/json": {"schema": schema}}}


COMMON: dict[int | str, dict[str, Any]] = {
    400: _problem("The request can't be read."),
    401: _problem("The server's secret is wanted."),
    403: _problem("The request comes from elsewhere."),
    404: _problem("It is not there."),
    409: _problem("The film is not in a state for it; nothing was changed."),
    413: _problem("What was sent is too large."),
    422: _problem("It does not fit; nothing was changed."),
    500: _problem("It failed; nothing was changed."),
    503: _problem("The database does not answer; whether this was written is not known."),
    507: _problem("The disk is full; nothing was written."),
}
"""What any address may answer besides what it is asked for."""

UNFITTING: dict[int | str, dict[str, Any]] = {
    422: {"model": Refusal | Problem, "description": "The edit does not fit; nothing was changed."}
}
"""What is answered to an edit besides."""

DISK_FULL = "The disk is full. What was saved before is kept, this was not; make room and do it again."


def plainly(error: BaseException) -> str:
    """An error in words that show nothing of the machine."""
    if isinstance(error, OSError) and error.errno in (errno.ENOSPC, errno.EDQUOT):
        return DISK_FULL
    if isinstance(error, OSError) and error.strerror:
        return f"The system said “{error.strerror}”."
    said = _PATH.sub("a file", str(error)).strip()
    return said or type(error).__name__


def answer_problems(app: FastAPI) -> None:
    """Let the service answer what goes wrong in sentences."""

    def say(status: int) -> Callable[[Request, Exception], Awaitable[JSONResponse]]:
        async def answer(request: Request, error: Exception) -> JSONResponse:
            return JSONResponse({"detail": plainly(error)}, status)

        return answer

    async def unfitting(request: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, EditError)
        answer: dict[str, Any] = {"detail": plainly(error)}
        if error.offer is not None:
            answer["offer"] = {"says": error.offer.says, "edit": error.offer.edit.model_dump(mode="json")}
        return JSONResponse(answer, 422)

    async def malformed(request: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, RequestValidationError)
        # What was sent is left out: it may hold numbers that JSON can't.
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"] if part not in ("body", "query", "path"))[:200]
        return JSONResponse(
            {"detail": f"Not taken: {f'{where}: ' if where else ''}{first['msg']}. Nothing was changed."}, 422
        )

    async def full(request: Request, error: Exception) -> JSONResponse:
        if isinstance(error, OSError) and error.errno in (errno.ENOSPC, errno.EDQUOT):
            return JSONResponse({"detail": DISK_FULL}, 507)
        return await unforeseen(request, error)

    async def unforeseen(request: Request, error: Exception) -> JSONResponse:
        _log.error("%s %s failed", request.method, request.url.path, exc_info=error)
        return JSONResponse(
            {
                "detail": f"This failed in a way nobody foresaw ({type(error).__name__}). Nothing was changed; "
                "the server's log says more."
            },
            500,
        )

    app.add_exception_handler(RequestValidationError, malformed)
    app.add_exception_handler(EditError, unfitting)
    app.add_exception_handler(MediaError, say(422))
    app.add_exception_handler(NothingToUndo, say(409))
    app.add_exception_handler(Overtaken, say(409))
    app.add_exception_handler(DeletedProject, say(409))
    app.add_exception_handler(UnknownProject, say(404))
    app.add_exception_handler(PaintFailed, say(500))
    app.add_exception_handler(StoreUnavailable, say(503))
    app.add_exception_handler(StoreFull, say(507))
    app.add_exception_handler(OSError, full)
    app.add_exception_handler(Exception, unforeseen)
