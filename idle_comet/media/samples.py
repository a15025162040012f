"""Samples of a sound as they come out of its file: in stereo at one rate, silence where it has a hole."""

from __future__ import annotations

import math
from typing import Callable, Iterator, NamedTuple

import av
import numpy as np

from ..core.sound import SOUND_RATE
from .probe import MediaError

LONGEST = 6 * 3600.0
"""Seconds of sound that are read at most."""


class Mark(NamedTuple):
    """A sample of a file from which on it can be decoded as if it had been from the start: its place once resampled,
    the time of its frame in the stream's time base, and how many samples of the file lie before it in that frame. Up to
    it as many went into the resampler as come out whole, so that one that begins there goes on at the same phase."""

    at: int
    pts: int
    before: int


def origin_of(container: av.container.InputContainer, stream: av.AudioStream) -> float:
    """The moment that counts as the beginning, in seconds of the file: the picture's, or, where there is none, the
    sound's own. What a coder leads in with lies before it."""
    first = container.streams.video[0] if container.streams.video else stream
    return float((first.start_time or 0) * (first.time_base or 0))


_HOLE = 0.02
"""Seconds between two frames from which on there is a hole: in many files times are rounded."""


def decoded(
    container: av.container.InputContainer,
    stream: av.AudioStream,
    origin: float,
    begin: Mark | None = None,
    passed: Callable[[Mark, float], None] = lambda mark, origin: None,
) -> Iterator[np.ndarray]:
    """(n, 2) float32 blocks in order, from a moment of the file on: led by silence where the sound begins later, cut
    where it begins earlier. A hole in its times is silence. What is broken on the way is left out, as every player
    does.

    With `begin`, a mark that the file was sought before, from its place on; the origin is then that of the mark.
    `passed` is given every mark with the origin that its place counts from. Raises MediaError where the mark's frame is
    not met."""
    resampler = None
    # The place of the next sample, counted from the moment on, and when in the file the last frame ended.
    at: int | None = None
    ends = origin
    # Where the resampler began, and how many samples of the file went into it since.
    first = fed = 0
    for packet in container.demux(stream):
        try:
            frames = packet.decode()
        except av.InvalidDataError:
            continue
        for frame in frames:
            pts = frame.pts
            begins = float(pts * frame.time_base) if pts is not None and frame.time_base else ends
            if begin is not None and at is None:
                if pts is None or frame.time_base is None:
                    continue
                # Frames of a file that was sought may be cut otherwise.
                before = begin.before + round((begin.pts - pts) * frame.time_base * frame.sample_rate)
                if before >= frame.samples:
                    continue
                if before < 0:
                    raise MediaError("a part of its sound is not found again")
                frame = _without(frame, before)
                at, begins = begin.at, begins + before / frame.sample_rate
                ends = begins
            if at is None:
                origin = _moved(origin, begins, packet, frame)
                at = round((begins - origin) * SOUND_RATE)
                yield from _silence(at)
            elif begins - ends > _HOLE and resampler is not None:
                for block in map(_block, resampler.resample(None)):
                    yield block[max(0, -at) :]
                    at += len(block)
                resampler = None
                due = round((begins - origin) * SOUND_RATE)
                yield from _silence(due - max(0, at))
                at = due
            ends = begins + frame.samples / frame.sample_rate
            if resampler is None:
                resampler, first, fed = _resampler(frame), at, 0
            before = -fed % (frame.sample_rate // math.gcd(frame.sample_rate, SOUND_RATE))
            if pts is not None and before < frame.samples:
                passed(Mark(first + (fed + before) * SOUND_RATE // frame.sample_rate, pts, before), origin)
            fed += frame.samples
            frame.pts = None
            for block in map(_block, resampler.resample(_narrowed(frame))):
                yield block[max(0, -at) :]
                at += len(block)
    if resampler is not None:
        yield from map(_block, resampler.resample(None))


def _without(frame: av.AudioFrame, before: int) -> av.AudioFrame:
    """A frame without its first samples."""
    if not before:
        return frame
    samples = frame.to_ndarray()
    kept = samples[:, before:] if frame.format.is_planar else samples[:, before * frame.layout.nb_channels :]
    made = av.AudioFrame.from_ndarray(np.ascontiguousarray(kept), format=frame.format.name, layout=frame.layout.name)
    made.sample_rate = frame.sample_rate
    return made


def _resampler(frame: av.AudioFrame) -> av.AudioResampler:
    """To two channels, or to one of a frame that has one: that is heard on both sides as loud as it is in the file."""
    mono = frame.layout.nb_channels == 1
    return av.AudioResampler(format="flt", layout="mono" if mono else "stereo", rate=SOUND_RATE)


def _silence(count: int) -> Iterator[np.ndarray]:
    for at in range(0, min(count, int(LONGEST * SOUND_RATE) + 1), SOUND_RATE):
        yield np.zeros((min(SOUND_RATE, count - at), 2), np.float32)


_ROUNDED = 0.0015
"""Seconds by which times in Matroska, which counts in milliseconds, may be off."""


def _moved(origin: float, begins: float, packet: av.Packet, frame: av.AudioFrame) -> float:
    """The beginning, where the picture was moved by what the sound's coder leads in with (RFC 7845, 4.2: pre-skip):
    then both begin together."""
    if packet.pts is None or packet.time_base is None or frame.pts is None or frame.time_base is None:
        return origin
    led_in = float(frame.pts * frame.time_base - packet.pts * packet.time_base)
    return begins if origin > begins and led_in > 0 and abs(origin - begins - led_in) < _ROUNDED else origin


_MOST_CHANNELS = 8
"""Channels for which there is a known way down to two."""


def _narrowed(frame: av.AudioFrame) -> av.AudioFrame:
    """A frame of more channels than any arrangement of loudspeakers has as two: the mean of every other one."""
    if frame.layout.nb_channels <= _MOST_CHANNELS:
        return frame
    samples = frame.to_ndarray()
    if not frame.format.is_planar:
        samples = samples.reshape(-1, frame.layout.nb_channels).T
    whole = samples.astype(np.float32)
    if samples.dtype.kind in "iu":
        # Eight bits are counted from the middle.
        middle, top = (128, 128) if samples.dtype.kind == "u" else (0, -float(np.iinfo(samples.dtype).min))
        whole = (whole - middle) / np.float32(top)
    two = np.stack([whole[0::2].mean(0), whole[1::2].mean(0)])
    made = av.AudioFrame.from_ndarray(np.ascontiguousarray(two.T).reshape(1, -1), format="flt", layout="stereo")
    made.sample_rate = frame.sample_rate
    return made


def _block(frame: av.AudioFrame) -> np.ndarray:
    block = frame.to_ndarray().reshape(-1, frame.layout.nb_channels)
    block = np.repeat(block, 2, 1) if block.shape[1] == 1 else block
    # A file may hold what is no number.
    return block if np.isfinite(block).all() else np.nan_to_num(block, nan=0.0, posinf=1.0, neginf=-1.0)
