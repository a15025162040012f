"""Captions: files in and out, and words from a transcriber."""

from __future__ import annotations

import uuid
from typing import Annotated, Any, Literal, cast

from fastapi import APIRouter, Body, HTTPException, Path, Query
from fastapi.responses import Response

from ...core.captions.encodings import ENCODINGS, encoding_of
from ...core.captions.of_film import film_captions, languages
from ...core.captions.reading import MOST_BYTES, CaptionsError, read_captions
from ...core.captions.writing import Sort, write_captions
from ...core.edits import AddCaptions, EditError, GivenCue
from ...core.modelled import Model
from ...core.project.model import CaptionTrack, Language
from ...store.projects import StaleRevision
from ..context import InContext
from ..transcribing import SpokenLanguage, TranscribeJob, TranscriberGone
from .cameras import clip_in
from .projects import EditAnswer, answer_of

router = APIRouter(tags=["captions"])

Encoding = Literal[
    "utf-8", "utf-16", "cp1252", "cp1250", "iso8859_2", "cp1257", "cp1251", "koi8_r", "iso8859_5", "cp1253", "cp1254",
    "cp1255", "cp1256", "cp1258", "cp874", "cp932", "euc_jp", "cp949", "gb18030", "big5hkscs",
]  # fmt: skip
"""The names of `core.captions.encodings`."""


class CaptionsRead(Model):
    """A file of captions that was added, and what was noticed in it."""

    answer: EditAnswer
    count: int
    notes: list[str]


@router.post("/projects/{project_id}/captions")
def add_file(
    project_id: str,
    data: Annotated[bytes, Body(media_type="application/octet-stream", max_length=MOST_BYTES)],
    context: InContext,
    name: Annotated[str, Query(min_length=1, max_length=200)] = "Captions",
    language: Annotated[Language, Query()] = "en",
    at: Annotated[int, Query(ge=0, le=10_000_000)] = 0,
    encoding: Encoding | None = None,
) -> CaptionsRead:
    """Add a file of captions (SRT or WebVTT), as an edit; its times count from a frame of the film. Without an
    encoding it is read in the likely one. 422 says why nothing was added."""
    try:
        read = read_captions(data, encoding)
    except CaptionsError as error:
        raise HTTPException(422, f"“{name}” holds no captions: {error}. Nothing was added.") from None
    captions = CaptionTrack.model_validate(
        {"language": language, "head": read.head[:20_000], "foot": read.foot[:20_000], "lines": read.lines}
    )
    edit = AddCaptions(
        name=name.rsplit(".", 1)[0] or name,
        captions=captions,
        cues=tuple(GivenCue.of(cue) for cue in read.cues),
        seed=f"c{uuid.uuid4().hex[:8]}",
        frame=float(at),
    )
    while True:
        try:
            stored = context.store.load(project_id)
            answer = answer_of(context.store.edit(project_id, stored.revision, edit, uuid.uuid4().hex))
            return CaptionsRead(answer=answer, count=len(read.cues), notes=read.notes)
        except StaleRevision:
            continue


class EncodingChoice(Model):
    """An encoding by its name and as an editor reads it."""

    name: Encoding
    label: str


class CaptionsPreview(Model):
    """How a file of captions reads in an encoding: its first lines; `sure` where the file itself says which it is."""

    encoding: Encoding
    sure: bool
    lines: list[str]
    choices: list[EncodingChoice]


_FIRST = 12
"""Lines of a preview."""


@router.post("/captions/preview")
def preview(
    data: Annotated[bytes, Body(media_type="application/octet-stream", max_length=MOST_BYTES)],
    encoding: Encoding | None = None,
) -> CaptionsPreview:
    """Read the first lines of a file of captions in an encoding, or in the likely one, without adding it. Lines that
    hold other than ASCII come first. 422 says why it holds no captions."""
    found = encoding_of(data)
    try:
        read = read_captions(data, encoding or found.name)
    except CaptionsError as error:
        raise HTTPException(422, f"This file holds no captions: {error}.") from None
    lines = [line for cue in read.cues for line in cue.text.split("\n")]
    lines.sort(key=str.isascii)
    return CaptionsPreview(
        encoding=encoding or cast(Encoding, found.listed),
        sure=found.sure,
        lines=lines[:_FIRST],
        choices=[EncodingChoice(name=cast(Encoding, name), label=label) for name, label in ENCODINGS.items()],
    )


class FilmCaptions(Model):
    """The captions of a film in one language."""

    language: str
    count: int


@router.get("/projects/{project_id}/captions")
def captions(project_id: str, context: InContext) -> list[FilmCaptions]:
    """The languages in which a film has captions."""
    project = context.store.load(project_id).project
    return [FilmCaptions(language=each, count=len(film_captions(project, each)[1])) for each in languages(project)]


_FILE: dict[int | str, dict[str, Any]] = {200: {"content": {"application/x-subrip": {}, "text/vtt": {}}}}


@router.get("/projects/{project_id}/captions/{language}.{sort}", response_class=Response, responses=_FILE)
def file_of(project_id: str, language: Annotated[str, Path(max_length=35)], sort: Sort, context: InContext) -> Response:
    """A film's captions in a language as a file."""
    stored = context.store.load(project_id)
    try:
        track, cues = film_captions(stored.project, language)
    except KeyError:
        raise HTTPException(404, f"This film has no captions in “{language}”.") from None
    data = write_captions(cues, sort, track.head, track.foot, track.lines)
    return Response(
        data,
        media_type="text/vtt" if sort == "vtt" else "application/x-subrip",
        headers={"Content-Disposition": f'attachment; filename="film.{language}.{sort}"', "Cache-Control": "no-store"},
    )


@router.get("/transcriber/languages")
def spoken_languages(context: InContext) -> list[SpokenLanguage]:
    """The languages that the transcriber can write; 503 where it can't be reached."""
    try:
        return context.transcribing.languages()
    except TranscriberGone as error:
        raise HTTPException(503, str(error)) from None


class Wish(Model):
    """The language that is to be written."""

    language: Language = "en"


@router.post("/projects/{project_id}/clips/{clip_id}/captions")
def transcribe(project_id: str, clip_id: str, wish: Wish, context: InContext) -> TranscribeJob:
    """Have a clip's words written down; when it is done they are entered as an edit. 422 says why nothing was begun."""
    project, clip = clip_in(context, project_id, clip_id)
    try:
        return context.transcribing.order(project_id, project, clip, wish.language)
    except EditError as error:
        raise HTTPException(422, str(error)) from None
    except TranscriberGone as error:
        raise HTTPException(503, str(error)) from None


@router.get("/projects/{project_id}/transcribing")
def transcribing(project_id: str, context: InContext) -> list[TranscribeJob]:
    """Whose words are being written down in a film, and lately were."""
    return context.transcribing.of(project_id)


@router.get("/transcribing/{job_id}")
def transcribed(job_id: str, context: InContext) -> TranscribeJob:
    try:
        return context.transcribing.get(job_id)
    except LookupError as error:
        raise HTTPException(404, str(error)) from None


@router.delete("/transcribing/{job_id}")
def give_up(job_id: str, context: InContext) -> TranscribeJob:
    """Give it up; the film is as it was."""
    try:
        return context.transcribing.cancel(job_id)
    except LookupError as error:
        raise HTTPException(404, str(error)) from None
