"""Sounds of files: read once into samples at one rate, with the peaks that a waveform is drawn from."""

from __future__ import annotations

import math
import uuid
from pathlib import Path
from typing import Callable, Iterator

import av
import cv2
import numpy as np

from ..core.project.model import MediaSound
from ..core.sound import SOUND_RATE
from ..disk import put
from .probe import MediaError
from .stretching import stretched, stretched_at_once

PEAK = 256
"""Samples that one peak stands for."""

_LONGEST = 6 * 3600.0
"""Seconds of sound that are read at most."""


def samples_path(file: Path) -> Path:
    return file.with_suffix(".sound.f32")


def peaks_path(file: Path) -> Path:
    return file.with_suffix(".peaks.npy")


def read_sound(file: Path) -> MediaSound | None:
    """What sound a file has; where it has any, its samples at 48 kHz in stereo and their peaks are written beside it.

    Sound and picture begin together: what begins later is led by silence, what begins earlier is cut. Raises MediaError
    for a sound that can't be read."""
    try:
        with av.open(str(file)) as container:
            if not container.streams.audio:
                return None
            stream = container.streams.audio[0]
            rate, channels = stream.codec_context.sample_rate, stream.codec_context.channels
            if not rate or not channels:
                return None
            count = _write(file, container, stream, _origin(container, stream))
    except (av.FFmpegError, OSError) as error:
        raise MediaError(f"its sound can't be read ({getattr(error, 'strerror', None) or error})") from error
    if not count:
        return None
    return MediaSound(rate=rate, channels=channels, seconds=count / SOUND_RATE, loudest=round(_loudest(file), 4))


_SWELL = 0.03
"""Seconds over which a loudness is felt."""


def _loudest(file: Path) -> float:
    """The moment at which a sound has most power, in seconds."""
    powers = np.abs(np.load(peaks_path(file), mmap_mode="r")).max(1).astype(np.float64) ** 2
    hann = np.hanning(max(3, round(_SWELL * SOUND_RATE / PEAK)) + 2)[1:-1]
    felt = np.convolve(powers, hann, mode="same")
    return (float(np.argmax(felt)) + 0.5) * PEAK / SOUND_RATE


def _origin(container: av.container.InputContainer, stream: av.AudioStream) -> float:
    """The moment that counts as the beginning, in seconds of the file: the picture's, or, where there is none, the
    sound's own. What a coder leads in with lies before it."""
    first = container.streams.video[0] if container.streams.video else stream
    return float((first.start_time or 0) * (first.time_base or 0))


def _write(file: Path, container: av.container.InputContainer, stream: av.AudioStream, origin: float) -> int:
    """Write samples and peaks; gives how many samples there are."""
    target = samples_path(file)
    unfinished, beside = (target.with_name(f".{uuid.uuid4().hex}{each}") for each in (".f32", ".npy"))
    peaks: list[np.ndarray] = []
    left, count = np.zeros((0, 2), np.float32), 0
    try:
        with unfinished.open("wb") as out:
            for block in _decoded(container, stream, origin):
                out.write(np.ascontiguousarray(block, "<f4").tobytes())
                count += len(block)
                left = np.concatenate([left, block])
                whole = len(left) // PEAK * PEAK
                peaks.append(_peaks(left[:whole]))
                left = left[whole:]
                if count > _LONGEST * SOUND_RATE:
                    raise MediaError(f"its sound lasts more than {_LONGEST / 3600:g} hours")
        if count:
            if len(left):
                peaks.append(_peaks(np.concatenate([left, np.zeros((PEAK - len(left), 2), np.float32)])))
            with beside.open("wb") as out:
                np.save(out, np.concatenate(peaks))
            put(beside, peaks_path(file))
            put(unfinished, target)
    finally:
        unfinished.unlink(missing_ok=True)
        beside.unlink(missing_ok=True)
    return count


_HOLE = 0.02
"""Seconds between two frames from which on there is a hole: in many files times are rounded."""


def _decoded(container: av.container.InputContainer, stream: av.AudioStream, origin: float) -> Iterator[np.ndarray]:
    """(n, 2) float32 blocks in order, from a moment of the file on: led by silence where the sound begins later, cut
    where it begins earlier. A hole in its times is silence. What is broken on the way is left out, as every player
    does."""
    resampler = None
    # The place of the next sample, counted from the moment on, and when in the file the last frame ended.
    at: int | None = None
    ends = origin
    for packet in container.demux(stream):
        try:
            frames = packet.decode()
        except av.InvalidDataError:
            continue
        for frame in frames:
            begins = float(frame.pts * frame.time_base) if frame.pts is not None and frame.time_base else ends
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
            frame.pts = None
            resampler = resampler or _resampler(frame)
            for block in map(_block, resampler.resample(_narrowed(frame))):
                yield block[max(0, -at) :]
                at += len(block)
    if resampler is not None:
        yield from map(_block, resampler.resample(None))


def _resampler(frame: av.AudioFrame) -> av.AudioResampler:
    """To two channels, or to one of a frame that has one: that is heard on both sides as loud as it is in the file."""
    mono = frame.layout.nb_channels == 1
    return av.AudioResampler(format="flt", layout="mono" if mono else "stereo", rate=SOUND_RATE)


def _silence(count: int) -> Iterator[np.ndarray]:
    for at in range(0, min(count, int(_LONGEST * SOUND_RATE) + 1), SOUND_RATE):
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
    return np.nan_to_num(block, nan=0.0, posinf=1.0, neginf=-1.0)


def _peaks(samples: np.ndarray) -> np.ndarray:
    """(n, 2) float32: the lowest and the highest of each run of samples, of both sides together."""
    if not len(samples):
        return np.zeros((0, 2), np.float32)
    runs = samples.reshape(-1, PEAK * 2)
    return np.stack([runs.min(1), runs.max(1)], 1)


def peaks_between(file: Path, seconds: np.ndarray) -> np.ndarray:
    """(n − 1, 2): the lowest and the highest of a sound between each of n seconds and the next; 0 outside. Parts finer
    than a peak are read from the samples themselves."""
    edges, count = seconds * SOUND_RATE, len(seconds) - 1
    if edges[-1] - edges[0] < 2 * PEAK * count:
        first, last = int(np.floor(edges[0])), int(np.ceil(edges[-1])) + 1
        samples = np.memmap(samples_path(file), "<f4", "r").reshape(-1, 2)
        found = np.zeros((last - first, 2), np.float32)
        there = samples[max(0, first) : max(0, last)]
        found[max(0, -first) : max(0, -first) + len(there)] = np.stack([there.min(1), there.max(1)], 1)
        edges -= first
    else:
        found = np.load(peaks_path(file), mmap_mode="r")
        edges /= PEAK
    made = np.zeros((count, 2), np.float32)
    for number in range(count):
        first = max(0, int(np.floor(edges[number])))
        last = min(len(found), max(int(np.ceil(edges[number + 1])), first + 1))
        if first < last:
            part = found[first:last]
            made[number] = part[:, 0].min(), part[:, 1].max()
    return made


def picture_of_sound(file: Path, width: int, height: int) -> np.ndarray:
    """(h, w, 4) uint8 opaque: a sound's waveform, for the shelf."""
    found = np.load(peaks_path(file), mmap_mode="r")
    made = peaks_between(file, np.linspace(0, len(found) * PEAK / SOUND_RATE, width + 1))
    picture = np.full((height, width, 4), (33, 30, 27, 255), np.uint8)
    middle = (height - 1) / 2
    for x, (low, high) in enumerate(np.clip(made, -1, 1)):
        top, foot = int(round(middle - high * middle)), int(round(middle - low * middle))
        cv2.line(picture, (x, top), (x, foot), (236, 228, 216, 255), 1)
    return picture


class SoundFiles:
    """Samples of a film's media, read where they are asked for."""

    def __init__(self, path_of: Callable[[str], Path]) -> None:
        self._path_of = path_of
        self._open: dict[Path, np.ndarray | None] = {}

    def samples(self, media: str, first: int, count: int) -> np.ndarray:
        """See `core.sound.SoundSources`."""
        return self._part(self._samples_of(media), first, count)

    def stretched(self, media: str, pace: float, first: int, count: int) -> np.ndarray:
        """See `core.sound.SoundSources`."""
        path = self._samples_of(media)
        there = path is not None and self._whole(path) is not None
        return self._part(stretched(path, pace) if path and there else None, first, count)

    def stretched_part(self, media: str, pace: float, place: float, count: int) -> np.ndarray:
        """See `core.sound.SoundSources`."""
        around = SOUND_RATE // 5
        first = math.floor(place - around * pace)
        source = self._part(self._samples_of(media), first, math.ceil((count + 2 * around) * pace) + 1)
        skipped = round((place - first) / pace)
        made = stretched_at_once(source, pace)[skipped : skipped + count]
        return np.pad(made, ((0, count - len(made)), (0, 0)))

    def _part(self, path: Path | None, first: int, count: int) -> np.ndarray:
        out = np.zeros((count, 2), np.float32)
        whole = None if path is None else self._whole(path)
        if whole is None:
            return out
        begin, end = max(0, first), min(len(whole), first + count)
        if begin < end:
            out[begin - first : end - first] = whole[begin:end]
        return out

    def _samples_of(self, media: str) -> Path | None:
        try:
            return samples_path(self._path_of(media))
        except KeyError:
            return None

    def _whole(self, path: Path) -> np.ndarray | None:
        if path not in self._open:
            there = path.exists() and path.stat().st_size >= 8
            self._open[path] = np.memmap(path, "<f4", "r").reshape(-1, 2) if there else None
        return self._open[path]
