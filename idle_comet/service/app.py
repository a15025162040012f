"""Putting the service together."""

from __future__ import annotations

import asyncio
import secrets
from concurrent.futures import ThreadPoolExecutor
from contextlib import asynccontextmanager
from pathlib import Path
from typing import AsyncIterator

from fastapi import FastAPI, Response
from fastapi.responses import HTMLResponse, JSONResponse
from fastapi.staticfiles import StaticFiles

from ..media.faces import use_faces
from ..media.long_sound import decode_apart
from ..store.projects import StaleRevision
from .bodies import Bodies
from .context import Context
from .guard import Guard
from .lanes import Lanes
from .preview_socket import router as preview_router
from .problems import COMMON, answer_problems
from .routers import (
    alive,
    cameras,
    captions,
    catalogue,
    ensembles,
    exports,
    frames,
    looks,
    media,
    points,
    projects,
    recipes,
    sound,
    space,
    texts,
    typefaces,
)
from .strangers import Strangers
from .telling import router as telling_router

_THREADS = 32

_HEARING = 30.0
"""Seconds in which a part of a long sound must be decoded."""


def create_app(
    context: Context | None, front_end: Path | None, hosts: frozenset[str], secret: str | None = None
) -> FastAPI:
    """The service over a store, its painters and its exports; serves the built front end if there is one.

    It answers to `hosts`; without a context it can only be described; with a `secret`, only those who know it.
    """

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        assert context is not None, "only the description is made without"
        # Reading a film waits for the database, not for a core: few threads would keep everybody waiting.
        asyncio.get_running_loop().set_default_executor(ThreadPoolExecutor(_THREADS, "service"))
        context.listeners.answer = projects.ANSWERS.of
        context.store.listener = context.listeners.tell
        context.painters.start()
        use_faces(context.media)
        context.exports.start()
        context.following.start()
        hearing = Strangers(_HEARING)
        decode_apart(hearing.read)
        yield
        decode_apart(None)
        hearing.end()
        context.strangers.end()
        context.verifying.stop()
        context.following.stop()
        context.exports.stop()
        context.painters.stop()

    app = FastAPI(
        title="Idle Comet",
        version="1",
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    app.state.context = context
    for router in (
        alive.router,
        cameras.router,
        space.router,
        points.router,
        sound.router,
        captions.router,
        catalogue.router,
        projects.router,
        frames.router,
        media.router,
        exports.router,
        typefaces.router,
        looks.router,
        recipes.router,
        ensembles.router,
        texts.router,
        preview_router,
        telling_router,
    ):
        app.include_router(router, prefix="/api", responses=COMMON)
    answer_problems(app)
    app.add_exception_handler(StaleRevision, projects.stale)
    if front_end:
        _serve_desk(app, front_end)
    app.add_middleware(Lanes)
    app.add_middleware(Bodies)
    app.add_middleware(Guard, hosts=hosts, secret=secret)
    return app


_DOCS = """<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Idle Comet, API</title>
<link rel="stylesheet" href="/assets/swagger-ui.css"></head><body><div id="docs"></div>
<script src="/assets/swagger-ui-bundle.js"></script><script src="/assets/docs.js"></script></body></html>"""


def _serve_desk(app: FastAPI, front_end: Path) -> None:
    page = (front_end / "index.html").read_text()
    app.mount("/assets", StaticFiles(directory=front_end / "assets"), name="assets")

    @app.get("/api/docs", include_in_schema=False)
    async def docs() -> HTMLResponse:
        """The OpenAPI page; its scripts ship with the front end."""
        policy = (
            "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; "
            "connect-src 'self'"
        )
        return HTMLResponse(_DOCS, headers={"Content-Security-Policy": policy})

    @app.get("/{path:path}", include_in_schema=False)
    async def desk(path: str) -> Response:
        if path.startswith("api/"):
            return JSONResponse({"detail": f"There is nothing at /{path}."}, 404)
        # The one style element made in the page (the theme's) is allowed by this number only.
        nonce = secrets.token_urlsafe(16)
        policy = (
            f"default-src 'none'; script-src 'self'; style-src 'self' 'nonce-{nonce}'; style-src-attr 'unsafe-inline'; "
            "img-src 'self' blob: data:; font-src 'self'; media-src 'self'; connect-src 'self'; "
            "base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
        )
        return HTMLResponse(
            page.replace("%NONCE%", nonce), headers={"Content-Security-Policy": policy, "Cache-Control": "no-store"}
        )
