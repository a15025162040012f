"""What every request can reach."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path
from typing import Annotated

from fastapi import Depends
from starlette.requests import HTTPConnection

from ..media.package import damaged
from ..media.verifying import Verifying
from ..store.projects import ProjectStore
from ..store.recipes import RecipeStore
from .exports import Exports
from .following import Following
from .painting import Painters
from .strangers import Strangers
from .telling import Listeners
from .transcribing import Transcribing


@dataclass(frozen=True)
class Context:
    store: ProjectStore
    painters: Painters
    exports: Exports
    following: Following
    transcribing: Transcribing
    media: Path
    recipes: RecipeStore
    listeners: Listeners = field(default_factory=Listeners)
    strangers: Strangers = field(default_factory=Strangers)

    @cached_property
    def verifying(self) -> Verifying:
        """Looks at the files of films that are opened; windows on the film are told of one that is damaged."""
        return Verifying(self.media, lambda film, item: self.listeners.note(film, damaged(item)))


def context_of(connection: HTTPConnection) -> Context:
    return connection.app.state.context


InContext = Annotated[Context, Depends(context_of)]
