"""Sound: the film as it is heard, and waveforms."""

from __future__ import annotations

import uuid
from typing import Annotated, Any, Iterator

import numpy as np
from fastapi import APIRouter, HTTPException, Query
from fastapi.responses import Response, StreamingResponse
from pydantic import Field

from ...core.contents import SoundHit
from ...core.contents.sound import MOST_HITS
from ...core.edits import AddLevel, DuckSound, SetFilmSound, SetHits, SetMotor, Several
from ...core.edits.hits import band_of
from ...core.modelled import Model
from ...core.motion import SoundLevel
from ...core.project.model import Clip, Footage, Id, Project, Sound
from ...core.project.retiming import retiming
from ...core.project.timeline import film_length
from ...core.sound import SOUND_RATE
from ...core.sound.hits import find_hits
from ...core.sound.levels import MOST_SECONDS, heard_level
from ...core.sound.mastering import TooQuiet
from ...core.sound.mixing import level_at, samples_of
from ...core.sound.speech import speech
from ...media.sounding import SoundFiles, peaks_between, peaks_path
from ...media.soundtrack import blocks, wav_head, wav_part
from ...store.projects import StaleRevision
from ..context import Context, InContext
from ..loudness import FilmLoudness, film_sound_for, levels_of, loudness_of
from .projects import EditAnswer, answer_of

router = APIRouter(prefix="/projects/{project_id}", tags=["sound"])

MOST_FRAMES = 3000
"""Frames of sound that are answered at once; a player asks for the next ones while it plays."""


def _sources(context: Context, project: Project) -> SoundFiles:
    return SoundFiles(lambda media: context.media / project.media[media].path)


_WAV: dict[int | str, dict[str, Any]] = {200: {"content": {"audio/wav": {}}}}


@router.get("/sound", response_class=Response, responses=_WAV)
def sound(
    project_id: str,
    context: InContext,
    first: Annotated[int, Query(ge=0, le=10_000_000)] = 0,
    frames: Annotated[int, Query(ge=1, le=MOST_FRAMES)] = 50,
) -> Response:
    """What is heard over some frames of the film: WAV, 48 kHz, 16 bits, stereo."""
    project = context.store.load(project_id).project
    rate = project.settings.rate.fraction
    count = samples_of(first + frames, rate) - samples_of(first, rate)
    parts = (wav_part(block) for block in blocks(project, _sources(context, project), first, frames))
    return Response(wav_head(count) + b"".join(parts), media_type="audio/wav", headers={"Cache-Control": "no-store"})


@router.get("/film.wav", response_class=StreamingResponse, responses=_WAV)
def whole_film(project_id: str, context: InContext) -> StreamingResponse:
    """The film's sound alone, as a file."""
    project = context.store.load(project_id).project
    frames = film_length(project)
    if not frames:
        raise HTTPException(404, "The film is empty; there is nothing to be heard.")

    def parts() -> Iterator[bytes]:
        yield wav_head(samples_of(frames, project.settings.rate.fraction))
        yield from (wav_part(block) for block in blocks(project, _sources(context, project), 0, frames))

    return StreamingResponse(
        parts(), media_type="audio/wav", headers={"Content-Disposition": 'attachment; filename="film.wav"'}
    )


class Wanted(Model):
    """A loudness in LUFS, and the true peak in dB above which nothing may rise."""

    target: Annotated[float, Field(ge=-40, le=-5, allow_inf_nan=False)]
    ceiling: Annotated[float, Field(ge=-20, le=0, allow_inf_nan=False)] = -1.0


@router.get("/loudness")
def loudness(project_id: str, context: InContext) -> FilmLoudness:
    """How loud the film is, by EBU R128 and ITU-R BS.1770."""
    stored = context.store.load(project_id)
    return loudness_of(project_id, stored.revision, stored.project, _sources(context, stored.project))


@router.post("/loudness")
def bring(project_id: str, wanted: Wanted, context: InContext) -> EditAnswer:
    """Bring the film to a loudness below a ceiling, as an edit."""
    while True:
        stored = context.store.load(project_id)
        try:
            sound = film_sound_for(stored.project, _sources(context, stored.project), wanted.target, wanted.ceiling)
        except TooQuiet as error:
            raise HTTPException(422, f"{error} Nothing was changed.") from None
        try:
            edit = SetFilmSound(sound=sound)
            return answer_of(context.store.edit(project_id, stored.revision, edit, uuid.uuid4().hex))
        except StaleRevision:
            continue


class Levels(Model):
    """What meters show at the end of each frame: LUFS of 400 ms and of 3 s, dB of the highest since the last."""

    momentary: list[float]
    short_term: list[float]
    peak: list[float]


@router.get("/levels")
def levels(
    project_id: str,
    context: InContext,
    first: Annotated[int, Query(ge=0, le=10_000_000)] = 0,
    frames: Annotated[int, Query(ge=1, le=MOST_FRAMES)] = 50,
) -> Levels:
    """What meters show over some frames of the film."""
    project = context.store.load(project_id).project
    found = levels_of(project, _sources(context, project), first, frames)
    momentary, short_term, peak = ([round(each[side], 1) for each in found] for side in range(3))
    return Levels(momentary=momentary, short_term=short_term, peak=peak)


class HitsWanted(Model):
    """How strong a hit must be beside the strongest, and how far from the next, in seconds."""

    least: Annotated[float, Field(ge=0.01, le=1)] = 0.12
    apart: Annotated[float, Field(ge=0.01, le=5)] = 0.06


_MOST_SECONDS = 600
"""Seconds of a sound in which hits are looked for."""


@router.post("/clips/{clip_id}/hits")
def find(project_id: str, clip_id: str, wanted: HitsWanted, context: InContext) -> EditAnswer:
    """Find the hits of what a sound clip plays, and keep them with it, as an edit."""
    while True:
        stored = context.store.load(project_id)
        clip = stored.project.clips.get(clip_id)
        if clip is None or not isinstance(clip.content, Sound):
            raise HTTPException(404, f"There is no sound “{clip_id}” in this project.")
        rate = float(stored.project.settings.rate.fraction)
        begin, end = (moment / rate for moment in retiming(clip).reach(0, clip.length))
        lasts = end - begin
        if lasts > _MOST_SECONDS:
            raise HTTPException(422, f"“{clip.name}” lasts {lasts / 60:.0f} minutes; cut it into shorter parts first.")
        first, count = round(begin * SOUND_RATE), round(lasts * SOUND_RATE)
        samples = _sources(context, stored.project).samples(clip.content.media, first, count)
        found = find_hits(samples, wanted.least, wanted.apart)[:MOST_HITS]
        hits = tuple(SoundHit(at=round(begin + each.seconds, 5), strength=round(each.strength, 3)) for each in found)
        try:
            edit = SetHits(clip=clip_id, hits=hits)
            return answer_of(context.store.edit(project_id, stored.revision, edit, uuid.uuid4().hex))
        except StaleRevision:
            continue


_HEARD = 30
"""Seconds of a sound that are heard at a time."""


@router.get("/media/{media_id}/heard", response_class=Response, responses=_WAV)
def heard_alone(
    project_id: str,
    media_id: str,
    context: InContext,
    begin: Annotated[float, Query(ge=0, le=1e6, allow_inf_nan=False)] = 0,
) -> Response:
    """A sound as it is in its file, from a second on, for half a minute at most: WAV, 48 kHz, 16 bits, stereo."""
    project = context.store.load(project_id).project
    item = project.media.get(media_id)
    if item is None or item.sound is None:
        raise HTTPException(404, f"There is no sound “{media_id}” in this project.")
    count = max(0, min(round(_HEARD * SOUND_RATE), round((item.sound.seconds - begin) * SOUND_RATE)))
    samples = _sources(context, project).samples(media_id, round(begin * SOUND_RATE), count)
    return Response(
        wav_head(count) + wav_part(samples), media_type="audio/wav", headers={"Cache-Control": "max-age=3600"}
    )


class Peaks(Model):
    """The lowest and the highest of a clip's sound in even parts, −1..1 of its source; and what they are multiplied by
    where each part lies: gain, fades, crossings."""

    low: list[float]
    high: list[float]
    level: list[float]


@router.get("/clips/{clip_id}/peaks")
def peaks(
    project_id: str,
    clip_id: str,
    context: InContext,
    first: Annotated[float, Query(ge=0, le=1e7)] = 0,
    last: Annotated[float | None, Query(ge=0, le=1e7)] = None,
    count: Annotated[int, Query(ge=2, le=4000)] = 400,
) -> Peaks:
    """A clip's waveform between two of its own frames, or all of it."""
    project = context.store.load(project_id).project
    clip = project.clips.get(clip_id)
    content = clip.content if clip is not None else None
    item = project.media.get(content.media) if isinstance(content, (Sound, Footage)) else None
    file = context.media / item.path if item is not None else None
    if clip is None or not isinstance(content, (Sound, Footage)) or file is None or not peaks_path(file).exists():
        raise HTTPException(404, f"There is no sound “{clip_id}” in this project.")
    rate = float(project.settings.rate.fraction)
    last = clip.length if last is None else min(last, clip.length)
    edges = np.linspace(min(first, last), last, count + 1)
    # Where it runs backwards or stands, nothing is heard.
    found = peaks_between(file, np.maximum.accumulate(retiming(clip).many(edges)) / rate)
    level = level_at(project, clip, (edges[1:] + edges[:-1]) / 2)
    low, high, levels = ([round(float(each), 4) for each in side] for side in (found[:, 0], found[:, 1], level))
    return Peaks(low=low, high=high, level=levels)


class LevelWanted(Model):
    """The sound that a value goes with, and the band of it that counts, in Hz; by how much it goes with it."""

    step: Annotated[str, Field(max_length=129)]
    name: Annotated[str, Field(max_length=64)]
    sound: Id
    low: Annotated[float, Field(ge=10, le=20_000)] = 20
    high: Annotated[float, Field(ge=20, le=24_000)] = 20_000
    gain: Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)] = 1
    offset: Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)] = 0


@router.post("/clips/{clip_id}/level")
def go_with_sound(project_id: str, clip_id: str, wanted: LevelWanted, context: InContext) -> EditAnswer:
    """Let a value of a clip go with how loud a sound is in a band: measured, and driving the value, as one edit."""
    while True:
        stored = context.store.load(project_id)
        project = stored.project
        sound = project.clips.get(wanted.sound)
        if sound is None or not isinstance(sound.content, Sound) or clip_id not in project.clips:
            raise HTTPException(404, f"There is no sound “{wanted.sound}” in this project.")
        media = project.media.get(sound.content.media)
        lasts = media.sound.seconds if media is not None and media.sound is not None else 0.0
        count = round(min(lasts, MOST_SECONDS) * SOUND_RATE)
        samples = _sources(context, project).samples(sound.content.media, 0, count)
        level = heard_level(samples, wanted.low, wanted.high)
        # What was measured before keeps its number, so that what goes with it still does.
        known = band_of(sound.content, level.low, level.high)
        band = len(sound.content.levels) if known is None else known
        motor = SoundLevel(clip=sound.id, band=min(band, 31), gain=wanted.gain, offset=wanted.offset)
        edit = Several(
            label=f"{wanted.name.replace('_', ' ')} goes with {sound.name}"[:200],
            edits=(
                AddLevel(clip=sound.id, level=level),
                SetMotor(clip=clip_id, step=wanted.step, name=wanted.name, motor=motor),
            ),
        )
        try:
            return answer_of(context.store.edit(project_id, stored.revision, edit, uuid.uuid4().hex))
        except StaleRevision:
            continue


class DuckWanted(Model):
    """The sounds under which a bed goes down, by how many dB, and over how many seconds it goes down and comes back."""

    under: Annotated[list[Id], Field(min_length=1, max_length=100)]
    by: Annotated[float, Field(ge=1, le=48)] = 12
    down: Annotated[float, Field(ge=0.02, le=5)] = 0.3
    back: Annotated[float, Field(ge=0.02, le=10)] = 0.8


@router.post("/clips/{clip_id}/duck")
def duck(project_id: str, clip_id: str, wanted: DuckWanted, context: InContext) -> EditAnswer:
    """Duck a sound under speech in others, as an edit: keys of its gain that can be moved like any."""
    while True:
        stored = context.store.load(project_id)
        project = stored.project
        sources = _sources(context, project)
        spoken = []
        for id in wanted.under:
            voice = project.clips.get(id)
            if voice is None:
                raise HTTPException(404, f"There is no clip “{id}” in this project.")
            spoken += _spoken(project, voice, sources)
        try:
            edit = DuckSound(clip=clip_id, spoken=tuple(spoken), by=wanted.by, down=wanted.down, back=wanted.back)
            return answer_of(context.store.edit(project_id, stored.revision, edit, uuid.uuid4().hex))
        except StaleRevision:
            continue


def _spoken(project: Project, clip: Clip, sources: SoundFiles) -> list[tuple[float, float]]:
    """From when to when somebody speaks in a clip, in seconds of the timeline it lies on."""
    content = clip.content
    if not isinstance(content, (Sound, Footage)) or not (way := retiming(clip)).forwards:
        return []
    rate = float(project.settings.rate.fraction)
    begin, end = (moment / rate for moment in way.reach(0, clip.length))
    lasts = min(end - begin, _MOST_SECONDS)
    samples = sources.samples(content.media, round(begin * SOUND_RATE), max(1, round(lasts * SOUND_RATE)))

    def heard(seconds: float) -> float:
        return (clip.head + way.own(min(end, begin + seconds) * rate)) / rate

    return [(heard(a), heard(b)) for a, b in speech(samples)]
