"""What a media file really is."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, field
from fractions import Fraction
from pathlib import Path

import av

from .alpha import has_alpha
from .interlaced import is_interlaced
from .wide import WIDE, is_wide

CHANGING = Fraction(1000)
"""The rate a shot of changing rate is counted in: its frames lie on milliseconds, nearly enough."""

_COMMON = [Fraction(number * 1000, 1001) for number in (24, 30, 48, 60, 120)] + [
    Fraction(number) for number in (24, 25, 30, 48, 50, 60, 100, 120)
]


class MediaError(ValueError):
    """A file that can't be used; the message says why."""


@dataclass(frozen=True, slots=True)
class Probe:
    """A shot as it is shown: size in px with square pixels and upright, exact rate, frame count and SHA-256.

    `notes` say what had to be done to show it so, a sentence part each.
    """

    width: int
    height: int
    rate: Fraction
    frames: int
    hash: str
    alpha: bool = False
    notes: tuple[str, ...] = field(default=())


def hash_file(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


@dataclass(frozen=True, slots=True)
class Shape:
    """How a decoded frame is to be shown: quarter turns anticlockwise, and its size upright with square pixels."""

    turns: int
    width: int
    height: int


def shape_of(stream, frame: av.VideoFrame | None) -> Shape:
    """By the stream's pixel aspect and the frame's display matrix."""
    aspect = stream.sample_aspect_ratio or stream.codec_context.sample_aspect_ratio or Fraction(1)
    width = max(1, round(stream.width * aspect)) if aspect > 0 else stream.width
    turns = round((frame.rotation if frame is not None else 0) / 90) % 4
    return Shape(turns, *((stream.height, width) if turns % 2 else (width, stream.height)))


def timing(stream, times: list[int]) -> tuple[Fraction, int, bool]:
    """(rate, frames, whether the rate changes) of a stream whose frames are shown at `times`, in its time base, in
    order."""
    base = stream.time_base
    if len(times) < 2:
        return _plain(stream.average_rate or stream.guessed_rate or Fraction(25)), max(1, len(times)), False
    span = (times[-1] - times[0]) * base
    mean = span / (len(times) - 1)
    # Times are rounded to the time base; a rate that does not change strays by no more than that.
    stray = max(abs((at - times[0]) * base - number * mean) for number, at in enumerate(times))
    if stray <= base + mean / 50:
        # The first and the last time may each be half a unit off.
        near = [
            each
            for each in (stream.average_rate, stream.guessed_rate, *_COMMON)
            if each and abs(1 / Fraction(each) - mean) <= base / (len(times) - 1) + mean / 20_000
        ]
        return _plain(Fraction(near[0]) if near else 1 / mean), len(times), False
    return CHANGING, int((span + mean) * CHANGING) or 1, True


def _plain(rate: Fraction) -> Fraction:
    """A rate as it was meant: times in a file are rounded, and a document's fractions are small."""
    near = min(_COMMON, key=lambda each: abs(each - rate))
    if abs(near - rate) <= rate / 5000:
        return near
    found = rate.limit_denominator(1001)
    return min(max(found, Fraction(1, 1000)), Fraction(1000))


def _is_shown(stream, packet) -> bool:
    """VP8 keeps pictures to predict from as packets of their own, which are never shown (RFC 6386, 9.1: show_frame)."""
    return stream.codec_context.name not in ("vp8", "libvpx") or bool(bytes(packet)[0] >> 4 & 1)


def times_of(container, stream) -> list[int]:
    """The times of all frames that are shown, in the stream's time base, in order; empty where the file does not say.
    What its edit list (ISO/IEC 14496-12, 8.6.6) leaves out is not shown."""
    try:
        times = [
            packet.dts if packet.pts is None else packet.pts
            for packet in container.demux(stream)
            if packet.size and not packet.is_discard and _is_shown(stream, packet)
        ]
    except av.FFmpegError:
        return []
    return sorted(times) if all(at is not None for at in times) else []


def _held(container, stream) -> int:
    """Packets a stream holds, shown or not."""
    container.seek(0)
    return sum(packet.size > 0 for packet in container.demux(stream))


def probe(path: Path) -> Probe:
    """Probe a video file; raises MediaError when it holds no picture that can be decoded."""
    try:
        with av.open(str(path)) as container:
            if not container.streams.video:
                raise MediaError(f"{path.name} holds no moving picture.")
            stream = container.streams.video[0]
            promised = stream.frames
            times = times_of(container, stream)
            if not times:
                raise MediaError(f"{path.name} holds no frames.")
            if promised > len(times) and promised > (held := _held(container, stream)):
                raise MediaError(
                    f"{path.name} is cut short: {held} of its {promised} frames are there; copy the file again."
                )
            rate, frames, changing = timing(stream, times)
            container.seek(0)
            frame = next(container.decode(stream), None)
            if frame is None:
                raise MediaError(f"{path.name} holds no frames that can be decoded.")
            shape = shape_of(stream, frame)
            notes = []
            if changing:
                notes.append("its frame rate changes: each moment shows the frame that is due")
            if shape.turns:
                notes.append("it was recorded turned and is shown upright")
            if {shape.width, shape.height} != {stream.width, stream.height}:
                notes.append("its pixels are not square; it is shown in its right shape")
            if is_interlaced(frame):
                notes.append("it is interlaced and is shown de-interlaced")
            if is_wide(frame):
                notes.append(WIDE[frame.color_trc if frame.color_trc in WIDE else 1])
            return Probe(
                shape.width,
                shape.height,
                rate,
                frames,
                hash_file(path),
                has_alpha(stream.codec_context.format),
                tuple(notes),
            )
    except av.FFmpegError as error:
        raise MediaError(f"{path.name} can't be read as a video: {error.strerror}.") from error
