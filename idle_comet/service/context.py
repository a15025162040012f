"""What every request can reach."""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path
from typing import Annotated

from fastapi import Depends
from starlette.requests import HTTPConnection

from ..store.projects import ProjectStore
from ..store.recipes import RecipeStore
from .exports import Exports
from .following import Following
from .painting import Painters
from .telling import Listeners
from .transcribing import Transcribing


@dataclass(frozen=True, slots=True)
class Context:
    store: ProjectStore
    painters: Painters
    exports: Exports
    following: Following
    transcribing: Transcribing
    media: Path
    recipes: RecipeStore
    listeners: Listeners = field(default_factory=Listeners)


def context_of(connection: HTTPConnection) -> Context:
    return connection.app.state.context


InContext = Annotated[Context, Depends(context_of)]
