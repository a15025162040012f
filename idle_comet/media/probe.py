"""What a media file really is."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av


class MediaError(ValueError):
    """A file that can't be used; the message says why."""


@dataclass(frozen=True, slots=True)
class Probe:
    """Size in px, exact rate, frame count and SHA-256 of a shot."""

    width: int
    height: int
    rate: Fraction
    frames: int
    hash: str


def hash_file(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def probe(path: Path) -> Probe:
    """Probe a video file; raises MediaError when it holds no picture that can be decoded."""
    try:
        with av.open(str(path)) as container:
            if not container.streams.video:
                raise MediaError(f"{path.name} holds no moving picture.")
            stream = container.streams.video[0]
            rate = stream.average_rate or stream.guessed_rate or Fraction(25)
            frames = stream.frames or sum(1 for packet in container.demux(stream) if packet.size)
            if not frames:
                raise MediaError(f"{path.name} holds no frames.")
            return Probe(stream.width, stream.height, Fraction(rate), frames, hash_file(path))
    except av.FFmpegError as error:
        raise MediaError(f"{path.name} can't be read as a video: {error}") from error
