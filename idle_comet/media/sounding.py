"""Sounds of files: read once into samples at one rate, with the peaks that a waveform is drawn from."""

from __future__ import annotations

import math
import uuid
from pathlib import Path
from typing import Callable

import av
import cv2
import numpy as np

from ..core.project.model import MediaSound
from ..core.sound import SOUND_RATE
from ..disk import put
from .long_sound import LONG, LongSound, Marks, long_sound, marks_path
from .probe import MediaError
from .samples import LONGEST, decoded, origin_of
from .stretching import stretched, stretched_at_once, stretched_path

PEAK = 256
"""Samples that one peak stands for."""


def samples_path(file: Path) -> Path:
    return file.with_suffix(".sound.f32")


def peaks_path(file: Path) -> Path:
    return file.with_suffix(".peaks.npy")


def read_sound(file: Path) -> MediaSound | None:
    """What sound a file has; where it has any, its peaks and its samples at 48 kHz in stereo are written beside it, or
    marks in place of samples where it is long.

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
            seconds = float(container.duration or 0) / av.time_base
            long = seconds >= LONG
            count = _write_marks(file, container, stream, seconds) if long else _write(file, container, stream)
        if long and not count:
            with av.open(str(file)) as container:
                count = _write(file, container, container.streams.audio[0])
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


class _Peaks:
    """The peaks of a sound, block by block."""

    def __init__(self) -> None:
        self._made: list[np.ndarray] = []
        self._blocks: list[np.ndarray] = []
        self.count = self._waiting = 0

    def add(self, block: np.ndarray) -> None:
        """Raises MediaError for more than the longest sound."""
        self.count += len(block)
        if self.count > LONGEST * SOUND_RATE:
            raise MediaError(f"its sound lasts more than {LONGEST / 3600:g} hours")
        self._blocks.append(block)
        self._waiting += len(block)
        if self._waiting >= SOUND_RATE:
            self._made_of(np.concatenate(self._blocks))

    def _made_of(self, samples: np.ndarray) -> None:
        whole = len(samples) // PEAK * PEAK
        self._made.append(_peaks(samples[:whole]))
        self._blocks, self._waiting = [samples[whole:]], len(samples) - whole

    def write(self, file: Path, unfinished: Path) -> None:
        self._made_of(np.concatenate([*self._blocks, np.zeros((-self._waiting % PEAK, 2), np.float32)]))
        with unfinished.open("wb") as out:
            np.save(out, np.concatenate(self._made))
        put(unfinished, peaks_path(file))


def _write(file: Path, container: av.container.InputContainer, stream: av.AudioStream) -> int:
    """Write samples and peaks; gives how many samples there are."""
    target = samples_path(file)
    unfinished, beside = (target.with_name(f".{uuid.uuid4().hex}{each}") for each in (".f32", ".npy"))
    peaks = _Peaks()
    try:
        with unfinished.open("wb") as out:
            for block in decoded(container, stream, origin_of(container, stream)):
                out.write(np.ascontiguousarray(block, "<f4").tobytes())
                peaks.add(block)
        if peaks.count:
            peaks.write(file, beside)
            put(unfinished, target)
    finally:
        unfinished.unlink(missing_ok=True)
        beside.unlink(missing_ok=True)
    return peaks.count


_PROBES = (0.03, 0.21, 0.5, 0.68, 0.97)
"""Where in a long sound it is looked whether its parts come out the same again."""


def _write_marks(file: Path, container: av.container.InputContainer, stream: av.AudioStream, seconds: float) -> int:
    """Write peaks and marks of a long sound; gives how many samples there are, 0 where its parts do not come out the
    same again."""
    beside = marks_path(file).with_name(f".{uuid.uuid4().hex}.npy")
    marks, peaks, probes = Marks(), _Peaks(), dict[int, np.ndarray]()
    due = [round(share * seconds * SOUND_RATE) for share in _PROBES]
    try:
        for block in decoded(container, stream, origin_of(container, stream), passed=marks.passed):
            if due and peaks.count >= due[0] and len(block):
                probes[peaks.count] = block
                due.pop(0)
            peaks.add(block)
        peaks.write(file, beside)
        marks.write(file, peaks.count, beside)
        if probes and LongSound(file).agrees(probes):
            return peaks.count
        marks_path(file).unlink()
        return 0
    finally:
        beside.unlink(missing_ok=True)


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
        samples = samples_of(file)
        assert samples is not None
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


Samples = np.ndarray | LongSound
"""(n, 2) float32, to be cut."""


def samples_of(file: Path) -> Samples | None:
    """The samples of a sound that was read; None where there is none."""
    path = samples_path(file)
    if path.exists() and path.stat().st_size >= 8:
        return np.memmap(path, "<f4", "r").reshape(-1, 2)
    return long_sound(file)


class SoundFiles:
    """Samples of a film's media, read where they are asked for."""

    def __init__(self, path_of: Callable[[str], Path]) -> None:
        self._path_of = path_of
        self._open: dict[Path, Samples | None] = {}

    def samples(self, media: str, first: int, count: int) -> np.ndarray:
        """See `core.sound.SoundSources`."""
        return _part(self._samples(self._file(media)), first, count)

    def stretched(self, media: str, pace: float, first: int, count: int) -> np.ndarray:
        """See `core.sound.SoundSources`."""
        file = self._file(media)
        samples = self._samples(file)
        if file is None or samples is None:
            return _part(None, first, count)
        if stretched_path(samples_path(file), pace) not in self._open:
            made = stretched(samples_path(file), samples, pace)
            self._open[made] = np.memmap(made, "<f4", "r").reshape(-1, 2)
        return _part(self._open[stretched_path(samples_path(file), pace)], first, count)

    def stretched_part(self, media: str, pace: float, place: float, count: int) -> np.ndarray:
        """See `core.sound.SoundSources`."""
        around = SOUND_RATE // 5
        first = math.floor(place - around * pace)
        source = self.samples(media, first, math.ceil((count + 2 * around) * pace) + 1)
        skipped = round((place - first) / pace)
        made = stretched_at_once(source, pace)[skipped : skipped + count]
        return np.pad(made, ((0, count - len(made)), (0, 0)))

    def _file(self, media: str) -> Path | None:
        try:
            return self._path_of(media)
        except KeyError:
            return None

    def _samples(self, file: Path | None) -> Samples | None:
        if file is None:
            return None
        if file not in self._open:
            self._open[file] = samples_of(file)
        return self._open[file]


def _part(samples: Samples | None, first: int, count: int) -> np.ndarray:
    """(count, 2) float32 from a place on; silence before and after."""
    out = np.zeros((count, 2), np.float32)
    if samples is None:
        return out
    begin, end = max(0, first), min(len(samples), first + count)
    if begin < end:
        out[begin - first : end - first] = samples[begin:end]
    return out
