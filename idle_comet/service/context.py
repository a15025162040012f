"""What every request can reach."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Annotated

from fastapi import Depends
from starlette.requests import HTTPConnection

from ..store.projects import ProjectStore
from ..store.recipes import RecipeStore
from .exports import Exports
from .painting import Painters


@dataclass(frozen=True, slots=True)
class Context:
    store: ProjectStore
    painters: Painters
    exports: Exports
    media: Path
    recipes: RecipeStore


def context_of(connection: HTTPConnection) -> Context:
    return connection.app.state.context


InContext = Annotated[Context, Depends(context_of)]
