"""Typefaces: samples on the editor's own words, and the editor's own files."""

from __future__ import annotations

import asyncio
import shutil
import uuid
from typing import Annotated

from fastapi import APIRouter, HTTPException, Query, Request
from fastapi.responses import Response

from ...core.project.model import Clip, Project, Settings, Text, Track, fixed
from ...core.type import Family, family_of
from ...media.faces import FaceError, import_face
from ..context import InContext
from ..painting import FrameRequest
from ..receiving import receive_files
from .catalogue import FamilyInfo, family_info

router = APIRouter(prefix="/typefaces", tags=["typefaces"])

_WIDTH, _HEIGHT, _GROUND = 528, 68, "#2b2723"


@router.get("/{typeface}/sample", response_class=Response, responses={200: {"content": {"image/jpeg": {}}}})
async def sample(
    typeface: str,
    context: InContext,
    words: Annotated[str, Query(min_length=1, max_length=80)],
    weight: Annotated[int, Query(ge=1, le=1000)] = 400,
) -> Response:
    """Words set in a typeface, as wide as there is room for."""
    family = _known(typeface)
    text = Text(
        text=words,
        typeface=family.id,
        weight=fixed(weight),
        size=fixed(44),
        colour=fixed("#ece4d8"),
        stand_x="left",
        measured_by="type",
    )
    clip = Clip(id="sample", track="t", name="sample", head=0, length=1, content=text)
    project = Project(
        settings=Settings(name="sample", width=_WIDTH, height=_HEIGHT, background=_GROUND),
        tracks=(Track(id="t", name="t"),),
        clips={"sample": clip},
    )
    painted = await context.painters.frame(
        f"sample of {family.id}", hash((words, weight)), project, FrameRequest(0, _WIDTH, _HEIGHT, True, 90, small=True)
    )
    return Response(painted.jpeg, media_type="image/jpeg", headers={"Cache-Control": "max-age=86400"})


def _known(typeface: str) -> Family:
    family = family_of(typeface)
    if family is None:
        raise HTTPException(404, f"There is no typeface “{typeface}”.")
    return family


@router.post(
    "",
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {
                "multipart/form-data": {
                    "schema": {
                        "type": "object",
                        "required": ["files"],
                        "properties": {"files": {"type": "string", "format": "binary"}},
                    }
                }
            },
        }
    },
)
async def add_typeface(request: Request, context: InContext) -> FamilyInfo:
    """Add a font of the editor's own: TTF, OTF, WOFF or WOFF2."""
    folder = context.media / f".upload-{uuid.uuid4().hex[:8]}"
    folder.mkdir(parents=True)
    try:
        kept, dropped = await receive_files(request, folder)
        if not kept:
            raise HTTPException(422, dropped[0][1])
        family = await asyncio.to_thread(import_face, *kept[0], context.media)
    except FaceError as error:
        raise HTTPException(422, str(error)) from None
    finally:
        shutil.rmtree(folder, ignore_errors=True)
    return family_info(family)
