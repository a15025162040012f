"""Looks that films keep, for other films."""

from __future__ import annotations

from fastapi import APIRouter

from ...core.modelled import Model
from ...core.project.model import KeptLook
from ..context import InContext

router = APIRouter(tags=["looks"])


class FilmLook(Model):
    """A look, and the film that keeps it."""

    project: str
    film: str
    look: KeptLook


@router.get("/looks")
def looks(context: InContext) -> list[FilmLook]:
    """Each look once, from the film that changed last of those that keep it; films that were deleted are left out."""
    return [FilmLook(project=id, film=film, look=look) for id, film, look in context.store.looks()]
