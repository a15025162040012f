"""A film's sound: mixed as it is written, as AAC beside the picture or as a WAV file alone."""

from __future__ import annotations

import struct
from fractions import Fraction
from typing import Iterator, Literal

import av
import numpy as np

from ..core.project.model import Project
from ..core.sound import SOUND_RATE, SoundSources, heard, heard_at
from ..core.sound.mixing import samples_of

SoundFormat = Literal["aac", "pcm"]

_CODERS = {"aac": "aac", "pcm": "pcm_s24le", "opus": "libopus"}

_BITS = 256_000
"""A second of AAC."""

_AT_ONCE = SOUND_RATE
"""Samples that are mixed at a time."""


def has_sound(project: Project, first: int, frames: int) -> bool:
    """Whether anything is heard within these frames of the film."""
    rate = float(project.settings.rate.fraction)
    begin, end = first / rate, (first + frames) / rate
    return any(each.begins < end and each.ends > begin for each in heard_at(project))


def blocks(project: Project, sources: SoundSources, first: int, frames: int) -> Iterator[np.ndarray]:
    """(n, 2) float32 of the film from one frame on, for so many; what would be louder than full scale is cut there."""
    rate = project.settings.rate.fraction
    at, end = samples_of(first, rate), samples_of(first + frames, rate)
    while at < end:
        count = min(_AT_ONCE, end - at)
        yield np.clip(heard(project, sources, at, count), -1, 1).astype(np.float32)
        at += count


class SoundTrack:
    """Sound in a film being written: given to it stretch by stretch, so that sound and picture lie side by side."""

    def __init__(
        self, out: av.container.OutputContainer, project: Project, sources: SoundSources, sort: str = "aac"
    ) -> None:
        self._out, self._project, self._sources, self._sort = out, project, sources, sort
        self._stream = out.add_stream(_CODERS[sort], rate=SOUND_RATE)
        self._stream.layout = "stereo"
        if sort != "pcm":
            self._stream.bit_rate = _BITS
        self._stream.codec_context.time_base = Fraction(1, SOUND_RATE)
        self._done = 0

    def add(self, first: int, frames: int) -> None:
        """The sound of the next frames of the film."""
        for block in blocks(self._project, self._sources, first, frames):
            frame = _frame(block, self._sort)
            frame.sample_rate, frame.pts, frame.time_base = SOUND_RATE, self._done, Fraction(1, SOUND_RATE)
            self._done += len(block)
            for packet in self._stream.encode(frame):
                self._out.mux(packet)

    def end(self) -> None:
        for packet in self._stream.encode():
            self._out.mux(packet)


def _frame(block: np.ndarray, sort: str) -> av.AudioFrame:
    """(n, 2) samples as the coder takes them."""
    if sort == "aac":
        return av.AudioFrame.from_ndarray(np.ascontiguousarray(block.T), format="fltp", layout="stereo")
    if sort == "opus":
        whole = np.ascontiguousarray(block, np.float32).reshape(1, -1)
        return av.AudioFrame.from_ndarray(whole, format="flt", layout="stereo")
    # Of 32 bits the coder keeps the upper 24: they are rounded to, not cut off.
    whole = np.round(block.astype(np.float64) * 8_388_607).astype(np.int32) << 8
    return av.AudioFrame.from_ndarray(np.ascontiguousarray(whole).reshape(1, -1), format="s32", layout="stereo")


_MOST_WAV = 0xFFFFFFFF


def wav_head(samples: int) -> bytes:
    """How a WAV file of so many samples begins: 48 kHz, 16 bits, stereo.

    One longer than its sizes can say (4 GB) is an RF64 file, with its sizes in a chunk of their own (EBU Tech 3306).
    """
    size = samples * 4
    if 36 + size > _MOST_WAV:
        riff = struct.pack("<4sI4s", b"RF64", _MOST_WAV, b"WAVE")
        ds64 = struct.pack("<4sIQQQI", b"ds64", 28, 72 + size, size, samples, 0)
        sound = struct.pack("<4sIHHIIHH", b"fmt ", 16, 1, 2, SOUND_RATE, SOUND_RATE * 4, 4, 16)
        return riff + ds64 + sound + struct.pack("<4sI", b"data", _MOST_WAV)
    return struct.pack("<4sI4s4sIHHIIHH4sI", b"RIFF", 36 + size, b"WAVE", b"fmt ", 16, 1, 2, SOUND_RATE,
                       SOUND_RATE * 4, 4, 16, b"data", size)  # fmt: skip


def wav_part(block: np.ndarray) -> bytes:
    """(n, 2) samples as such a file holds them."""
    return np.round(np.clip(block, -1, 1) * 32767).astype("<i2").tobytes()
