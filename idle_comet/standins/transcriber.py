"""A transcriber with the manner of a real one: a sound is sent, a job is watched, words come with their times.

It knows the demo's voice, in whatever part and at whatever place it is heard, and can say it in another language. Of
other sounds it only hears where somebody speaks, and leaves the words to be typed.
"""

from __future__ import annotations

import argparse
import io
import os
import threading
import time
import uuid
import wave
from dataclasses import dataclass, field
from typing import Annotated, Any

import numpy as np
import scipy
import uvicorn
from fastapi import FastAPI, HTTPException, Query, Request

from ..core.sound.speech import speech
from ..demo.voice import GERMAN, RATE, SENTENCES, Spoken, Word, spoken
from ..media.apart import die_with_parent

LANGUAGES = {"en": "English", "de": "German"}

_MOST_BYTES = 400 << 20
_HOP = 480
"""Samples of one look at a sound's level: 10 ms."""

_ALIKE = 0.8
"""How alike the levels of two sounds must be to be the same voice."""

_KEPT = 50


@dataclass
class _Job:
    id: str
    language: str
    state: str = "queued"
    progress: float = 0.0
    segments: list[dict[str, Any]] = field(default_factory=list)
    error: str | None = None

    def told(self) -> dict[str, Any]:
        return {
            "id": self.id,
            "language": self.language,
            "state": self.state,
            "progress": round(self.progress, 3),
            "segments": self.segments if self.state == "done" else [],
            "error": self.error,
        }


def make_transcriber(pace: float = 20.0) -> FastAPI:
    """The service; it hears `pace` seconds of sound a second."""
    app = FastAPI(title="A transcriber", docs_url=None, redoc_url=None)
    jobs: dict[str, _Job] = {}

    @app.get("/v1/languages")
    def languages() -> list[dict[str, str]]:
        return [{"code": code, "name": name} for code, name in LANGUAGES.items()]

    @app.post("/v1/transcriptions", status_code=202)
    async def send(request: Request, language: Annotated[str, Query(max_length=20)] = "en") -> dict[str, Any]:
        data = bytearray()
        async for part in request.stream():
            data += part
            if len(data) > _MOST_BYTES:
                raise HTTPException(413, "The sound is too long.")
        if language not in LANGUAGES:
            raise HTTPException(422, f"The language “{language}” is not known here; {', '.join(LANGUAGES)} are.")
        job = _Job(uuid.uuid4().hex[:12], language)
        jobs[job.id] = job
        while len(jobs) > _KEPT:
            jobs.pop(next(iter(jobs)))
        threading.Thread(target=_hear, args=(job, bytes(data), pace), daemon=True).start()
        return job.told()

    @app.get("/v1/transcriptions/{id}")
    def watch(id: str) -> dict[str, Any]:
        if id not in jobs:
            raise HTTPException(404, f"There is no transcription “{id}”.")
        return jobs[id].told()

    @app.delete("/v1/transcriptions/{id}", status_code=204)
    def drop(id: str) -> None:
        jobs.pop(id, None)

    return app


def _hear(job: _Job, data: bytes, pace: float) -> None:
    job.state = "running"
    try:
        samples = _samples(data)
        lasts = len(samples) / RATE
        begun = time.monotonic()
        found = _voice(samples, job.language) or _unknown(samples)
        # A real one takes its time.
        while (done := (time.monotonic() - begun) * pace / max(lasts, 1e-3)) < 1:
            job.progress = done
            time.sleep(0.05)
        job.segments, job.progress, job.state = found, 1.0, "done"
    except (wave.Error, EOFError, ValueError) as error:
        job.state, job.error = "failed", f"The sound can't be read: {error}."
    except Exception as error:
        job.state, job.error = "failed", f"It went wrong here ({type(error).__name__})."


def _samples(data: bytes) -> np.ndarray:
    """(n, 2) float32 of a WAV file of 16 bits."""
    with wave.open(io.BytesIO(data)) as file:
        if file.getsampwidth() != 2 or file.getframerate() != RATE:
            raise ValueError("it is not 16 bits at 48 kHz")
        sides = file.getnchannels()
        samples = np.frombuffer(file.readframes(file.getnframes()), "<i2").reshape(-1, sides)
    return (
        np.repeat(samples[:, :1], 2, 1).astype(np.float32) / 32768 if sides == 1 else samples[:, :2] / np.float32(32768)
    )


def _levels(mono: np.ndarray) -> np.ndarray:
    looks = len(mono) // _HOP
    return np.log10((mono[: looks * _HOP].reshape(looks, _HOP).astype(np.float64) ** 2).mean(1) + 1e-6)


def _voice(samples: np.ndarray, language: str) -> list[dict[str, Any]] | None:
    """The words of the demo's voice where it is heard; None where it is not."""
    known = spoken()
    ours, theirs = _levels(known.samples), _levels(samples.mean(1))
    if len(theirs) < 100:
        return None
    place, alike = _lies_at(ours, theirs)
    if alike < _ALIKE:
        return None
    shift, lasts = place / 100, len(samples) / RATE
    words = [
        word._replace(begin=word.begin + shift, end=word.end + shift)
        for word in (known.words if language == "en" else _translated(known))
    ]
    inside = [word for word in words if word.begin >= -0.02 and word.end <= lasts + 0.02]
    return [
        _segment([word for word in inside if word.sentence == number], 0.97 if language == "en" else 0.86)
        for number in sorted({word.sentence for word in inside})
    ]


def _lies_at(ours: np.ndarray, theirs: np.ndarray) -> tuple[int, float]:
    """By how many looks our levels lie later within theirs, and how alike both are where they meet."""
    a, b = ours - ours.mean(), theirs - theirs.mean()
    match = scipy.signal.correlate(b, a, mode="full", method="fft")
    best = (0, -1.0)
    for lag in np.argsort(match)[::-1][:5] - (len(a) - 1):
        first, last = max(0, -lag), min(len(a), len(b) - lag)
        if last - first < 100:
            continue
        alike = float(np.corrcoef(a[first:last], b[first + lag : last + lag])[0, 1])
        # Little that is alike in much else is no proof.
        if alike > best[1] and last - first > 0.5 * min(len(a), len(b)):
            best = (int(lag), alike)
    return best


def _translated(known: Spoken) -> list[Word]:
    """Each sentence in the other language, its words over the time of its own sentence by their letters."""
    made = []
    for number, text in enumerate(GERMAN):
        own = [word for word in known.words if word.sentence == number]
        begin, end = own[0].begin, own[-1].end
        tokens = text.split()
        edges = np.concatenate([[0], np.cumsum([len(token) + 1 for token in tokens])])
        edges = begin + (end - begin) * edges / edges[-1]
        made += [Word(token, number, float(a), float(b)) for token, a, b in zip(tokens, edges, edges[1:])]
    return made


def _segment(words: list[Word], sure: float) -> dict[str, Any]:
    return {
        "begin": round(words[0].begin, 3),
        "end": round(words[-1].end, 3),
        "text": " ".join(word.text for word in words),
        "words": [
            {
                "text": word.text,
                "begin": round(max(0.0, word.begin), 3),
                "end": round(word.end, 3),
                # Short words are heard less surely.
                "confidence": round(sure - 0.3 / (2 + len(word.text)), 3),
            }
            for word in words
        ],
    }


def _unknown(samples: np.ndarray) -> list[dict[str, Any]]:
    return [{"begin": round(begin, 3), "end": round(end, 3), "text": "", "words": []} for begin, end in speech(samples)]


assert len(GERMAN) == len(SENTENCES)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--pace", type=float, default=20.0)
    parser.add_argument("--parent", type=int, help="The process it ends with.")
    asked = parser.parse_args()
    die_with_parent()
    if asked.parent is not None and os.getppid() != asked.parent:
        # It ended while this one was still being read.
        return
    uvicorn.run(make_transcriber(asked.pace), host="127.0.0.1", port=asked.port, log_level="error")


if __name__ == "__main__":
    main()
