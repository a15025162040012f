"""Captions from what is heard: a clip's sound is sent to a transcriber, its words are entered as an edit."""

from __future__ import annotations

import json
import logging
import threading
import urllib.error
import urllib.request
import uuid
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Callable, Literal

import numpy as np

from ..core.captions.breaking import LONGEST, cues_of
from ..core.captions.cues import Cue, HeardWord
from ..core.edits import AddCaptions, EditError, GivenCue
from ..core.modelled import Model
from ..core.project.model import CaptionTrack, Clip, Footage, Project, Sound
from ..core.project.retiming import retiming
from ..core.project.timeline import timeline_of
from ..core.sound import SOUND_RATE
from ..media.sounding import SoundFiles
from ..media.soundtrack import wav_head, wav_part
from ..store.database import StoreFull, StoreUnavailable
from ..store.projects import ProjectStore, StaleRevision, UnknownProject

_REMEMBERED = 100
_LONGEST_SECONDS = 3600
_WAIT = 10
"""Seconds within which the transcriber has to answer."""

_log = logging.getLogger("idle_comet")


class TranscriberGone(Exception):
    """The transcriber can't be reached or refused; the message says so."""


class SpokenLanguage(Model):
    """A language that the transcriber can write: its tag and its name."""

    code: str
    name: str


class TranscribeJob(Model):
    """Words being heard, as the Desk shows it; once it is done they are captions on a track of their own, and `message`
    says how it went."""

    id: str
    project: str
    clip: str
    language: str
    state: Literal["running", "done", "failed", "cancelled"]
    progress: float
    message: str | None = None


@dataclass
class _Task:
    job: TranscribeJob
    cancelled: threading.Event = field(default_factory=threading.Event)


class Transcribing:
    """Speaks with one transcriber, by its address, which is asked for when it is needed."""

    def __init__(self, store: ProjectStore, media: Path, address: Callable[[], str] | None) -> None:
        self._store, self._media, self._address = store, media, address
        self._tasks: dict[str, _Task] = {}
        self._deciding = threading.Lock()

    def languages(self) -> list[SpokenLanguage]:
        """What it can write. Raises TranscriberGone."""
        return [SpokenLanguage.model_validate(each) for each in self._ask("GET", "/v1/languages")]

    def order(self, project_id: str, project: Project, clip: Clip, language: str) -> TranscribeJob:
        """Begin to hear a clip's words. Raises EditError where it has none, TranscriberGone."""
        content = clip.content
        media = project.media.get(content.media) if isinstance(content, (Sound, Footage)) else None
        if media is None or media.sound is None or not isinstance(content, (Sound, Footage)):
            raise EditError(f"“{clip.name}” has no sound in which anything could be said.")
        way, rate = retiming(clip), float(project.settings.rate.fraction)
        if not way.forwards:
            raise EditError(f"“{clip.name}” does not run forwards all the time, and is not heard so.")
        begin, end = (moment / rate for moment in way.reach(0, clip.length))
        lasts = end - begin
        if lasts > _LONGEST_SECONDS:
            raise EditError(f"“{clip.name}” lasts more than an hour; cut it into shorter parts first.")
        sources = SoundFiles(lambda id: self._media / project.media[id].path)
        samples = sources.samples(content.media, round(begin * SOUND_RATE), max(1, round(lasts * SOUND_RATE)))
        found = self._ask("POST", f"/v1/transcriptions?language={language}", _wav(samples))
        job = TranscribeJob(
            id=uuid.uuid4().hex[:16], project=project_id, clip=clip.id, language=language, state="running", progress=0.0
        )
        task = _Task(job)
        self._tasks[job.id] = task

        def heard_at(seconds: float) -> float:
            return way.own((begin + seconds) * rate) / rate

        threading.Thread(target=self._run, args=(task, found["id"], heard_at), daemon=True).start()
        over = [id for id, each in list(self._tasks.items()) if each.job.state != "running"]
        for id in over[: max(0, len(over) - _REMEMBERED)]:
            del self._tasks[id]
        return job

    def get(self, id: str) -> TranscribeJob:
        """Raises LookupError."""
        if id not in self._tasks:
            raise LookupError(f"Nothing is heard under “{id}”; it may have ended with the service. Ask for it again.")
        return self._tasks[id].job

    def of(self, project_id: str) -> list[TranscribeJob]:
        return [task.job for task in list(self._tasks.values()) if task.job.project == project_id]

    def cancel(self, id: str) -> TranscribeJob:
        with self._deciding:
            job = self.get(id)
            if job.state == "running":
                self._tasks[id].cancelled.set()
                self._set(self._tasks[id], state="cancelled", message="It was given up; the film is as it was.")
        return self.get(id)

    def _set(self, task: _Task, **changes: Any) -> None:
        task.job = task.job.model_copy(update=changes)

    def _ask(self, method: str, path: str, data: bytes | None = None) -> Any:
        if self._address is None:
            raise TranscriberGone("There is no transcriber here. Bring captions in as a file, or type them.")
        request = urllib.request.Request(self._address() + path, data, method=method)
        request.add_header("Content-Type", "audio/wav")
        try:
            with urllib.request.urlopen(request, timeout=_WAIT) as answer:
                body = answer.read()
                return json.loads(body) if body else None
        except urllib.error.HTTPError as error:
            raise TranscriberGone(f"The transcriber refused: {_detail(error)}") from None
        except (urllib.error.URLError, OSError, ValueError):
            raise TranscriberGone("The transcriber can't be reached; nothing was changed. Try again later.") from None

    def _run(self, task: _Task, remote: str, heard_at: Callable[[float], float]) -> None:
        try:
            segments = self._heard(task, remote)
            if segments is None:
                return
            cues = _cues(segments, heard_at)
            if not cues:
                self._set(task, state="failed", message="Nobody was heard to speak; nothing was added.")
                return
            with self._deciding:
                if task.cancelled.is_set():
                    return
                self._enter(task, cues)
                self._set(task, state="done", progress=1.0, message=_said(cues))
        except (EditError, UnknownProject, TranscriberGone) as error:
            self._set(task, state="failed", message=str(error))
        except (StoreUnavailable, StoreFull) as error:
            self._set(task, state="failed", message=f"The words were heard but could not be kept: {error}")
        except Exception as error:
            _log.error("Hearing words failed", exc_info=error)
            self._set(task, state="failed", message=f"The words could not be heard ({type(error).__name__}).")

    def _heard(self, task: _Task, remote: str) -> list[dict[str, Any]] | None:
        """What was heard; None where it was given up meanwhile."""
        while True:
            if task.cancelled.wait(0.15):
                self._ask("DELETE", f"/v1/transcriptions/{remote}")
                return None
            told = self._ask("GET", f"/v1/transcriptions/{remote}")
            if told["state"] == "failed":
                raise TranscriberGone(f"The transcriber could not hear it: {told['error']}")
            if told["state"] == "done":
                return list(told["segments"])
            self._set(task, progress=float(told["progress"]))

    def _enter(self, task: _Task, cues: list[Cue]) -> None:
        """Captions above all, riding with their clip, whatever was edited meanwhile."""
        job = task.job
        while True:
            stored = self._store.load(job.project)
            clip = stored.project.clips.get(job.clip)
            if clip is None:
                raise EditError("The clip was removed while its words were heard; nothing was added.")
            if timeline_of(stored.project, clip) is not None:
                raise EditError("Captions stand on the film’s own timeline: take the clip out of its group first.")
            edit = AddCaptions(
                name=f"Captions, {job.language}",
                captions=CaptionTrack(language=job.language),
                cues=tuple(GivenCue.of(cue) for cue in cues),
                seed=f"c{uuid.uuid4().hex[:8]}",
                frame=float(clip.head),
                rides=clip.id,
            )
            try:
                self._store.edit(job.project, stored.revision, edit, uuid.uuid4().hex)
                return
            except StaleRevision:
                continue


def _wav(samples: np.ndarray) -> bytes:
    return wav_head(len(samples)) + wav_part(samples)


def _detail(error: urllib.error.HTTPError) -> str:
    try:
        return str(json.loads(error.read())["detail"])
    except (ValueError, KeyError, TypeError, OSError):
        return f"it answered {error.code}."


def _cues(segments: list[dict[str, Any]], heard_at: Callable[[float], float]) -> list[Cue]:
    """Captions of what was heard, in the clip's own time, which `heard_at` gives of seconds of the sound; where only
    that somebody speaks was heard, empty ones."""
    words = [
        HeardWord(str(word["text"])[:200], heard_at(word["begin"]), heard_at(word["end"]), float(word["confidence"]))
        for segment in segments
        for word in segment["words"]
        if str(word["text"]).strip()
    ]
    cues = cues_of(words)
    for segment in segments:
        if segment["words"]:
            continue
        begin, end = heard_at(segment["begin"]), heard_at(segment["end"])
        parts = max(1, int(np.ceil((end - begin) / LONGEST)))
        edges = np.linspace(begin, end, parts + 1)
        cues += [Cue(round(a * 1000), round(b * 1000), "") for a, b in zip(edges, edges[1:])]
    return sorted(cues, key=lambda cue: cue.begin)


def _said(cues: list[Cue]) -> str:
    empty = sum(not cue.text for cue in cues)
    heard = sum(len(cue.words) for cue in cues)
    if empty == len(cues):
        return f"Somebody speaks {empty} times; the words are left to be typed."
    unsure = sum(word.sure < 0.8 for cue in cues for word in cue.words)
    return f"{heard} words in {len(cues)} captions" + (f", {unsure} of them not sure" if unsure else "") + "."
