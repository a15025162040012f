"""All words of a film: reading times, finding, and what follows the series' style."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query

from ...core.checks.reading import Words, texts_of
from ...core.edits.replacing import pattern
from ...core.modelled import Model
from ..context import InContext

router = APIRouter(prefix="/projects", tags=["texts"])


class Found(Model):
    """A title that has the words, and how often."""

    clip: str
    name: str
    times: int


class Referring(Model):
    clip: str
    name: str


@router.get("/{project_id}/texts")
def texts(
    project_id: str, context: InContext, clip: Annotated[list[str] | None, Query(max_length=500)] = None
) -> list[Words]:
    """Texts in time order, with the time to read each and the time there is; of the named clips, or of all."""
    return texts_of(context.store.load(project_id).project, clip)


@router.get("/{project_id}/find")
def find(
    project_id: str,
    words: Annotated[str, Query(min_length=1, max_length=1000)],
    context: InContext,
    capitals_count: bool = False,
    whole_words: bool = False,
) -> list[Found]:
    """Titles in which the words stand."""
    search = pattern(words, capitals_count, whole_words)
    found = []
    for clip in sorted(context.store.load(project_id).project.clips.values(), key=lambda each: each.head):
        if clip.content.kind == "text":
            times = sum(
                len(search.findall(text))
                for text in (clip.content.text, *(str(key.value) for key in clip.content.held.get("text", ())))
            )
            if times:
                found.append(Found(clip=clip.id, name=clip.name, times=times))
    return found


@router.get("/{project_id}/referring")
def referring(
    project_id: str, context: InContext, colour: str | None = None, style: str | None = None
) -> list[Referring]:
    """What would change with a colour of the palette or with a type style."""
    clips = sorted(context.store.load(project_id).project.clips.values(), key=lambda each: each.head)
    return [
        Referring(clip=clip.id, name=clip.name)
        for clip in clips
        if (colour and colour in clip.palette.values())
        or (style and clip.content.kind == "text" and clip.content.type_style == style)
    ]
