"""Whether the service is there, and whether its database answers: asked by windows that wait for an answer."""

from __future__ import annotations

import uuid

from fastapi import APIRouter

from ...core.modelled import Model
from ..context import InContext

router = APIRouter(tags=["service"])

_RUN = uuid.uuid4().hex
"""Names this run of the service."""


class Alive(Model):
    """`run` names this run of the service: another one has been started since where it differs. `database_waits` is for
    how many seconds the oldest work on the database has been waiting for it; 0 where none is."""

    run: str
    database_waits: float


@router.get("/alive")
async def alive(context: InContext) -> Alive:
    """Answered at once, whatever else the service is doing."""
    return Alive(run=_RUN, database_waits=round(context.store.waits, 2))
